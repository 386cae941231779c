"""Splits a content stream into path objects, operators and operands (ISO 32000-1, 7.8.2).

Compiled expressions take a whole run of path operators at once, so that the work does not grow
with the points of a path but with the number of paths.
"""

import re
from typing import Any

from horismos.artwork.limits import MAX_NESTING
from horismos.errors import LimitExceeded

__all__ = ["NUMBER", "OPERATION", "PATH", "Name", "end_of_inline_image", "operands", "token"]

WS = rb"\x00\t\n\f\r "
END = rb"(?![^" + WS + rb"()<>\[\]{}/%])"

PATH = re.compile(
    rb"((?:[-+.0-9" + WS + rb"]*+(?:re|[mlcvyh])" + END + rb")++)"
    rb"(?:[" + WS + rb"]*+(W\*?)" + END + rb")?"
    rb"(?:[" + WS + rb"]*+(f\*?|F|S|s|B\*?|b\*?|n)" + END + rb")?"
)
"""A run of path construction, perhaps a clipping and a painting operator behind it."""

OPERATION = re.compile(
    rb"((?:[-+.0-9" + WS + rb"]++|/[^" + WS + rb"()<>\[\]{}/%]*+)*+)([A-Za-z'\"][A-Za-z0-9*]*+)"
)
"""Operands that are numbers and names only, and the operator behind them."""

SIMPLE = re.compile(rb"[-+.0-9" + WS + rb"]++|/[^" + WS + rb"()<>\[\]{}/%]*+")
NUMBER = re.compile(rb"[-+]*(?:\d+\.?\d*|\.\d+)")
PLAIN_STRING = re.compile(rb"\((?:[^()\\]|\\.)*+\)", re.DOTALL)
COMMENT = re.compile(rb"%[^\r\n]*")
OPERAND = re.compile(rb"/[^" + WS + rb"()<>\[\]{}/%]*|[-+.0-9]+")
WORD = re.compile(rb"[A-Za-z'\"][A-Za-z0-9*]*")
INLINE_END = re.compile(rb"[" + WS + rb"]EI(?=[" + WS + rb"]|$)")
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


def end_of_inline_image(data: bytes, pos: int, length: int | None) -> int:
    """The place behind the ``EI`` of an inline image whose data begin at ``pos``.

    ``length`` is the number of data bytes where the image is not compressed, else None.
    """
    match = INLINE_END.search(data, pos + length if length else pos)
    return match.end() if match else len(data)
