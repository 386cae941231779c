"""What may follow what on the floor: each transition, what is said of those that are none, and a thousand random days.

The days are hypothesis' state machines: everything happens in the wrong order, and the world in `tests/floor_days.py`
knows what is true.
"""

import contextlib
from collections import Counter
from datetime import datetime, timedelta
from random import Random
from typing import Any

import pytest
from hypothesis import HealthCheck, settings
from hypothesis import strategies as st
from hypothesis.stateful import (
    RuleBasedStateMachine,
    initialize,
    invariant,
    precondition,
    rule,
    run_state_machine_as_test,
)

from horismos.errors import BadValue, NotFound, NotReady
from horismos.workflow.floor import PrintedSheet, PrintEvent, PrintStage, SheetEvent, SheetStage, Wait, print_after
from horismos.workflow.floor.drying import drying
from horismos.workflow.floor.queue import Queued, moved, next_of
from horismos.workflow.floor.stages import OF_PRINTS, OF_SHEETS, sheet_after
from tests.breadth import WHOLE
from tests.floor_days import BEGIN, World, random_day

HOUR = timedelta(hours=1)
SHEET = PrintedSheet(code="S1-AB", pieces=frozenset({1, 2, 3}), dries=HOUR)
DAYS, JOBS = 1_000, 40


@pytest.mark.parametrize("stage", SheetStage)
@pytest.mark.parametrize("event", SheetEvent)
def test_a_sheet_goes_where_the_table_says_and_nowhere_else(stage: SheetStage, event: SheetEvent) -> None:
    if (stage, event) in OF_SHEETS:
        assert sheet_after(stage, event) is OF_SHEETS[stage, event]
        return
    with pytest.raises(NotReady) as said:
        sheet_after(stage, event)
    assert said.value.message.startswith("It cannot be ") and (said.value.next_step or stage is SheetStage.UNPRINTED)


def test_more_ink_dries_longer_beyond_what_the_hours_hold_for() -> None:
    assert drying(1, 0) == drying(1, 200) == HOUR
    assert drying(2, 300) == 3 * HOUR


def test_every_stage_is_reached_and_only_what_is_over_has_no_way_on() -> None:
    for table, first, stages in (
        (OF_PRINTS, PrintStage.WAITING, PrintStage), (OF_SHEETS, SheetStage.UNPRINTED, SheetStage),
    ):
        reached, ways = {first}, {}
        for (stage, _), then in table.items():  # type: ignore[attr-defined]
            ways.setdefault(stage, set()).add(then)
        while more := {then for stage in reached for then in ways.get(stage, ())} - reached:
            reached |= more
        assert reached == set(stages)
        assert {stage for stage in stages if stage not in ways} <= {SheetStage.CUT, SheetStage.CANCELLED}
    with pytest.raises(NotReady, match="the RIP has refused it"):
        print_after(PrintStage.REFUSED, PrintEvent.STARTED)


def test_a_cut_is_held_until_its_print_is_there_and_dry() -> None:
    with pytest.raises(NotReady, match="not printed yet"):
        SHEET.is_loaded(BEGIN)
    wet = SHEET.is_printed(BEGIN)
    assert wet.waits_for(BEGIN) is Wait.DRYING and wet.dry_at == BEGIN + HOUR
    with pytest.raises(NotReady, match=r"wet until 09:00 UTC on 2 March. Wait until it is dry, or say why"):
        wet.is_loaded(BEGIN + HOUR - timedelta(seconds=1))
    assert wet.is_loaded(BEGIN + HOUR).stage is SheetStage.LOADED
    with pytest.raises(BadValue, match="why it may be cut"):
        wet.may_go_early("wren", "  ", BEGIN)
    early = wet.may_go_early("wren", "a test piece", BEGIN)
    assert early.early is not None and early.early.reason == "a test piece"
    assert early.is_loaded(BEGIN).stage is SheetStage.LOADED
    with pytest.raises(NotReady, match="not drying"):
        early.may_go_early("wren", "once more", BEGIN)


def test_a_laminate_has_its_own_time_and_is_asked_for_whatever_the_reason() -> None:
    sheet = PrintedSheet(code="S1-AB", pieces=frozenset({1}), dries=12 * HOUR, laminates=True).is_printed(BEGIN)
    assert sheet.waits_for(BEGIN + 11 * HOUR) is Wait.DRYING
    assert sheet.waits_for(BEGIN + 12 * HOUR) is Wait.LAMINATING
    with pytest.raises(NotReady, match="may be laminated now"):
        sheet.is_laminated(BEGIN + HOUR)
    early = sheet.may_go_early("wren", "solvent free", BEGIN)
    with pytest.raises(NotReady, match="not laminated yet"):
        early.is_loaded(BEGIN)
    done = early.is_laminated(BEGIN + HOUR)
    assert done.waits_for(BEGIN + HOUR) is None and done.is_loaded(BEGIN + HOUR).stage is SheetStage.LOADED
    with pytest.raises(NotReady, match="asks for no laminate"):
        SHEET.is_printed(BEGIN).is_laminated(BEGIN + HOUR)


def test_a_sheet_is_known_by_its_code_or_by_an_eye_and_cut_only_then() -> None:
    lying = SHEET.is_printed(BEGIN).is_loaded(BEGIN + HOUR)
    with pytest.raises(NotReady, match="Nobody knows yet"):
        lying.is_begun(BEGIN + HOUR)
    with pytest.raises(NotReady, match=r"code on this sheet is S2-XY; this job is S1-AB. Fetch the job of S2-XY"):
        lying.is_read("S2-XY")
    with pytest.raises(NotReady, match="No code can be read"):
        lying.is_read("")
    assert lying.is_read("S1-AB").is_begun(BEGIN + HOUR).stage is SheetStage.CUTTING
    looked = lying.is_known()
    assert looked.is_begun(BEGIN + HOUR).stage is SheetStage.CUTTING
    with pytest.raises(NotReady, match="Nobody knows"):
        looked.is_opened().is_begun(BEGIN + HOUR)
    unnamed = PrintedSheet(code=None, pieces=frozenset({1}), dries=HOUR).is_printed(BEGIN).is_loaded(BEGIN + HOUR)
    with pytest.raises(NotReady, match="Nobody knows"):
        unnamed.is_read("").is_begun(BEGIN + HOUR)


def test_a_cut_that_stopped_goes_on_with_what_is_left() -> None:
    now = BEGIN + HOUR
    cutting = SHEET.is_printed(BEGIN).is_loaded(now).is_read("S1-AB").is_begun(now)
    stopped = cutting.is_stopped({2})
    assert stopped.left == {1, 3} and stopped.is_begun(now).is_cut({2}).spoilt == {2}
    half = stopped.is_taken_off()
    assert half.stage is SheetStage.HALF_CUT and half.is_loaded(now).is_taken_off().stage is SheetStage.HALF_CUT
    again = half.is_loaded(now).is_read("S1-AB").is_begun(now).is_cut()
    assert again.cut == SHEET.pieces and again.stage.is_over
    with pytest.raises(NotReady, match=r"it is cut\. Order again what is missing"):
        again.is_loaded(now)
    with pytest.raises(BadValue, match="Piece 4 of this sheet is not cut"):
        again.is_spoilt({4})


def test_a_queue_keeps_its_order_and_passes_over_what_is_held() -> None:
    assert moved([1, 2, 3], 1, 3) == [2, 1, 3] and moved([1, 2], 2, 2) == [1, 2]
    with pytest.raises(NotFound, match="not in the queue any more"):
        moved([1, 2], 3, 1)
    assert next_of([Queued(1, held=True), Queued(2, ready=False), Queued(3)]) == Queued(3)
    assert next_of([Queued(1, held=True)]) is None


class CoreFloor:
    """The floor as the core has it, as a shop keeps it: one RIP, one cutter."""

    def __init__(self, jobs: dict[int, tuple[frozenset[int], timedelta, bool]]) -> None:
        self.jobs, self.now = jobs, BEGIN
        self.rip = dict.fromkeys(jobs, PrintStage.WAITING)
        self.sheets: dict[str, PrintedSheet] = {}
        self.made = 0

    def now_is(self, now: datetime) -> None:
        self.now = now

    def prints(self, job: int) -> bool:
        return PrintStage.PRINTING not in self.rip.values() and self._print(job, PrintEvent.STARTED)

    def fails(self, job: int) -> bool:
        return self._print(job, PrintEvent.FAILED)

    def cancels_print(self, job: int) -> bool:
        return self._print(job, PrintEvent.CANCELLED)

    def again(self, job: int) -> bool:
        return self._print(job, PrintEvent.AGAIN)

    def reports(self, job: int, copies: int) -> list[str]:
        if not self._print(job, PrintEvent.REPORTED):
            return []
        pieces, dries, laminates = self.jobs[job]
        keys = [f"{job}/{self.made + i}" for i in range(copies)]
        self.made += copies
        for key in keys:
            sheet = PrintedSheet(code=f"C{job}", pieces=pieces, dries=dries, laminates=laminates)
            self.sheets[key] = sheet.is_printed(self.now)
        return keys

    def _print(self, job: int, event: PrintEvent) -> bool:
        with contextlib.suppress(NotReady):
            self.rip[job] = print_after(self.rip[job], event)
            return True
        return False

    def _does(self, key: str, what: str, *given: Any) -> bool:
        with contextlib.suppress(NotReady, BadValue):
            self.sheets[key] = getattr(self.sheets[key], what)(*given)
            return True
        return False

    def early(self, key: str, reason: str) -> bool:
        return self._does(key, "may_go_early", "wren", reason, self.now)

    def laminates(self, key: str) -> bool:
        return self._does(key, "is_laminated", self.now)

    def loads(self, key: str) -> bool:
        if any(one.stage.on_cutter for one in self.sheets.values()):
            return False
        return self._does(key, "is_loaded", self.now)

    def opens(self, key: str) -> bool:
        return self._does(key, "is_opened")

    def reads(self, key: str, code: str) -> bool:
        return self._does(key, "is_read", code)

    def knows(self, key: str) -> bool:
        return self._does(key, "is_known")

    def begins(self, key: str) -> bool:
        return self._does(key, "is_begun", self.now)

    def stops(self, key: str, cut: frozenset[int]) -> bool:
        return self._does(key, "is_stopped", cut)

    def ends(self, key: str, spoilt: frozenset[int]) -> bool:
        return self._does(key, "is_cut", spoilt)

    def takes_off(self, key: str) -> bool:
        return self._does(key, "is_taken_off")

    def cancels(self, key: str) -> bool:
        return self._does(key, "is_cancelled")

    def power_goes(self, cut: frozenset[int]) -> None:
        for key, sheet in self.sheets.items():
            if sheet.stage is SheetStage.CUTTING:
                stopped = sheet.lost_power()
                for wrong in (lambda one: one.is_begun(self.now), PrintedSheet.is_taken_off):
                    with pytest.raises(NotReady, match="how far its cut has come"):
                        wrong(stopped)
                self.sheets[key] = stopped.had_come(cut)  # a person looks
        for job, stage in self.rip.items():
            if stage is PrintStage.PRINTING:
                self.rip[job] = print_after(stage, PrintEvent.FAILED)

    def order(self, key: str) -> list[int]:
        return sorted(self.sheets[key].pieces)

    def pieces(self, key: str) -> tuple[frozenset[int], frozenset[int], bool]:
        sheet = self.sheets[key]
        return sheet.cut, sheet.spoilt, sheet.stage.is_over


class Day(RuleBasedStateMachine):
    """A day of forty jobs."""

    @initialize(seed=st.integers(0, 2**31))
    def opens_up(self, seed: int) -> None:
        draw = Random(seed)
        jobs = {job: drawn_job(draw) for job in range(JOBS)}
        self.world = World(CoreFloor(jobs), jobs)

    @rule(job=st.integers(0, JOBS - 1))
    def starts(self, job: int) -> None:
        self.world.print_starts(job)

    @rule(job=st.integers(0, JOBS - 1), copies=st.integers(1, 3))
    def reports(self, job: int, copies: int) -> None:
        self.world.print_ends(next(iter(self.world.printing), job), copies)

    @rule(job=st.integers(0, JOBS - 1))
    def fails(self, job: int) -> None:
        self.world.print_fails(job)

    @rule(job=st.integers(0, JOBS - 1), again=st.booleans())
    def cancels_a_print(self, job: int, again: bool) -> None:
        self.world.print_is_cancelled(job)
        if again:
            self.world.floor.again(job)

    @rule(minutes=st.sampled_from([1, 20, 45, 300]))
    def waits(self, minutes: int) -> None:
        self.world.time_goes(minutes)

    @precondition(lambda self: self.world.sheets)
    @rule(data=st.data(), reason=st.sampled_from(["", "a sample", "dry to the touch"]))
    def cannot_wait(self, data: st.DataObject, reason: str) -> None:
        self.world.someone_cannot_wait(self._any(data), reason)

    @precondition(lambda self: self.world.sheets)
    @rule(data=st.data())
    def laminates(self, data: st.DataObject) -> None:
        self.world.is_laminated(self._any(data))

    @precondition(lambda self: self.world.sheets)
    @rule(data=st.data())
    def scratches(self, data: st.DataObject) -> None:
        self.world.sheets[self._any(data)].scratched = True

    @precondition(lambda self: self.world.sheets)
    @rule(data=st.data(), wrong=st.booleans())
    def loads(self, data: st.DataObject, wrong: bool) -> None:
        key = self._any(data)
        self.world.is_loaded(key, self._other(data, key) if wrong else key)

    @precondition(lambda self: self.world.sheets)
    @rule(data=st.data())
    def swaps(self, data: st.DataObject) -> None:
        self.world.is_swapped(self._other(data, self.world.believed))

    @rule()
    def reads(self) -> None:
        self.world.code_is_read()

    @rule()
    def looks(self) -> None:
        self.world.someone_looks()

    @rule()
    def begins(self) -> None:
        self.world.cut_begins()

    @rule(share=st.floats(0, 1))
    def stops(self, share: float) -> None:
        self.world.cut_stops(share)

    @rule(spoils=st.integers(0, 2))
    def ends(self, spoils: int) -> None:
        self.world.cut_ends(spoils)

    @rule()
    def takes_off(self) -> None:
        self.world.is_taken_off()

    @precondition(lambda self: self.world.sheets)
    @rule(data=st.data())
    def cancels(self, data: st.DataObject) -> None:
        self.world.is_cancelled(self._any(data))

    @rule(share=st.floats(0, 1))
    def power_goes(self, share: float) -> None:
        self.world.power_goes(share)

    def _any(self, data: st.DataObject) -> str:
        return data.draw(st.sampled_from(sorted(self.world.sheets)))

    def _other(self, data: st.DataObject, key: str | None) -> str:
        """Another sheet that is still about: of another job, since repeats of one are told apart by where they lie."""
        own = self.world.sheets[key].job if key else None
        others = sorted(
            k for k, one in self.world.sheets.items() if one.job != own and not self.world.floor.pieces(k)[2]
        )
        return data.draw(st.sampled_from(others)) if others else (key or sorted(self.world.sheets)[0])

    @invariant()
    def nothing_is_lost(self) -> None:
        if hasattr(self, "world"):
            self.world.nothing_is_lost()


def test_a_thousand_long_days_cut_no_piece_wrongly_and_lose_none() -> None:
    """Days of six hundred events, drawn by a seed each; what happened on all of them together is looked at too."""
    happened: Counter[str] = Counter()
    for seed in range(DAYS if WHOLE else DAYS // 20):
        draw = Random(seed)
        jobs = {job: drawn_job(draw) for job in range(JOBS)}
        happened += random_day(World(CoreFloor(jobs), jobs), draw, 600)
    days = DAYS if WHOLE else DAYS // 20
    assert happened["pieces"] > 10 * days and happened["swap"] > days and happened["power"] > days


def drawn_job(draw: Random) -> tuple[frozenset[int], timedelta, bool]:
    """How many pieces a sheet of a job has, how long it dries, whether it is laminated."""
    dries = timedelta(minutes=draw.choice([0, 30, 60, 720]))
    return frozenset(range(1, draw.randint(2, 6))), dries, draw.random() < 0.3


def test_days_of_a_state_machine_cut_no_piece_wrongly_and_lose_none() -> None:
    count = DAYS if WHOLE else DAYS // 20
    run_state_machine_as_test(Day, settings=settings(
        max_examples=count, stateful_step_count=80, deadline=None, print_blob=True,
        suppress_health_check=list(HealthCheck),
    ))


def test_the_world_finds_a_floor_that_lets_things_happen() -> None:
    """The four assertions can fail: a floor that says yes to everything cuts wrongly at once."""
    jobs = {1: (frozenset({1, 2}), HOUR, False), 2: (frozenset({1}), HOUR, False)}

    class Careless(CoreFloor):
        def _does(self, key: str, what: str, *given: Any) -> bool:
            return super()._does(key, what, *given) or True

    for wrong, words in (((lambda w: w.is_loaded("1/0", "2/1")), "not its own"),
                         ((lambda w: w.is_loaded("1/0", "1/0")), "before it was dry")):
        world = World(Careless(jobs), jobs)
        for job in jobs:
            world.print_starts(job)
            world.print_ends(job, 1)
        wrong(world)
        with pytest.raises(AssertionError, match=words):
            world.cut_begins()
