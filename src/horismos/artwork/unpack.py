"""The content of a stream, counted while it is unpacked, whatever its filters (ISO 32000-1, 7.4).

A few bytes can unpack to gigabytes, and can be packed twice. So each filter hands on small parts, and the count
stops it before the memory is full.
"""

import base64
import binascii
import contextlib
import zlib
from collections.abc import Callable, Iterable, Iterator
from typing import Any

import pikepdf
from pikepdf.settings import set_qpdf_limits

from horismos.artwork import limits
from horismos.errors import LimitExceeded

__all__ = ["stream_bytes", "unpacked"]

set_qpdf_limits(
    flate_max_memory=limits.MAX_CONTENT_BYTES, png_max_memory=limits.MAX_CONTENT_BYTES,
    tiff_max_memory=limits.MAX_CONTENT_BYTES, run_length_max_memory=limits.MAX_CONTENT_BYTES,
    max_stream_filters=8, doc_max_warnings=10_000,
)
"""What the library unpacks by itself, object streams and tables, it counts by the same measure."""

PART = 1 << 16
MOST_FILTERS = 8
BETWEEN = 4
"""What lies between two filters may be so many times what may come out at the end."""
TOO_MUCH = "The content unpacks to more than a page may hold."
Parts = Iterator[bytes]


def stream_bytes(stream: Any, most: int = limits.MAX_CONTENT_BYTES) -> bytes:
    """The decoded bytes of a stream, at most ``most`` of them.

    Raises LimitExceeded, or the library's errors where the stream is broken.
    """
    names = filters_of(stream)
    with contextlib.suppress(zlib.error, ValueError):  # what is broken the library reads as far as it can
        if all(name in FILTERS for name in names):
            out = unpacked(stream.read_raw_bytes(), names, most)
            if "/DecodeParms" not in stream and "/DP" not in stream:
                return out
    data = bytes(stream.read_bytes())
    if len(data) > most:
        raise LimitExceeded(TOO_MUCH, "Ask for a simpler file.")
    return data


def filters_of(stream: Any) -> list[str]:
    """The names of a stream's filters, in the order in which they are undone."""
    found = stream.get("/Filter", stream.get("/F"))
    if isinstance(found, pikepdf.Name):
        return [str(found)]
    names = [str(name) for name in found] if isinstance(found, pikepdf.Array) else []
    if len(names) > MOST_FILTERS:
        raise LimitExceeded(f"A stream is packed {len(names)} times.", "Ask for a simpler file.")
    return names


def unpacked(data: bytes, names: Iterable[str], most: int) -> bytes:
    """Bytes with their filters undone. Raises LimitExceeded above ``most`` bytes, ValueError or zlib.error."""
    parts: Parts = (data[i : i + PART] for i in range(0, len(data), PART))
    for name in names:
        parts = _counted(FILTERS[name](parts), most * BETWEEN)
    return b"".join(_counted(parts, most))


def _counted(parts: Parts, most: int) -> Parts:
    total = 0
    for part in parts:
        total += len(part)
        if total > most:
            raise LimitExceeded(TOO_MUCH, "Ask for a simpler file.")
        yield part


def _flate(parts: Parts) -> Parts:
    unpacker = zlib.decompressobj()
    for part in parts:
        rest = part
        while rest and not unpacker.eof:
            yield unpacker.decompress(rest, PART)
            rest = unpacker.unconsumed_tail
    while not unpacker.eof:
        more = unpacker.decompress(unpacker.unconsumed_tail, PART)
        if not more:
            raise zlib.error("The deflated data end too early.")
        yield more


def _run_length(parts: Parts) -> Parts:
    """ISO 32000-1, 7.4.5: up to 127 copies so many bytes and one, from 129 on repeats one, 128 ends."""
    data, at, out = b"".join(parts), 0, bytearray()
    while at < len(data) and data[at] != 128:
        length = data[at]
        if length < 128:
            out += data[at + 1 : at + 2 + length]
            at += 2 + length
        else:
            out += data[at + 1 : at + 2] * (257 - length)
            at += 2
        if len(out) >= PART:
            yield bytes(out)
            out.clear()
    yield bytes(out)


def _hex(parts: Parts) -> Parts:
    digits = b"".join(b"".join(parts).partition(b">")[0].split())
    yield binascii.unhexlify(digits + b"0" * (len(digits) % 2))


def _base85(parts: Parts) -> Parts:
    yield base64.a85decode(b"".join(b"".join(parts).partition(b"~>")[0].split()))


def _lzw(parts: Parts) -> Parts:
    """ISO 32000-1, 7.4.4, with codes that grow one early, as they do without parameters."""
    clear, end = 256, 257
    table: list[bytes] = [bytes([i]) for i in range(256)] + [b"", b""]
    width, kept, bits, before, out = 9, 0, 0, b"", bytearray()
    for part in parts:
        for byte in part:
            kept, bits = (kept << 8 | byte) & 0xFFFFFF, bits + 8
            if bits < width:
                continue
            bits -= width
            code = kept >> bits & (1 << width) - 1
            if code == end:
                yield bytes(out)
                return
            if code == clear:
                del table[258:]
                width, before = 9, b""
                continue
            if code < len(table):
                entry = table[code]
            elif before:
                entry = before + before[:1]
            else:
                raise ValueError("An LZW code stands for nothing.")
            out += entry
            if before and len(table) < 4096:
                table.append(before + entry[:1])
            before = entry
            width = 12 if len(table) >= 2047 else 11 if len(table) >= 1023 else 10 if len(table) >= 511 else 9
            if len(out) >= PART:
                yield bytes(out)
                out.clear()
    yield bytes(out)


FILTERS: dict[str, Callable[[Parts], Parts]] = {
    "/FlateDecode": _flate, "/Fl": _flate, "/LZWDecode": _lzw, "/LZW": _lzw, "/RunLengthDecode": _run_length,
    "/RL": _run_length, "/ASCIIHexDecode": _hex, "/AHx": _hex, "/ASCII85Decode": _base85, "/A85": _base85,
}
