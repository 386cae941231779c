"""Changes painted objects where they stand in the content, and nothing else.

An edit replaces bytes of one run through a stream. A form that is drawn several times gets a
copy of its own for each run that is edited, so that the others stay as they were.
"""

import io
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import count
from typing import Any, BinaryIO

import pikepdf
from pikepdf import Dictionary, Name

from horismos.artwork.boxes import inherited
from horismos.artwork.model import Artwork, ContentStream, ImageObject, Page
from horismos.artwork.read import open_pdf

__all__ = [
    "Edit", "edit_page", "is_inline", "reopened", "replaced", "resources_of_run", "save", "save_large", "unused_names",
    "with_entries",
]


@dataclass(frozen=True)
class Edit:
    """Bytes ``start`` to ``end`` of a stream run, to be replaced by ``text``."""

    start: int
    end: int
    text: bytes


def replaced(data: bytes, edits: Sequence[Edit]) -> bytes:
    """A stream's data with edits carried out. Raises ValueError where two overlap."""
    parts, at = [], 0
    for edit in sorted(edits, key=lambda e: e.start):
        if edit.start < at:
            raise ValueError("Two edits overlap.")
        parts += [data[at : edit.start], edit.text]
        at = edit.end
    return b"".join([*parts, data[at:]])


def _copy(dictionary: Any) -> Any:
    return Dictionary(dictionary) if dictionary is not None else Dictionary()


def with_entries(resources: Any, entries: Mapping[tuple[str, str], Any]) -> Any:
    """A copy of a resource dictionary with entries added; the old one stays as it was."""
    out = _copy(resources)
    fresh: set[str] = set()
    for (category, name), obj in entries.items():
        if category not in fresh:
            old = out.get(category)
            out[category] = _copy(old)
            fresh.add(category)
        out[category]["/" + name] = obj
    return out


def unused_names(pages: Sequence[Page], prefix: str) -> Iterator[str]:
    """Resource names that no content of the pages uses yet: an earlier edit of ours may have taken the first ones."""
    pattern = re.compile(rb"/" + prefix.encode() + rb"(\d+)")
    used = (int(number) for page in pages for stream in page.streams for number in pattern.findall(stream.data))
    yield from (f"{prefix}{number}" for number in count(max(used, default=-1) + 1))


def edit_page(
    pdf: pikepdf.Pdf,
    page: Page,
    edits: Mapping[int, Sequence[Edit]],
    resources: Mapping[tuple[str, str], Any],
) -> None:
    """Carry out edits, by stream run, on a page of a newly opened copy of its own file.

    ``resources`` are added to every stream that is edited.
    """
    target = pdf.pages[page.number - 1].obj
    todo: dict[int, list[Edit]] = {index: list(listed) for index, listed in edits.items()}
    extra: dict[int, dict[tuple[str, str], Any]] = {i: dict(resources) for i in todo}
    names = unused_names([page], "HzForm")
    for index in range(len(page.streams) - 1, 0, -1):
        if index not in todo:
            continue
        stream = page.streams[index]
        name = next(names)
        parent = stream.parent
        form = _edited_form(pdf, page, stream, todo[index], extra[index])
        todo.setdefault(parent, []).append(Edit(*stream.place, f"\n/{name} Do\n".encode()))
        extra.setdefault(parent, {})[("/XObject", name)] = form
    if 0 in todo:
        target.Contents = pdf.make_stream(replaced(page.streams[0].data, todo[0]))
        target.Resources = with_entries(inherited(target, "/Resources"), extra[0])


def _edited_form(
    pdf: pikepdf.Pdf, page: Page, stream: ContentStream, edits: Sequence[Edit],
    entries: Mapping[tuple[str, str], Any],
) -> Any:
    original = pdf.get_object(*stream.form)
    form = pdf.make_stream(replaced(stream.data, edits))
    for key in original.keys():
        if key not in ("/Length", "/Filter", "/DecodeParms", "/Resources"):
            form[key] = original[key]
    own = original.get("/Resources")
    if own is None:
        own = resources_of_run(pdf, page, stream.parent)
    form[Name.Resources] = with_entries(own, entries)
    return form


def resources_of_run(pdf: pikepdf.Pdf, page: Page, index: int) -> Any:
    """The resources that a form without its own inherits from the run that draws it."""
    while index > 0:
        own = pdf.get_object(*page.streams[index].form).get("/Resources")
        if own is not None:
            return own
        index = page.streams[index].parent
    return inherited(pdf.pages[page.number - 1].obj, "/Resources")


def is_inline(page: Page, obj: ImageObject) -> bool:
    """Whether a picture stands in the content itself (ISO 32000-1, 8.9.7)."""
    return page.streams[obj.stream].data[obj.start : obj.end].rstrip().endswith(b"EI")


def save(pdf: pikepdf.Pdf, compress: bool = True, version: str = "") -> bytes:
    """The bytes of a file, the same for the same content; uncompressed it is faster to write and to look at.

    ``version`` is the PDF version that the file says, where that is not to be the least that it needs.
    """
    out = io.BytesIO()
    pdf.save(out, deterministic_id=True, compress_streams=compress, force_version=version)
    return out.getvalue()


def save_large(pdf: pikepdf.Pdf, out: BinaryIO) -> None:
    """The same, written to an open file: what is made of a large file is not held twice."""
    pdf.save(out, deterministic_id=True, compress_streams=True)


def reopened(artwork: Artwork) -> pikepdf.Pdf:
    """A copy of the artwork's file to be changed."""
    return open_pdf(artwork.data, artwork.password)
