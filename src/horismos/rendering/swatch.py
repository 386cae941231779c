"""How inks look on screen: as the file's own alternate colour says, drawn by PDFium."""

from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np
import pikepdf
import pypdfium2 as pdfium
from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import reopened, save
from horismos.artwork.model import Artwork
from horismos.rendering.composite import ENGINE

__all__ = ["swatches"]

PROCESS = {"Cyan": "1 0 0 0", "Magenta": "0 1 0 0", "Yellow": "0 0 1 0", "Black": "0 0 0 1"}
SIDE = 4
MOST_OBJECTS = 200_000


def swatches(artwork: Artwork, inks: Sequence[str]) -> dict[str, str]:
    """The colour of each ink at 100 %, as #rrggbb; an ink without a colour of its own is left out.

    Looked at once, and kept with the artwork.
    """
    key = ("swatches", tuple(inks))
    if key not in artwork.kept:
        artwork.kept[key] = _swatches(artwork, inks)
    return dict(artwork.kept[key])


def _swatches(artwork: Artwork, inks: Sequence[str]) -> dict[str, str]:
    with reopened(artwork) as source, pikepdf.new() as pdf:
        spaces = _separations(source)
        named = [ink for ink in inks if ink in PROCESS or ink in spaces]
        if not named:
            return {}
        resources = Dictionary(ColorSpace=Dictionary())
        parts = []
        for i, ink in enumerate(named):
            if ink in PROCESS:
                parts.append(f"{PROCESS[ink]} k")
            else:
                space = spaces[ink]
                resources.ColorSpace[f"/S{i}"] = pdf.copy_foreign(source.make_indirect(space))
                parts.append(f"/S{i} cs 1 scn")
            parts.append(f"{i * SIDE} 0 {SIDE} {SIDE} re f")
        page = Dictionary(
            Type=Name.Page, MediaBox=Array([0, 0, SIDE * len(named), SIDE]), Resources=resources,
            Contents=pdf.make_stream("\n".join(parts).encode()),
        )
        pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
        data = save(pdf)
    with ENGINE:
        document = pdfium.PdfDocument(data)
        pixels = np.asarray(document[0].render(scale=1, rev_byteorder=True).to_numpy())[..., :3].copy()
        document.close()
    middle = pixels[SIDE // 2, SIDE // 2 :: SIDE]
    return {ink: "#{:02x}{:02x}{:02x}".format(*middle[i]) for i, ink in enumerate(named)}


def _separations(pdf: pikepdf.Pdf) -> dict[str, Any]:
    """The Separation spaces of a file by ink, wherever they stand."""
    found: dict[str, Any] = {}
    for count, obj in enumerate(pdf.objects):
        if count > MOST_OBJECTS:
            break
        for array in _arrays(obj):
            try:
                if len(array) >= 4 and array[0] == Name.Separation:
                    found.setdefault(str(array[1])[1:], array)
            except (ValueError, TypeError, IndexError):
                continue
    return found


def _arrays(obj: Any) -> Iterator[Any]:
    if isinstance(obj, Array):
        yield obj
    if not isinstance(obj, Dictionary | pikepdf.Stream):
        return
    for owner in (obj, obj.get("/Resources")):
        if not isinstance(owner, Dictionary | pikepdf.Stream):
            continue
        spaces = owner.get("/ColorSpace")
        if isinstance(spaces, Array):
            yield spaces
        elif isinstance(spaces, Dictionary):
            yield from (value for _, value in spaces.items() if isinstance(value, Array))
