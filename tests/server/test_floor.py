"""Between release and the finished piece: queues, a cut that is held until its print is dry, sheets known by a code."""

import hashlib
import io
import zipfile
from datetime import datetime, timedelta
from typing import Any

import pytest
from django.utils import timezone
from jobs import models

from tests.breadth import breadth
from tests.server.conftest import Person
from tests.server.test_bench import asked, printed, released
from tests.server.test_shared import JSON, Shown, disc, job_of

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.3, "on the floor")]


def queues(shop: Person) -> Shown:
    found: Shown = shop.get("/api/queues").json()
    return found


def two_released(shop: Person) -> tuple[int, int]:
    for name, radius in (("seals.pdf", 30.0), ("buoys.pdf", 24.0)):
        job = job_of(shop, disc(radius), name, 3)
        assert shop.post(f"/api/jobs/{job['id']}/release").status_code == 200
    second, first = (made["id"] for made in shop.get("/api/bench").json())
    return first, second


def change(shop: Person, address: str, status: int = 200, **body: Any) -> Shown:
    return asked(shop, f"/api/queues/{address}", status, **body)


def test_both_queues_have_what_was_released_and_its_place_is_seen_from_the_job(shop: Person) -> None:
    first, second = two_released(shop)
    now = queues(shop)
    assert [(one["release_id"], one["turn"]) for one in now["rip"]] == [(first, 1), (second, 2)]
    assert [(one["release_id"], one["waits_for"]) for one in now["cutter"]] == [(first, "print"), (second, "print")]
    now = change(shop, f"rip/{second}/move", before=first)
    assert [one["release_id"] for one in now["rip"]] == [second, first]
    rows = {row["name"]: row["holds"] for row in shop.get("/api/jobs").json()}
    assert rows["buoys"] == "Released; print it: next at the RIP" and "number 2" in rows["seals"]
    assert shop.get(f"/api/jobs/{_job(first)}").json()["releases"][0]["turn"] == 2
    assert "not in the queue" in change(shop, f"rip/{second}/move", 404, before=999)["message"]


def _job(release: int) -> int:
    return models.Release.objects.get(pk=release).job_id


def test_each_machine_has_its_queue_and_one_that_serves_two_destinations_takes_one_sheet(shop: Person) -> None:
    first, second = two_released(shop)
    for release in (first, second):
        printed(shop, f"/api/bench/{release}")
    ticket = models.Release.objects.get(pk=second).ticket
    models.Release.objects.filter(pk=second).update(ticket={**ticket, "destination": "iso"})
    asked(shop, f"/api/bench/{first}/load", seed=3, shift_x_mm=0)
    asked(shop, f"/api/bench/{second}/load", seed=3, shift_x_mm=0)
    stages = {one["release_id"]: (one["stage"], one["turn"]) for one in queues(shop)["cutter"]}
    assert stages == {first: ("printed", 1), second: ("loaded", None)}, "both lie in the same cutter otherwise"
    machines = ticket["machines"]
    own = {**machines, **{what: {**machines[what], "id": f"own-{what}"} for what in ("printer", "cutter")}}
    models.Release.objects.filter(pk=second).update(ticket={**ticket, "machines": own}, rip_state="waiting")
    models.Release.objects.filter(pk=first).update(rip_state="waiting")
    now = queues(shop)
    assert [(one["machine"], one["turn"]) for one in now["rip"]] == [("rip", 1), ("own-printer", 1)]
    assert [(one["machine"], one["turn"]) for one in now["cutter"]] == [("cutter", 1), ("own-cutter", None)]
    shown = {made["id"]: (made["turn"], made["sheet"]["turn"]) for made in shop.get("/api/bench").json()}
    assert shown == {first: (1, 1), second: (1, None)}, "what lies in the cutter has no turn there any more"


def test_what_is_held_is_passed_over_and_not_printed_or_loaded(shop: Person) -> None:
    first, second = two_released(shop)
    now = change(shop, f"rip/{first}/hold", held=True)
    assert [(one["release_id"], one["turn"]) for one in now["rip"]] == [(first, None), (second, 1)]
    assert "held" in asked(shop, f"/api/bench/{first}/rip", 409)["message"]
    change(shop, f"rip/{first}/hold", held=False)
    printed(shop, f"/api/bench/{first}")
    sheet = models.Sheet.objects.get(release=first)
    change(shop, f"cutter/{sheet.pk}/hold", held=True)
    assert "held in the queue of the cutter" in asked(shop, f"/api/bench/{first}/load", 409)["message"]
    said = [entry["what"] for entry in shop.get(f"/api/jobs/{_job(first)}").json()["log"]]
    assert "Held in the queue of the cutter" in said and "Let go in the queue of the RIP" in said


def test_a_print_is_cancelled_and_printed_again_and_its_old_sheet_is_not_cut_any_more(shop: Person) -> None:
    at = released(shop)
    number = int(at.rsplit("/", 1)[1])
    assert change(shop, f"rip/{number}/cancel")["rip"][0]["stage"] == "cancelled"
    assert "cannot be cancelled" in change(shop, f"rip/{number}/cancel", 409)["message"]
    change(shop, f"rip/{number}/again")
    printed(shop, at)
    change(shop, f"rip/{number}/again")
    printed(shop, at)
    stages = list(models.Sheet.objects.order_by("repeat").values_list("stage", flat=True))
    assert stages == ["cancelled", "printed"], "of two prints of the same only the last is cut"
    (sheet,) = [one for one in queues(shop)["cutter"] if one["stage"] == "printed"]
    assert change(shop, f"cutter/{sheet['sheet_id']}/cancel")["cutter"][0]["stage"] == "cancelled"
    assert asked(shop, f"{at}/load", 409)["message"]


def test_what_the_rip_was_given_is_printed_once_and_a_print_whose_worker_is_gone_has_failed(shop: Person) -> None:
    first, second = two_released(shop)
    job = models.Job.objects.get(pk=_job(first))
    work = models.Work.objects.create(
        job=job, kind=models.WorkKind.RIP, arguments={"key": f"release {first}", "release": first},
        state=models.WorkState.RUNNING, worker="another", leased_until=timezone.now() + timedelta(seconds=20),
    )
    now = queues(shop)["rip"]
    assert [(one["stage"], one["turn"]) for one in now] == [("printing", None), ("waiting", 1)]
    assert "being printed" in asked(shop, f"/api/bench/{first}/rip", 409)["message"]
    assert "being printed" in change(shop, f"rip/{first}/hold", 409, held=True)["message"]
    assert change(shop, f"rip/{first}/cancel")["rip"][-1]["stage"] == "cancelled"
    work.refresh_from_db()
    assert work.cancel, "whoever prints it is asked to stop"
    models.Release.objects.filter(pk=second).update(rip_state=models.RipState.PRINTING)
    assert queues(shop)["rip"][0]["stage"] == "failed"
    printed(shop, f"/api/bench/{second}")


def test_a_print_with_much_ink_dries_longer(shop: Person) -> None:
    at = released(shop)
    asked(shop, f"{at}/rip")
    made = models.Release.objects.get()
    assert made.ink_percent == pytest.approx(100, abs=2), "a disc of one ink"
    before = datetime.fromisoformat(queues(shop)["cutter"][0]["ready_at"])
    models.Release.objects.update(ink_percent=300)
    assert datetime.fromisoformat(queues(shop)["cutter"][0]["ready_at"]) - before == timedelta(minutes=30)


def test_a_wet_print_is_cut_for_a_reason_that_stays(shop: Person) -> None:
    at = released(shop)
    asked(shop, f"{at}/rip")
    (sheet,) = queues(shop)["cutter"]
    assert sheet["waits_for"] == "drying" and sheet["ready_at"] is not None
    assert "why it may be cut" in change(shop, f"cutter/{sheet['sheet_id']}/early", 400, reason=" ")["message"]
    now = change(shop, f"cutter/{sheet['sheet_id']}/early", reason="a sample for the customer")
    assert now["cutter"][0]["waits_for"] is None and now["cutter"][0]["early_by"] == "ada"
    asked(shop, f"{at}/load", seed=3, shift_x_mm=0)
    job = shop.get(f"/api/jobs/{models.Release.objects.get().job_id}").json()
    assert any("Not waited for until it is dry: a sample" in entry["what"] for entry in job["log"])


def test_a_laminate_is_asked_for_where_the_order_says_so_and_changes_the_force(shop: Person) -> None:
    plain = job_of(shop, disc(30), "plain.pdf", 2)
    order = {**plain["order"], "laminate": "matt"}
    answer = shop.patch(f"/api/jobs/{plain['id']}", {"order": order}, content_type=JSON)
    assert answer.status_code == 200, answer.content
    job = shop.get(f"/api/jobs/{plain['id']}").json()

    def force(of: Shown) -> float:
        return max(float(op["tool"]["force_gf"]) for op in of["cut"]["operations"])

    assert force(job) > force(plain), "the blade goes through the laminate too"
    assert shop.post(f"/api/jobs/{job['id']}/release").status_code == 200
    (made,) = shop.get("/api/bench").json()
    at = f"/api/bench/{made['id']}"
    asked(shop, f"{at}/rip")
    models.Sheet.objects.update(printed=timezone.now() - timedelta(hours=2))
    assert "wet until" in asked(shop, f"{at}/load", 409)["message"], "before a laminate it dries longer"
    models.Sheet.objects.update(printed=timezone.now() - timedelta(hours=25))
    (sheet,) = queues(shop)["cutter"]
    assert sheet["waits_for"] == "laminating" and sheet["laminates"]
    assert "not laminated" in asked(shop, f"{at}/load", 409)["message"]
    change(shop, f"cutter/{sheet['sheet_id']}/laminated")
    asked(shop, f"{at}/load", seed=3, shift_x_mm=0)


def cut(shop: Person, at: str, seconds: float | None = None, **laying: Any) -> Shown:
    asked(shop, f"{at}/load", seed=3, shift_x_mm=0, **laying)
    total = shop.get(f"{at}/play").json()["total_s"]
    return asked(shop, f"{at}/stood", stood_s=total if seconds is None else seconds)


def test_a_cut_that_stopped_goes_on_where_it_was_and_cuts_nothing_twice(shop: Person) -> None:
    at = released(shop)
    printed(shop, at)
    asked(shop, f"{at}/load", seed=3, shift_x_mm=0)
    run = shop.get(f"{at}/play").json()
    second = run["pieces"][1]["at_s"]
    asked(shop, f"{at}/begin")
    assert "being cut" in asked(shop, f"{at}/off", 409)["message"]
    asked(shop, f"{at}/stood", stood_s=second)
    (sheet,) = queues(shop)["cutter"]
    assert sheet["stage"] == "stopped" and sheet["cut"] == sorted(one["number"] for one in run["pieces"][:2])
    assert asked(shop, f"{at}/stood", stood_s=second / 2)["stood_s"] == pytest.approx(second), "what is cut stays cut"
    asked(shop, f"{at}/off")
    assert queues(shop)["cutter"][0]["stage"] == "half-cut"
    again = asked(shop, f"{at}/load", seed=4, shift_x_mm=0)
    assert again["stood_s"] == pytest.approx(second), "it goes on from there"
    asked(shop, f"{at}/stood", stood_s=run["total_s"])
    (sheet,) = queues(shop)["cutter"]
    assert sheet["stage"] == "cut" and sheet["cut"] == [1, 2, 3, 4]
    assert "it is cut" in asked(shop, f"{at}/load", 409)["message"]


def test_a_cut_that_stopped_before_any_piece_was_done_goes_on_too(shop: Person) -> None:
    at = released(shop)
    printed(shop, at)
    asked(shop, f"{at}/load", seed=3, shift_x_mm=0)
    early = shop.get(f"{at}/play").json()["pieces"][0]["at_s"] / 2
    asked(shop, f"{at}/stood", stood_s=early)
    again = asked(shop, f"{at}/load", seed=4, shift_x_mm=0)
    assert again["stood_s"] == pytest.approx(early) and not again["known"], "laid in anew while it lies there"
    asked(shop, f"{at}/off")
    (sheet,) = queues(shop)["cutter"]
    assert sheet["stage"] == "half-cut" and sheet["cut"] == [], "no piece is done, and it is not whole"
    assert asked(shop, f"{at}/load", seed=5, shift_x_mm=0)["stood_s"] == pytest.approx(early)


def test_spoilt_pieces_are_ordered_again_by_their_number(shop: Person) -> None:
    at = released(shop)
    printed(shop, at)
    cut(shop, at)
    (sheet,) = queues(shop)["cutter"]
    key = f"cutter/{sheet['sheet_id']}"
    assert "Nothing of this sheet was spoilt" in change(shop, f"{key}/cut-again", 409)["message"]
    assert "Piece 9" in change(shop, f"{key}/spoilt", 400, pieces=[9])["message"]
    assert change(shop, f"{key}/spoilt", pieces=[2, 4])["cutter"][0]["spoilt"] == [2, 4]
    (job,) = change(shop, f"{key}/cut-again")["jobs"]
    made = shop.get(f"/api/jobs/{job}").json()
    assert "ordered again already" in change(shop, f"{key}/cut-again", 409)["message"], "once"
    change(shop, f"{key}/spoilt", pieces=[1])
    (more,) = change(shop, f"{key}/cut-again")["jobs"]
    assert shop.get(f"/api/jobs/{more}").json()["order"]["quantity"] == 1
    assert made["order"]["quantity"] == 2 and made["again"]["job_id"] == models.Release.objects.get().job_id


def test_a_sheet_of_another_job_is_named_by_its_code_and_loaded_when_asked_to(shop: Person) -> None:
    first, second = two_released(shop)
    for one in (first, second):
        printed(shop, f"/api/bench/{one}")
    asked(shop, f"/api/bench/{first}/load", seed=3, shift_x_mm=0)
    other = models.Release.objects.get(pk=second)
    models.Loading.objects.update(code=other.ticket["code"])
    models.Sheet.objects.filter(release=first).update(known=False)
    bed = shop.get(f"/api/bench/{first}/bed").json()
    assert (bed["code_of"], bed["code_of_name"], bed["known"]) == (second, "buoys", False)
    assert asked(shop, f"/api/bench/{first}/begin", 409)["message"]
    asked(shop, f"/api/bench/{second}/load", seed=3, shift_x_mm=0)
    stages = {one["release_id"]: one["stage"] for one in queues(shop)["cutter"]}
    assert stages == {first: "printed", second: "loaded"}


def test_a_code_that_cannot_be_read_wants_an_eye(shop: Person) -> None:
    at = released(shop)
    printed(shop, at)
    asked(shop, f"{at}/load", seed=3, shift_x_mm=0)
    models.Loading.objects.update(code="")
    models.Sheet.objects.update(known=False)
    assert "no code where it should be" in asked(shop, f"{at}/begin", 409)["message"]
    assert asked(shop, f"{at}/known")["known"]
    asked(shop, f"{at}/begin")


REPORT = {"copies": 2, "gap_mm": 20, "turn_deg": 180, "scale": 0.98, "mirrored": False, "moved_mm": [5, 12]}


def test_what_the_rip_did_changes_the_cut_and_the_machines_find_it(shop: Person) -> None:
    at = released(shop)
    asked(shop, f"{at}/rip", report=REPORT)
    shop.post(f"{at}/dry", {}, content_type=JSON)
    (made,) = shop.get("/api/bench").json()
    assert made["rip_state"] == "done" and "turned by 180° anticlockwise" in made["report"]
    assert made["sheet"]["repeats"] == 2 and made["sheet"]["refused"] == ""
    assert made["sheet"]["size_mm"][1] != made["sheet_mm"][1]
    asked(shop, f"{at}/load", seed=3, shift_x_mm=0)
    bed = shop.get(f"{at}/bed").json()
    assert bed["aligned"]["trouble"] == "" and bed["known"], "camera and code find it as it lies"
    total = shop.get(f"{at}/play").json()["total_s"]
    asked(shop, f"{at}/stood", stood_s=total)
    (made,) = shop.get("/api/bench").json()
    assert made["sheet"]["repeat"] == 2 and made["sheet"]["stage"] == "printed", "the next repeat is next"
    cut(shop, at)
    assert [one["stage"] for one in queues(shop)["cutter"]] == ["cut", "cut"]


def test_what_the_cut_cannot_follow_is_refused_in_words(shop: Person) -> None:
    at = released(shop)
    asked(shop, f"{at}/rip", report={**REPORT, "moved_mm": [-5000, 0]})
    (made,) = shop.get("/api/bench").json()
    assert "off the media" in made["sheet"]["refused"]
    shop.post(f"{at}/dry", {}, content_type=JSON)
    assert "off the media" in asked(shop, f"{at}/load", 409)["message"]
    (row,) = shop.get("/api/jobs").json()
    assert row["holds"].startswith("Its cut cannot follow its print: ")
    assert "scale" in asked(shop, f"{at}/rip", 400, report={**REPORT, "scale": 0})["message"]


def test_a_cut_file_is_handed_over_no_sooner_than_it_may_be_cut_and_as_the_print_lies(shop: Person) -> None:
    at = released(shop)
    assert "not printed" in asked(shop, f"{at}/hand-over", 409, way="hot-folder")["message"]
    asked(shop, f"{at}/rip", report={**REPORT, "copies": 1})
    assert "wet until" in asked(shop, f"{at}/hand-over", 409, way="hot-folder")["message"]
    shop.post(f"{at}/dry", {}, content_type=JSON)
    asked(shop, f"{at}/hand-over", way="hot-folder")
    (made,) = models.Release.objects.all()
    sheet = made.sheets.get()
    kept = {one["name"]: one["sha256"] for one in sheet.own_files}
    stick = zipfile.ZipFile(io.BytesIO(shop.get(f"{at}/stick").content))
    (cut_file,) = [name for name in stick.namelist() if name.endswith("-cut.plt")]
    assert hashlib.sha256(stick.read(cut_file)).hexdigest() == kept[cut_file]
    assert kept[cut_file] != next(one["sha256"] for one in made.files if one["name"].endswith("-cut.plt"))
