"""Whose turn it is, who works, and what a monitor is told."""

from datetime import timedelta
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone
from jobs import models
from jobs.store.queue import begin, claim
from jobs.store.workers import note_itself, note_times, note_workers, version
from prometheus_client.parser import text_string_to_metric_families
from shop import running
from worker.loop import run_all

from tests.server.conftest import Person
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db
CLEAN = Drawing("1 0 0 0 k 5 5 90 90 re f\n" + line_in(circle(50, 50, 40)))


def waiting(shop: Person, name: str, weight: models.Weight, monkeypatch: pytest.MonkeyPatch) -> models.Work:
    """A file that has come in, as if it were so large."""
    sizes = {models.Weight.SMALL: 1_000, models.Weight.USUAL: 20_000_000, models.Weight.LARGE: 300_000_000}
    monkeypatch.setattr("jobs.store.queue.size_of", lambda sha256: sizes[weight])
    shop.works = False
    job = shop.post("/api/jobs", {"file": SimpleUploadedFile(name, write(CLEAN) + name.encode())}).json()["job"]
    return models.Work.objects.get(job_id=job["id"])


def test_small_files_go_before_large_ones_and_what_a_person_waits_for_before_all(
    shop: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    large = waiting(shop, "wall.pdf", models.Weight.LARGE, monkeypatch)
    usual = waiting(shop, "door.pdf", models.Weight.USUAL, monkeypatch)
    small = [waiting(shop, f"seal-{i}.pdf", models.Weight.SMALL, monkeypatch) for i in range(3)]
    assert (large.weight, usual.weight, small[0].weight) == ("large", "usual", "small")
    asked = begin(models.Job.objects.get(pk=usual.job_id), models.WorkKind.ANALYSE)
    behind = begin(models.Job.objects.get(pk=small[0].job_id), models.WorkKind.ANALYSE, behind=True)
    order = []
    while (work := claim("one")) is not None:
        order.append(work.pk)
        models.Work.objects.filter(pk=work.pk).update(state="done")
    assert order == [asked.pk, *(one.pk for one in small), usual.pk, large.pk, behind.pk]


def test_a_large_file_does_not_wait_for_ever(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    large = waiting(shop, "wall.pdf", models.Weight.LARGE, monkeypatch)
    models.Work.objects.filter(pk=large.pk).update(turn=large.turn - timedelta(minutes=11))
    waiting(shop, "seal.pdf", models.Weight.SMALL, monkeypatch)
    work = claim("one")
    assert work is not None and work.pk == large.pk


def test_of_several_workers_one_is_kept_free_of_large_files(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    large = [waiting(shop, f"wall-{i}.pdf", models.Weight.LARGE, monkeypatch).pk for i in range(3)]
    first, second = claim("one", slots=3), claim("two", slots=3)
    assert first is not None and second is not None and {first.pk, second.pk} == set(large[:2])
    assert claim("three", slots=3) is None, "it waits for small ones"
    small = waiting(shop, "seal.pdf", models.Weight.SMALL, monkeypatch)
    found = claim("three", slots=3)
    assert found is not None and found.pk == small.pk
    models.Work.objects.filter(pk__in=[first.pk, small.pk]).update(state="done")
    third = claim("three", slots=3)
    assert third is not None and third.pk == large[2]
    models.Work.objects.filter(pk__in=large).update(state="done")
    alone = waiting(shop, "wall-4.pdf", models.Weight.LARGE, monkeypatch)
    only = claim("one", slots=1)
    assert only is not None and only.pk == alone.pk, "who works alone does all"


def shown(shop: Person) -> dict[str, Any]:
    found: dict[str, Any] = shop.get("/api/running").json()
    return found


def test_who_works_and_what_was_set_aside_is_shown(shop: Person) -> None:
    shop.works = False
    job = shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", write(CLEAN))}).json()["job"]
    note_itself("vm:1:1")
    note_workers([{
        "name": "w1.7@north", "machine": "north", "version": "another", "slots": 2, "weights": ["small"],
        "doing": [{"step": "job:look", "bytes": 5, "seconds": 1.5}],
    }])
    work = claim("vm:1:1")
    found = shown(shop)
    here, there = found["workers"]
    assert (here["remote"], here["same"], here["doing"][0]["job"]) == (False, True, "seal")
    assert (there["remote"], there["same"], there["slots"], there["doing"][0]["what"]) == (True, False, 2, "job:look")
    assert [(w["weight"], w["waiting"], w["running"]) for w in found["queue"]] == [
        ("small", 0, 1), ("usual", 0, 0), ("large", 0, 0),
    ]
    assert work is not None
    models.Work.objects.update(attempts=3, leased_until=timezone.now() - timedelta(seconds=1))
    assert claim("vm:1:1") is None
    (aside,) = shown(shop)["aside"]
    assert aside["job_id"] == job["id"]
    assert "ended three times" in aside["error"] and "Ask for the file" in aside["error"]
    models.Worker.objects.update(seen=timezone.now() - timedelta(minutes=1))
    models.Work.objects.update(state="running", worker="vm:1:1", leased_until=timezone.now() + timedelta(seconds=9))
    assert [one["name"] for one in shown(shop)["workers"]] == ["vm:1:1"], "a file that takes minutes keeps it busy"
    models.Work.objects.update(state="failed", leased_until=None)
    assert shown(shop)["workers"] == [], "who was not heard of is not there"


def test_how_long_steps_take_is_counted(shop: Person) -> None:
    shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", write(CLEAN))})
    steps = {one["step"]: one for one in shown(shop)["steps"]}
    assert steps["job:take_in"]["count"] == 1 and steps["job:look"]["failed"] == 0
    note_times(models.Weight.SMALL, [("job:rip", 0.01, False)] * 19 + [("job:rip", 700.0, True)])
    rip = {one["step"]: one for one in shown(shop)["steps"]}["job:rip"]
    assert (rip["count"], rip["failed"], rip["p95_s"]) == (20, 1, 0.05)
    assert rip["mean_s"] == pytest.approx((19 * 0.01 + 700) / 20)
    note_times(models.Weight.SMALL, [("job:rip", 700.0, True)])
    assert {one["step"]: one for one in shown(shop)["steps"]}["job:rip"]["p95_s"] is None, "beyond every bound"


def test_a_monitor_reads_the_figures_with_a_reader_that_is_not_ours(shop: Person) -> None:
    """Read by the parser of prometheus-client, as a monitor reads the format."""
    shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", write(CLEAN))})
    shop.works = False
    shop.post("/api/jobs", {"file": SimpleUploadedFile("two.pdf", write(CLEAN) + b"\n")})
    note_itself("vm:1:1")
    running._size.clear()
    note_times(models.Weight.SMALL, [("job:rip", 0.3, False), ("job:rip", 700.0, True)])
    text = shop.get("/metrics").content.decode()
    found = {
        (sample.name, *sorted(sample.labels.items())): sample.value
        for family in text_string_to_metric_families(text) for sample in family.samples
    }
    assert found["horismos_queue_length", ("state", "waiting"), ("weight", "small")] == 1
    assert found["horismos_workers", ("remote", "false"), ("version", version())] == 1
    of = (("step", "job:rip"), ("weight", "small"))
    assert found["horismos_step_seconds_count", *of] == 2 and found["horismos_steps_failed_total", *of] == 1
    assert found["horismos_step_seconds_sum", *of] == pytest.approx(700.3)
    below = {key[1][1]: value for key, value in found.items() if key[0] == "horismos_step_seconds_bucket"
             and key[2:] == of}
    assert below["0.2"] == 0 and below["0.5"] == 1 and below["120.0"] == 1 and below["+Inf"] == 2
    assert found["horismos_store_files",] >= 2 and found["horismos_leases", ("state", "held")] == 0
    run_all()


def test_figures_are_for_this_machine_or_for_who_has_the_token(settings: Any) -> None:
    stranger, monitor = Client(REMOTE_ADDR="10.1.2.3"), Client(REMOTE_ADDR="10.1.2.3")
    assert Client().get("/metrics").status_code == 200
    assert stranger.get("/metrics").status_code == 401
    settings.METRICS_TOKEN = "a long word"
    assert Client().get("/metrics").status_code == 401, "a proxy of this machine is no monitor"
    assert monitor.get("/metrics", headers={"Authorization": "Bearer a long word"}).status_code == 200
    assert monitor.get("/metrics", headers={"Authorization": "Bearer another"}).status_code == 401
    assert stranger.get("/healthz").content == b"ok\n"


def test_a_shop_is_ready_once_somebody_works(settings: Any) -> None:
    assert Client().get("/readyz").status_code == 503
    note_itself("vm:1:1")
    assert Client().get("/readyz").content == b"ready\n"
    settings.VAR = settings.VAR / "gone"
    answer = Client().get("/readyz")
    assert answer.status_code == 503 and b"data folder" in answer.content
