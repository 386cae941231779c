"""The letter to the customer: the chosen findings in plain words, what to change, how to send it again."""

from collections.abc import Sequence
from dataclasses import dataclass

from horismos.checking.engine.findings import Finding
from horismos.destinations import Destination
from horismos.reporting.words import WORDS, Words
from horismos.words import plural

__all__ = ["Item", "Letter", "measure", "write_letter"]

PLAIN = {"objects": "place", "parts": "part", "pages": "page", "names": "name", "roles": "line", "texts": "text",
         "inks": "ink", "crossings": "place", "contours": "line", "pictures": "picture", "fonts": "font",
         "repairs": "repair", "locks": "lock", "notes": "note", "layers": "layer", "kinds": "kind", "holes": "hole",
         "segments": "segment"}
"""Units that count, and the word for one of them."""
DIGITS = {"mm": 2, "pt": 1, "%": 0, "ppi": 0, "°": 0, "mm²": 1, "nodes/mm": 1, "°/mm": 0}


def measure(value: float | None, unit: str) -> str:
    """A value with its unit, as exact as it was measured.

    >>> measure(2.9041, "mm"), measure(3, "objects"), measure(None, "mm")
    ('2.9 mm', '3 places', 'not measured')
    """
    if value is None:
        return "not measured"
    if unit in PLAIN:
        return plural(round(value), PLAIN[unit])
    digits = DIGITS.get(unit, 2)
    text = f"{value:.{digits}f}"
    return f"{text.rstrip('0').rstrip('.') if '.' in text else text} {unit}"


@dataclass(frozen=True)
class Item:
    """One point of the letter; ``names`` are the exact names to be used, if it is about names."""

    finding: Finding
    title: str
    wrong: str
    change: str
    names: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Letter:
    """A letter: its greeting and closing, and its points between."""

    subject: str
    opening: tuple[str, ...]
    items: tuple[Item, ...]
    closing: tuple[str, ...]

    def text(self) -> str:
        """The letter as plain text."""
        parts = [self.subject, *self.opening]
        for number, item in enumerate(self.items, 1):
            lines = [f"{number}. {item.title}", f"   {item.wrong}", f"   {item.change}"]
            lines += [f"   Is: {is_}   Should be: {should}" for is_, should in item.names]
            parts.append("\n".join(lines))
        return "\n\n".join([*parts, *self.closing]) + "\n"


def write_letter(
    findings: Sequence[Finding], job: str, file_name: str, customer: str, shop: str, destination: Destination
) -> Letter:
    """Put chosen findings into a letter, worst first."""
    items = tuple(_item(finding) for finding in findings)
    stops = sum(finding.severity == "stop" for finding in findings)
    must = (
        f"Before we can print and cut it, {plural(stops, 'point has', 'points have')} to be changed."
        if stops else "Nothing keeps us from printing it, but please look at the following."
    )
    return Letter(
        f"Your artwork “{job}”",
        (
            f"Dear {customer}," if customer else "Hello,",
            f"thank you for the file {file_name or job}. We have checked it for printing and cutting. {must}",
        ),
        items,
        (
            "How to send it again: please change the points above in your own file and export it as a PDF at its "
            "finished size (100 %), with all text as outlines and every line in its own spot colour. Keep the file's "
            "name and add a number to it, so that we can tell the new one from the old one.",
            "If you are not sure about a point, answer this letter; we can do many of these changes for you.",
            f"Kind regards\n{shop}",
        ),
    )


def _item(finding: Finding) -> Item:
    words = WORDS.get(finding.id, Words(finding.id, finding.message, ""))
    fill = {
        "measured": measure(finding.measured, finding.unit), "limit": measure(finding.limit, finding.unit),
        "count": plural(finding.count, _counted(finding)),
    }
    renames = tuple((ink, wanted) for ink in finding.inks for wanted in finding.wanted)
    # A sentence that would tell of a value that could not be measured is replaced by the finding's own.
    unmeasured = finding.measured is None and "{measured}" in words.wrong
    wrong = finding.message if unmeasured else words.wrong.format(**fill)
    return Item(finding, words.title, wrong[0].upper() + wrong[1:], words.change.format(**fill), renames)


def _counted(finding: Finding) -> str:
    return "text" if finding.id.startswith("text.") else "place" if finding.id == "line.crosses" else (
        "bit" if finding.id == "line.leftover" else "object"
    )
