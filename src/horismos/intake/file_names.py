"""What a shop's files say by their names: a pattern with fields, and what it reads out of a name."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from difflib import SequenceMatcher
from functools import cached_property
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import Reader, plain
from horismos.orders import FIELDS as ORDER

__all__ = ["COPIES", "CUSTOMER", "TITLE", "NamePattern", "NameRead", "alike"]

CUSTOMER, TITLE, COPIES = "customer", "title", "copies"
MOST_LETTERS = 200
_PART = re.compile(r"\{([^{}]*)\}|([^{}]+)|([{}])")
_TEXT, _WHOLE, _NUMBER = r".+?", r"\d+", r"\d+(?:\.\d+)?"
_YES: Mapping[str, bool] = MappingProxyType({"yes": True, "true": True, "no": False, "false": False})


def _expression(key: str) -> str:
    kind = "integer" if key == COPIES else ORDER[key].read.schema.get("type") if key in ORDER else "string"
    if kind == "boolean":
        return "|".join(_YES)
    return {"integer": _WHOLE, "number": _NUMBER}.get(str(kind), _TEXT)


@dataclass(frozen=True)
class NameRead:
    """What a name says; empty where it does not. ``order`` holds keys of an order, as JSON."""

    customer: str = ""
    title: str = ""
    order: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class NamePattern:
    """A pattern such as ``{customer}_{title}_{width_mm}x{height_mm}_{copies}x_{material}``.

    Its fields are customer, title, copies (the quantity) and any key of an order; what stands between them has to
    stand there, in capitals or not. Raises BadValue for an unknown or unclosed field, one that stands there twice, and
    for a pattern without any.
    """

    text: str

    def __post_init__(self) -> None:
        """Refuse what cannot be meant."""
        keys = self.keys
        known = [CUSTOMER, TITLE, COPIES, *ORDER]
        if len(self.text) > MOST_LETTERS or not self.text.isprintable():
            raise BadValue(f"A pattern is one line of at most {MOST_LETTERS} letters.")
        if any(odd for _, _, odd in _PART.findall(self.text)):
            raise BadValue(f"The pattern “{self.text}” has a brace that does not close.", "Write a field as {title}.")
        for key in keys:
            if key not in known:
                raise BadValue(f"The pattern has no field “{{{key}}}”.", f"Known: {', '.join(known)}.")
        if not keys or len(set(keys)) < len(keys) or {COPIES, "quantity"} <= set(keys):
            raise BadValue(f"The pattern “{self.text}” has no field, or one twice.", "Name each field once.")

    @property
    def keys(self) -> tuple[str, ...]:
        """Its fields, in their order."""
        return tuple(m[1] for m in _PART.finditer(self.text) if m[1] is not None)

    @cached_property
    def _whole(self) -> re.Pattern[str]:
        made = "".join(
            f"(?P<{m[1]}>{_expression(m[1])})" if m[1] is not None else re.escape(m[2])
            for m in _PART.finditer(self.text)
        )
        return re.compile(made, re.IGNORECASE | re.DOTALL)

    def read(self, file_name: str, materials: Mapping[str, str]) -> NameRead | None:
        """What a file's name says, without its last ending; None where it does not fit, or says what cannot be.

        ``materials`` are the titles of those that there are, by their ids: a name may say either.

        >>> said = NamePattern("{title}_{width_mm}x{height_mm}_{copies}x").read("Seal_40x25.5_12x.pdf", {})
        >>> said.title, said.order
        ('Seal', {'width_mm': 40.0, 'height_mm': 25.5, 'quantity': 12})
        """
        stem = file_name.rpartition(".")[0] or file_name
        if len(stem) > 2 * MOST_LETTERS:
            return None
        found = self._whole.fullmatch(stem)
        if found is None:
            return None
        said = {key: value.strip() for key, value in found.groupdict().items()}
        customer, title = said.pop(CUSTOMER, ""), said.pop(TITLE, "")
        try:
            return NameRead(customer, title, dict(_ordered(key, value, materials) for key, value in said.items()))
        except BadValue:
            return None


def _ordered(key: str, text: str, materials: Mapping[str, str]) -> tuple[str, Any]:
    """A key of an order with what a name says of it, as JSON. Raises BadValue for what cannot be."""
    key = "quantity" if key == COPIES else key
    read: Reader = ORDER[key].read
    kind = read.schema.get("type")
    value: Any = text
    if kind == "boolean":
        value = _YES[text.lower()]
    elif kind in ("integer", "number"):
        value = float(text)
    elif kind == "array":
        value = [one for one in re.split(r"[+,]", text.lower()) if one]
    elif key == "material":
        value = next((id for id, title in materials.items() if text.casefold() in (id, title.casefold())), None)
        if value is None:
            raise BadValue(f"There is no material “{text}”.")
    else:
        value = text.lower()
    return key, plain(read(key, value))


_NEWER = re.compile(
    r"(?<![a-z0-9])(v(er(sion)?)?[ ._-]?\d+|new|neu|final|fixed|corrected|correction|korr(ektur)?|rev(ised|ision)?"
    r"|copy|kopie)(?![a-z0-9])"
)
"""What customers add to a name when they send a file again [practice]."""
_FIGURE = re.compile(r"(?<![a-z0-9])\d{1,3}(?![a-z0-9])")
WORD = 3
"""[ours] what is shorter is no word that is typed anew otherwise."""
NAMES_ALIKE = 0.86
"""[ours] so much of two names is the same where one may be the other, typed anew."""


def alike(one: str, other: str) -> bool:
    """Whether two file names may be those of a file and of its correction.

    A figure that only one of them has may count the correction; names that both have one are those of a series.

    >>> alike("tern-stickers.pdf", "Tern stickers_v2 FINAL.pdf"), alike("tern.pdf", "seal.pdf")
    (True, False)
    >>> alike("tern.pdf", "tern 2.pdf"), alike("tern 1.pdf", "tern 2.pdf"), alike("tern 1.pdf", "tern 1 new.pdf")
    (True, False, True)
    """
    first, second = _stem(one), _stem(other)
    figures = _FIGURE.findall(first), _FIGURE.findall(second)
    if len(figures[0]) == len(figures[1]) and figures[0] != figures[1]:
        return False
    if figures[0] != figures[1]:
        first, second = (" ".join(_FIGURE.sub(" ", stem).split()) or stem for stem in (first, second))
    parts = first.split(), second.split()
    if len(parts[0]) == len(parts[1]) and any(
        a != b and max(len(a), len(b)) < WORD for a, b in zip(*parts, strict=True)
    ):
        return False  # as “poster a” and “poster b”
    return bool(first and second) and (
        first == second or SequenceMatcher(None, first, second, autojunk=False).ratio() >= NAMES_ALIKE
    )


def _stem(name: str) -> str:
    plain = re.sub(r"[\s._()\[\]-]+", " ", name.rsplit(".", 1)[0].casefold())
    return " ".join(_NEWER.sub(" ", plain).split()) or " ".join(plain.split())
