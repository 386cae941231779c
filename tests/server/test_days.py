"""Random days through the real server: the addresses that screens use, its database, its worker; machines are played.

The world in `tests/floor_days.py` knows what is true; here it is told of each sheet by the API alone. Each day has
forty jobs, all of one package under codes of their own.
"""

from collections.abc import Iterator
from datetime import datetime, timedelta
from random import Random
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.utils import timezone
from jobs import models
from jobs.store import floor as floor_store
from worker import task
from worker.loop import run_all

from horismos.errors import CannotRead
from horismos.workflow.floor import SheetStage
from tests.breadth import breadth
from tests.core.test_floor import JOBS, drawn_job
from tests.floor_days import World, random_day
from tests.server.conftest import Person
from tests.server.test_bench import released
from tests.server.test_shared import JSON

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.02, "days of the server")]
DAYS, EVENTS = 100, 150


class ServerFloor:
    """The floor as the server has it; sheets go by the numbers of their rows."""

    def __init__(self, shop: Person, releases: dict[int, int], clock: list[datetime]) -> None:
        self.shop, self.releases, self.clock = shop, releases, clock
        self.printing: int | None = None
        self.copies, self.failing, self.code = 1, False, ""
        self.loaded: str | None = None

    # -- asking ----------------------------------------------------------------------------------------

    def _post(self, address: str, **body: Any) -> bool:
        answer = self.shop.post(f"/api/{address}", body, content_type=JSON)
        assert answer.status_code in (200, 400, 404, 409), answer.content
        return bool(answer.status_code == 200)

    def _row(self, key: str) -> models.Sheet:
        return models.Sheet.objects.select_related("release__job").get(pk=int(key))

    def _bench(self, key: str, what: str, **body: Any) -> bool:
        return self._post(f"bench/{self._row(key).release_id}/{what}", **body)

    def _is_next(self, key: str) -> bool:
        row = self._row(key)
        found = floor_store.current_sheet(row.release)
        return found is not None and found.pk == row.pk

    def now_is(self, now: datetime) -> None:
        self.clock[0] = now
        self.shop.force_login(get_user_model().objects.get(username="ada"))  # nobody stays logged in for days

    # -- the RIP ---------------------------------------------------------------------------------------

    def prints(self, job: int) -> bool:
        if self.printing is not None:
            return False
        self.copies = 1 + job % 3 // 2
        if not self._post(f"bench/{self.releases[job]}/rip", report={"copies": self.copies, "gap_mm": 5}):
            return False
        self.printing = job
        return True

    def reports(self, job: int, copies: int) -> list[str]:
        if self.printing != job:
            return []
        before = set(models.Sheet.objects.exclude(stage="unprinted").values_list("pk", flat=True))
        run_all()
        self.printing = None
        rows = models.Sheet.objects.filter(release=self.releases[job], stage="printed").exclude(pk__in=before)
        return [str(pk) for pk in rows.values_list("pk", flat=True)]

    def fails(self, job: int) -> bool:
        if self.printing != job:
            return False
        self.failing = True
        run_all()
        self.failing, self.printing = False, None
        return True

    def cancels_print(self, job: int) -> bool:
        done = self._post(f"queues/rip/{self.releases[job]}/cancel")
        if done and self.printing == job:
            self.printing = None
        return done

    def again(self, job: int) -> bool:
        return self.printing != job and self._post(f"queues/rip/{self.releases[job]}/again")

    # -- sheets ----------------------------------------------------------------------------------------

    def early(self, key: str, reason: str) -> bool:
        return self._post(f"queues/cutter/{key}/early", reason=reason)

    def laminates(self, key: str) -> bool:
        return self._post(f"queues/cutter/{key}/laminated")

    def loads(self, key: str) -> bool:
        done = self._is_next(key) and self._bench(key, "load", shift_x_mm=0, turn_deg=0, seed=1)
        self.loaded = key if done else self.loaded
        return done

    def opens(self, key: str) -> bool:
        return self._bench(key, "load", shift_x_mm=0, turn_deg=0, seed=1)

    def reads(self, key: str, code: str) -> bool:
        self.code = code
        self._bench(key, "scan")
        waiting = models.Work.objects.filter(kind=models.WorkKind.RIP, state=models.WorkState.WAITING)
        held = list(waiting)
        waiting.update(state=models.WorkState.CANCELLED)  # the camera is quicker than the printer
        run_all()
        models.Work.objects.filter(pk__in=[one.pk for one in held]).update(state=models.WorkState.WAITING)
        return True

    def knows(self, key: str) -> bool:
        return self._bench(key, "known")

    def begins(self, key: str) -> bool:
        return self._bench(key, "begin")

    def _run(self, key: str) -> Any:
        return self.shop.get(f"/api/bench/{self._row(key).release_id}/play").json()

    def order(self, key: str) -> list[int]:
        """The pieces in the order in which the cutter comes to them."""
        return [one["number"] for one in self._run(key)["pieces"]]

    def _at(self, key: str, cut: frozenset[int]) -> float:
        """When these and all that were cut before are cut, and nothing more."""
        done = set(cut) | set(self._row(key).cut)
        times = {one["number"]: one["at_s"] for one in self._run(key)["pieces"]}
        return float(max((times[number] for number in done), default=0.0) + 0.01)

    def stops(self, key: str, cut: frozenset[int]) -> bool:
        return self._bench(key, "stood", stood_s=self._at(key, cut))

    def ends(self, key: str, spoilt: frozenset[int]) -> bool:
        total = self._run(key)["total_s"]
        return self._bench(key, "stood", stood_s=total) and self._post(
            f"queues/cutter/{key}/spoilt", pieces=sorted(spoilt)
        )

    def takes_off(self, key: str) -> bool:
        return self._bench(key, "off")

    def cancels(self, key: str) -> bool:
        return self._post(f"queues/cutter/{key}/cancel")

    def power_goes(self, cut: frozenset[int]) -> None:
        if self.printing is not None:
            self.cancels_print(self.printing)
        cutting = list(models.Sheet.objects.filter(stage=SheetStage.CUTTING.value).values_list("pk", flat=True))
        floor_store.power_was_gone()
        for pk in cutting:
            assert not self._bench(str(pk), "begin") and not self._bench(str(pk), "off"), "nobody knows how far it is"
            assert self._bench(str(pk), "stood", stood_s=self._at(str(pk), cut)), "a person has looked"

    def pieces(self, key: str) -> tuple[frozenset[int], frozenset[int], bool]:
        row = self._row(key)
        return frozenset(row.cut), frozenset(row.spoilt), SheetStage(row.stage).is_over


@pytest.fixture()
def clock(monkeypatch: pytest.MonkeyPatch) -> Iterator[list[datetime]]:
    """The time of the day, which the world lets go on."""
    now = [timezone.now()]
    monkeypatch.setattr(timezone, "now", lambda: now[0])
    yield now


def forty(shop: Person, draw: Random) -> tuple[dict[int, int], dict[int, tuple[frozenset[int], timedelta, bool]]]:
    """Forty packages, all alike but for their codes, how long they dry, and whether they are laminated."""
    first = models.Release.objects.get(pk=int(released(shop).rsplit("/", 1)[1]))
    pieces = frozenset(range(1, len(first.ticket["placements"]) + 1))
    releases, jobs = {}, {}
    for job in range(JOBS):
        _, dries, laminates = drawn_job(draw)
        hours = dries.total_seconds() / 3600
        ticket = {
            **first.ticket, "code": f"C{job}", "laminate": "matt" if laminates else "",
            "material": {**first.ticket["material"], "dry_h": hours, "laminate_h": hours},
        }
        made = models.Release.objects.create(
            job=first.job, revision=first.revision, key=f"{job:064d}", files=first.files, ticket=ticket,
            worst_off_mm=0.0, place=job + 1,
        )
        floor_store.sheets_for(made)
        releases[job], jobs[job] = made.pk, (pieces, dries, laminates)
    first.delete()
    return releases, jobs


def played(world: ServerFloor) -> Any:
    """The steps of the machines: what comes out of the printer, and what the camera sees."""
    real = task.run_step

    def run_step(step: str, *asked: Any, **more: Any) -> Any:
        if step == "job:rip":
            if world.failing:
                raise CannotRead("The printer has run out of ink.")
            return {"refused": "", "plates": [], "picture": b"png", "longer": 0.0, "time_s": 1.0, "ink_percent": 100.0}
        if step == "bench:follow":
            return {"refused": "", "findings": [], "sheets": [{} for _ in range(world.copies)]}
        if step == "bench:scan":
            marks = asked[1].ticket["marks"]
            return {"code": world.code, "seen": [
                {"number": m["number"], "place": [m["x_mm"], m["y_mm"]], "how": "camera", "why": "", "png": b"png",
                 "spot": None} for m in marks
            ]}
        return real(step, *asked, **more)

    return run_step


@pytest.mark.parametrize("seed", range(DAYS))
def test_a_day_of_forty_jobs_cuts_no_piece_wrongly_and_loses_none(
    seed: int, shop: Person, clock: list[datetime], monkeypatch: pytest.MonkeyPatch
) -> None:
    draw = Random(seed)
    releases, jobs = forty(shop, draw)
    shop.works = False
    floor = ServerFloor(shop, releases, clock)
    monkeypatch.setattr(task, "run_step", played(floor))
    happened = random_day(World(floor, jobs, clock[0]), draw, EVENTS)
    assert happened["pieces"] or happened["begin"] < 40, "things do come to pass"
