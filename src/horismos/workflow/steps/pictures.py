"""Pictures of pages and of findings, as PNG; the pages of this child stay open."""

from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import asdict
from pathlib import Path
from typing import Any

import numpy as np

from horismos.artwork import Artwork, Page, line_objects
from horismos.artwork.kinds import FileKind
from horismos.artwork.limits import MAX_PAGES
from horismos.artwork.read import read_boxes
from horismos.artwork.sorting import colour_on_white
from horismos.artwork.views import layer_alone, page_whole
from horismos.checking import Finding, Report
from horismos.comparing.difference import picture_apart
from horismos.destinations import Destination
from horismos.errors import NotFound
from horismos.intake import kind_of
from horismos.palette import STOP, rgb
from horismos.paths.box import Bounds
from horismos.rendering import PageView
from horismos.rendering.png import png_of
from horismos.workflow.documents import evidence_of
from horismos.workflow.showing.inks import PlatesShown, section_shown
from horismos.workflow.steps.stored import Content, StoredCase, artwork_of, case_of

__all__ = ["apart", "evidence", "page_picture", "section", "tile", "view"]

OPEN_PAGES = 6
FULL_DELTA_E = 25.0
"""[ours] from here on a difference is shown in full red; what is just seen is a light one."""
Tell = Callable[[float, str], None]
_open: OrderedDict[tuple[int, ...], PageView] = OrderedDict()
"""By what a file is, since in a jail two files come by one path."""


def view(content: Content, page_number: int, destination: Destination, name: str, tell: Tell) -> bytes:
    """The PDF of a view of a page: ``art``, ``seen`` (with its lines), ``whole``, ``layer-N`` or ``layer-none``.

    Raises NotFound.
    """
    artwork = artwork_of(content)
    page = artwork.pages[min(page_number, len(artwork.pages)) - 1]
    return _made(artwork, page, destination, name)


def _made(artwork: Artwork, page: Page, destination: Destination, name: str) -> bytes:
    if name == "whole":
        return page_whole(artwork, page)
    if name == "art":
        return colour_on_white(artwork, page, line_objects(artwork, page, destination), destination)
    if name == "seen":
        return colour_on_white(artwork, page, (), destination)
    what, _, number = name.partition("-")
    if what == "layer" and number == "none":
        return layer_alone(artwork, page, None)
    if what == "layer" and number.isdecimal() and int(number) < len(artwork.layers):
        return layer_alone(artwork, page, int(number))
    raise NotFound(f"There is no view “{name}”.")


def tile(path: Path, area: Bounds, ppi: float, tell: Tell) -> bytes:
    """A part of a kept view. Pages stay open, since opening a heavy one takes longer than a tile."""
    stat = path.stat()
    key = (stat.st_dev, stat.st_ino, stat.st_size, stat.st_mtime_ns)
    known = _open.get(key)
    if known is None:
        data = path.read_bytes()
        known = _open[key] = PageView(data, *read_boxes(data))
    _open.move_to_end(key)
    while len(_open) > OPEN_PAGES:
        _open.popitem(last=False)[1].close()
    return png_of(known.render(area, ppi))


def apart(before: Content, after: Content, page_number: int, destination: Destination, tell: Tell) -> bytes:
    """The rendered difference of the art of two revisions over the media box: white where none, the redder the more."""
    seen = []
    for content in (before, after):
        artwork = artwork_of(content)
        page = artwork.pages[min(page_number, len(artwork.pages)) - 1]
        seen.append((artwork, page, line_objects(artwork, page, destination)))
    far = np.clip(picture_apart(seen[0], seen[1]) / FULL_DELTA_E, 0, 1)[..., None]
    red = np.array(rgb(STOP), np.float32)
    return png_of(np.round(255 + far**0.5 * (red - 255)).astype(np.uint8))


def page_picture(content: Content, number: int, pixels: int, tell: Tell) -> bytes:
    """One page of a PDF, of about so many pixels. Raises NotFound where there is no such page."""
    data = content.read()
    if kind_of(data) is not FileKind.PDF or not 1 <= number <= MAX_PAGES:
        raise NotFound("That is no page of a PDF.")
    try:
        boxes, user_unit = read_boxes(data, number)
    except IndexError:
        raise NotFound(f"The file has no page {number}.") from None
    with PageView(data, boxes, user_unit, number) as opened:
        return png_of(opened.overview(pixels)[0])


def evidence(
    stored: StoredCase, report: Mapping[str, Any], key: str, candidate: int | None, size: tuple[int, int], tell: Tell
) -> bytes:
    """A picture of the worst place of a finding, or of a candidate of it, from 0. Raises NotFound where none is."""
    finding: Finding | None = next((f for f in Report.from_json(report).findings if f.key == key), None)
    if finding is None:
        raise NotFound("That finding is not there any more.", "Look at the newest check.")
    if candidate is not None and candidate >= len(finding.candidates):
        raise NotFound("That is no candidate any more.", "Look at the newest check.")
    with evidence_of(case_of(stored), finding.page) as pictures:
        if candidate is None:
            return png_of(pictures.of(finding, size))
        return png_of(pictures.picture(finding.candidates[candidate].where[:1], size=size))


def section(
    stored: StoredCase, plates: tuple[PlatesShown, Path] | None, start: tuple[float, float],
    end: tuple[float, float], tell: Tell,
) -> dict[str, Any]:
    """The material cut open along a line; the tints of the plates lie in a file of ours."""
    known = (plates[0], np.load(plates[1], mmap_mode="r")) if plates else None
    return asdict(section_shown(case_of(stored), known, start, end))
