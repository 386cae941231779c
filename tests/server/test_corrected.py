"""A corrected file is laid over the one before; a job is ordered again; what was done by hand is offered again."""

from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from jobs import models
from worker.kinds import take_in as taking_in
from worker.loop import run_all
from worker.task import Task

from tests.breadth import breadth
from tests.server.conftest import Person, send_another, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.4, "customers and letters")]
JSON = "application/json"
GROUND = "1 0 0 0 k 5 5 90 90 re f\n"
SPOT = "0 1 0 0 k 30 30 10 10 re f\n"


def rim(radius: float = 38, more: str = "", ink: str = "Rim of it") -> bytes:
    return write(Drawing(GROUND + more + line_in(circle(50, 50, radius)), inks={"K": ink}))


def seen(shop: Person, job: dict[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = shop.get(f"/api/jobs/{job['id']}").json()
    return found


def said_by_hand(shop: Person, job: dict[str, Any]) -> dict[str, Any]:
    step = {"kind": "assign-role", "settings": {"ink": "Rim of it", "role": "kiss-cut"}}
    assert shop.post(f"/api/jobs/{job['id']}/mends", step, content_type=JSON).status_code == 200
    now = seen(shop, job)
    assert now["revision"] == 2, now["work"]
    return now


def test_what_a_corrected_file_changed_is_listed_with_its_places(shop: Person) -> None:
    job = take_in(shop, rim(ink="Kiss Cut"), "rim.pdf")
    assert send_another(shop, job, rim(38.5, SPOT, "Kiss Cut"), "rim-2.pdf").status_code == 200
    over = seen(shop, job)["corrected"]
    assert (over["before"], over["now"], over["file"], over["error"]) == (1, 2, "rim.pdf", "")
    kinds = {change["kind"]: change for change in over["changes"]}
    assert set(kinds) == {"art", "lines", "inks"} and kinds["inks"]["words"] == "New ink “Magenta”"
    (box,) = kinds["art"]["where"]
    assert box == pytest.approx([20, 20, 30, 30], abs=0.2), "mm from the trim's corner"
    assert "1 moved, by up to 0.50 mm" in kinds["lines"]["words"]
    (line,) = kinds["lines"]["where"]
    assert line == pytest.approx([1.5, 1.5, 78.5, 78.5], abs=0.05)


def test_the_same_drawn_again_has_changed_nothing(shop: Person) -> None:
    job = take_in(shop, rim(), "rim.pdf")
    assert send_another(shop, job, rim() + b"\n% saved again\n", "rim-2.pdf").status_code == 200
    assert seen(shop, job)["corrected"]["changes"] == []


def test_what_was_done_by_hand_is_offered_again_and_proved(shop: Person) -> None:
    job = said_by_hand(shop, take_in(shop, rim(), "rim.pdf"))
    assert send_another(shop, job, rim(37), "rim-2.pdf").status_code == 200
    now = seen(shop, job)
    (step,) = now["corrected"]["redo"]
    assert (step["mend"]["kind"], step["done"]) == ("assign-role", False)
    body = {"steps": [0], "revision": now["revision"]}
    assert shop.post(f"/api/jobs/{job['id']}/redo", body, content_type=JSON).status_code == 200
    after = seen(shop, job)
    assert after["revision"] == 4 and after["corrected"]["redo"][0]["done"], after["work"]
    assert after["revisions"][-1]["proof"] is not None
    again = shop.post(f"/api/jobs/{job['id']}/redo", {**body, "revision": 4}, content_type=JSON)
    assert again.status_code == 409


def test_decisions_that_still_hold_stay_and_the_rest_is_asked_again(shop: Person) -> None:
    job = take_in(shop, rim(), "rim.pdf")
    look = next(finding for finding in job["findings"] if finding["severity"] == "look")
    body = {"key": look["key"], "reason": "as agreed"}
    assert shop.post(f"/api/jobs/{job['id']}/decisions", body, content_type=JSON).status_code == 200
    assert send_another(shop, seen(shop, job), rim() + b"\n", "rim-2.pdf").status_code == 200
    now = next(finding for finding in seen(shop, job)["findings"] if finding["id"] == look["id"])
    assert now["decision"] and now["decision"]["reason"] == "as agreed"


def test_a_file_that_looks_like_an_open_jobs_is_asked_about_and_laid_over_it(shop: Person) -> None:
    first = said_by_hand(shop, take_in(shop, rim(), "Tern rim.pdf", customer="Saltmarsh Trust"))
    second = take_in(shop, rim(38.4), "tern-rim_v2 final.pdf", customer="Saltmarsh Trust")
    assert second["like"] == {"id": first["id"], "name": "Tern rim"}
    (row,) = (one for one in shop.get("/api/jobs").json() if one["id"] == second["id"])
    assert row["like"]["id"] == first["id"]
    left = shop.post(f"/api/jobs/{second['id']}/like", {"take": True}, content_type=JSON)
    assert left.status_code == 200 and left.json()["id"] == first["id"]
    assert not models.Job.objects.filter(pk=second["id"]).exists()
    now = seen(shop, first)
    assert now["intake"]["file_name"] == "tern-rim_v2 final.pdf" and now["corrected"]["redo"]
    assert models.LogEntry.objects.filter(about="tern-rim_v2 final", what__startswith="Laid over").exists()


def test_it_is_laid_over_while_the_last_of_its_taking_in_still_runs(
    shop: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    first = take_in(shop, rim(), "Tern rim.pdf", customer="Saltmarsh Trust")
    answers, then = [], taking_in._note_first_state

    def pressed_at_once(task: Task) -> None:
        monkeypatch.setattr(taking_in, "_note_first_state", then)
        answers.append(shop.post(f"/api/jobs/{task.work.job_id}/like", {"take": True}, content_type=JSON))
        then(task)

    monkeypatch.setattr(taking_in, "_note_first_state", pressed_at_once)
    file = SimpleUploadedFile("tern-rim_v2.pdf", rim(38.4))
    shop.works = False
    second = shop.post("/api/jobs", {"file": file, "customer": "Saltmarsh Trust"}).json()["job"]
    run_all()
    assert [answer.status_code for answer in answers] == [200], answers[0].content
    assert not models.Job.objects.filter(pk=second["id"]).exists()
    now = seen(shop, first)
    assert (now["intake"]["file_name"], now["revision"]) == ("tern-rim_v2.pdf", 2), now["work"]


def test_a_mend_that_somebody_has_asked_for_is_not_lost_with_a_job_laid_over(shop: Person) -> None:
    take_in(shop, rim(), "Tern rim.pdf", customer="Saltmarsh Trust")
    second = take_in(shop, rim(38.4), "tern-rim_v2.pdf", customer="Saltmarsh Trust")
    shop.works = False
    step = {"kind": "assign-role", "settings": {"ink": "Rim of it", "role": "kiss-cut"}}
    assert shop.post(f"/api/jobs/{second['id']}/mends", step, content_type=JSON).status_code == 200
    refused = shop.post(f"/api/jobs/{second['id']}/like", {"take": True}, content_type=JSON)
    assert refused.status_code == 409 and "is being mended" in refused.content.decode()
    assert models.Job.objects.filter(pk=second["id"]).exists()


def test_a_file_of_nobody_may_be_the_correction_of_anybodys(shop: Person) -> None:
    first = take_in(shop, rim(), "Tern rim.pdf", customer="Saltmarsh Trust")
    second = take_in(shop, rim(38.4), "Tern rim 2.pdf")
    assert second["like"]["id"] == first["id"]


def test_a_job_of_its_own_is_not_asked_about_again(shop: Person) -> None:
    take_in(shop, rim(), "Tern rim.pdf", customer="Saltmarsh Trust")
    second = take_in(shop, rim(38.4), "tern-rim_v2.pdf", customer="Saltmarsh Trust")
    assert shop.post(f"/api/jobs/{second['id']}/like", {"take": False}, content_type=JSON).json()["like"] is None
    assert shop.post(f"/api/jobs/{second['id']}/like", {"take": True}, content_type=JSON).status_code == 409


@pytest.mark.parametrize(("name", "customer", "data"), [
    ("seals.pdf", "Saltmarsh Trust", rim(38.4)),
    ("Tern rim 2.pdf", "Dune Press", rim(38.4)),
    ("Tern rim 2.pdf", "Saltmarsh Trust", write(Drawing("0 0 0 1 k 10 10 80 80 re f\n" + line_in(circle(50, 50, 9))))),
])
def test_nobody_is_asked_about_another_name_customer_or_look(
    shop: Person, name: str, customer: str, data: bytes
) -> None:
    take_in(shop, rim(), "Tern rim.pdf", customer="Saltmarsh Trust")
    assert take_in(shop, data, name, customer=customer)["like"] is None


def test_again_begins_with_the_old_job_and_says_what_has_changed_since(shop: Person) -> None:
    seal = write(Drawing(GROUND + line_in(circle(50, 50, 40))))
    job = take_in(shop, seal, "seal.pdf")
    assert shop.post(f"/api/jobs/{job['id']}/release", {}, content_type=JSON).status_code == 200
    first = seen(shop, job)
    assert first["releases"]
    fresh = shop.post(f"/api/jobs/{job['id']}/repeat", {"quantity": 50}, content_type=JSON).json()
    again = seen(shop, fresh)["again"]
    assert (again["job_id"], again["newer"], again["gone"]) == (job["id"], [], []) and again["released"]
    sheet = {"scope": "shop", "subject": "", "limits": {"edge.bleed": 2.5}, "severities": {}, "note": "less"}
    assert shop.post("/api/sheets", sheet, content_type=JSON).status_code == 200
    assert [one["kind"] for one in seen(shop, fresh)["again"]["newer"]] == ["check-sheet"]
    retired = shop.post(f"/api/shelf/things/{first['material_id']}/retire", {"retired": True, "note": "", "seen": 1},
                        content_type=JSON)
    assert retired.status_code == 200, retired.json()
    assert "off the Shelf" in seen(shop, fresh)["again"]["gone"][0]
    assert not models.Fault.objects.filter(job=fresh["id"]).exists(), "it did not come in"
