"""The texts of the shop ticket, all in one place, so that a translation changes nothing else."""

from collections.abc import Mapping
from types import MappingProxyType

__all__ = ["say"]

TEXTS: Mapping[str, str] = MappingProxyType({
    "document": "Shop ticket {job}",
    "foot": "{job} · {made_by} · {destination}",
    "sheet of": "Sheet {number} of {count}",
    "only sheet": "One sheet",
    "first edge": "This edge goes in first",
    "face up": "printed side up",
    "face down": "printed side down: it is printed as seen from behind",
    "cut only": "nothing is printed",
    "pieces": "Pieces",
    "pieces of": "{copies} × {job}, {w} × {h} mm",
    "more": "… and {count} more, in the ticket’s JSON",
    "media": "Material",
    "media of": "{title}, {wide} mm wide",
    "kept": "Kept at",
    "not said": "nobody said",
    "sheet": "Sheet",
    "sheet size": "{wide} × {long} mm, of which {used} mm are used",
    "room": "leader {leader} mm, trailer {trailer} mm",
    "marks": "Marks",
    "marks of": "{count} × {kind}, {arm} mm large, {weight} mm thick",
    "mark": "{number}: {x} / {y} mm",
    "no marks": "none: set the zero by hand",
    "zero": "Zero",
    "zero of": "{x} mm across, {y} mm along",
    "code": "Code",
    "no code": "none",
    "side": "Loaded",
    "drying": "Dry",
    "drying of": "at least {hours} after printing, before it is cut",
    "laminating": "Laminate",
    "laminating of": "{what}; at least {hours} after printing, then laminated, then cut",
    "not laminated": "nothing",
    "scale": "Scale",
    "time": "Time",
    "cut": "Cut, in this order",
    "columns": "|Line|Tool|Force|Speed|Passes|Cut / tie|Lines|Length|Time|Test cut",
    "untested": "test-cut first",
    "tested": "{who}, {when}",
    "machine": "machine",
    "gf": "{force} gf",
    "mm/s": "{speed} mm/s",
    "whole": "whole",
    "ties": "{cut} / {tie} mm",
    "from behind": "{role}, sheet turned over",
    "aligning": "aligning figure",
    "nothing cut": "Nothing of this sheet is cut.",
    "pauses": "Pauses",
    "pause": "Before {number}: {words}",
    "changes by itself": "Before {number}: the cutter changes its tool.",
    "look out": "Look out for",
    "let pass": "{id}: {message} Let pass by {who}: {reason}",
    "looks": "Open when it was released: {ids}.",
    "rehearsed": "Rehearsed {loads} times: {spoilt} of {pieces} pieces spoilt; a mark was missed in {missed} loads.",
    "not rehearsed": "Not rehearsed.",
    "nothing to look out": "Nothing was let pass.",
    "files": "Files",
})


def say(key: str, **values: object) -> str:
    """A text with its values."""
    return TEXTS[key].format(**values)
