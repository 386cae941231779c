"""Nesting: copies of a job, or of all jobs on a shared sheet; stopped by a person, the best so far is kept."""

import time
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from jobs import models
from jobs.store.children import LOOKING_S

from horismos.errors import Cancelled
from worker.register import carries_out
from worker.targets import keep_layout, require_unchanged, target_of
from worker.task import Result, StepResult, Task

__all__ = ["nest"]

SHOWS_EVERY_S = 0.8
MOST_SHOWN = 600
"""[ours] copies that are shown while they are nested; more are told of in figures alone."""


@carries_out(models.WorkKind.NEST)
def nest(task: Task) -> Result:
    """Nest the copies by their outlines, and lay out anew what they lie on."""
    target, asked = target_of(task), task.arguments
    gap = asked["gap_mm"]
    stored = replace(target.stored, layout=replace(target.stored.layout, gap_mm=gap))
    wanted: StepResult = task.run_step(
        f"{target.room}:nesting", target.pool_key, stored, str(asked["turn"]), what="Reading the outlines",
    )
    found = _nested(task, target.pool_key, wanted)
    layout = _with_copies(target.row.layout, found, wanted, gap)
    with task.commit():
        require_unchanged(target, "nested", "nest")
        keep_layout(target, layout, f"Nested: {len(found['placed'])} copies on {found['length_mm']:.0f} mm")
    return None


def _with_copies(
    layout: Mapping[str, Any], found: StepResult, wanted: StepResult, gap: float | None
) -> dict[str, Any]:
    """A layout with the copies where they were nested, in place of rows and columns."""
    kept = {key: value for key, value in layout.items() if key not in ("columns", "turned", "gap_mm")}
    return {
        **kept, **({} if gap is None else {"gap_mm": gap}), "placed": found["placed"],
        "placed_of": wanted["placed_of"], "rows_mm": wanted["rows_mm"],
    }


def _nested(task: Task, key: str, wanted: StepResult) -> StepResult:
    """Nest, showing the best so far. Raises Cancelled where it is stopped before there is any."""
    so_far: list[StepResult] = []
    shown = 0.0

    def better(found: StepResult) -> None:
        nonlocal shown
        so_far[:] = [found]
        if time.monotonic() - shown > SHOWS_EVERY_S and len(found["placed"]) <= MOST_SHOWN:
            shown = time.monotonic()
            task.show(found)

    seconds = float(task.arguments["seconds"])
    try:
        found: StepResult = task.run_step(
            "nest:nest", key, wanted, seconds, what="Nesting", better=better, within_s=seconds + LOOKING_S
        )
    except Cancelled:
        if not so_far or task.is_ending():
            raise
        return so_far[0]
    return found
