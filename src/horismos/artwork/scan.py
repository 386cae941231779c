"""Splits a content stream into path objects, operators and operands (ISO 32000-1, 7.8.2).

Compiled expressions take a whole run of path operators at once, so that the work does not grow
with the points of a path but with the number of paths.
"""

import re
import zlib
from typing import Any

from horismos.artwork.limits import MAX_NESTING
from horismos.errors import LimitExceeded

__all__ = [
    "NUMBER", "OPERATION", "PATH_OR_OPERATION", "TEXT", "TEXT_BLOCK", "Name", "end_of_inline_image", "operands",
    "shown_strings", "token",
]

WS = rb"\x00\t\n\f\r "
END = rb"(?![^" + WS + rb"()<>\[\]{}/%])"

PATH = (
    rb"((?:[-+.0-9" + WS + rb"]*+(?:re|[mlcvyh])" + END + rb")++)"
    rb"(?:[" + WS + rb"]*+(W\*?)" + END + rb")?"
    rb"(?:[" + WS + rb"]*+(f\*?|F|S|s|B\*?|b\*?|n)" + END + rb")?"
)
"""A run of path construction, perhaps a clipping and a painting operator behind it."""

_OPERATION = rb"((?:[-+.0-9" + WS + rb"]++|/[^" + WS + rb"()<>\[\]{}/%]*+)*+)([A-Za-z'\"][A-Za-z0-9*]*+)"
OPERATION = re.compile(_OPERATION)
"""Operands that are numbers and names only, and the operator behind them."""
PATH_OR_OPERATION = re.compile(rb"(?:" + PATH + rb")|(?:" + _OPERATION + rb")")
"""Either: groups 1 to 3 as of a path, or 4 and 5 as of an operation."""

_NUM = rb"([-+.0-9]++)[" + WS + rb"]++"
_STRING = rb"\((?:[^()\\]|\\.)*+\)|<[0-9A-Fa-f" + WS + rb"]*+>"
TEXT = re.compile(
    rb"[" + WS + rb"]*+(?:"
    + _NUM + _NUM + rb"T([dD])"
    + rb"|/([^" + WS + rb"()<>\[\]{}/%]*+)[" + WS + rb"]++" + _NUM + rb"Tf"
    + rb"|((?:[-+.0-9]++[" + WS + rb"]++){6})Tm"
    + rb"|(" + _STRING + rb")[" + WS + rb"]*+Tj"
    + rb"|(\[(?:[-+.0-9" + WS + rb"]++|" + _STRING + rb")*+\])[" + WS + rb"]*+TJ"
    + rb"|(ET)"
    + rb")" + END,
    re.DOTALL,
)
"""One plain text operator inside a text object: Td or TD (1 to 3), Tf (4, 5), Tm (6), Tj (7), TJ (8), ET (9)."""

SIMPLE = re.compile(rb"[-+.0-9" + WS + rb"]++|/[^" + WS + rb"()<>\[\]{}/%]*+")
NUMBER = re.compile(rb"[-+]*(?:\d+\.?\d*|\.\d+)")
PLAIN_STRING = re.compile(rb"\((?:[^()\\]|\\.)*+\)", re.DOTALL)
COMMENT = re.compile(rb"%[^\r\n]*")
OPERAND = re.compile(rb"/[^" + WS + rb"()<>\[\]{}/%]*|[-+.0-9]+")
WORD = re.compile(rb"[A-Za-z'\"][A-Za-z0-9*]*")
INLINE_END = re.compile(rb"(?:[" + WS + rb"]|(?<=>))EI(?=[" + WS + rb"]|$)")
BINARY = re.compile(rb"[^\t\n\f\r -~]")
CHUNK, MOST_INLINE = 4096, 1 << 20
ESCAPES = {b"n": b"\n", b"r": b"\r", b"t": b"\t", b"b": b"\b", b"f": b"\f"}


class Name(str):
    """A name object of PDF, without its solidus, its ``#`` escapes resolved."""

    __slots__ = ()


def _name(raw: bytes) -> Name:
    if b"#" in raw:
        raw = re.sub(rb"#([0-9A-Fa-f]{2})", lambda m: bytes([int(m[1], 16)]), raw)
    return Name(raw.decode("utf-8", "surrogateescape"))


def _number(raw: bytes) -> float:
    try:
        return float(raw)
    except ValueError:
        match = NUMBER.search(raw)
        return float(re.sub(rb"^[-+]*(?=[-+])", b"", match[0])) if match else 0.0


def operands(raw: bytes) -> list[Any]:
    """The numbers and names in a stretch of content that holds nothing else."""
    if b"/" not in raw:
        try:
            return [float(part) for part in raw.split()]
        except ValueError:
            pass
    return [_name(p[1:]) if p[:1] == b"/" else _number(p) for p in OPERAND.findall(raw)]


_FONT = rb"/([^" + WS + rb"()<>\[\]{}/%]*+)[" + WS + rb"]++" + _NUM + rb"Tf[" + WS + rb"]++"
TEXT_BLOCK = re.compile(
    rb"[" + WS + rb"]*+BT[" + WS + rb"]++(?:" + _FONT + rb")?"
    + rb"(?:" + _NUM + _NUM + rb"Td|((?:[-+.0-9]++[" + WS + rb"]++){6})Tm)[" + WS + rb"]++(?:" + _FONT + rb")?"
    + rb"(?:(" + _STRING + rb")[" + WS + rb"]*+Tj|(\[(?:[-+.0-9" + WS + rb"]++|" + _STRING + rb")*+\])["
    + WS + rb"]*+TJ)[" + WS + rb"]++ET" + END,
    re.DOTALL,
)
"""A whole text object as drawing programs write most of them: font (1, 2 or 6, 7), place (3, 4 or 5), and one
string (8) or array (9) shown."""


def shown_strings(raw: bytes) -> list[Any]:
    """The strings and the numbers between them in the operand of a showing operator, Tj or TJ.

    >>> shown_strings(b"[(A) -20 <42>]")
    [b'A', -20.0, b'B']
    """
    values, _, _ = token(raw, 0)
    if values and isinstance(values[0], list):
        return values[0]
    return values


def _string(data: bytes, pos: int) -> tuple[bytes, int]:
    match = PLAIN_STRING.match(data, pos)
    if match:
        body, end = match[0][1:-1], match.end()
    else:
        depth, end = 0, pos
        while end < len(data):
            byte = data[end : end + 1]
            if byte == b"\\":
                end += 1
            elif byte == b"(":
                depth += 1
            elif byte == b")":
                depth -= 1
            end += 1
            if depth == 0:
                break
        body = data[pos + 1 : end - 1]
    if b"\\" in body:
        body = re.sub(rb"\\([0-7]{1,3}|\r\n|.)", _unescape, body, flags=re.DOTALL)
    return body, end


def _unescape(match: re.Match[bytes]) -> bytes:
    what = match[1]
    if what.isdigit():
        return bytes([int(what, 8) & 255])
    if what in (b"\r\n", b"\n", b"\r"):
        return b""
    return ESCAPES.get(what, what)


def token(data: bytes, pos: int, depth: int = 0) -> tuple[list[Any], int, bool]:
    """Read on from a place where no operation stands.

    Gives the operands found (none for a comment or white space), the place behind them, and
    whether what stood there was regular. Raises LimitExceeded on deep nesting.
    """
    if depth > MAX_NESTING:
        raise LimitExceeded("The content nests arrays or dictionaries too deeply.")
    match = SIMPLE.match(data, pos)
    if match:
        return operands(match[0]), match.end(), True
    byte = data[pos : pos + 1]
    if byte == b"%":
        comment = COMMENT.match(data, pos)
        return [], comment.end() if comment else pos + 1, True
    if byte == b"(":
        body, end = _string(data, pos)
        return [body], end, True
    if data.startswith(b"<<", pos):
        items, end, regular = _until(data, pos + 2, b">>", depth)
        keys = [str(k) for k in items[::2]]
        return [dict(zip(keys, items[1::2], strict=False))], end, regular
    if byte == b"<":
        end = data.find(b">", pos)
        end = len(data) if end < 0 else end
        digits = re.sub(rb"[^0-9A-Fa-f]", b"", data[pos + 1 : end])
        return [bytes.fromhex((digits + b"0" * (len(digits) % 2)).decode())], end + 1, True
    if byte == b"[":
        items, end, regular = _until(data, pos + 1, b"]", depth)
        return [items], end, regular
    word = WORD.match(data, pos)
    if word:
        value = {b"true": True, b"false": False}.get(word[0])
        return [value], word.end(), True
    return [], pos + 1, False


def _until(data: bytes, pos: int, closing: bytes, depth: int) -> tuple[list[Any], int, bool]:
    items: list[Any] = []
    all_regular = True
    while pos < len(data):
        if data.startswith(closing, pos):
            return items, pos + len(closing), all_regular
        found, pos, regular = token(data, pos, depth + 1)
        all_regular &= regular
        items += found
    return items, pos, False


def end_of_inline_image(data: bytes, pos: int, length: int | None, filter_name: str = "") -> int:
    """The place behind the ``EI`` of an inline image whose data begin at ``pos``.

    ``length`` is the number of data bytes where the image is not compressed, else None. A
    deflated image says itself where it ends; of others the ``EI`` is taken behind which the
    content goes on as content does.
    """
    start = pos + length if length else pos
    if filter_name in ("FlateDecode", "Fl"):
        unpacker = zlib.decompressobj()
        try:
            for at in range(pos, len(data), CHUNK):
                unpacker.decompress(data[at : at + CHUNK], MOST_INLINE)
                while unpacker.unconsumed_tail:
                    unpacker.decompress(unpacker.unconsumed_tail, MOST_INLINE)
                if unpacker.eof:
                    start = min(at + CHUNK, len(data)) - len(unpacker.unused_data) - 1
                    break
        except zlib.error:
            pass
    for match in INLINE_END.finditer(data, max(start, pos - 1)):
        if not BINARY.search(data[match.end() : match.end() + 24]):
            return match.end()
    return len(data)
