"""The texts of a proof to sign, all in one place, so that a translation changes nothing else."""

from collections.abc import Mapping
from decimal import Decimal
from types import MappingProxyType

from num2words import num2words

from horismos.roles import LineRole

__all__ = ["DOES", "length_in_words", "say"]

DOES: Mapping[LineRole, str] = MappingProxyType({
    LineRole.KISS_CUT: "cuts the film and leaves the carrier whole: the piece peels off",
    LineRole.THROUGH_CUT: "cuts through everything: the piece falls out",
    LineRole.PERFORATION: "is cut with ties between, so that it tears off by hand",
    LineRole.BACK_CUT: "slits the carrier from behind, so that it comes off easily",
    LineRole.CREASE: "is pressed, not cut: it folds there",
})
"""What each line does, as a customer would say it."""
TEXTS: Mapping[str, str] = MappingProxyType({
    "title": "Proof to sign: {job}",
    "document": "Proof {job}",
    "foot": "{job} · revision {revision} · {print}",
    "opening": (
        "This is how we will print and cut your artwork. Please look at it, sign below and send it back. "
        "We begin when we have your yes."
    ),
    "customer": "Customer",
    "no customer": "–",
    "file": "File",
    "size": "Finished size",
    "size of": "{w} × {h} mm ({wide} wide, {high} high)",
    "pieces": "Pieces",
    "material": "Material",
    "seen": "Seen",
    "seen from front": "from the front",
    "seen from through": "through clear media or glass",
    "scale": "Drawn at {percent} % of its size. Colours are shown as on a screen; they are no colour proof.",
    "lines": "What will be cut",
    "line": "{role}, ink “{ink}”: {does}. {contours}, {long} mm.",
    "ties": " Cut {cut:g} mm, tie {tie:g} mm.",
    "no lines": "Nothing is cut.",
    "ordered": "Ordered, and not there: {roles}.",
    "changed": "What we changed in your file",
    "unchanged": "We changed nothing in your file.",
    "sign": "Your answer",
    "yes": "Print and cut it as shown",
    "no": "Do not begin yet; this has to be changed:",
    "name": "Name",
    "date": "Date",
    "signature": "Signature",
    "letter subject": "Proof to sign: “{job}”",
    "letter": (
        "{greeting}\n\nyour artwork “{job}” is ready to be printed and cut. The proof that comes with this letter "
        "shows it as we will print it, with each line as it will be cut. Please look at it, sign it and send it "
        "back: we begin when we have your yes.\n\n{regards}\n"
    ),
})


def say(key: str, **fills: object) -> str:
    """A text with its words in it."""
    return TEXTS[key].format(**fills)


def length_in_words(mm: float) -> str:
    """A length in words: whole millimetres, with a tenth where there is one.

    >>> length_in_words(1342), length_in_words(50.5), length_in_words(0.04)
    ('one thousand three hundred and forty-two millimetres', 'fifty point five millimetres', 'zero millimetres')
    """
    tenths = round(mm * 10)
    said = num2words(Decimal(tenths) / 10 if tenths % 10 else tenths // 10)
    return f"{said.replace(',', '')} {'millimetre' if tenths == 10 else 'millimetres'}"
