"""What several files ask alike is shown once and answered once, each file by itself."""

from io import StringIO
from typing import Any

import ezdxf
import pytest
from jobs import models
from jobs.store.rights import Right

from tests.breadth import breadth
from tests.pairs import PAIRS, SPOTS
from tests.server.conftest import Person, person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.4, "customers and letters")]
JSON = "application/json"


GROUND = "1 0 0 0 k 5 5 90 90 re f\n"


def near(shift: float, ink: str = "Kiss-Cut") -> bytes:
    return write(Drawing(GROUND + line_in(circle(50, 50, 38 + shift)), inks={"K": ink}))


def group(shop: Person, id: str) -> dict[str, Any]:
    (row,) = (one for one in shop.get("/api/alike").json() if one["id"] == id)
    found: dict[str, Any] = shop.get("/api/alike/group", {"key": row["key"]}).json()
    assert found["files"] == row["files"] and found["title"] == row["title"]
    return found


def planted(check: str) -> bytes:
    over = dict(PAIRS[check].over)
    return write(Drawing(over.pop("content"), inks=over.pop("inks", SPOTS), **over))


def files(shown: dict[str, Any]) -> list[dict[str, Any]]:
    return [
        {"job_id": one["job_id"], "version": one["version"], "revision": one["revision"], "keys": [one["key"]]}
        for one in shown["asked"]
    ]


def test_one_mend_is_given_to_all_that_are_chosen(shop: Person) -> None:
    jobs = [take_in(shop, near(i / 10), f"near {i}.pdf") for i in range(3)]
    shown = group(shop, "ink.near-name")
    assert {one["job_id"] for one in shown["asked"]} == {job["id"] for job in jobs}
    (mend,) = shown["mends"]
    assert mend == {"kind": "rename", "label": "Rename to Kiss Cut", "each": False, "count": 3}
    body = {"files": files(shown)[:2], "kind": mend["kind"], "label": mend["label"]}
    done = shop.post("/api/alike/mend", body, content_type=JSON).json()
    assert done == {"done": 2, "refused": []}
    after = {job["id"]: shop.get(f"/api/jobs/{job['id']}").json() for job in jobs}
    given = {one["job_id"] for one in files(shown)[:2]}
    assert all((after[id]["revision"] == 2) == (id in given) for id in after)
    assert all("as for 2 files alike" in after[id]["log"][0]["what"] for id in given)
    assert not [one for one in shop.get("/api/alike").json() if one["id"] == "ink.near-name"], "one alone asks alone"


def test_one_that_was_changed_meanwhile_keeps_no_other_from_it(shop: Person) -> None:
    jobs = [take_in(shop, near(i / 10), f"near {i}.pdf") for i in range(3)]
    body = {"files": files(group(shop, "ink.near-name")), "kind": "rename", "label": ""}
    shop.patch(f"/api/jobs/{jobs[1]['id']}", {"name": "Changed"}, content_type=JSON)
    done = shop.post("/api/alike/mend", body, content_type=JSON).json()
    assert done["done"] == 2
    (refused,) = done["refused"]
    assert refused["job_id"] == jobs[1]["id"] and "was changed after you had looked" in refused["why"]


def test_each_is_renamed_as_it_says_where_the_words_differ(shop: Person) -> None:
    first = take_in(shop, near(0), "near.pdf")
    second = take_in(shop, near(0.1, "Through-Cut"), "through.pdf")
    shown = group(shop, "ink.near-name")
    (mend,) = shown["mends"]
    assert mend["each"] and mend["count"] == 2
    assert {one["offers"][0]["label"] for one in shown["asked"]} == {"Rename to Kiss Cut", "Rename to Through Cut"}
    body = {"files": files(shown), "kind": "rename", "label": mend["label"]}
    assert shop.post("/api/alike/mend", body, content_type=JSON).json()["done"] == 2
    inks = [
        {ink["name"] for ink in shop.get(f"/api/jobs/{job['id']}").json()["seen"]["inks"]} for job in (first, second)
    ]
    assert "Kiss Cut" in inks[0] and "Through Cut" in inks[1]


def test_looks_are_accepted_with_one_reason_and_stops_only_by_who_may(shop: Person) -> None:
    for i in range(2):
        take_in(shop, planted("line.crowded") + b"%\n" * i, f"crowded {i}.pdf")
    rows = shop.get("/api/alike").json()
    look = next(row for row in rows if row["severity"] == "look")
    shown = shop.get("/api/alike/group", {"key": look["key"]}).json()
    body = {"files": files(shown), "reason": "as every year"}
    assert shop.post("/api/alike/accept", body, content_type=JSON).json() == {"done": 2, "refused": []}
    assert models.Decision.objects.filter(check_id=look["id"], reason="as every year").count() == 2
    assert look["key"] not in [row["key"] for row in shop.get("/api/alike").json()]
    strangers = [take_in(shop, planted("line.text") + b"%\n" * i, f"text {i}.pdf") for i in range(2)]
    stop = next(
        shop.get("/api/alike/group", {"key": one["key"]}).json()
        for one in shop.get("/api/alike").json() if one["severity"] == "stop"
    )
    refused = shop.post("/api/alike/accept", {**body, "files": files(stop)}, content_type=JSON).json()
    assert refused["done"] == 0 and len(refused["refused"]) == len(strangers)
    waives = person("wren", Right.WAIVE)
    assert waives.post("/api/alike/accept", {**body, "files": files(stop)}, content_type=JSON).json()["done"] == 2


def drawing(shift: float) -> bytes:
    document = ezdxf.new(units=0)
    document.modelspace().add_circle((0, 0), 3 + shift, dxfattribs={"layer": "RIM"})
    out = StringIO()
    document.write(out)
    return out.getvalue().encode()


def test_one_answer_goes_for_all_files_that_ask_the_same(shop: Person) -> None:
    jobs = [take_in(shop, drawing(i / 10), f"plan {i}.dxf", customer="Ferry Works") for i in range(3)]
    unit = group(shop, "unit")
    assert unit["severity"] is None and {choice["key"] for choice in unit["choices"]} > {"cm"}
    assert {choice["words"] for choice in unit["choices"]} >= {"cm", "mm"}, "what is one file's size is nobody else's"
    answers: dict[str, Any] = {"unit": "cm"}
    binding = group(shop, "binding")
    answers["binding"] = {choice["key"]: "kiss-cut" for choice in binding["choices"]}
    body = {"files": [{**one, "keys": []} for one in files(unit)], "answers": answers}
    assert shop.post("/api/alike/answer", body, content_type=JSON).json() == {"done": 3, "refused": []}
    for job, side in zip(jobs, (60, 62, 64), strict=True):
        assert shop.get(f"/api/jobs/{job['id']}").json()["size_mm"] == pytest.approx([side, side], abs=0.1)
    assert shop.get("/api/alike/group", {"key": unit["key"]}).json() is None


def test_what_is_asked_is_looked_for_with_a_fixed_number_of_questions(
    shop: Person, django_assert_max_num_queries: Any
) -> None:
    for i in range(5):
        take_in(shop, near(i / 10), f"near {i}.pdf")
    with django_assert_max_num_queries(8):
        shop.get("/api/alike")
