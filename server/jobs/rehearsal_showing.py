"""Rehearsals as screens show them: of a job, or of a sheet that several share."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from horismos.checking import Rehearsed

__all__ = ["RehearsalShown", "WorstShown", "rehearsal_shown"]


@dataclass(frozen=True)
class WorstShown:
    """The worst piece of a rehearsal: its copy from 1, its box and where its cut landed, in mm, its print."""

    copy: int
    box: list[float]
    landed: list[list[float]]
    sha256: str


@dataclass(frozen=True, kw_only=True)
class RehearsalShown(Rehearsed):
    """What came of so many loads; ``percent`` of the pieces were spoilt, the worst was cut ``worst_mm`` off."""

    percent: float
    worst_mm: float
    p95_mm: float
    worst_load: int
    worst: WorstShown | None


def rehearsal_shown(kept: Mapping[str, Any]) -> RehearsalShown:
    """A rehearsal as it was kept."""
    figures, worst = kept["figures"], kept["worst"]
    return RehearsalShown(
        **kept["counts"], percent=round(Rehearsed(**kept["counts"]).spoilt_percent, 2), worst_mm=figures["worst_mm"],
        p95_mm=figures["p95_mm"], worst_load=figures["worst_load"], worst=WorstShown(**worst) if worst else None,
    )
