"""Days of a shop played with measured times: how many places a day of so many files needs, and what gives way first.

A discrete-event simulation (simpy). Files come as a working day brings them, are taken in, checked and mended by
themselves, and later released; each step takes a place of a worker for what ``steps.json`` says, and the server for
what its own part takes. Turns are as in the queue: what a person waits for goes first, then small files, and one place
is kept free of large ones.
"""

import json
import math
import random
import statistics
import sys
from collections.abc import Generator, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import simpy

__all__ = ["Day", "Played", "measured_day", "played", "smallest"]

KEPT = Path(__file__).with_name("steps.json")
HOURS = (4, 10, 14, 13, 10, 7, 10, 13, 11, 8)
"""[ours] how a hundred files come over the ten hours of a working day: most before noon, many after it."""
MIX = {"small": 0.88, "usual": 0.11, "large": 0.01}
"""[ours] how many of a hundred files are of each weight."""
LATER = {"small": 0.0, "usual": 60.0, "large": 600.0}
"""So much later the turn of a file that comes in is, in s: as ``jobs.store.queue`` has it."""
FIRST = -3600.0
RELEASED_AFTER_S = 1800.0
"""[ours] how long after its verdict a file is released, in the mean."""
WANTED_S = 60.0
"""[ours] nineteen of twenty files are to have their verdict within so long."""


@dataclass(frozen=True)
class Day:
    """What a day is made of: seconds of a place until the verdict and for the release, by weight, and of the server.

    The server is two processes, which work beside each other: the seconds are of the one that takes more.
    """

    files: int
    until_verdict: Mapping[str, float]
    release: Mapping[str, float]
    server_s: float
    mix: Mapping[str, float] = field(default_factory=lambda: dict(MIX))
    hours: Sequence[float] = HOURS
    spread: float = 0.5
    """How much times differ: the deviation of their logarithm, where they are not exponential."""
    exponential: bool = False
    """Whether times are drawn from an exponential distribution, as queueing theory has them."""


@dataclass(frozen=True)
class Played:
    """How a day went: seconds from the drop to the verdict, and how busy places and the server were, 0 to 1."""

    waits: Mapping[str, Sequence[float]]
    busy: float
    server: float

    def below(self, share: float = 0.95, weight: str = "") -> float:
        """Below which time so many verdicts came, of one weight or of all."""
        times = sorted(t for name, of in self.waits.items() if weight in ("", name) for t in of)
        return times[min(int(share * len(times)), len(times) - 1)] if times else 0.0

    def mean(self) -> float:
        """The mean time to a verdict."""
        return statistics.fmean(t for of in self.waits.values() for t in of)


def played(day: Day, places: int, seed: int = 1) -> Played:
    """Play a day with so many places."""
    chance = random.Random(seed)
    world = simpy.Environment()
    workers = simpy.PriorityResource(world, places)
    large = simpy.PriorityResource(world, max(places - 1, 1))
    server = simpy.Resource(world, 1)
    waits: dict[str, list[float]] = {weight: [] for weight in day.mix}
    used = {"workers": 0.0, "server": 0.0}

    def long(mean: float) -> float:
        if day.exponential:
            return chance.expovariate(1 / mean)
        return chance.lognormvariate(math.log(mean) - day.spread**2 / 2, day.spread)

    def on_server(seconds: float) -> Generator[Any, Any, None]:
        if seconds:
            with server.request() as turn:
                yield turn
                used["server"] += seconds
                yield world.timeout(seconds)

    def on_place(weight: str, seconds: float, since: float) -> Generator[Any, Any, None]:
        turn = round(1000 * since)
        kept = large.request(turn) if weight == "large" else None
        if kept is not None:
            yield kept
        with workers.request(turn) as place:
            yield place
            used["workers"] += seconds
            yield world.timeout(seconds)
        if kept is not None:
            large.release(kept)

    def file(weight: str) -> Generator[Any, Any, None]:
        came = world.now
        yield from on_server(day.server_s / 3)
        yield from on_place(weight, long(day.until_verdict[weight]), came + LATER.get(weight, 0.0))
        yield from on_server(day.server_s / 3)
        waits[weight].append(world.now - came)
        if day.release.get(weight):
            yield world.timeout(chance.expovariate(1 / RELEASED_AFTER_S))
            yield from on_place(weight, long(day.release[weight]), world.now + FIRST)
            yield from on_server(day.server_s / 3)

    def arrivals() -> Generator[Any, Any, None]:
        total = sum(day.hours)
        for at in sorted(_moment(chance, day.hours, total) for _ in range(day.files)):
            yield world.timeout(max(0.0, at - world.now))
            weight = chance.choices(list(day.mix), list(day.mix.values()))[0]
            world.process(file(weight))

    world.process(arrivals())
    world.run()
    return Played(waits, used["workers"] / (world.now * places), used["server"] / world.now)


def _moment(chance: random.Random, hours: Sequence[float], total: float) -> float:
    """When a file comes, in s from the begin of the day."""
    at = chance.random() * total
    for hour, share in enumerate(hours):
        if at < share:
            return 3600.0 * (hour + at / share)
        at -= share
    return 3600.0 * len(hours)


def measured_day(files: int) -> Day:
    """A day with the times that were measured."""
    said = json.loads(KEPT.read_text())
    verdict = ("job:take_in", "job:look", "job:sort", "job:look again")
    return Day(
        files,
        {w: sum(said[w][step]["cpu_s"] for step in verdict if step in said[w]) for w in MIX},
        {w: said[w]["job:release"]["cpu_s"] for w in MIX}, max(said["server"].values()),
    )


def smallest(day: Day, wanted_s: float = WANTED_S, most: int = 2_000) -> tuple[int, Played]:
    """The fewest places with which nineteen of twenty small files have their verdict in time, and how the day goes.

    It is looked for from four fifths of what the busiest hour keeps busy: below that the queue grows for hours.
    Raises ValueError where no number of places does: the server gives way.
    """
    busiest = day.files * max(day.hours) / sum(day.hours) / 3600
    if busiest * day.server_s >= 1:
        raise ValueError(f"The server gives way: it is asked for {busiest * day.server_s:.1f} s a second.")
    load = busiest * sum(
        share * (day.until_verdict[weight] + day.release.get(weight, 0.0)) for weight, share in day.mix.items()
    )
    for places in range(max(1, int(0.8 * load)), most):
        found = played(day, places)
        if found.below(weight="small") <= wanted_s:
            return places, found
    raise ValueError(f"{most} places are not enough.")


def main() -> None:
    """Print the table: what days of several sizes need."""
    kept = json.loads(KEPT.read_text())
    stored = {w: sum(one["stored_bytes"] for one in kept[w].values() if isinstance(one, dict)) for w in MIX}
    told = {w: sum(one["answer_bytes"] for one in kept[w].values() if isinstance(one, dict)) for w in MIX}
    read = {w: sum(one["read_bytes"] for one in kept[w].values() if isinstance(one, dict)) for w in MIX}
    print("files a day  places  busy  p95 small  p95 all  server  store a day  read a day  broker a day")
    for files in map(int, sys.argv[1:] or (100, 1_000, 10_000, 100_000)):
        day = measured_day(files)
        try:
            places, found = smallest(day)
        except ValueError as why:
            print(f"{files:11,}  {why}")
            continue
        grown, carried, over = (files * sum(MIX[w] * of[w] for w in MIX) / 1e9 for of in (stored, read, told))
        print(f"{files:11,}  {places:6}  {100 * found.busy:3.0f} %  {found.below(weight='small'):7.0f} s "
              f"{found.below():7.0f} s  {100 * found.server:4.0f} %  {grown:8.0f} GB  {carried:7.0f} GB "
              f"{over:9.1f} GB")


if __name__ == "__main__":
    main()
