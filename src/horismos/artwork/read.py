"""Opens a PDF and reads its pages. Strict where it can be; what it had to mend it says."""

import gc
import io
import os
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, BinaryIO

import pikepdf

from horismos.artwork import limits
from horismos.artwork.active import active_parts
from horismos.artwork.boxes import boxes_of, inherited
from horismos.artwork.interpret import ContentInterpreter
from horismos.artwork.layers import layers_of
from horismos.artwork.model import Artwork, Boxes, Damage, Font, Page, Repair
from horismos.artwork.notes import made_of, pulled_in, spread
from horismos.artwork.resources import ResourceCache
from horismos.artwork.unpack import stream_bytes
from horismos.errors import CannotRead, LimitExceeded, Locked
from horismos.units import MM_PER_POINT

__all__ = ["open_pdf", "opened", "page_content", "read", "read_boxes", "read_bytes", "read_open"]

BROKEN = (
    pikepdf.PdfError, RecursionError, zlib.error, ValueError, TypeError, KeyError, IndexError,
    AttributeError, OverflowError, RuntimeError,
)
"""What the reading library and a dictionary of the wrong shape can raise."""
HEAD_BYTES = 1024
"""[standard] ISO 32000-1, implementation note: the header stands within the first 1024 bytes."""


def read(path: Path, password: str = "") -> Artwork:
    """Read a file. Raises CannotRead (or Locked, LimitExceeded) naming the file and a next step."""
    try:
        size = path.stat().st_size
        if size > limits.MAX_FILE_BYTES:
            raise LimitExceeded(f"{path.name} is larger than 2 GB.", "Ask for a smaller file.")
        data = path.read_bytes()
    except OSError as error:
        raise CannotRead(f"{path.name} cannot be opened: {error.strerror}.") from None
    try:
        return read_bytes(data, password)
    except CannotRead as error:
        raise type(error)(f"{path.name}: {error.message}", error.next_step) from error


def open_pdf(data: bytes, password: str = "") -> pikepdf.Pdf:
    """Open the bytes of a PDF, what its annotations print made part of the pages.

    Raises CannotRead or Locked.
    """
    pdf = opened(data, password)
    _merge_annotations(pdf)
    return pdf


def opened(data: bytes, password: str = "") -> pikepdf.Pdf:
    """Open the bytes of a PDF as they are. Raises CannotRead or Locked."""
    if b"%PDF-" not in data[:HEAD_BYTES]:
        what = "The file is empty." if not data else "This is not a PDF."
        raise CannotRead(what, "Ask for the artwork as a PDF.")
    try:
        return pikepdf.open(
            _file_of(data), password=password, suppress_warnings=True, access_mode=pikepdf.AccessMode.mmap
        )
    except pikepdf.PasswordError:
        raise Locked("The file opens only with a password.", "Ask the customer for it.") from None
    except (pikepdf.PdfError, ValueError, RuntimeError) as error:
        reason = str(error).split(":")[-1].strip()
        raise CannotRead(
            f"The file is too damaged to be read ({reason}).", "Ask for it to be sent again."
        ) from None


PRINTS, HIDDEN = 1 << 2, 1 << 1
"""[standard] ISO 32000-1, table 165: bits 3 and 2 of an annotation's flags."""


def printing_annotations(page: Any) -> int:
    """How many annotations of a page print: with the print flag, not hidden, with an appearance."""
    count = 0
    for annotation in page.get("/Annots", []):
        if isinstance(annotation, pikepdf.Dictionary) and "/AP" in annotation:
            flags = int(annotation.get("/F", 0))
            count += bool(flags & PRINTS) and not flags & HIDDEN
    return count


def _merge_annotations(pdf: pikepdf.Pdf) -> list[int]:
    """Make what annotations print a part of the pages; gives how many there were on each.

    The same file gives the same objects each time, so that places found on reading hold when the
    file is opened to be changed.
    """
    try:
        counts = [printing_annotations(page.obj) if "/Annots" in page.obj else 0 for page in pdf.pages]
        if any(counts):
            pdf.flatten_annotations("print")
        return counts
    except BROKEN:
        return []


def _file_of(data: bytes) -> BinaryIO:
    """The bytes as a file in memory that can be mapped: objects are found three times as fast in it.

    A large file is not copied for that.
    """
    if len(data) > MAPPED_BYTES or not hasattr(os, "memfd_create"):
        return io.BytesIO(data)
    file = os.fdopen(os.memfd_create("artwork"), "w+b")
    file.write(data)
    file.flush()
    file.seek(0)
    return file


MAPPED_BYTES = 64_000_000
"""[ours] larger files are read through Python instead."""


@contextmanager
def _uncollected() -> Iterator[None]:
    """Reading makes many values and no cycles: the collector would look at them all for nothing."""
    was_on = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was_on:
            gc.enable()


def read_bytes(data: bytes, password: str = "") -> Artwork:
    """Read the bytes of a PDF. Raises CannotRead, Locked or LimitExceeded."""
    with opened(data, password) as pdf:
        return read_open(pdf, data, password)


def read_open(pdf: pikepdf.Pdf, data: bytes, password: str = "") -> Artwork:
    """Read an open PDF of these bytes; its annotations become part of its pages. Raises CannotRead or LimitExceeded."""
    with _uncollected():
        try:
            active = active_parts(pdf)
            annotations = dict(enumerate(_merge_annotations(pdf), 1))
            layers, numbers = layers_of(pdf)
            if len(pdf.pages) > limits.MAX_PAGES:
                raise LimitExceeded(f"The file has {len(pdf.pages)} pages.", "Ask for fewer.")
            if not len(pdf.pages):
                raise CannotRead("The file has no pages.", "Ask for it to be sent again.")
            cache = ResourceCache(numbers, layers, limits.most_unpacked(len(data)))
            pages = tuple(
                _page(page.obj, i, cache, annotations.get(i, 0)) for i, page in enumerate(pdf.pages, 1)
            )
        except CannotRead:
            raise
        except BROKEN as error:
            raise CannotRead(
                f"The file is too damaged to be read ({error}).", "Ask for it to be sent again."
            ) from None
        repairs = dict.fromkeys(Repair(_said(w), Damage.STRUCTURE) for w in pdf.get_warnings())
        for page in pages:
            repairs.update(dict.fromkeys(page.repairs))
        may = pdf.allow
        forbids = pdf.is_encrypted and not pdf.owner_password_matched and not may.modify_other
        return Artwork(
            data=data, format="pdf", pages=pages, layers=tuple(layers), repairs=tuple(repairs),
            encrypted=pdf.is_encrypted, forbids_changes=forbids, password=password, active=active,
            catalog=frozenset(pdf.Root.keys())
        )


def read_boxes(data: bytes, number: int = 1) -> tuple[Boxes, float]:
    """The boxes and the user unit of one page, without reading its content. Raises CannotRead."""
    with open_pdf(data) as pdf:
        boxes, _, user_unit, _, _ = boxes_of(pdf.pages[number - 1].obj)
    return boxes, user_unit


def _said(warning: Any) -> str:
    """A warning of the reading library without its place in memory."""
    return str(warning).split("): ", 1)[-1].strip()


def _page(page: Any, number: int, cache: ResourceCache, annotations: int) -> Page:
    boxes, rotate, user_unit, matrix, notes = boxes_of(page)
    interpreter = ContentInterpreter(cache, stream_bytes)
    resources = inherited(page, "/Resources")
    content, broken = page_content(page)
    interpreter.run(content, resources, matrix)
    fonts = tuple(Font(f.name, f.embedded) for f in interpreter.fonts.values())
    used = frozenset(i for o in interpreter.objects for i in o.state.layers)
    return Page(
        number=number, boxes=boxes, rotate=rotate, user_unit=user_unit, matrix=matrix,
        objects=tuple(interpreter.objects), streams=tuple(interpreter.streams), clips=tuple(interpreter.clips),
        ink_names=tuple(interpreter.ink_names), fonts=fonts, layers_used=used,
        repairs=(*(Repair(said, Damage.PAGE) for said in notes), *broken, *interpreter.repairs),
        groups=tuple(interpreter.groups), annotations=annotations, unrestored=interpreter.unrestored,
        pulled_in_mm=pulled_in(page) * MM_PER_POINT * user_unit, spread_mm=spread(page) * MM_PER_POINT * user_unit,
        made=made_of(page)
    )


def page_content(page: Any) -> tuple[bytes, list[Repair]]:
    """The content of a page, its parts joined (ISO 32000-1, 7.8.2), and what was unreadable."""
    contents = page.get("/Contents")
    if contents is None:
        return b"", []
    streams = list(contents) if isinstance(contents, pikepdf.Array) else [contents]
    parts: list[bytes] = []
    notes: list[Repair] = []
    total = 0
    for i, stream in enumerate(streams, 1):
        try:
            part = stream_bytes(stream, limits.MAX_CONTENT_BYTES - total)
        except (pikepdf.PdfError, zlib.error, TypeError, AttributeError):
            notes.append(Repair(f"Part {i} of the page's content is unreadable.", Damage.CONTENT, lost=True))
            continue
        total += len(part)
        parts.append(part)
    return b"\n".join(parts), notes
