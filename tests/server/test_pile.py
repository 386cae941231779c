"""What comes in is mended by itself where the shop wants that, and lies in the list by what it needs from a person."""

from typing import Any

import pytest
from jobs import models

from tests.breadth import breadth
from tests.pairs import PAIRS, SPOTS
from tests.server.conftest import Person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.25, "piles at the shop")]
JSON = "application/json"
GROUND = "1 0 0 0 k 5 5 90 90 re f\n"
ROUND = f"1 0 0 0 k {circle(50, 50, 35)} f\n"
NEAR = write(Drawing(GROUND + line_in(circle(50, 50, 40)), inks={"K": "Kiss-Cut"}))


def sorts(shop: Person) -> None:
    assert shop.patch("/api/shop", {"sorts": True}, content_type=JSON).json()["sorts"] is True


def row(shop: Person, job: dict[str, Any]) -> dict[str, Any]:
    (found,) = (one for one in shop.get("/api/jobs").json() if one["id"] == job["id"])
    return dict(found)


def planted(check: str) -> bytes:
    over = dict(PAIRS[check].over)
    return write(Drawing(over.pop("content"), inks=over.pop("inks", SPOTS), **over))


def test_what_is_safe_is_mended_by_itself_and_taken_back_by_one_press(shop: Person) -> None:
    sorts(shop)
    job = take_in(shop, NEAR)
    listed = row(shop, job)
    assert job["revision"] == 2 and job["verdict"] == "clean" and listed["state"] == "ready"
    assert listed["did"] == ["Rename to Kiss Cut"] and listed["new"]
    assert any(entry["what"].startswith("Mended by itself: ") for entry in job["log"])
    answer = shop.post(f"/api/jobs/{job['id']}/undo", {"version": listed["version"]}, content_type=JSON)
    assert answer.status_code == 200
    back = row(shop, job)
    assert (back["did"], back["state"], back["new"]) == ([], "mend", False)
    assert models.Revision.objects.get(job=job["id"], number=2).by_itself


def test_without_that_nothing_is_done_that_nobody_asked_for(shop: Person) -> None:
    job = take_in(shop, NEAR)
    assert job["revision"] == 1 and row(shop, job)["state"] == "mend" and row(shop, job)["did"] == []


def test_what_is_always_done_for_a_customer_is_done_to_what_comes_in(shop: Person) -> None:
    sorts(shop)
    recipe = {"steps": [{"mend": "assign-role", "ink": "Rim of it", "role": "kiss-cut"}]}
    made = [
        shop.post("/api/shelf/things", {"kind": kind, "title": title, "data": data}, content_type=JSON).json()["thing"]
        for kind, title, data in (
            ("recipe", "Rims", recipe), ("lines", "Round it", {"lines": [{"role": "kiss-cut", "offset_mm": 2}]}),
        )
    ]
    data = {"recipes": [made[0]["id"]], "lines": made[1]["id"], "order": {"roles": ["kiss-cut"], "edge": "border"}}
    kept = shop.post(
        "/api/shelf/things", {"kind": "customer", "title": "Ferry Works", "data": data}, content_type=JSON
    )
    assert kept.status_code == 200, kept.json()
    assert [one["id"] for one in shop.get(f"/api/shelf/things/{made[0]['id']}").json()["things"]] == ["ferry-works"]
    bare = take_in(shop, write(Drawing(ROUND)), "bare.pdf", customer="Ferry Works")
    assert row(shop, bare)["did"] and row(shop, bare)["state"] == "ready", row(shop, bare)
    rim = write(Drawing(ROUND + line_in(circle(50, 50, 38)), inks={"K": "Rim of it"}))
    named = take_in(shop, rim, "rim.pdf", customer="Ferry Works")
    assert row(shop, named)["state"] == "ready" and named["verdict"] == "clean"
    other = take_in(shop, write(Drawing(ROUND + "0 0 0 1 k 48 48 3 3 re f\n")), "other.pdf", customer="Dune")
    assert row(shop, other)["did"] == [] and row(shop, other)["state"] == "answer"
    refused = shop.post(
        "/api/shelf/things", {"kind": "customer", "title": "Dune", "data": {"recipes": ["none"]}}, content_type=JSON
    )
    assert refused.status_code == 400 and "recipes" in refused.json()["message"]


@pytest.mark.parametrize(("check", "state", "holds"), [
    ("line.none", "answer", "Nothing here will be cut"),
    ("line.text", "letter", ""),
    ("edge.bleed", "mend", ""),
    ("line.crowded", "look", "To look at: 1 finding"),
    ("line.wide", "ready", "Ready to release"),
])
def test_each_lies_where_it_belongs_by_what_it_needs(shop: Person, check: str, state: str, holds: str) -> None:
    sorts(shop)
    found = row(shop, take_in(shop, planted(check)))
    assert found["state"] == state and holds in found["holds"], found
    assert [one["id"] for one in shop.get(f"/api/jobs?group={state}").json()] == [found["id"]]
    counts = shop.get("/api/jobs/counts").json()
    assert counts[state] == counts["all"] == 1


def test_what_cannot_be_read_is_a_group_of_its_own(shop: Person) -> None:
    found = row(shop, take_in(shop, b"%PDF-1.4\nnothing here"))
    assert found["state"] == "unreadable" and "too damaged" in found["holds"]


def mended_by_a_person(shop: Person, name: str, shift: float) -> dict[str, Any]:
    """A job of Ferry Works whose line in an ink of theirs a person has said to be the kiss cut."""
    data = write(Drawing(ROUND + line_in(circle(50, 50, 38 + shift)), inks={"K": "Rim of it"}))
    job = take_in(shop, data, name, customer="Ferry Works")
    step = {"kind": "assign-role", "settings": {"ink": "Rim of it", "role": "kiss-cut"}}
    body = {"version": job["version"], "revision": job["revision"], **step}
    assert shop.post(f"/api/jobs/{job['id']}/mends", body, content_type=JSON).status_code == 200
    found: dict[str, Any] = shop.get(f"/api/jobs/{job['id']}").json()
    assert found["revision"] == 2, found["work"]
    return found


def test_what_three_files_were_given_alike_is_offered_to_be_done_always(shop: Person) -> None:
    jobs = [mended_by_a_person(shop, f"rim {i}.pdf", i / 10) for i in range(3)]
    assert jobs[0]["always"] is jobs[1]["always"] is None, "twice is no habit"
    always = jobs[2]["always"]
    assert [one["kind"] for one in always["mends"]] == ["assign-role"]
    assert sorted(always["jobs"]) == ["rim 0", "rim 1", "rim 2"]
    kept = shop.post(f"/api/jobs/{jobs[2]['id']}/always", {"take": True}, content_type=JSON).json()
    assert kept["always"] is None
    customer = shop.get("/api/shelf/things/ferry-works").json()
    assert len(customer["thing"]["data"]["recipes"]) == 1 and "rim 0" in customer["versions"][0]["note"]
    sorts(shop)
    data = write(Drawing(ROUND + line_in(circle(50, 50, 39)), inks={"K": "Rim of it"}))
    fourth = take_in(shop, data, "rim 4.pdf", customer="Ferry Works")
    assert fourth["revision"] == 2 and row(shop, fourth)["did"] and fourth["always"] is None
    assert shop.post(f"/api/jobs/{fourth['id']}/always", {"take": True}, content_type=JSON).status_code == 409


def test_what_somebody_said_no_to_is_not_offered_again(shop: Person) -> None:
    jobs = [mended_by_a_person(shop, f"rim {i}.pdf", i / 10) for i in range(3)]
    said = shop.post(f"/api/jobs/{jobs[2]['id']}/always", {"take": False}, content_type=JSON)
    assert said.json()["always"] is None and shop.get("/api/shelf/things?kind=recipe").json()["things"] == []
    assert mended_by_a_person(shop, "rim 5.pdf", 0.7)["always"] is None
