"""A shop's own destination and material as JSON files, on the command line and in a plan."""

import json
from pathlib import Path
from typing import Any

import pytest

from horismos.cli import main
from horismos.destinations import destination_from_json
from horismos.errors import BadValue, HorismosError, NotFound
from horismos.materials import material_from_json
from horismos.roles import LineRole
from horismos.sheet.spec import LayoutPlan
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

OWN = {"title": "Back room", "names": {"kiss-cut": "Halbschnitt"}, "printing_inks": ["Tide Orange"],
       "cutter": {"leader_mm": 60, "mark_arm_mm": 9}}
FILM = {"title": "Thick film", "width_mm": 700, "strata": [{"kind": "film", "thickness_um": 200},
        {"kind": "liner", "thickness_um": 150, "part": "carrier"}], "ground": "clear"}


def test_what_a_shop_does_not_say_is_as_of_the_shipped_one() -> None:
    made = destination_from_json(OWN)
    assert made.names[LineRole.KISS_CUT] == "Halbschnitt" and made.names[LineRole.PERFORATION] == "Perforation"
    assert made.cutter.leader_mm == 60 and made.cutter.marks.arm_mm == 9
    assert made.cutter.trailer_mm == HOUSE.cutter.trailer_mm
    film = material_from_json(FILM)
    assert [s.thickness_um for s in film.strata] == [200, 150] and film.ground.wants_white and film.length_mm is None


@pytest.mark.parametrize(("read", "data", "words"), [
    (destination_from_json, {"colour": 1}, "unknown key “colour”"),
    (destination_from_json, {"names": {"groove": "G"}}, "unknown key “groove”"),
    (destination_from_json, {"names": {"kiss-cut": "Perforation"}}, "two roles in one ink"),
    (destination_from_json, {"names": {"kiss-cut": " "}}, "no name"),
    (destination_from_json, {"cutter": {"leader_mm": -1}}, "leader_mm is -1"),
    (destination_from_json, {"like": "elsewhere"}, "elsewhere"),
    (material_from_json, {"width_mm": "wide"}, "width_mm must be a number"),
    (material_from_json, {"strata": []}, "1 to 20"),
    (material_from_json, {"strata": [{"kind": "film"}]}, "thickness_um is missing"),
    (material_from_json, {"like": "lead"}, "lead"),
])
def test_what_cannot_be_meant_is_refused_by_name(read: Any, data: dict[str, Any], words: str) -> None:
    with pytest.raises((BadValue, NotFound), match=words):
        read(data)


def test_the_command_takes_both_as_files(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    (tmp_path / "a.pdf").write_bytes(write(Drawing(
        f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)), inks={"K": "Halbschnitt"},
    )))
    (tmp_path / "shop.json").write_text(json.dumps(OWN))
    (tmp_path / "film.json").write_text(json.dumps(FILM))
    (tmp_path / "order.json").write_text(json.dumps({"roles": ["kiss-cut"]}))
    asked = ["check", str(tmp_path / "a.pdf"), "--order", str(tmp_path / "order.json")]
    assert main(asked) == 1, "the house calls it otherwise"
    capsys.readouterr()
    main([*asked, "--destination", str(tmp_path / "shop.json"), "--material", str(tmp_path / "film.json")])
    said = capsys.readouterr().out
    assert "ink.near-name" not in said and "line.missing" not in said and "white.missing" in said
    assert main([*asked, "--destination", "nowhere"]) == 2
    assert "no destination “nowhere”" in capsys.readouterr().err


def test_a_plan_takes_both_as_objects() -> None:
    plan = LayoutPlan.from_json({"material": FILM, "destination": OWN, "items": [{"file": "a.pdf"}]})
    assert plan.material.width_mm == 700 and plan.destination.title == "Back room"
    with pytest.raises(HorismosError, match="unknown key"):
        LayoutPlan.from_json({"material": {**FILM, "depth": 2}, "items": [{"file": "a.pdf"}]})
