"""Rehearses a package on the simulated machines before a metre is spent."""

import json
from collections.abc import Mapping
from dataclasses import dataclass

from horismos.destinations import Destination
from horismos.errors import NotFound
from horismos.simulation import Playback, RipResult, play, rip

__all__ = ["Rehearsal", "rehearse"]


@dataclass(frozen=True, eq=False)
class Rehearsal:
    """What came of the print PDF at the RIP, and of each cut file at the cutter."""

    rip: RipResult
    cuts: Mapping[str, Playback]


def rehearse(
    files: Mapping[str, bytes], destination: Destination
) -> Rehearsal:
    """Let the simulated RIP and cutter take a package's files, by name. Raises NotFound where one is missing."""
    by_end = {end: [name for name in files if name.endswith(end)] for end in ("-print.pdf", "-ticket.json", ".plt")}
    for end, what in (("-print.pdf", "print PDF"), ("-ticket.json", "ticket")):
        if not by_end[end]:
            raise NotFound(f"The package holds no {what}.", "Release the job again.")
    ticket = json.loads(files[by_end["-ticket.json"][0]])
    return Rehearsal(
        rip(files[by_end["-print.pdf"][0]], destination),
        {name: play(files[name], ticket) for name in by_end[".plt"]},
    )
