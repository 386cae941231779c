"""The letter to the customer: the chosen findings in plain words, what to change, how to send it again."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from horismos.checking.engine.check_sheet import Severity
from horismos.checking.engine.findings import Finding
from horismos.reporting.letter_texts import LetterTexts
from horismos.reporting.words import Words
from horismos.words import plural

__all__ = ["Item", "Letter", "measure", "sample_letter", "write_letter"]

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


SHIPPED = LetterTexts()


@dataclass(frozen=True)
class Item:
    """One point of the letter.

    ``names`` are the exact names to be used, if it is about names; ``said`` says them as they are and ``shown`` with
    a dot for each space.
    """

    finding: Finding
    title: str
    wrong: str
    change: str
    names: tuple[tuple[str, str], ...] = ()
    said: tuple[str, ...] = ()
    shown: tuple[str, ...] = ()


@dataclass(frozen=True)
class Letter:
    """A letter: its greeting and closing, and its points between."""

    subject: str
    opening: tuple[str, ...]
    items: tuple[Item, ...]
    closing: tuple[str, ...]
    spaces: str = ""

    def text(self) -> str:
        """The letter as plain text."""
        parts = [self.subject, *self.opening]
        for number, item in enumerate(self.items, 1):
            lines = [f"{number}. {item.title}", f"   {item.wrong}", f"   {item.change}"]
            lines += [f"   {said}" for said in item.said]
            parts.append("\n".join(lines))
        return "\n\n".join([*parts, *self.closing]) + "\n"


def write_letter(
    findings: Sequence[Finding], job: str, file_name: str, customer: str, shop: str,
    texts: LetterTexts = SHIPPED,
) -> Letter:
    """Put chosen findings into a letter, worst first, in the shop's own words where it has such."""
    items = tuple(_item(finding, texts) for finding in findings)
    stops = sum(finding.severity == "stop" for finding in findings)
    points = texts.say("one_point") if stops == 1 else texts.say("many_points", count=str(stops))
    then = texts.say("must_change", points=points) if stops else texts.say("please_look")
    return Letter(
        texts.say("subject", job=job),
        (
            texts.say("greeting", customer=customer) if customer else texts.say("greeting_unnamed"),
            f"{texts.say('opening', file=file_name or job)} {then}",
        ),
        items,
        (texts.say("send_again"), texts.say("unsure"), texts.say("regards", shop=shop)),
        texts.say("spaces"),
    )


def _item(finding: Finding, texts: LetterTexts) -> Item:
    words = texts.of_check(finding.id) or Words(finding.id, finding.message, "")
    fill = {
        "measured": measure(finding.measured, finding.unit), "limit": measure(finding.limit, finding.unit),
        "count": plural(finding.count, _counted(finding)),
    }
    renames = tuple((ink, wanted) for ink in finding.inks for wanted in finding.wanted)
    said = tuple(texts.say("names", **{"is": is_, "should": should}) for is_, should in renames)
    shown = tuple(
        texts.say("names", **{"is": _dotted(is_) or texts.say("unnamed"), "should": _dotted(should)})
        for is_, should in renames
    )
    # A sentence that would tell of a value that could not be measured is replaced by the finding's own.
    unmeasured = finding.measured is None and "{measured}" in words.wrong
    wrong = finding.message if unmeasured else words.wrong.format(**fill)
    return Item(finding, words.title, wrong[0].upper() + wrong[1:], words.change.format(**fill), renames, said, shown)


def _dotted(name: str) -> str:
    return name.replace(" ", "·")


def _counted(finding: Finding) -> str:
    return "text" if finding.id.startswith("text.") else "place" if finding.id == "line.crosses" else (
        "bit" if finding.id == "line.leftover" else "object"
    )


def sample_letter(texts: LetterTexts, shop: str) -> Letter:
    """A letter about made-up findings, to see what a shop's own words look like."""

    def made(id: str, measured: float | None, limit: float, unit: str, **more: Any) -> Finding:
        return Finding(
            id=id, severity=Severity.STOP, page=1, message="", detail="", measured=measured, limit=limit, unit=unit,
            count=1, where=(), **more,
        )

    findings = [
        made("edge.bleed", 1.2, 3.0, "mm"),
        made("ink.near-name", None, 0.0, "", inks=("Kis Cut",), wanted=("Kiss Cut",)),
        made("image.resolution", 96.0, 150.0, "ppi"),
    ]
    return write_letter(findings, "Spring stickers", "spring-stickers.pdf", "Saltmarsh Trust", shop, texts)
