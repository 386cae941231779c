"""Work and people at the same time: what is asked for while something runs, and what is changed under it."""

import threading
from collections.abc import Callable
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test import Client
from jobs import models
from jobs.store import analyses, snapshots
from jobs.store.analyses import queue_outdated
from jobs.store.children import run_step
from jobs.store.queue import claim
from worker import looking, task
from worker.carrying_out import FAULT, carry_out
from worker.loop import run_all

from horismos.errors import Cancelled
from tests.breadth import breadth
from tests.server.conftest import Person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]
MISS = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"}))
CLEAN = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))))
JSON = "application/json"


@pytest.fixture()
def queued(shop: Person) -> Callable[[], None]:
    """From here on work waits until the test lets the worker take one piece of it."""
    shop.works = False

    def one() -> None:
        work = claim("a worker")
        assert work is not None
        carry_out(work)

    return one


def address(job: dict) -> str:  # type: ignore[type-arg]
    return f"/api/jobs/{job['id']}"


def first_mend(job: dict) -> dict:  # type: ignore[type-arg]
    return next(m for f in job["findings"] for m in f["mends"])


# -- what is refused while something runs ------------------------------------------------------------


@pytest.mark.parametrize("asked", ["undo", "mends", "release"])
def test_nothing_else_is_begun_on_a_job_that_is_being_mended(
    shop: Client, queued: Callable[[], None], asked: str
) -> None:
    answer = shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", MISS)})
    job_id = answer.json()["job"]["id"]
    queued()
    job = shop.get(f"/api/jobs/{job_id}").json()
    assert shop.post(f"{address(job)}/mends", first_mend(job), content_type=JSON).status_code == 200
    refused = shop.post(f"{address(job)}/{asked}", first_mend(job), content_type=JSON)
    assert refused.status_code == 409
    assert refused.json()["code"] == "not-ready" and "is being mended" in refused.json()["message"]
    assert models.Work.objects.filter(state="waiting").count() == 1, "nothing was begun beside the mend"
    queued()
    after = shop.get(address(job)).json()
    assert (after["revision"], after["verdict"]) == (2, "clean")


def test_an_undo_is_possible_again_when_the_mend_was_stopped_before_it_began(
    shop: Client, queued: Callable[[], None]
) -> None:
    shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", MISS)})
    queued()
    (row,) = shop.get("/api/jobs").json()
    job = shop.get(address(row)).json()
    shop.post(f"{address(job)}/mends", first_mend(job), content_type=JSON)
    queued()
    shop.post(f"{address(job)}/mends", {"kind": "hairline", "settings": {"role": "kiss-cut"}}, content_type=JSON)
    work = shop.get("/api/works").json()[0]["id"]
    assert shop.post(f"/api/works/{work}/cancel").json()["state"] == "cancelled"
    assert claim("a worker") is None
    assert shop.get(f"/api/works/{work}").json()["state"] == "cancelled", "the worker leaves it alone"
    assert shop.post(f"{address(job)}/undo").status_code == 200
    queued()
    after = shop.get(address(job)).json()
    assert after["revision"] == 1 and after["current"] and after["stops"] == 1


def test_what_runs_in_the_shop_is_one_lean_list(shop: Client, queued: Callable[[], None]) -> None:
    assert shop.get("/api/works").json() == []
    for name in ("one.pdf", "two.pdf"):
        shop.post("/api/jobs", {"file": SimpleUploadedFile(name, MISS + name.encode())})
    works = shop.get("/api/works").json()
    assert [w["state"] for w in works] == ["waiting", "waiting"]
    assert [w["kind"] for w in works] == ["take-in", "take-in"]
    assert works[0]["id"] < works[1]["id"] and works[0]["job_id"] != works[1]["job_id"]
    queued()
    assert [w["id"] for w in shop.get("/api/works").json()] == [works[1]["id"]]
    assert shop.get(f"/api/works/{works[0]['id']}").json()["state"] == "done"


def test_what_has_ended_is_told_to_whoever_asks_since_when(shop: Person) -> None:
    """Also what began and ended between two looks, and never what was heard of already."""
    job = take_in(shop, CLEAN)
    first = shop.get("/api/works?since=0").json()
    assert [(w["kind"], w["state"]) for w in first] == [("take-in", "done")]
    heard = max(w["stamp"] for w in first)
    assert shop.get(f"/api/works?since={heard}").json() == []
    shop.patch(address(job), {"columns": 1}, content_type=JSON)
    (ended,) = shop.get(f"/api/works?since={heard}").json()
    assert ended["kind"] == "analyse" and ended["state"] == "done" and ended["stamp"] > heard
    shop.works = False
    shop.patch(address(job), {"columns": 2}, content_type=JSON)
    begun = shop.get(f"/api/works?since={ended['stamp']}").json()
    assert [w["state"] for w in begun] == ["waiting"] and begun[0]["stamp"] > ended["stamp"]
    shop.post(f"/api/works/{begun[0]['id']}/cancel")
    (stopped,) = shop.get(f"/api/works?since={begun[0]['stamp']}").json()
    assert stopped["state"] == "cancelled"


def test_a_job_that_was_not_looked_at_yet_says_so_of_everything(shop: Client, queued: Callable[[], None]) -> None:
    shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", MISS)})
    (row,) = shop.get("/api/jobs").json()
    assert row["stops"] is None and row["looks"] is None
    job = shop.get(address(row)).json()
    for unknown in ("sheet", "cut", "seen", "plates", "verdict"):
        assert not job[unknown], unknown
    assert job["sheet"] is None and job["cut"] is None and job["seen"] is None
    assert job["intake"]["kind"] is None and not job["current"]


# -- what is changed while something runs --------------------------------------------------------------


@pytest.fixture()
def changed_in_the_middle(monkeypatch: pytest.MonkeyPatch, shop: Person) -> Callable[..., None]:
    """From the call on, a person changes a job while it is being checked."""

    def begin(job: dict, body: dict) -> None:  # type: ignore[type-arg]
        def interrupted(*given, **more):  # type: ignore[no-untyped-def]
            monkeypatch.setattr(task, "run_step", run_step)
            assert shop.patch(address(job), body, content_type=JSON).status_code == 200
            return run_step(*given, **more)

        monkeypatch.setattr(task, "run_step", interrupted)

    return begin


TOOL = {"role": "kiss-cut", "number": 5, "force_gf": 70.0, "speed_mm_s": 300.0, "passes": 2}


@pytest.mark.parametrize("change", [
    {"tools": [TOOL]}, {"columns": 1}, {"order": {"quantity": 3, "bleed_mm": 6}}, {"material": "film-610"},
], ids=["tool", "layout", "order", "material"])
def test_what_is_changed_in_the_middle_of_a_check_makes_its_outcome_out_of_date(
    shop: Person, change: dict, changed_in_the_middle: Callable[..., None],  # type: ignore[type-arg]
) -> None:
    job = take_in(shop, CLEAN)
    assert job["current"]
    shop.works = False
    models.Work.objects.create(job_id=job["id"], kind="analyse")
    changed_in_the_middle(job, change)
    begun = claim("a worker")
    assert begun is not None
    carry_out(begun)
    assert not shop.get(address(job)).json()["current"], "what was found is of before the change"
    assert run_all() == 1
    assert shop.get(address(job)).json()["current"]


def test_a_tool_is_kept_while_it_differs_from_the_shipped_one(shop: Client) -> None:
    job = take_in(shop, CLEAN)
    (before,) = job["cut"]["operations"]
    shop.patch(address(job), {"tools": [TOOL]}, content_type=JSON)
    (after,) = shop.get(address(job)).json()["cut"]["operations"]
    assert after["tool"] == {**before["tool"], **TOOL}
    assert after["time_s"] > before["time_s"], "twice round, and slower"
    assert models.ToolSetting.objects.count() == 1
    shop.patch(address(job), {"tools": [before["tool"]]}, content_type=JSON)
    assert not models.ToolSetting.objects.exists()


@pytest.mark.parametrize(("field", "value"), [("passes", 0), ("force_gf", -1), ("speed_mm_s", 0), ("role", "crimp")])
def test_a_tool_that_cannot_be_is_refused_and_the_old_one_stays(shop: Client, field: str, value: object) -> None:
    job = take_in(shop, CLEAN)
    answer = shop.patch(address(job), {"tools": [{**TOOL, field: value}]}, content_type=JSON)
    assert 400 <= answer.status_code < 500 and answer.json()["message"]
    assert shop.get(address(job)).json()["cut"] == job["cut"]
    assert not models.ToolSetting.objects.exists()


def test_the_layout_is_laid_out_anew_and_the_check_is_carried_over(shop: Client) -> None:
    job = take_in(shop, CLEAN)
    order = {"quantity": 6, "width_mm": 80, "height_mm": 80}
    shop.patch(address(job), {"order": order}, content_type=JSON)
    wide = shop.get(address(job)).json()["sheet"]
    shop.patch(address(job), {"columns": 2, "gap_mm": 9.0}, content_type=JSON)
    after = shop.get(address(job)).json()
    assert wide["columns"] == 6 and after["sheet"]["columns"] == 2 and len(after["sheet"]["placements"]) == 6
    assert after["sheet"]["length_mm"] > wide["length_mm"] + 2 * 80
    assert after["checks_carried"] > 0 == after["checks_run"], "nothing that a check looks at has changed"
    answer = shop.patch(address(job), {"columns": -1}, content_type=JSON)
    assert answer.status_code == 400 and "columns is -1" in answer.json()["message"]
    assert shop.get(address(job)).json()["sheet"]["columns"] == 2


def test_copies_are_nested_kept_and_given_up_for_rows(shop: Client) -> None:
    path = "10 10 m 90 10 l 90 25 l 25 25 l 25 90 l 10 90 l h "
    job = take_in(shop, write(Drawing(f"0 1 0 0 k {path} f " + line_in(path), trim=None, bleed=None)))
    shop.patch(address(job), {"order": {"quantity": 60}}, content_type=JSON)
    rows = shop.get(address(job)).json()
    body = {"version": rows["version"], "turn": "free", "seconds": 1, "gap_mm": 4.0}
    answer = shop.post(f"{address(job)}/nest", body, content_type=JSON)
    assert answer.status_code == 200, answer.content
    work = shop.get(f"/api/works/{answer.json()['id']}").json()
    assert work["state"] == "done", work["error"]
    after = shop.get(address(job)).json()
    sheet = after["sheet"]
    assert not sheet["error"] and sheet["columns"] == 0 and len(sheet["placements"]) == 60
    assert sheet["items"][0]["clip_path"]
    assert sheet["length_mm"] < sheet["rows_mm"] and after["layout"]["gap_mm"] == 4.0
    assert any(line["what"].startswith("Nested: 60 copies on") for line in after["log"])
    shop.patch(address(job), {"marks": {"distance_mm": 9.0}}, content_type=JSON)
    marked = shop.get(address(job)).json()["sheet"]
    assert not marked["error"] and marked["columns"] == 0 and marked["placements"] == sheet["placements"]
    shop.patch(address(job), {"marks": {"distance_mm": 60.0}}, content_type=JSON)
    error = shop.get(address(job)).json()["sheet"]["error"]
    assert error.startswith("The copies were placed for other marks") and error.endswith("Lay them out again.")
    shop.patch(address(job), {"marks": {}}, content_type=JSON)
    shop.patch(address(job), {"order": {"quantity": 5}}, content_type=JSON)
    assert "60 copies are placed, 5 are ordered. Lay them out again." in shop.get(address(job)).json()["sheet"]["error"]
    shop.patch(address(job), {"columns": 3}, content_type=JSON)
    back = shop.get(address(job)).json()
    assert back["sheet"]["columns"] == 3 and back["layout"]["placed"] == []
    nothing = shop.post(f"{address(job)}/nest", {**body, "version": back["version"], "turn": "none"}, content_type=JSON)
    told = shop.get(f"/api/works/{nothing.json()['id']}").json()
    assert told["state"] == "failed" and "Nothing shorter than rows and columns was found" in told["error"]
    same = shop.get(address(job)).json()
    assert same["layout"] == back["layout"] and same["sheet"] == back["sheet"]
    back = same
    for wrong in ({"turn": "loop"}, {"seconds": 0}, {"seconds": 1e9}, {"gap_mm": -1}, {"version": 0}):
        refused = shop.post(f"{address(job)}/nest", {**body, "version": back["version"], **wrong}, content_type=JSON)
        assert 400 <= refused.status_code < 500 and refused.json()["message"]


def test_marks_code_and_way_round_are_kept_and_shown_with_what_misplacement_they_leave(shop: Client) -> None:
    job = take_in(shop, CLEAN)
    before = job["sheet"]
    assert len(before["marks"]) == 4 and before["code"].startswith("S1-") and before["code_path"]
    change = {"marks": {"kind": "cross", "every_mm": 60.0, "distance_mm": 6.0}, "code": False, "mirror": True}
    shop.patch(address(job), change, content_type=JSON)
    after = shop.get(address(job)).json()
    sheet, found = after["sheet"], after["sheet"]["misplacement"]
    assert after["layout"]["marks"].items() >= change["marks"].items() and sheet["mirrored"] and not sheet["code"]
    assert len(sheet["marks"]) > 4 and {mark["kind"] for mark in sheet["marks"]} == {"cross"}
    assert all(mark["stroke"] and not mark["fill"] for mark in sheet["marks"])
    assert 0 < found["mean_mm"] <= found["worst_mm"] and found["allowed_mm"] == 0.5 and len(found["cells"]) > 100
    said = [line["what"] for line in after["log"]]
    assert any("marks" in words and "which way round it is printed" in words for words in said), said



def test_a_name_or_a_date_changes_without_looking_at_the_job_again(shop: Client) -> None:
    job = take_in(shop, CLEAN)
    works = models.Work.objects.count()
    body = {"name": "Tern seals", "customer": "Dune Press", "due": "2027-02-01"}
    after = shop.patch(address(job), body, content_type=JSON).json()
    assert (after["name"], after["customer"], after["due"]) == ("Tern seals", "Dune Press", "2027-02-01")
    assert models.Work.objects.count() == works and after["current"]


# -- what is stopped in the middle ----------------------------------------------------------------------


def stopping_at(share: float) -> Callable[..., None]:
    """How a task tells of its progress that a person stops at a share of it."""

    def progress(self: task.Task, at: float, what: str) -> None:
        if at >= share:
            raise Cancelled

    return progress


@pytest.mark.parametrize("share", [0.0, 0.3, 0.6, 0.9])
def test_a_release_that_is_stopped_hands_over_nothing(
    shop: Client, monkeypatch: pytest.MonkeyPatch, share: float, tmp_path: Path
) -> None:
    job = take_in(shop, CLEAN)
    monkeypatch.setattr("worker.task.Task.progress", stopping_at(share))
    shop.post(f"{address(job)}/release")
    after = shop.get(address(job)).json()
    assert after["work"]["state"] == "cancelled" and after["releases"] == []
    assert not list((tmp_path / "hot-folder").rglob("*.pdf"))
    assert shop.get("/api/bench").json() == []


@pytest.mark.parametrize("share", [0.0, 0.2])
def test_a_mend_that_is_stopped_leaves_the_revision(
    shop: Client, monkeypatch: pytest.MonkeyPatch, share: float
) -> None:
    job = take_in(shop, MISS)
    monkeypatch.setattr("worker.task.Task.progress", stopping_at(share))
    shop.post(f"{address(job)}/mends", first_mend(job), content_type=JSON)
    after = shop.get(address(job)).json()
    assert after["work"]["state"] == "cancelled"
    assert after["revision"] == 1 and len(after["revisions"]) == 1 and after["current"]
    assert [f["key"] for f in after["findings"]] == [f["key"] for f in job["findings"]]


def test_a_taking_in_that_is_stopped_keeps_the_original_and_can_be_asked_for_again(
    shop: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    with monkeypatch.context() as patched:
        patched.setattr("worker.task.Task.progress", stopping_at(0.1))
        job = take_in(shop, MISS)
        assert job["work"]["state"] == "cancelled" and job["revision"] == 0 and not job["error"]
        assert models.Job.objects.get().original
    shop.post(f"{address(job)}/answers", {}, content_type=JSON)
    after = shop.get(address(job)).json()
    assert after["revision"] == 1 and after["stops"] == 1


def test_a_fault_of_the_program_is_said_as_one_and_leaves_the_last_state(
    shop: Client, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = take_in(shop, CLEAN)

    def faulty(step: str, *arguments: object, **more: object) -> object:
        return run_step("job:nothing", **more)

    monkeypatch.setattr(task, "run_step", faulty)
    shop.patch(address(job), {"columns": 1}, content_type=JSON)
    after = shop.get(address(job)).json()
    assert after["work"]["state"] == "failed" and after["work"]["error"] == FAULT
    assert after["findings"] == job["findings"] and not after["current"]


# -- what is not there ------------------------------------------------------------------------------------


@pytest.mark.parametrize(("address_of", "said"), [
    ("/api/jobs/77", "no job 77"), ("/api/works/77", "no work 77"), ("/api/bench/77/play", "no release 77"),
])
def test_what_is_not_there_is_named(shop: Client, address_of: str, said: str) -> None:
    answer = shop.get(address_of)
    assert answer.status_code == 404 and answer.json()["code"] == "not-found" and said in answer.json()["message"]


def test_what_was_sent_in_another_shape_is_named(shop: Client) -> None:
    job = take_in(shop, CLEAN)
    answer = shop.patch(address(job), {"customer": 7}, content_type=JSON)
    assert answer.status_code == 422 and answer.json()["code"] == "not-understood"
    assert "customer" in answer.json()["message"]


def test_what_is_told_of_a_change_is_what_differs_though_a_form_sends_all_of_its_fields(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    path = f"/api/jobs/{job['id']}"
    whole = {"marks": {"kind": "bracket-in"}, "code": True, "fill": "quantity", "gap_mm": None, "makes": "cut"}
    shop.patch(path, whole, content_type=JSON)
    shop.patch(path, whole, content_type=JSON)
    told = [entry["what"] for entry in shop.get(path).json()["log"] if entry["what"].startswith("Changed")]
    assert told == ["Changed what it goes through"]


def test_a_job_is_shown_as_it_was_at_one_moment(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    """Work that ended while a job was read was told together with what stood before: the screen asked no more."""
    from jobs import showing

    job = take_in(shop, CLEAN)
    shop.works = False
    answer = shop.patch(f"/api/jobs/{job['id']}", {"columns": 1}, content_type=JSON)
    assert answer.status_code == 200
    read = showing.found_of

    def meanwhile(seen: models.Job) -> object:
        found = read(seen)

        def works() -> None:
            run_all()
            connection.close()

        thread = threading.Thread(target=works)
        thread.start()
        thread.join(60)
        return found

    monkeypatch.setattr(showing, "found_of", meanwhile)
    shown = shop.get(f"/api/jobs/{job['id']}").json()
    assert shown["work"]["state"] == "waiting" and not shown["current"]
    monkeypatch.setattr(showing, "found_of", read)
    shown = shop.get(f"/api/jobs/{job['id']}").json()
    assert shown["work"]["state"] == "done" and shown["current"]


def test_what_other_code_has_found_is_found_anew_and_what_was_released_stays_so(
    shop: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    clean = write(Drawing(f"1 0 0 0 k {circle(50, 50, 46)} f " + line_in(circle(50, 50, 40))))
    released, waits = (take_in(shop, clean + b"\n" * i, f"{i}.pdf") for i in range(2))
    assert shop.post(f"{address(released)}/release").status_code == 200
    shop.works = False
    for room in (snapshots, analyses):
        monkeypatch.setattr(room, "code_fingerprint", lambda: "the next version")
    assert queue_outdated() == 1 and queue_outdated() == 0, "what is released is not looked at before it is opened"
    assert [work.job_id for work in models.Work.objects.filter(state="waiting")] == [waits["id"]]
    seen = shop.get(address(released)).json()
    assert seen["released"] and not seen["current"] and seen["work"]["kind"] == "analyse", "opening it has asked for it"
    shop.works = True
    run_all()
    for job in (released, waits):
        seen = shop.get(address(job)).json()
        assert seen["current"] and not seen["checks_carried"], "nothing is carried over from other code"
    assert queue_outdated() == 0


def test_a_job_that_other_code_cannot_look_at_is_asked_for_once_and_not_for_ever(
    shop: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = take_in(shop, CLEAN)
    monkeypatch.setattr(looking, "look", lambda *_: 1 / 0)
    for room in (snapshots, analyses):
        monkeypatch.setattr(room, "code_fingerprint", lambda: "the next version")
    for _ in range(3):
        shop.get(address(job))
        run_all()
    assert models.Work.objects.filter(kind="analyse").count() == 1, "each answer would ask for the next"
    assert shop.get(address(job)).json()["work"]["state"] == "failed"
    assert queue_outdated() == 1, "the next start tries again"
