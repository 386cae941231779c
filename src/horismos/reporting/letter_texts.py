"""The texts of letters to customers, all in one place: what they say, which words go in, and a shop's own instead."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from string import Formatter
from types import MappingProxyType
from typing import Any, NamedTuple

from horismos.errors import BadValue
from horismos.json_readers import object_of
from horismos.reporting.words import WORDS, Words

__all__ = ["FILLED", "TEXTS", "LetterTexts", "Text", "letter_texts_schema"]

MOST_LETTERS = 2_000
FILLED = ("measured", "limit", "count")
"""What goes into the sentences about a finding, with their units."""


class Text(NamedTuple):
    """A text as it ships, what it is for, and the words that go in, which stand in braces."""

    ships: str
    says: str
    fills: tuple[str, ...] = ()


TEXTS: Mapping[str, Text] = MappingProxyType({
    "subject": Text("Your artwork “{job}”", "the subject", ("job",)),
    "greeting": Text("Dear {customer},", "the greeting", ("customer",)),
    "greeting_unnamed": Text("Hello,", "the greeting where no customer is named"),
    "opening": Text(
        "thank you for the file {file}. We have checked it for printing and cutting.", "the opening", ("file",)
    ),
    "must_change": Text(
        "Before we can print and cut it, {points} to be changed.", "what follows it where there are stops", ("points",)
    ),
    "one_point": Text("1 point has", "one stop, in words"),
    "many_points": Text("{count} points have", "several stops, in words", ("count",)),
    "please_look": Text(
        "Nothing keeps us from printing it, but please look at the following.",
        "what follows the opening where there are none",
    ),
    "names": Text("Is: {is}   Should be: {should}", "two names beside each other", ("is", "should")),
    "unnamed": Text("(no name)", "an ink without a name"),
    "spaces": Text("· stands for a space.", "how a space in a name is shown in the PDF"),
    "send_again": Text(
        "How to send it again: please change the points above in your own file and export it as a PDF at its "
        "finished size (100 %), with all text as outlines and every line in its own spot colour. Keep the file's "
        "name and add a number to it, so that we can tell the new one from the old one.", "how to send it again",
    ),
    "unsure": Text(
        "If you are not sure about a point, answer this letter; we can do many of these changes for you.", "an offer"
    ),
    "regards": Text("Kind regards\n{shop}", "the end", ("shop",)),
})


@dataclass(frozen=True)
class LetterTexts:
    """A shop's own texts: of the letter by their keys, of findings by the id of the check. What is not there ships."""

    texts: Mapping[str, str] = field(default_factory=dict)
    checks: Mapping[str, Words] = field(default_factory=dict)

    def say(self, key: str, **fills: str) -> str:
        """A text with its words in it."""
        return self.texts.get(key, TEXTS[key].ships).format(**fills)

    def of_check(self, id: str) -> Words | None:
        """What is said of a finding; None of a check that has no words."""
        return self.checks.get(id) or WORDS.get(id)

    def to_json(self) -> dict[str, Any]:
        """The texts as plain values."""
        return {
            "texts": {key: self.texts[key] for key in TEXTS if key in self.texts},
            "checks": {key: dict(self.checks[key]._asdict()) for key in WORDS if key in self.checks},
        }

    @classmethod
    def from_json(cls, data: object, name: str = "The letter") -> "LetterTexts":
        """Texts as a shop writes them; one that is empty or as it ships is left out. Raises BadValue naming it."""
        said = object_of(data, name, ("texts", "checks"))
        texts = object_of(said.get("texts") or {}, f"{name}: texts", TEXTS)
        checks = object_of(said.get("checks") or {}, f"{name}: checks", WORDS)
        own = {key: _text(f"{name}: {key}", one, TEXTS[key].fills) for key, one in texts.items()}
        of_checks = {}
        for id, one in checks.items():
            words = object_of(one, f"{name}: {id}", Words._fields)
            read = {key: _text(f"{name}: {id}: {key}", words.get(key) or "", FILLED) for key in Words._fields}
            made = Words(**{key: text or getattr(WORDS[id], key) for key, text in read.items()})
            if made != WORDS[id]:
                of_checks[id] = made
        return cls({key: text for key, text in own.items() if text and text != TEXTS[key].ships}, of_checks)


def _text(name: str, value: object, fills: tuple[str, ...]) -> str:
    """A text whose braces hold known words only. Raises BadValue."""
    if not isinstance(value, str) or len(value) > MOST_LETTERS:
        raise BadValue(f"{name} must be a text of at most {MOST_LETTERS} letters.")
    if any(not (letter.isprintable() or letter == "\n") for letter in value):
        raise BadValue(f"{name} holds signs that cannot be printed.", "Write plain text.")
    known = f"Known: {', '.join(f'{{{one}}}' for one in fills)}." if fills else "It has none."
    try:
        parts = list(Formatter().parse(value))
    except ValueError:
        raise BadValue(f"{name} has a brace that does not close.", known) from None
    for _, word, form, turned in parts:
        if word is not None and (word not in fills or form or turned):
            raise BadValue(f"{name} has no word “{{{word}}}” to fill in.", known)
    return value


def letter_texts_schema() -> dict[str, Any]:
    """What a shop's own texts may be, as JSON Schema has it."""
    text = {"type": "string", "maxLength": MOST_LETTERS}
    own = {key: {"description": one.says, **text, "default": one.ships} for key, one in TEXTS.items()}
    of_checks = {
        id: {"type": "object", "additionalProperties": False, "properties": {
            key: {**text, "default": ships} for key, ships in words._asdict().items()
        }}
        for id, words in WORDS.items()
    }
    return {"type": "object", "additionalProperties": False, "properties": {
        "texts": {"description": "the letter's own", "type": "object", "additionalProperties": False,
                  "properties": own},
        "checks": {"description": "what is said of findings, by the check", "type": "object",
                   "additionalProperties": False, "properties": of_checks},
    }}
