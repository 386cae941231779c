"""Nesting as a step: no file comes with it, but it takes long, and what it has so far is shown."""

import time
from collections.abc import Callable, Mapping, Sequence
from typing import Any

from horismos.sheet import Placed
from horismos.workflow.nest import Nested, Nesting
from horismos.workflow.nest import nest as nest_copies

__all__ = ["nest"]

Plain = dict[str, Any]
TELLS_EVERY_S = 0.3


def nest(wanted: Mapping[str, Any], seconds: float, tell: Callable[..., None]) -> Plain:
    """Nest for so many seconds; ``wanted`` is what the step ``nesting`` gives.

    ``tell`` hears how far it is, and the best so far, ``{"length_mm", "placed"}``, whenever that is another. Raises
    NothingToDo where rows and columns are not bettered, DoesNotFit where not all copies go on one sheet.
    """
    asked = Nesting.from_json(wanted)
    begun, heard = time.monotonic(), 0.0
    new: list[Nested] = []
    words = "nothing shorter yet"
    rows = "" if asked.rows_mm is None else f", rows {asked.rows_mm:.0f} mm"

    def better(found: Nested) -> None:
        new[:] = [found]

    def enough() -> bool:
        nonlocal heard, words
        now = time.monotonic()
        if now - heard > TELLS_EVERY_S:
            heard = now
            so_far = _plain(new.pop()) if new else None
            if so_far:
                words = f"{so_far['length_mm']:.0f} mm"
            tell(min((now - begun) / max(seconds, 1.0), 1.0), words + rows, so_far)
        return False

    return _plain(nest_copies(asked, seconds, better, enough))


def _plain(found: Nested) -> Plain:
    return {"length_mm": found.length_mm, "placed": _copies(found.placed)}


def _copies(copies: Sequence[Placed]) -> list[Plain]:
    return [{"matrix": list(copy.matrix), "item": copy.item, "sheet": copy.sheet} for copy in copies]
