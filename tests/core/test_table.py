"""A cutter that counts from the right, with X along the feed, in fine units, and that takes no force."""

import json
from pathlib import Path

import numpy as np
import pytest

from horismos.cli.main import main
from horismos.formats.hpgl import StrokeSegment, ToolRun, read_hpgl, write_hpgl
from horismos.machines import Dialect
from tests.known import TABLE
from tests.shapes import Drawing, circle, line_in, write


@pytest.mark.parametrize("turned", [False, True])
@pytest.mark.parametrize("right", [False, True])
def test_what_is_written_in_a_dialect_is_read_back_alike(turned: bool, right: bool) -> None:
    dialect = Dialect(unit_mm=0.01, turned=turned, right=right)
    points = np.array([[590.0, 100.0], [420.123, 150.456], [590.0, 220.0]])
    data = write_hpgl([ToolRun(1, None, 200.0, [[StrokeSegment(points)]])], (590.0, 100.0), dialect)
    (drawn,) = read_hpgl(data, (590.0, 100.0), dialect)
    assert drawn.points == pytest.approx(points, abs=0.0051)
    first = data.decode().split("PU", 1)[1].split(";")[0]
    assert first == "0,0"
    numbers = [int(v) for v in data.decode().split("PD", 1)[1].split(";")[0].split(",")]
    across, along = (numbers[1], numbers[0]) if turned else (numbers[0], numbers[1])
    assert (across, along) == ((16988 if right else -16988), 5046)


def test_a_package_for_the_table_begins_at_its_mark_on_the_right(tmp_path: Path) -> None:
    (tmp_path / "a.pdf").write_bytes(write(Drawing(f"1 0 0 0 k {circle(50, 50, 34)} f " + line_in(circle(50, 50, 30)))))
    (tmp_path / "order.json").write_text(json.dumps({"quantity": 6, "edge": "bleed", "bleed_mm": 3}))
    out = tmp_path / "out"
    call = ["release", str(tmp_path / "a.pdf"), "--order", str(tmp_path / "order.json"), "--out", str(out)]
    assert main([*call, "--material", "film-610", "--destination", "table"]) == 0
    (cut,) = out.glob("*-cut.hpgl")
    ticket = json.loads(next(out.glob("*-ticket.json")).read_text())
    front = [mark for mark in ticket["marks"] if mark["y_mm"] < ticket["sheet"]["length_mm"] / 2]
    assert ticket["origin_mm"] == [max(mark["x_mm"] for mark in front), front[0]["y_mm"]]
    assert b"FS" not in cut.read_bytes()
    drawn = read_hpgl(cut.read_bytes(), tuple(ticket["origin_mm"]), Dialect(**ticket["dialect"]))
    assert len(drawn) == 6 and max(ticket["worst_off_mm"].values()) <= 0.01
    for stroke in drawn:
        assert any(
            box[0] - 0.1 <= stroke.points[:, 0].min() and stroke.points[:, 0].max() <= box[2] + 0.1
            for box in (placement["bounds"] for placement in ticket["placements"])
        )
    assert main(["rehearse", str(out), "--loads", "5"]) == 0
    assert "0.01 mm" in TABLE.cutter.dialect.words and "on the right" in TABLE.cutter.dialect.words
