"""Attacks and accidents that were seen on a copy of the shop, each tried again: nothing is lost, nothing gets round."""

import json
import re
import threading
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

import pytest
from bench import hot_folder
from content import whole
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from django.utils import timezone
from jobs import models
from jobs.store import files
from jobs.store.queue import MOST_ATTEMPTS, LeaseLost, claim, hold, keep_holding
from worker import looking, task
from worker.carrying_out import carry_out
from worker.loop import run_all

from horismos.errors import CannotRead, CannotWrite, NoRoom
from tests import hostile
from tests.breadth import breadth
from tests.server.conftest import Person, person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(1.0, "trust")]
JSON = "application/json"
MISS = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"}))
CLEAN = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))))
SHORT = write(Drawing(f"1 0 0 0 k {circle(50, 50, 42)} f " + line_in(circle(50, 50, 40))))


def address(job: dict) -> str:  # type: ignore[type-arg]
    return f"/api/jobs/{job['id']}"


def at_once(*calls: Callable[[], object]) -> list[object]:
    """Call all at the same time, each in a thread with its own connection; what each gave or raised."""
    found: list[object] = [None] * len(calls)
    ready = threading.Barrier(len(calls))

    def run(i: int) -> None:
        ready.wait()
        try:
            found[i] = calls[i]()
        except Exception as error:
            found[i] = error
        finally:
            connection.close()

    threads = [threading.Thread(target=run, args=[i]) for i in range(len(calls))]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    return found


# -- stops that cannot be got round ------------------------------------------------------------------


def test_a_check_sheet_is_changed_by_who_may_and_nobody_else(shop: Person) -> None:
    other = person("ben")
    forged = {"scope": "shop", "severities": {"edge.bleed": "off"}}
    answer = other.post("/api/sheets", forged, content_type=JSON)
    assert answer.status_code == 403 and answer.json()["code"] == "not-permitted"
    assert not models.ShelfItem.objects.filter(kind="check-sheet").exists()
    assert other.get("/api/sheets").json()["may_edit"] is False
    assert "edit-shelf" not in other.get("/api/me").json()["rights"]
    job = take_in(other, SHORT)
    tried = other.post("/api/sheets/try", {**forged, "job": job["id"]}, content_type=JSON)
    assert tried.status_code == 200, "trying changes nothing, and is for everybody"
    assert shop.post("/api/sheets", forged, content_type=JSON).status_code == 200
    assert models.ShelfVersion.objects.get(item__kind="check-sheet").who.username == "ada"


def test_an_accepted_look_is_asked_again_when_its_check_becomes_a_stop(shop: Person) -> None:
    shop.post("/api/sheets", {"scope": "shop", "severities": {"edge.bleed": "look"}}, content_type=JSON)
    job = take_in(shop, SHORT)
    (look,) = [f for f in job["findings"] if f["id"] == "edge.bleed"]
    body = {"key": look["key"], "reason": "The customer knows."}
    after = shop.post(f"{address(job)}/decisions", body, content_type=JSON).json()
    assert after["verdict"] == "clean" and after["findings"][0]["decision"]
    stricter = {"scope": "shop", "severities": {"edge.bleed": "stop"}, "job": job["id"]}
    shop.post("/api/sheets", stricter, content_type=JSON)
    after = shop.get(address(job)).json()
    assert after["stops"] == 1 and after["verdict"] == "stop"
    (stop,) = [f for f in after["findings"] if f["id"] == "edge.bleed"]
    assert stop["decision"] is None and stop["before"]["reason"] == "The customer knows."
    assert shop.post(f"{address(job)}/release").json()["code"] == "stops-open"
    (row,) = shop.get("/api/jobs").json()
    assert row["stops"] == 1, "the list says the same"


def test_a_release_names_the_revision_and_the_report_that_the_person_saw(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    seen = {"version": job["version"], "revision": job["revision"], "found": job["found"]}
    assert job["current"] and job["found"]
    for wrong, code in (
        ({"revision": 7}, "changed-meanwhile"), ({"found": "0" * 64}, "not-ready"),
        ({"version": 9}, "changed-meanwhile"),
    ):
        answer = shop.post(f"{address(job)}/release", {**seen, **wrong}, content_type=JSON)
        assert answer.status_code == 409 and answer.json()["code"] == code, wrong
    assert not models.Work.objects.filter(kind="release").exists()
    shop.works = False
    shop.patch(address(job), {"columns": 1}, content_type=JSON)
    late = shop.post(f"{address(job)}/release", {"found": job["found"]}, content_type=JSON)
    assert late.json()["code"] == "not-ready", "the report is about another layout"
    run_all()
    shop.works = True
    assert shop.post(f"{address(job)}/release").status_code == 200
    assert len(shop.get(address(job)).json()["releases"]) == 1


def test_a_change_during_the_release_leaves_the_job_unreleased(
    shop: Person, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    job = take_in(shop, CLEAN)
    asked = task.run_step

    def interrupted(step: str, *arguments: object, **more: object) -> object:
        found = asked(step, *arguments, **more)
        if step == "job:release":
            shop.works = False
            assert shop.patch(address(job), {"name": "Another name"}, content_type=JSON).status_code == 200
        return found

    monkeypatch.setattr(task, "run_step", interrupted)
    shop.post(f"{address(job)}/release")
    after = shop.get(address(job)).json()
    assert after["releases"] == [] and "changed while it was released" in after["work"]["error"]
    assert not list((tmp_path / "hot-folder").rglob("*.pdf"))


# -- updates that are not lost --------------------------------------------------------------------------


def test_a_stale_change_is_refused_and_says_who_changed_what(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    ben = person("ben")
    first = ben.patch(address(job), {"name": "Round terns", "version": job["version"]}, content_type=JSON)
    assert first.status_code == 200
    unchanged = {"name": "Round terns", "order": job["order"], "material": job["material_id"]}
    whole = {**unchanged, "order": {**job["order"], "quantity": 5}, "version": job["version"] + 1}
    assert ben.patch(address(job), whole, content_type=JSON).status_code == 200
    stale = shop.patch(address(job), {"columns": 2, "version": job["version"]}, content_type=JSON)
    assert stale.status_code == 409 and stale.json()["code"] == "changed-meanwhile"
    told = stale.json()["message"]
    assert "(ben: Changed the order’s quantity from 1 to 5; ben: Changed the name)" in told, "and no more than that"
    after = shop.get(address(job)).json()
    assert after["name"] == "Round terns" and after["layout"].get("columns") is None
    mend = {"kind": "hairline", "settings": {"role": "kiss-cut"}}
    for path, body in (("mends", mend), ("undo", {}), ("release", {}), ("answers", {})):
        late = shop.post(f"{address(job)}/{path}", {**body, "version": job["version"]}, content_type=JSON)
        assert late.json()["code"] == "changed-meanwhile", path
    unnamed = Client()
    unnamed.force_login(get_user_model().objects.get(username="ben"))
    assert unnamed.patch(address(job), {"name": "x"}, content_type=JSON).status_code == 422, "a version has to be named"


def test_of_two_sessions_that_change_at_once_nothing_is_lost(shop: Person) -> None:
    """Two people, ten changes each, of two fields: each change is made, or refused and made again."""
    job = take_in(shop, CLEAN)
    ben = person("ben")
    shop.works = ben.works = False
    refused = []

    def changes(who: Person, field: str, values: list[str]) -> list[str]:
        made = []
        for value in values:
            for _ in range(60):
                version = who.get(address(job)).json()["version"]
                answer = who.patch(address(job), {field: value, "version": version}, content_type=JSON)
                if answer.status_code == 200:
                    made.append(value)
                    break
                assert answer.status_code == 409
                refused.append(value)
        return made

    names, customers = [f"Name {i}" for i in range(10)], [f"Customer {i}" for i in range(10)]
    made = at_once(lambda: changes(shop, "name", names), lambda: changes(ben, "customer", customers))
    assert made == [names, customers]
    after = shop.get(address(job)).json()
    assert (after["name"], after["customer"]) == ("Name 9", "Customer 9")
    assert after["version"] == job["version"] + 20
    told = [entry for entry in after["log"] if entry["what"].startswith("Changed")]
    assert len(told) == 20 and {entry["who"] for entry in told} == {"ada", "ben"}


def test_what_a_person_says_while_a_file_is_taken_in_stays(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    shop.works = False
    job = shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", CLEAN)}).json()["job"]
    asked = task.run_step

    def interrupted(step: str, *arguments: object, **more: object) -> object:
        found = asked(step, *arguments, **more)
        if step == "job:take_in":
            body = {
                "name": "Tern seals", "customer": "Dune Press", "due": "2027-02-01", "material": "film-610",
                "order": {"quantity": 77, "width_mm": 80, "height_mm": 80},
            }
            assert shop.patch(address(job), body, content_type=JSON).status_code == 200
        return found

    monkeypatch.setattr(task, "run_step", interrupted)
    run_all()
    after = shop.get(address(job)).json()
    assert (after["name"], after["customer"], after["due"]) == ("Tern seals", "Dune Press", "2027-02-01")
    assert after["material_id"] == "film-610" and after["order"]["quantity"] == 77
    assert after["revision"] == 1 and after["current"]


def test_two_workers_carry_out_one_after_the_other_what_is_asked_of_a_job(shop: Person) -> None:
    both = line_in(circle(50, 50, 40)) + line_in(circle(50, 50, 42), "T")
    data = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + both, inks={"K": "Kis Cut", "T": "Trough Cut"}))
    job = take_in(shop, data)
    for ink, to in (("Kis Cut", "Kiss Cut"), ("Trough Cut", "Through Cut")):
        models.Work.objects.create(job_id=job["id"], kind="mend", arguments={"mend": "rename", "ink": ink, "to": to})
    first, second = at_once(lambda: claim("one"), lambda: claim("two"))
    assert (first is None) != (second is None), "one of two workers gets work of this job"
    carry_out(first or second)  # type: ignore[arg-type]
    found = at_once(lambda: run_all("one"), lambda: run_all("two"))
    assert sorted(found) == [0, 1]
    after = shop.get(address(job)).json()
    assert [r["number"] for r in after["revisions"]] == [1, 2, 3], "both mends are there, one on the other"
    assert models.Revision.objects.get(number=3).parent.number == 2


def test_two_releases_at_once_make_one_package(shop: Person, tmp_path: Path) -> None:
    job = take_in(shop, CLEAN)
    ben = person("ben")
    shop.works = ben.works = False
    seen = {"version": job["version"], "revision": 1, "found": job["found"]}
    codes = [
        answer.status_code for answer in at_once(
            lambda: shop.post(f"{address(job)}/release", seen, content_type=JSON),
            lambda: ben.post(f"{address(job)}/release", seen, content_type=JSON),
        )
    ]
    assert sorted(codes) == [200, 409]
    models.Work.objects.create(job_id=job["id"], kind="release", arguments={"key": job["found"]})
    run_all()
    assert models.Release.objects.count() == 1
    assert len(list((tmp_path / "hot-folder").rglob("*.pdf"))) == 1
    again = shop.post(f"{address(job)}/release", seen, content_type=JSON)
    assert again.status_code == 409 and "released already" in again.json()["message"]
    assert shop.get(address(job)).json()["released"]


# -- workers that die --------------------------------------------------------------------------------------


def lapse(work: models.Work) -> None:
    models.Work.objects.filter(pk=work.pk).update(leased_until=timezone.now() - timedelta(seconds=1))


def test_what_a_dead_worker_held_is_taken_up_again_and_not_for_ever(shop: Person) -> None:
    shop.works = False
    job = shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", CLEAN)}).json()["job"]
    for attempt in range(1, MOST_ATTEMPTS + 1):
        work = claim("one that dies")
        assert work is not None and work.attempts == attempt
        assert claim("another") is None, "it is held"
        lapse(work)
    assert claim("another") is None
    (work,) = models.Work.objects.filter(job_id=job["id"])
    assert work.state == "failed" and "The worker ended" in work.error
    assert shop.get(address(job)).json()["work"]["error"] == work.error, "it is said"
    shop.works = True
    assert shop.post(f"{address(job)}/answers", {}, content_type=JSON).status_code == 200
    assert shop.get(address(job)).json()["verdict"] == "clean"


def test_a_clock_that_is_set_back_keeps_no_work_from_being_taken_up(shop: Person) -> None:
    shop.works = False
    shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", CLEAN)})
    work = claim("one that dies")
    assert work is not None and claim("another") is None
    models.Work.objects.filter(pk=work.pk).update(leased_until=timezone.now() + timedelta(hours=1))
    assert claim("another") is not None, "nobody holds anything for an hour"


@pytest.mark.parametrize("name", ["../../evil.pdf", "a;SP1;PD0,0;IN;\x1b%-12345X.pdf", "=cmd|calc!A0.pdf", "  .pdf"])
def test_a_name_reaches_no_file_but_as_plain_letters(shop: Person, name: str) -> None:
    job = take_in(shop, CLEAN, name)
    assert job["name"].strip() and job["name"].isprintable()
    seen = {"version": job["version"], "revision": 1, "found": job["found"]}
    assert shop.post(f"{address(job)}/release", seen, content_type=JSON).status_code == 200
    (made,) = shop.get("/api/bench").json()
    for file in made["files"]:
        assert re.fullmatch(r"[a-z0-9-]+\.[a-z]+", file["name"]), file["name"]
        if file["name"].endswith(".plt"):
            data = b"".join(shop.get(f"/api/bench/{made['id']}/files/{file['name']}").streaming_content)  # type: ignore[attr-defined]
            assert data.startswith(b"IN;") and data.isascii() and b"\x1b" not in data and data.count(b"IN;") == 1


def test_stop_is_heard_though_the_worker_is_dead(shop: Person) -> None:
    shop.works = False
    shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", CLEAN)})
    work = claim("one that dies")
    assert work is not None
    assert shop.post(f"/api/works/{work.pk}/cancel").json()["state"] == "running", "it may still be alive"
    lapse(work)
    assert shop.post(f"/api/works/{work.pk}/cancel").json()["state"] == "cancelled"
    assert claim("another") is None and shop.get("/api/works").json() == []


def test_a_worker_that_lost_its_work_writes_nothing_any_more(shop: Person) -> None:
    shop.works = False
    shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", CLEAN)})
    slow = claim("slow")
    assert slow is not None and keep_holding(slow)
    lapse(slow)
    quick = claim("quick")
    assert quick is not None and quick.pk == slow.pk
    assert not keep_holding(slow)
    with pytest.raises(LeaseLost), hold(slow):
        pass
    carry_out(slow)
    assert not models.Revision.objects.exists() and models.Work.objects.get().state == "running"
    carry_out(quick)
    assert models.Revision.objects.count() == 1


def test_a_mend_whose_worker_died_after_it_is_not_made_twice(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    job = take_in(shop, MISS)
    shop.works = False
    mend = next(m for f in job["findings"] for m in f["mends"])
    shop.post(f"{address(job)}/mends", mend, content_type=JSON)
    work = claim("one that dies")
    assert work is not None
    with monkeypatch.context() as patched:
        patched.setattr(looking, "look", lambda *_: (_ for _ in ()).throw(SystemExit))
        with pytest.raises(SystemExit):
            carry_out(work)
    lapse(work)
    assert run_all() == 1
    after = shop.get(address(job)).json()
    assert [r["number"] for r in after["revisions"]] == [1, 2] and after["current"]


# -- files that are whole or not there ------------------------------------------------------------------------


def test_a_failing_hot_folder_leaves_the_job_unreleased(shop: Person, tmp_path: Path) -> None:
    job = take_in(shop, CLEAN)
    (tmp_path / "hot-folder").write_text("in the way")
    shop.post(f"{address(job)}/release")
    after = shop.get(address(job)).json()
    assert after["work"]["state"] == "failed" and "cannot be written" in after["work"]["error"]
    assert after["releases"] == [] and not after["released"]
    (tmp_path / "hot-folder").unlink()
    assert shop.post(f"{address(job)}/release").status_code == 200
    assert len(shop.get(address(job)).json()["releases"]) == 1


def test_a_disk_that_fills_up_leaves_nothing_half_written(
    shop: Person, monkeypatch: pytest.MonkeyPatch, tmp_path: Path
) -> None:
    def full(handle: int) -> None:
        raise OSError(28, "No space left on device")

    with monkeypatch.context() as patched:
        patched.setattr(whole.os, "fsync", full)
        with pytest.raises(NoRoom, match="disk of the server is full"):
            files.keep(b"some content")
        with pytest.raises(NoRoom, match="disk of the server is full"):
            incoming = files.Incoming()
            incoming.write(b"some content")
            incoming.keep()
        with pytest.raises(CannotWrite):
            hot_folder.stage(models.Job(pk=1, destination_id="house"), "k" * 64, {"a-print.pdf": b"x"})
    assert not [path for path in tmp_path.rglob("*") if path.is_file()]
    incoming = files.Incoming()
    incoming.write(b"some ")
    incoming.write(b"content")
    sha256 = incoming.keep()
    assert sha256 == files.keep(b"some content") and files.load(sha256) == b"some content"


def test_content_is_verified_when_it_is_loaded(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    original = models.Job.objects.get().original
    path = files.path_of(original)
    path.chmod(0o600)
    path.write_bytes(CLEAN[:-1] + b" ")
    with pytest.raises(CannotRead, match="has changed in the store"):
        files.load(original)
    again = shop.post(f"{address(job)}/answers", {}, content_type=JSON)
    assert again.status_code == 200
    assert "has changed in the store" in shop.get(address(job)).json()["error"]


def test_a_file_of_a_package_that_has_changed_in_the_store_is_not_given_away(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    assert shop.post(f"{address(job)}/release", {}, content_type=JSON).status_code == 200
    made = models.Release.objects.get()
    (cut,) = [one for one in made.files if one["name"].endswith("-cut.plt")]
    path = f"/api/bench/{made.pk}/files/{cut['name']}"
    assert shop.get(path).status_code == 200
    kept = files.path_of(cut["sha256"])
    kept.chmod(0o600)
    kept.write_bytes(kept.read_bytes().replace(b"PD", b"PU", 1))
    answer = shop.get(path)
    assert answer.status_code == 400 and "has changed in the store" in answer.json()["message"]


# -- hostile files through the interface ---------------------------------------------------------------------------


def test_a_program_without_end_is_stopped_by_the_person(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    shop.works = False
    job = shop.post("/api/jobs", {"file": SimpleUploadedFile("loop.eps", hostile.LOOP)}).json()["job"]
    work = claim("a worker")
    assert work is not None
    timer = threading.Timer(1.0, lambda: (models.Work.objects.update(cancel=True), connection.close()))
    timer.start()
    carry_out(work)
    timer.join()
    after = shop.get(address(job)).json()
    assert after["work"]["state"] == "cancelled" and after["revision"] == 0


@pytest.mark.parametrize(("name", "data", "said"), [
    ("bomb.pdf", hostile.deflated_twice(1_500_000_000), "unpacks to more"),
    ("forms.pdf", hostile.nested_forms(), "more forms than a page may"),
], ids=["bomb", "forms"])
def test_a_hostile_file_is_a_job_that_says_why(shop: Person, name: str, data: bytes, said: str) -> None:
    job = take_in(shop, data, name)
    assert said in job["error"] and job["work"]["state"] == "failed"
    area = "x0=0&y0=0&x1=90&y1=90&ppi=20"
    assert 400 <= shop.get(f"{address(job)}/picture?{area}").status_code < 500
    assert take_in(shop, CLEAN)["verdict"] == "clean", "the next one is looked at"


def test_the_kind_of_a_file_is_told_apart_in_a_moment(shop: Person) -> None:
    answer = shop.post("/api/jobs", {"file": SimpleUploadedFile("a.dxf", hostile.DXF_COMMENTS)})
    assert answer.status_code == 400 and "a.dxf" in answer.json()["message"]
    assert not models.Job.objects.exists()


# -- bad values ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("body", [
    {"name": None}, {"name": ""}, {"name": "\ud800"}, {"name": "x" * 4_000_000}, {"name": "a\nb"}, {"customer": None},
    {"gap_mm": float("nan")}, {"gap_mm": float("inf")}, {"gap_mm": -1}, {"columns": -3}, {"columns": 0},
    {"columns": 1e99}, {"material": "zzz"}, {"material": None}, {"destination": "zzz"}, {"due": "soon"},
    {"tools": [{"role": "crimp", "number": 1, "force_gf": 9, "speed_mm_s": 9}]}, {"tools": None},
    {"tools": [{"role": "kiss-cut", "number": 1, "force_gf": float("nan"), "speed_mm_s": 9}]}, {"order": None},
    {"order": {"material": "zzz"}}, {"order": {"quantity": float("nan")}}, {"order": {"roles": ["crimp"]}},
    {"order": {"edge": "\ud800"}}, {"order": {"width_mm": 1e300}}, {"order": []}, {"version": "x"},
    {"marks": 3}, {"marks": {"kind": "moon"}}, {"marks": {"count": 2, "every_mm": 500}}, {"marks": {"arm_mm": -1}},
    {"marks": {"around": [1, 2]}}, {"marks": {"around": [9, 9, 1, 1]}}, {"code": "maybe"}, {"mirror": []},
], ids=lambda body: json.dumps(body)[:40])
def test_values_that_cannot_be_are_refused_and_nothing_changes(shop: Person, body: dict) -> None:  # type: ignore[type-arg]
    job = take_in(shop, CLEAN)
    answer = shop.patch(address(job), body, content_type=JSON)
    assert 400 <= answer.status_code < 500, answer.content[:200]
    assert answer.json()["message"]
    after = shop.get(address(job)).json()
    for field in ("name", "customer", "order", "layout", "material_id", "version"):
        assert after[field] == job[field]
