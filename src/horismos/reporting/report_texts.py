"""The texts of the preflight report, all in one place, so that a translation changes nothing else."""

from collections.abc import Mapping
from types import MappingProxyType

from horismos.words import plural

__all__ = ["GROUPS", "VERDICTS", "counted", "say"]

VERDICTS: Mapping[str, str] = MappingProxyType({
    "stop": "This cannot be released as it is.",
    "look": "Nothing stops it; some points wait for a decision.",
    "clean": "Clean: nothing is left open.",
})
GROUPS = (("stop", "Stops"), ("look", "To look at"), ("note", "Notes"))
"""The severities in their order, and the headings above their findings."""
COUNTED: Mapping[str, tuple[str, str]] = MappingProxyType({
    "waived": ("stop was", "stops were"),
    "measured": ("check was", "checks were"),
    "carried": ("was", "were"),
    "copies": ("copy", "copies"),
    "places": ("place", "places"),
})
TEXTS: Mapping[str, str] = MappingProxyType({
    "title": "Preflight: {job}",
    "document": "Preflight {job}",
    "foot": "{job} · revision {revision} · {print}",
    "group": "{group} · {count}",
    "waived": "{verdict} {stops} waived by a person.",
    "within": "Everything that was measured is within its limits.",
    "checked": "What was checked",
    "customer": "Customer",
    "no customer": "–",
    "file": "File",
    "file of": "{file}, revision {revision}",
    "sent": "Fingerprint of the file sent",
    "print": "Fingerprint of what was checked",
    "page": "Page",
    "page of": "{w:.1f} × {h:.1f} mm; ordered {wanted} mm, {copies}",
    "any": "any",
    "cuts": "Cuts ordered",
    "not said": "not said",
    "edge": "Edge",
    "edge of": "{edge}; bleed {bleed:g} mm, border {border:g} mm, cutter within {tolerance:g} mm",
    "material": "Material",
    "destination": "Destination",
    "sheet": "Check sheet",
    "when": "Checked",
    "measured": "measured {measured}, limit {limit}",
    "finding": "{id} · {measured} · page {page}.",
    "place": " Worst place at {x:.1f}, {y:.1f} mm from the lower left of the trim.",
    "carried": "Carried over: nothing that it depends on has changed since it was measured.",
    "decision": "{verb} by {who}, {when}: {reason}",
    "ran": "{checks} measured: {ids}.",
    "carried over": " {checks} carried over: {ids}.",
    "off": " Switched off by the check sheet: {ids}.",
})


def say(key: str, **fills: object) -> str:
    """A text with its words in it."""
    return TEXTS[key].format(**fills)


def counted(count: int, what: str) -> str:
    """A count with its word.

    >>> counted(1, "waived"), counted(2, "copies")
    ('1 stop was', '2 copies')
    """
    return plural(count, *COUNTED[what])
