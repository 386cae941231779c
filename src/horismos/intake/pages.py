"""Pages of a PDF chosen for a job: one of them, or several as pieces side by side on one page."""

from collections.abc import Sequence
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.boxes import boxes_of, inherited
from horismos.artwork.edit import save
from horismos.artwork.read import open_pdf, opened
from horismos.errors import CannotRead, Locked
from horismos.paths.box import placed, union_bounds
from horismos.paths.matrix import move, multiply, scale
from horismos.units import MM_PER_POINT, user_unit_for

__all__ = ["chosen_pages", "state_boxes", "unlocked"]

GAP_MM = 20.0
"""[ours] between pieces that share a page."""
MOST_PIECES = 200


def chosen_pages(data: bytes, pages: Sequence[int], password: str = "") -> bytes:
    """A PDF of one page. Raises CannotRead for a page that is not there."""
    with open_pdf(data, password) as pdf:
        count = len(pdf.pages)
        for number in pages:
            if not 1 <= number <= count:
                raise CannotRead(f"The file has no page {number}; it has {count}.", "Choose another.")
        if len(pages) > MOST_PIECES:
            raise CannotRead(f"{len(pages)} pages are too many pieces for one job.", "Choose fewer.")
        if len(pages) > 1:
            _gather(pdf, pages)
            keep = len(pdf.pages)
        else:
            keep = pages[0]
        for index in reversed(range(len(pdf.pages))):
            if index != keep - 1:
                del pdf.pages[index]
        pdf.remove_unreferenced_resources()
        return save(pdf)


def state_boxes(page: Any) -> None:
    """State the trim and the bleed box of a page that we made: the page's edge, where they are not said."""
    edge = inherited(page, "/CropBox") or inherited(page, "/MediaBox")
    for key in ("/TrimBox", "/BleedBox"):
        if edge is not None and inherited(page, key) is None:
            page[key] = edge


def unlocked(data: bytes, password: str) -> bytes:
    """The same file without its password. Raises Locked where that is another, CannotRead."""
    try:
        with opened(data, password) as pdf:
            return save(pdf)
    except Locked:
        raise Locked("That is not the file's password.", "Ask the customer again.") from None


def _gather(pdf: pikepdf.Pdf, pages: Sequence[int]) -> None:
    """Add a page that shows others in a row or grid, each as a form at its own size."""
    known = [boxes_of(pdf.pages[n - 1].obj) for n in pages]
    sizes = [(m[2] - m[0], m[3] - m[1]) for m in (b[0].media for b in known)]
    columns = max(1, round(len(pages) ** 0.5))
    cell = max(w for w, _ in sizes) + GAP_MM, max(h for _, h in sizes) + GAP_MM
    rows = -(-len(pages) // columns)
    width, height = columns * cell[0] - GAP_MM, rows * cell[1] - GAP_MM
    unit = user_unit_for(max(width, height))
    k = MM_PER_POINT * unit
    resources, parts = Dictionary(XObject=Dictionary()), []
    trims, bleeds = [], []
    for i, (number, (boxes, _, _, matrix, _)) in enumerate(zip(pages, known, strict=True)):
        form = pdf.pages[number - 1].as_form_xobject(handle_transformations=False)
        form.BBox = Array([*boxes.raw["media"]])
        resources.XObject[f"/P{i}"] = pdf.make_indirect(form)
        x = i % columns * cell[0] - boxes.media[0]
        y = height - (i // columns) * cell[1] - sizes[i][1] - boxes.media[1]
        to_units = multiply(multiply(matrix, move(x, y)), scale(1 / k))
        parts.append(f"q {' '.join(f'{v:.8f}' for v in to_units)} cm /P{i} Do Q")
        to_page = (1 / k, 0, 0, 1 / k, x / k, y / k)
        trims.append(placed(boxes.trim, to_page))
        bleeds.append(placed(boxes.bleed, to_page))
    page = Dictionary(
        Type=Name.Page, MediaBox=Array([0, 0, width / k, height / k]), TrimBox=Array(union_bounds(trims)),
        BleedBox=Array(union_bounds(bleeds)), Resources=resources, Contents=pdf.make_stream("\n".join(parts).encode()),
    )
    if unit > 1:
        page.UserUnit = unit
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
