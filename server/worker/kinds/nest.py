"""Nesting: copies of a job, or of all jobs on a shared sheet; stopped by a person, the best so far is kept."""

import time
from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from jobs import models

from horismos.sheet import Placed
from horismos.workflow.nest import Nested, Nesting
from horismos.workflow.nest import nest as nest_copies
from worker.register import carries_out
from worker.targets import keep_layout, require_unchanged, target_of
from worker.task import Result, Task

__all__ = ["nest"]

HEARS_EVERY_S = 0.3
SHOWS_EVERY_S = 0.8
MOST_SHOWN = 600
"""[ours] copies that are shown while they are nested; more are told of in figures alone."""


@carries_out(models.WorkKind.NEST)
def nest(task: Task) -> Result:
    """Nest the copies by their outlines, and lay out anew what they lie on."""
    target, asked = target_of(task), task.arguments
    gap = asked["gap_mm"]
    stored = replace(target.stored, layout=replace(target.stored.layout, gap_mm=gap))
    wanted = Nesting.from_json(task.run_step(
        f"{target.room}:nesting", target.pool_key, stored, str(asked["turn"]), what="Reading the outlines",
    ))
    found = _nested(task, wanted)
    layout = _with_copies(target.row.layout, found, wanted, gap)
    with task.commit():
        require_unchanged(target, "nested", "nest")
        keep_layout(target, layout, f"Nested: {len(found.placed)} copies on {found.length_mm:.0f} mm")
    return None


def _with_copies(layout: Mapping[str, Any], found: Nested, wanted: Nesting, gap: float | None) -> dict[str, Any]:
    """A layout with the copies where they were nested, in place of rows and columns."""
    kept = {key: value for key, value in layout.items() if key not in ("columns", "turned", "gap_mm")}
    return {
        **kept, **({} if gap is None else {"gap_mm": gap}), "placed": _plain(found.placed),
        "placed_of": wanted.placed_of, "rows_mm": wanted.rows_mm,
    }


def _plain(copies: Sequence[Placed]) -> list[dict[str, Any]]:
    return [{"matrix": list(copy.matrix), "item": copy.item, "sheet": copy.sheet} for copy in copies]


def _nested(task: Task, wanted: Nesting) -> Nested:
    """Nest, telling how far it is and showing the best so far."""
    seconds, begun, heard, shown = float(task.arguments["seconds"]), time.monotonic(), [0.0], [0.0]
    so_far: list[Nested] = []

    def better(found: Nested) -> None:
        so_far[:] = [found]

    def enough() -> bool:
        now = time.monotonic()
        if now - heard[0] < HEARS_EVERY_S:
            return False
        heard[0] = now
        if so_far and now - shown[0] > SHOWS_EVERY_S and len(so_far[0].placed) <= MOST_SHOWN:
            shown[0] = now
            task.show({"length_mm": so_far[0].length_mm, "placed": _plain(so_far[0].placed)})
        length = f"{so_far[0].length_mm:.0f} mm" if so_far else "nothing shorter yet"
        rows = "" if wanted.rows_mm is None else f", rows {wanted.rows_mm:.0f} mm"
        task.progress(min((now - begun) / max(seconds, 1.0), 1.0), length + rows)
        return task.cancelled()

    return nest_copies(wanted, seconds, better, enough)
