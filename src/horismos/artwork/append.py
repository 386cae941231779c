"""Writes a changed file as an update behind the bytes of the old one (ISO 32000-1, 7.5.6).

A large file is not written anew for a name that changes, and what did not change is the same bytes beyond doubt.
"""

import hashlib
import re
import zlib
from collections.abc import Iterator
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name, Stream

from horismos.artwork.model import Artwork
from horismos.artwork.read import opened

__all__ = ["appended", "updated_numbers"]

LEAST_BYTES = 8_000_000
"""[ours] a smaller file is written anew: it is quick, and leaves nothing behind."""
SMALL_BYTES = 4_000_000
"""[ours] a stream whose data is compared, and not only what its dictionary says of it."""
START = re.compile(rb"startxref\s+(\d+)\s+%%EOF\s*$")
MARK = b"\n%Horismos: what follows was added\n"


def appended(pdf: pikepdf.Pdf, artwork: Artwork) -> bytes | None:
    """The artwork's bytes with what was changed in its open copy behind them.

    None where it has to be written anew: it is small, locked or damaged, or is not laid out plainly.
    """
    data = artwork.data
    if len(data) < LEAST_BYTES or artwork.encrypted or artwork.repairs or not data.startswith(b"%PDF-"):
        return None
    found = START.search(data, max(len(data) - 2048, 0))
    if found is None or int(found[1]) >= len(data):
        return None
    start = int(found[1])
    with opened(data) as original:
        changed = list(_changed(pdf, original))
    if not changed:
        return None
    out, places = bytearray(MARK), {}
    for obj in changed:
        places[obj.objgen[0]] = (len(data) + len(out), obj.objgen[1])
        out += _written(obj)
    plain = data[start : start + 4] == b"xref"
    own = max(*places, len(pdf.objects)) + 1
    size = own + (not plain)
    given = pdf.trailer.get("/ID")
    identity = hashlib.md5(bytes(out), usedforsecurity=False).digest()
    first = bytes(given[0]) if isinstance(given, Array) and len(given) else identity
    trailer = Dictionary(
        Size=size, Root=pdf.trailer["/Root"], Prev=start, ID=Array([pikepdf.String(first), pikepdf.String(identity)])
    )
    if "/Info" in pdf.trailer:
        trailer.Info = pdf.trailer["/Info"]
    here = len(data) + len(out)
    out += _table(places, trailer) if plain else _stream_of_places({**places, own: (here, 0)}, own, trailer)
    out += f"startxref\n{here}\n%%EOF\n".encode()
    return data + bytes(out)


def _changed(pdf: pikepdf.Pdf, original: pikepdf.Pdf) -> Iterator[Any]:
    """The objects of an open copy that the original does not have, or has otherwise."""
    before = {obj.objgen: obj for obj in original.objects if isinstance(obj, pikepdf.Object) and obj.is_indirect}
    for obj in pdf.objects:
        if not isinstance(obj, pikepdf.Object) or not obj.is_indirect:
            continue  # a number or a name of its own: nothing changes these
        old = before.get(obj.objgen)
        if old is None or not _same(obj, old):
            yield obj


def _same(new: Any, old: Any) -> bool:
    if not isinstance(new, Stream):
        return bool(new.unparse(resolved=True) == old.unparse(resolved=True))
    if not isinstance(old, Stream) or _dictionary(new).unparse() != _dictionary(old).unparse():
        return False
    if int(old.get("/Length", 0)) > SMALL_BYTES:
        return True
    return bytes(new.get_raw_stream_buffer()) == bytes(old.get_raw_stream_buffer())


def _dictionary(stream: Any) -> Any:
    out = Dictionary({key: stream[key] for key in stream.keys() if key != "/Length"})
    return out


def _written(obj: Any) -> bytes:
    head = f"{obj.objgen[0]} {obj.objgen[1]} obj\n".encode()
    if not isinstance(obj, Stream):
        return head + bytes(obj.unparse(resolved=True)) + b"\nendobj\n"
    raw, said = bytes(obj.get_raw_stream_buffer()), _dictionary(obj)
    if "/Filter" not in said:
        raw = zlib.compress(raw, 6)
        said.Filter = Name.FlateDecode
    said.Length = len(raw)
    return head + bytes(said.unparse()) + b"\nstream\n" + raw + b"\nendstream\nendobj\n"


def _runs(numbers: list[int]) -> Iterator[list[int]]:
    run: list[int] = []
    for number in sorted(numbers):
        if run and number != run[-1] + 1:
            yield run
            run = []
        run.append(number)
    yield run


def _table(places: dict[int, tuple[int, int]], trailer: Any) -> bytes:
    """A cross-reference table (7.5.4) and its trailer."""
    out = b"xref\n"
    for run in _runs(list(places)):
        out += f"{run[0]} {len(run)}\n".encode()
        out += b"".join(f"{places[n][0]:010d} {places[n][1]:05d} n \n".encode() for n in run)
    return out + b"trailer\n" + bytes(trailer.unparse()) + b"\n"


def _stream_of_places(places: dict[int, tuple[int, int]], own: int, trailer: Any) -> bytes:
    """A cross-reference stream (7.5.8), which an update of a file that has such must use too."""
    rows = b"".join(
        b"\x01" + place.to_bytes(8, "big") + generation.to_bytes(2, "big")
        for _, (place, generation) in sorted(places.items())
    )
    said = Dictionary(trailer)
    said.Type, said.W = Name.XRef, Array([1, 8, 2])
    said.Index = Array([value for run in _runs(list(places)) for value in (run[0], len(run))])
    said.Length = len(rows)
    return f"{own} 0 obj\n".encode() + bytes(said.unparse()) + b"\nstream\n" + rows + b"\nendstream\nendobj\n"


def updated_numbers(before: bytes, after: bytes) -> frozenset[int] | None:
    """The numbers of the objects that stand in an update of ours behind the same bytes; None where there is none.

    What looks like an object within a stream is counted too: so never too few.
    """
    if len(after) <= len(before) or after[len(before) : len(before) + len(MARK)] != MARK:
        return None
    if not after.startswith(before):
        return None
    found = re.findall(rb"(?<![0-9])([0-9]{1,9}) [0-9]{1,5} obj\b", after[len(before) :])
    return frozenset(map(int, found))
