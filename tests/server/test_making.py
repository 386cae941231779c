"""Lines over the API: shown, checked and cut open before they are in the file, and made as a mend is."""

import hashlib
import json
import math
from typing import Any

import pytest
from jobs import models

from tests.breadth import breadth
from tests.drawn import SHAPES, coverage, png
from tests.server.conftest import Person, send_another, take_in

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]
JSON = "application/json"
KISS = {"role": "kiss-cut", "offset_mm": 2}


def ask(shop: Person, job: dict[str, Any], what: str, make: dict[str, Any], status: int = 200, **more: Any) -> Any:
    body = {"make": make, "revision": job["revision"], **more}
    answer = shop.post(f"/api/jobs/{job['id']}/{what}", body, content_type=JSON)
    assert answer.status_code == status, answer.content
    return answer.json()


def test_lines_are_shown_checked_cut_open_and_made_and_can_be_changed_later(shop: Person) -> None:
    job = take_in(shop, png(coverage(SHAPES["ring"])), "badge.png")
    assert job["seen"]["lines"] == [] and job["seen"]["made"] is None
    make = {"lines": [KISS, {"role": "perforation", "offset_mm": 5}]}
    draft = ask(shop, job, "making", make, draft=True)
    assert {line["role"] for line in draft["lines"]} == {"kiss-cut", "perforation"} and not draft["refused"]
    shown = ask(shop, job, "making", make, nodes=True)
    kiss = next(line for line in shown["lines"] if line["role"] == "kiss-cut")
    assert kiss["node_count"] == len(kiss["nodes"]) <= 6 and shown["deviation_mm"] <= 0.02
    perforation = next(line for line in shown["lines"] if line["role"] == "perforation")
    assert perforation["ties"] > 10 and perforation["cut"].count("M") == perforation["cuts"]
    assert [one["kept"] for one in shown["inner"]] == [True]
    findings = ask(shop, job, "making/check", make)
    assert all(f["id"].startswith(("line.", "edge.", "page.", "layer.")) for f in findings)
    cut = ask(shop, job, "making/section", make, line=[-10, 30, 70, 30])
    assert {c["role"] for c in cut["crossings"]} == {"kiss-cut", "perforation"}
    # Nothing of this has changed the job.
    assert shop.get(f"/api/jobs/{job['id']}").json()["revision"] == 1

    body = {"kind": "make-lines", "settings": {"make": json.dumps(make), "page": 1}}
    answer = shop.post(f"/api/jobs/{job['id']}/mends", body, content_type=JSON)
    assert answer.status_code == 200, answer.content
    after = shop.get(f"/api/jobs/{job['id']}").json()
    assert after["revision"] == 2 and {line["role"] for line in after["seen"]["lines"]} == {"kiss-cut", "perforation"}
    assert [line["role"] for line in after["seen"]["made"]["lines"]] == ["kiss-cut", "perforation"]
    assert "kiss cut contour" in after["revisions"][1]["said"]
    assert not [f for f in after["findings"] if f["id"] == "line.outside"]


def test_what_a_page_asked_about_before_is_left_off_when_it_asks_about_something_else(
    shop: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    from jobs.api import making

    from horismos.errors import Cancelled

    job = take_in(shop, png(coverage(SHAPES["ring"])), "badge.png")
    real = making.run_step
    asked: list[bool] = []

    def meanwhile(step: str, *arguments: Any, cancelled: Any, **more: Any) -> Any:
        asked.append(cancelled())
        if len(asked) == 1:
            ask(shop, job, "making", {"lines": [{**KISS, "offset_mm": 3}]}, tab="other")
            assert not cancelled(), "another page is nothing to it"
            ask(shop, job, "making", {"lines": [{**KISS, "offset_mm": 4}]}, tab="one")
            assert cancelled()
            raise Cancelled
        return real(step, *arguments, cancelled=cancelled, **more)

    monkeypatch.setattr(making, "run_step", meanwhile)
    said = ask(shop, job, "making/check", {"lines": [KISS]}, 409, tab="one")
    assert "Something else has been asked for" in said["message"] and asked == [False] * 3
    assert ask(shop, job, "making", {"lines": [KISS]}, tab="one")["lines"], "and it may come back to it"


def _circle_of(places: int) -> str:
    turn = [2 * math.pi * i / places for i in range(places)]
    at = [f"{30 + 25 * math.cos(a):.3f} {30 + 25 * math.sin(a):.3f}" for a in turn]
    return "M " + " L ".join(at) + " Z"


@pytest.mark.parametrize("more", [
    {"lines": [{"role": "kiss-cut", "drawn": _circle_of(13)}]},
    {"lines": [{"role": "kiss-cut", "drawn": _circle_of(1000)}]},
    {"lines": [KISS], "drop_at": [[30.123456 + i, 30.123456] for i in range(4)]},
])
def test_a_making_travels_as_large_as_a_drawing_is(shop: Person, more: dict[str, Any]) -> None:
    job = take_in(shop, png(coverage(SHAPES["ring"])), "badge.png")
    body = {"kind": "make-lines", "settings": {"make": more, "page": 1}}
    answer = shop.post(f"/api/jobs/{job['id']}/mends", body, content_type=JSON)
    assert answer.status_code == 200, answer.content
    after = shop.get(f"/api/jobs/{job['id']}").json()
    assert after["revision"] == 2 and after["seen"]["made"]["lines"] == more["lines"]
    # a preset of it goes the same way
    kept = {"name": "by hand", "steps": [{"kind": "make-lines", "settings": {"make": more}}]}
    answer = shop.post("/api/recipes", kept, content_type=JSON)
    assert answer.status_code == 200, answer.content
    assert answer.json()["recipes"][0]["steps"][0]["settings"]["make"]["lines"] == more["lines"]


def test_what_cannot_be_made_says_so_and_what_cannot_be_meant_is_refused(shop: Person) -> None:
    job = take_in(shop, png(coverage(SHAPES["ring"])), "badge.png")
    swallowed = ask(shop, job, "making", {"lines": [{"role": "kiss-cut", "offset_mm": -30}]})
    assert "Nothing is left" in swallowed["refused"] and swallowed["lines"] == []
    assert ask(shop, job, "making/check", {"lines": [{"role": "kiss-cut", "offset_mm": -30}]}) == []
    wrong = ask(shop, job, "making", {"lines": [KISS], "colour": 3}, status=400)
    assert "unknown key “colour”" in wrong["message"]
    stale = ask(shop, {**job, "revision": 7}, "making", {"lines": [KISS]}, status=409)
    assert "revision" in stale["message"]


def test_a_preset_is_a_recipe_that_makes_lines_for_a_material_and_a_customer(shop: Person) -> None:
    job = take_in(shop, png(coverage(SHAPES["ring"])), "badge.png")
    step = {"kind": "make-lines", "settings": {"make": json.dumps({"lines": [{**KISS, "offset_mm": 3}]})}}
    draft = {"name": "3 mm border, round, kiss", "steps": [step], "materials": [job["material_id"]]}
    kept = shop.post("/api/recipes", draft, content_type=JSON)
    assert kept.status_code == 200, kept.content
    (preset,) = shop.get(f"/api/jobs/{job['id']}").json()["recipes"]
    assert preset["materials"] == [job["material_id"]]
    assert preset["steps"][0]["settings"]["make"]["lines"][0]["offset_mm"] == 3
    strange = shop.post("/api/recipes", {**draft, "materials": ["slate"]}, content_type=JSON)
    assert strange.status_code == 400 and "slate" in strange.json()["message"]


def test_another_file_gets_its_lines_made_anew_and_what_changed_is_said(shop: Person) -> None:
    job = take_in(shop, png(coverage(SHAPES["circle"])), "badge.png")
    body = {"kind": "make-lines", "settings": {"make": json.dumps({"lines": [KISS]}), "page": 1}}
    shop.post(f"/api/jobs/{job['id']}/mends", body, content_type=JSON)
    before = shop.get(f"/api/jobs/{job['id']}").json()
    answer = send_another(shop, before, png(coverage(SHAPES["star"])), "badge, new.png")
    assert answer.status_code == 200, answer.content
    after = shop.get(f"/api/jobs/{job['id']}").json()
    assert [r["number"] for r in after["revisions"]] == [1, 2, 3, 4] and after["revision"] == 4
    assert "another file, badge, new.png" in after["revisions"][2]["said"]
    said = after["revisions"][3]["said"]
    old, new = (next(line for line in j["seen"]["lines"] if line["role"] == "kiss-cut") for j in (before, after))
    assert f"{new['length_mm']:.1f} mm" in said and f"{old['nodes']} nodes and {old['length_mm']:.1f} mm before" in said
    assert after["seen"]["made"] == before["seen"]["made"] and after["order"] == before["order"]
    # The first file is still there for whoever wants it.
    assert models.Job.objects.get().intake["earlier"] == [hashlib.sha256(png(coverage(SHAPES["circle"]))).hexdigest()]
    assert send_another(shop, after, png(coverage(SHAPES["star"])), "badge.png").status_code == 409


def test_another_file_without_an_outline_says_why_its_lines_were_not_made(shop: Person) -> None:
    job = take_in(shop, png(coverage(SHAPES["circle"])), "badge.png")
    body = {"kind": "make-lines", "settings": {"make": json.dumps({"lines": [{**KISS, "offset_mm": -12}]}), "page": 1}}
    shop.post(f"/api/jobs/{job['id']}/mends", body, content_type=JSON)
    before = shop.get(f"/api/jobs/{job['id']}").json()
    assert send_another(shop, before, png(coverage(SHAPES["thin stroke"])), "thin.png").status_code == 200
    after = shop.get(f"/api/jobs/{job['id']}").json()
    assert after["revision"] == 3 and after["seen"]["lines"] == []
    assert any("could not be made anew: Nothing is left" in note["words"] for note in after["intake"]["notes"])
