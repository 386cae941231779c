"""Customers' pages, what is found by inks and codes, and the figures of the shop."""

import csv
import io
from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone
from jobs import models
from jobs.store.job_state import outdated, refresh

from tests.breadth import breadth
from tests.server.conftest import Person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.4, "customers and letters")]
JSON = "application/json"
GROUND = "1 0 0 0 k 5 5 90 90 re f\n"


def seal(radius: float = 40, ink: str = "Kiss Cut") -> bytes:
    return write(Drawing(GROUND + line_in(circle(50, 50, radius)), inks={"K": ink}))


def page(shop: Person, name: str) -> dict[str, Any]:
    found: dict[str, Any] = shop.get("/api/customers/page", {"name": name}).json()
    return found


def test_a_customers_page_has_open_work_and_what_files_came_with(shop: Person) -> None:
    take_in(shop, seal(), "one.pdf", customer="Saltmarsh Trust")
    take_in(shop, seal(39, "Kiss-Cut"), "two.pdf", customer="Saltmarsh Trust")
    take_in(shop, seal(38, "Rim of it"), "three.pdf", customer="Saltmarsh Trust")
    take_in(shop, seal(37), "other.pdf", customer="Dune Press")
    found = page(shop, "Saltmarsh Trust")
    assert (found["untouched"], found["sorted"], found["counts"]["all"]) == (1, 3, 3)
    assert found["counts"]["ready"] == 1 and found["thing"] == ""
    faults = {fault["id"]: fault["files"] for fault in found["faults"]}
    assert faults["ink.near-name"] == 1 and set(faults.values()) == {1}
    (month,) = found["months"]
    assert (month["files"], month["faulty"]) == (3, 2) and month["kinds"]["ink.near-name"] == 1
    kept = {"kind": "customer", "title": "Marram Mill", "data": {}}
    assert shop.post("/api/shelf/things", kept, content_type=JSON).status_code == 200
    rows = shop.get("/api/customers/all").json()
    assert {row["name"]: (row["files"], row["open"], row["faulty"]) for row in rows} == {
        "Saltmarsh Trust": (3, 2, 2), "Dune Press": (1, 0, 0), "Marram Mill": (0, 0, 0),
    }
    assert [row["name"] for row in rows] == ["Saltmarsh Trust", "Dune Press", "Marram Mill"], "those with work first"
    jobs = shop.get("/api/jobs", {"customer": "Saltmarsh Trust"}).json()
    assert [job["name"] for job in jobs] == ["three", "two", "one"]


def test_habits_are_kept_seen_and_dropped_on_the_page(shop: Person) -> None:
    for i in range(3):
        job = take_in(shop, seal(38 + i / 10, "Rim of it"), f"rim {i}.pdf", customer="Ferry Works")
        step = {"kind": "assign-role", "settings": {"ink": "Rim of it", "role": "kiss-cut"}}
        assert shop.post(f"/api/jobs/{job['id']}/mends", step, content_type=JSON).status_code == 200
    found = page(shop, "Ferry Works")
    assert sorted(found["learnt"]["jobs"]) == ["rim 0", "rim 1", "rim 2"] and not found["habits"]
    assert {"key": "ink:Rim of it", "is_": "kiss-cut", "in_pdf": True} in found["bound"]
    kept = shop.post("/api/customers/always", {"name": "Ferry Works", "take": True}, content_type=JSON).json()
    (habit,) = kept["habits"]
    assert [mend["kind"] for mend in habit["mends"]] == ["assign-role"] and kept["learnt"] is None
    dropped = shop.post("/api/customers/drop", {"name": "Ferry Works", "thing": habit["id"]}, content_type=JSON).json()
    assert dropped["habits"] == [] and dropped["learnt"] is not None, "and is offered again"
    said = shop.post("/api/customers/always", {"name": "Ferry Works", "take": False}, content_type=JSON).json()
    assert said["learnt"] is None and said["declined"]
    again = shop.post("/api/customers/drop", {"name": "Ferry Works", "declined": True}, content_type=JSON).json()
    assert again["learnt"] is not None and not again["declined"]
    unbound = shop.post("/api/customers/drop", {"name": "Ferry Works", "key": "ink:Rim of it"}, content_type=JSON)
    assert unbound.json()["bound"] == []
    nothing = shop.post("/api/customers/drop", {"name": "Ferry Works", "key": "ink:Rim of it"}, content_type=JSON)
    assert nothing.status_code == 409


def test_jobs_are_found_by_inks_and_by_the_code_on_their_sheet(shop: Person) -> None:
    job = take_in(shop, seal(), "one.pdf")
    take_in(shop, seal(39, "Rim of it"), "two.pdf")
    assert [one["name"] for one in shop.get("/api/jobs", {"search": "rim of"}).json()] == ["two"]
    assert shop.get("/api/jobs/counts", {"search": "kiss cut"}).json()["all"] == 1
    shop.post(f"/api/jobs/{job['id']}/release", {}, content_type=JSON)
    code = models.Release.objects.get().ticket["code"]
    assert code and [one["name"] for one in shop.get("/api/jobs", {"search": code}).json()] == ["one"]


def test_what_needed_nobody_and_when_it_was_ready_is_kept(shop: Person) -> None:
    ready, mended = take_in(shop, seal(), "one.pdf"), take_in(shop, seal(39, "Kiss-Cut"), "two.pdf")
    broken = take_in(shop, b"%PDF-1.4\nnothing here", "broken.pdf")
    assert models.Job.objects.get(pk=broken["id"]).first_state == "unreadable"
    rows = {row.pk: row for row in models.Job.objects.all()}
    assert (rows[ready["id"]].first_state, rows[mended["id"]].first_state) == ("ready", "mend")
    assert rows[ready["id"]].ready_at and rows[mended["id"]].ready_at is None
    shop.post(f"/api/jobs/{mended['id']}/mends/safe", {"revision": 1}, content_type=JSON)
    now = models.Job.objects.get(pk=mended["id"])
    assert now.ready_at and (now.first_state, now.state) == ("mend", "ready")


def test_the_figures_count_what_there_is(shop: Person) -> None:
    job = take_in(shop, seal(), "one.pdf", customer="Saltmarsh Trust")
    take_in(shop, seal(39, "Kiss-Cut"), "two.pdf", customer="Saltmarsh Trust")
    old = take_in(shop, seal(38), "three.pdf")
    long_ago = timezone.now() - timedelta(days=400)
    models.Job.objects.filter(pk=old["id"]).update(created=long_ago)
    shop.post(f"/api/jobs/{job['id']}/release", {}, content_type=JSON)
    found = shop.get("/api/figures").json()
    assert (found["files"], found["sorted"], found["untouched"], found["sheets"]) == (2, 2, 1, 1)
    ticket = models.Release.objects.get().ticket["sheet"]
    assert found["metres"] == pytest.approx(ticket["used_length_mm"] / 1000, abs=2e-3)
    area = ticket["used_length_mm"] * ticket["width_mm"] / 1e6
    assert found["area_m2"] == pytest.approx(area, abs=2e-3)
    assert found["waste_m2"] == pytest.approx(area * ticket["waste_percent"] / 100, abs=2e-3)
    assert sum(week["files"] for week in found["weeks"]) == 2 and len(found["weeks"]) in (13, 14)
    (customer,) = found["customers"]
    assert (customer["files"], customer["faulty"], customer["kinds"]["ink.near-name"]) == (2, 1, 1)
    assert found["ready"] == 1 and 0 < found["hours_median"] < 1


def test_figures_are_had_as_tables_that_no_spreadsheet_carries_out(shop: Person) -> None:
    take_in(shop, seal(39, "Kiss-Cut"), "two.pdf", customer="=SUM(A1)")
    for which, head in (("weeks", "week from"), ("faults", "check"), ("customers", "customer")):
        rows = list(csv.reader(io.StringIO(shop.get(f"/api/figures/{which}.csv").content.decode())))
        assert rows[0][0] == head and len(rows) > 1
    assert rows[1][0] == "'=SUM(A1)"
    assert shop.get("/api/figures", {"since": "2026-05-01", "until": "2026-04-01"}).status_code == 400
    assert shop.get("/api/figures", {"since": "2016-05-01"}).status_code == 400
    assert shop.get("/api/figures/else.csv").status_code == 422


def test_what_older_rows_do_not_say_is_neither_made_up_nor_lost(shop: Person) -> None:
    job = take_in(shop, seal(), "one.pdf")
    row = models.Job.objects.get(pk=job["id"])
    summary = {key: value for key, value in row.analysis.summary.items() if key != "inks"}
    models.Analysis.objects.filter(job=row).update(summary=summary)
    models.Job.objects.filter(pk=row.pk).update(ready_at=None, found_by="Kiss Cut\nOld Ink")
    assert not list(outdated(models.Job.objects.all())), "verify has nothing to say of it"
    refresh([row.pk])
    now = models.Job.objects.get(pk=row.pk)
    assert (now.ready_at, now.found_by) == (None, "Kiss Cut\nOld Ink")
