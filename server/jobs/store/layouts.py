"""Layouts as jobs and shared sheets keep them: changed by name, read by the core before they are kept."""

from collections.abc import Mapping
from typing import Any

from horismos.sheet import Layout

__all__ = ["LAYOUT", "WORDS", "changed_layout"]

ROWS, PLACED = frozenset(["columns", "gap_mm", "turned"]), frozenset(["placed", "placed_of", "rows_mm"])
"""Who says how rows and columns lie has no copies any more that were placed one by one."""
WORDS = {
    "gap_mm": "the gap", "columns": "the columns", "turned": "how copies lie", "marks": "the marks", "code": "the code",
    "mirror": "which way round it is printed", "media": "what is loaded", "makes": "what it goes through",
    "fill": "how many copies", "inks": "the order of inks", "frame_mm": "the weeding frame",
    "length_mm": "the longest sheet", "placed": "where copies lie", "placed_of": "",
    "cut_order": "the order of cutting", "cut_only": "what is cut",
    "cut_copies": "which copies are cut", "aligning": "how the aligning figure is cut",
}
"""What can be changed of a layout, in words."""
LAYOUT = tuple(WORDS)


def changed_layout(layout: Mapping[str, Any], given: Mapping[str, Any]) -> dict[str, Any]:
    """A layout with what was named of it changed. Raises BadValue for what none can have."""
    out = {**layout, **{key: given[key] for key in LAYOUT if key in given}}
    if ROWS & set(given) and not given.get("placed"):
        out = {key: value for key, value in out.items() if key not in PLACED}
    if given.get("placed"):
        out = {key: value for key, value in out.items() if key not in ("columns", "turned")}
    out = {key: value for key, value in out.items() if value is not None}
    Layout.from_json(out)
    return out
