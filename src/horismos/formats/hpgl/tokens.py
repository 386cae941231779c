"""Tells the instructions of HP-GL apart, with their numbers; what they mean is not known here."""

import re
from collections.abc import Iterator
from typing import NamedTuple

from horismos.errors import CannotRead

__all__ = ["Instruction", "instructions", "looks_like_hpgl"]

MOST_INSTRUCTIONS = 5_000_000
HEAD_BYTES = 2_000
KNOWN = frozenset(re.findall("..", (
    "INDFSPPUPDPAPRAAARATRTCIBZBREAERIPIRSCPELBVSFSPWPCNPLTPTROIWSIDIDRSRSLSMPSFTFPEPWGEWRARRCOLODTCS"
    "CASSSAESTRWUCRMCBPCPDVTDULUCLAACADANPGCTPMTLXTYT"
)))
ESCAPE = re.compile(r"\x1b[%*&(][^A-Z@]*[A-Z@]|\x1b[.E][^:;]*[:;]?|\x1b%-?\d*[AB]")
STRICT = re.compile(r"\s*([A-Za-z]{2})([^A-Za-z;]*);?")
LOOSE = re.compile(
    r"(?P<text>(?:LB[^\x03]*(?:\x03|$)|PE[^;]*(?:;|$)|CO[^;\d][^;]*(?:;|$)))|(?P<name>[A-Za-z]{2})(?P<rest>[^A-Za-z;]*)",
    re.IGNORECASE,
)
NUMBER = re.compile(r"[-+]?(?:\d+\.?\d*|\.\d+)")


class Instruction(NamedTuple):
    """One instruction: its two letters in capitals, its numbers, and the text of one that takes text."""

    name: str
    numbers: tuple[float, ...] = ()
    text: str = ""


def instructions(data: bytes, strict: bool) -> Iterator[Instruction]:
    """The instructions of a file, in order.

    Strictly, anything that is none raises CannotRead naming the place; otherwise it is passed over, and so
    are the escape sequences that switch a plotter.
    """
    yield from _strict(data) if strict else _loose(ESCAPE.sub("", data.decode("latin-1")))


def _strict(data: bytes) -> Iterator[Instruction]:
    try:
        text = data.decode("ascii").rstrip()
    except UnicodeDecodeError as error:
        raise CannotRead(f"This is not HP-GL (byte {error.start} is not ASCII).") from None
    pos = count = 0
    while pos < len(text):
        match = STRICT.match(text, pos)
        count += 1
        if not match or count > MOST_INSTRUCTIONS:
            raise CannotRead(f"This is not HP-GL (at character {pos}: “{text[pos : pos + 12]}”).")
        try:
            numbers = tuple(float(v) for v in match[2].replace(",", " ").split())
        except ValueError:
            raise CannotRead(f"HP-GL instruction {match[1]} has a broken number.") from None
        yield Instruction(match[1].upper(), numbers)
        pos = match.end()


def _loose(text: str) -> Iterator[Instruction]:
    for count, match in enumerate(LOOSE.finditer(text)):
        if count > MOST_INSTRUCTIONS:
            raise CannotRead("The HP-GL file holds more instructions than a file may.")
        if match["text"]:
            yield Instruction(match["text"][:2].upper(), (), match["text"][2:].rstrip(";\x03"))
        else:
            yield Instruction(match["name"].upper(), tuple(map(float, NUMBER.findall(match["rest"]))))


def looks_like_hpgl(head: bytes) -> bool:
    """Whether the beginning of a file is HP-GL: two-letter instructions that are known."""
    head = head[:HEAD_BYTES]
    found = [instruction.name for instruction in instructions(head, strict=False)]
    begins = ESCAPE.sub("", head.decode("latin-1")).lstrip(" \t\r\n;,\x00\x03")[:2].upper()
    known = sum(name in KNOWN for name in found)
    return len(found) >= 3 and begins == found[0] and found[0] in KNOWN and known >= 0.9 * len(found)
