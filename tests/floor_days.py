"""Random days on a shop's floor, with everything in the wrong order: what truly lies where is known here alone.

A floor is told what people and machines do, and takes it or refuses. The world below does what was let happen: it cuts
the sheet that truly lies in the cutter, whatever the floor believes. It is in no doubt about four things: no piece is
cut on a sheet that is not its own, none before it is dry without a reason, none is lost, none is cut twice.
"""

from collections import Counter
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from random import Random
from typing import Protocol

__all__ = ["BEGIN", "Floor", "Sheet", "World", "random_day"]

BEGIN = datetime(2026, 3, 2, 8, tzinfo=UTC)


class Floor(Protocol):
    """What is told of events; each answers whether it was let happen. Sheets go by their keys."""

    def prints(self, job: int) -> bool: ...
    def reports(self, job: int, copies: int) -> list[str]: ...
    def fails(self, job: int) -> bool: ...
    def cancels_print(self, job: int) -> bool: ...
    def again(self, job: int) -> bool: ...
    def early(self, key: str, reason: str) -> bool: ...
    def laminates(self, key: str) -> bool: ...
    def loads(self, key: str) -> bool: ...
    def opens(self, key: str) -> bool: ...
    def reads(self, key: str, code: str) -> bool: ...
    def knows(self, key: str) -> bool: ...
    def begins(self, key: str) -> bool: ...
    def stops(self, key: str, cut: frozenset[int]) -> bool: ...
    def ends(self, key: str, spoilt: frozenset[int]) -> bool: ...
    def takes_off(self, key: str) -> bool: ...
    def cancels(self, key: str) -> bool: ...
    def power_goes(self, cut: frozenset[int]) -> None: ...
    def now_is(self, now: datetime) -> None: ...
    def pieces(self, key: str) -> tuple[frozenset[int], frozenset[int], bool]: ...
    def order(self, key: str) -> list[int]: ...


@dataclass
class Sheet:
    """A sheet of media as it truly is."""

    key: str
    job: int
    pieces: frozenset[int]
    printed: datetime
    dries: timedelta
    laminates: bool
    laminated: bool = False
    scratched: bool = False
    early: bool = False
    cut: set[int] = field(default_factory=set)


@dataclass
class World:
    """What is true: sheets, which of them lies in the cutter, which sheet the floor thinks it cuts."""

    floor: Floor
    jobs: dict[int, tuple[frozenset[int], timedelta, bool]]
    now: datetime = BEGIN
    sheets: dict[str, Sheet] = field(default_factory=dict)
    printing: set[int] = field(default_factory=set)
    lies: str | None = None
    believed: str | None = None
    cutting: bool = False

    # -- the RIP ---------------------------------------------------------------------------------------

    def print_starts(self, job: int) -> None:
        if self.floor.prints(job):
            assert not self.printing, "one print at a time"
            self.printing.add(job)

    def print_ends(self, job: int, copies: int) -> None:
        made = self.floor.reports(job, copies)
        assert bool(made) == (job in self.printing), "only what was printed is reported"
        self.printing.discard(job)
        pieces, dries, laminates = self.jobs[job]
        for key in made:
            assert key not in self.sheets, "a sheet is printed once"
            self.sheets[key] = Sheet(key, job, pieces, self.now, dries, laminates)

    def print_fails(self, job: int) -> None:
        if self.floor.fails(job):
            self.printing.discard(job)

    def print_is_cancelled(self, job: int) -> None:
        if self.floor.cancels_print(job):
            self.printing.discard(job)

    # -- between ---------------------------------------------------------------------------------------

    def time_goes(self, minutes: int) -> None:
        self.now += timedelta(minutes=minutes)
        self.floor.now_is(self.now)

    def someone_cannot_wait(self, key: str, reason: str) -> None:
        if self.floor.early(key, reason):
            assert reason.strip(), "a reason stays"
            self.sheets[key].early = True

    def is_laminated(self, key: str) -> None:
        if self.floor.laminates(key):
            sheet = self.sheets[key]
            assert sheet.laminates and not sheet.laminated
            assert sheet.early or self.now >= sheet.printed + sheet.dries, "laminated wet"
            sheet.laminated = True

    # -- the cutter ------------------------------------------------------------------------------------

    def is_loaded(self, key: str, truly: str) -> None:
        """A person loads for one sheet, and truly lays in what may be another."""
        if self.lies is None and self.floor.loads(key):
            self.believed, self.lies = key, truly

    def is_swapped(self, truly: str) -> None:
        """Somebody lifts the rollers and lays something else in."""
        if self.believed is not None and not self.cutting and self.floor.opens(self.believed):
            self.lies = truly

    def code_is_read(self) -> None:
        if self.believed is not None and self.lies is not None:
            sheet = self.sheets[self.lies]
            self.floor.reads(self.believed, "" if sheet.scratched else f"C{sheet.job}")

    def someone_looks(self) -> None:
        """A person looks at what lies there, and says that it is the one where it is."""
        if self.believed is not None and self.lies is not None and self._same():
            self.floor.knows(self.believed)

    def cut_begins(self) -> None:
        if self.believed is None or not self.floor.begins(self.believed):
            return
        assert self.lies is not None and not self.cutting
        sheet, believed = self.sheets[self.lies], self.sheets[self.believed]
        assert self._same(), "a piece is cut on a sheet that is not its own"
        assert sheet.laminated or not sheet.laminates, "cut before it was laminated"
        wet = sheet.laminated is False and self.now < believed.printed + believed.dries
        assert not wet or believed.early, "cut before it was dry, and nobody said why"
        self.cutting = True

    def _same(self) -> bool:
        """Repeats of one print are alike: which of two that are whole is cut first makes no difference."""
        assert self.lies is not None and self.believed is not None
        return self.lies == self.believed

    def cut_stops(self, share: float) -> None:
        if self.cutting and self.believed is not None:
            done = self._cut(share)
            assert self.floor.stops(self.believed, frozenset(done)), "a machine that stops is not argued with"
            self.cutting = False

    def cut_ends(self, spoils: int) -> None:
        if self.cutting and self.believed is not None:
            self._cut(1.0)
            cut = sorted(self.sheets[self.believed].cut)
            assert self.floor.ends(self.believed, frozenset(cut[:spoils]))
            self.cutting, self.lies, self.believed = False, None, None

    def _cut(self, share: float) -> list[int]:
        """Cut on, so much of what the floor has not called cut."""
        assert self.lies is not None and self.believed is not None
        known, _, _ = self.floor.pieces(self.believed)
        left = [piece for piece in self.floor.order(self.believed) if piece not in known]
        done = left[: round(len(left) * share)]
        for piece in done:
            assert piece not in self.sheets[self.lies].cut, "a piece is cut twice"
            self.sheets[self.lies].cut.add(piece)
        return done

    def is_taken_off(self) -> None:
        if self.believed is not None and not self.cutting and self.floor.takes_off(self.believed):
            self.lies = self.believed = None

    def is_cancelled(self, key: str) -> None:
        if self.floor.cancels(key) and key == self.believed:
            assert not self.cutting
            self.lies = self.believed = None

    def power_goes(self, share: float) -> None:
        """All stops; the floor begins anew with what it has kept."""
        done = self._cut(share) if self.cutting else []
        self.cutting = False
        self.printing.clear()
        self.floor.power_goes(frozenset(done))

    # -- at the end ------------------------------------------------------------------------------------

    def nothing_is_lost(self) -> None:
        """Every piece of every sheet is cut as the floor says it is, or is still to be cut, or was cancelled."""
        for key, sheet in self.sheets.items():
            cut, spoilt, over = self.floor.pieces(key)
            assert cut == sheet.cut, f"what is cut of {key} is not what the floor says"
            assert spoilt <= cut <= sheet.pieces and (over or cut < sheet.pieces or key == self.believed)


# -- whole days --------------------------------------------------------------------------------------------------------


def random_day(world: World, draw: Random, events: int) -> Counter[str]:
    """A day with so many events, most of them such as people and machines mean them, the rest out of order.

    What happened is counted, so that a day on which nothing came to pass is seen.
    """
    done: Counter[str] = Counter()
    jobs = sorted(world.jobs)
    for _ in range(events):
        before = sum(len(one.cut) for one in world.sheets.values())
        what = draw.choices(*zip(*_EVENTS, strict=True))[0]
        _happens(world, draw, what, jobs)
        done[what] += 1
        done["pieces"] += sum(len(one.cut) for one in world.sheets.values()) - before
        if draw.random() < 0.1:
            world.nothing_is_lost()
    world.nothing_is_lost()
    return done


_EVENTS = [
    ("print", 6), ("report", 8), ("fail", 1), ("cancel a print", 1), ("print again", 2), ("wait", 6), ("early", 2),
    ("laminate", 4), ("scratch", 1), ("load", 10), ("load another", 2), ("swap", 1), ("read", 12), ("look", 2),
    ("begin", 14), ("stop", 2), ("end", 10), ("take off", 2), ("cancel", 1), ("power", 1),
]


def _happens(world: World, draw: Random, what: str, jobs: list[int]) -> None:
    open_ = [key for key in sorted(world.sheets) if not world.floor.pieces(key)[2]]
    any_, job = (draw.choice(open_) if open_ else None), draw.choice(jobs)
    under_way = next(iter(world.printing), job)
    if what == "print":
        world.print_starts(job)
    elif what == "report":
        world.print_ends(under_way if draw.random() < 0.9 else job, draw.choice([1, 1, 1, 2, 3]))
    elif what == "fail":
        world.print_fails(under_way)
    elif what == "cancel a print":
        world.print_is_cancelled(draw.choice([job, under_way]))
    elif what == "print again":
        world.floor.again(job)
    elif what == "wait":
        world.time_goes(draw.choice([1, 15, 45, 240]))
    elif what == "power":
        world.power_goes(draw.random())
    elif any_ is not None:
        _to_a_sheet(world, draw, what, any_, open_)


def _to_a_sheet(world: World, draw: Random, what: str, key: str, open_: list[str]) -> None:
    others = [one for one in open_ if world.sheets[one].job != world.sheets[key].job]
    acts = {
        "early": lambda: world.someone_cannot_wait(key, draw.choice(["", "a sample", "dry to the touch"])),
        "laminate": lambda: world.is_laminated(key),
        "scratch": lambda: setattr(world.sheets[key], "scratched", True),
        "load": lambda: world.is_loaded(key, key),
        "load another": lambda: world.is_loaded(key, draw.choice(others or [key])),
        "swap": lambda: world.is_swapped(draw.choice([
            one for one in open_ if world.believed and world.sheets[one].job != world.sheets[world.believed].job
        ] or [world.lies or key])),
        "read": world.code_is_read, "look": world.someone_looks, "begin": world.cut_begins,
        "stop": lambda: world.cut_stops(draw.random()), "end": lambda: world.cut_ends(draw.choice([0, 0, 0, 1, 2])),
        "take off": world.is_taken_off, "cancel": lambda: world.is_cancelled(key),
    }
    acts[what]()
