"""Layouts as jobs and shared sheets keep them: changed by name, read by the core before they are kept."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.sheet import Layout
from horismos.shelf.kinds.destination import usual_layout
from jobs.store.shelf import known_shelf

__all__ = ["LAYOUT", "changed_layout", "layout_begun", "words_of_change"]

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


def layout_begun(destination: str, before: Mapping[str, Any] = MappingProxyType({}), was: str = "") -> dict[str, Any]:
    """A layout as jobs of a destination begin with it; what ``before`` had from the destination that it ``was`` goes.
    """
    known = known_shelf().shelf
    old = usual_layout(known[was], known) if was else {}
    kept = {key: value for key, value in before.items() if key not in old or old[key] != value}
    return {**usual_layout(known[destination], known), **kept}


def words_of_change(layout: Mapping[str, Any], given: Mapping[str, Any]) -> list[str]:
    """What of a change of a layout is one, in words: a form sends all of its fields. Raises BadValue."""
    old, new = Layout.from_json(layout), Layout.from_json(changed_layout(layout, given))
    return [WORDS[key] for key in LAYOUT if key in given and WORDS[key] and getattr(old, key) != getattr(new, key)]


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
