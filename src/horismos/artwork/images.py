"""External objects and inline images in content (ISO 32000-1, 8.8 and 8.9). No pixel is decoded."""

from collections.abc import Callable
from typing import Any

from horismos.artwork import limits
from horismos.artwork.model import ImageObject
from horismos.artwork.page_inventory import PageInventory
from horismos.artwork.resources import form_of
from horismos.artwork.run import Args, Run
from horismos.artwork.scan import OPERATION, end_of_inline_image, operands, token
from horismos.errors import LimitExceeded

__all__ = ["draw", "inline_image"]

INLINE_KEYS = {
    "BPC": "BitsPerComponent", "CS": "ColorSpace", "D": "Decode", "DP": "DecodeParms",
    "F": "Filter", "H": "Height", "IM": "ImageMask", "I": "Interpolate", "W": "Width",
}  # ISO 32000-1, table 93
INLINE_SPACES = {"G": "DeviceGray", "RGB": "DeviceRGB", "CMYK": "DeviceCMYK"}  # table 94


def draw(run: Run, args: Args, start: int) -> None:
    """An external object: a form or an image (8.8)."""
    xobject = run.resources.entry("/XObject", args[0])
    if xobject is None:
        run.page.repaired(f"XObject “{args[0]}” is missing.", lost=True)
        return
    place = (start, run.pos)
    number = xobject.objgen
    form = run.page.cache.forms.get(number)
    layered = form is None and "/OC" in xobject
    if layered:
        run.page.push_layers(run.page.cache.membership(xobject["/OC"]))
    if form is None and str(xobject["/Subtype"]) == "/Form":
        form = form_of(xobject, run.page.read_stream)
        if not layered:
            run.page.cache.forms[number] = form
    if form is not None:
        run.page.draw_form(form, run.gs, run.resources.dictionary, run.index, place)
    elif str(xobject["/Subtype"]) == "/Image":
        _add_image(run, xobject.get, place, xobject.get("/ColorSpace"))
    else:
        kind = str(xobject["/Subtype"]).removeprefix("/")
        run.page.repaired(f"An XObject of the kind “{kind}” is missing from what can be shown.", lost=True)
    if layered:
        run.page.pop_layers()


def inline_image(run: Run, args: Args, start: int) -> None:
    """An inline image (8.9.7); the place moves behind its end."""
    run.pos = _inline_image(run, start)


def _add_image(run: Run, get: Callable[..., Any], place: tuple[int, int], space_obj: Any) -> None:
    """Note an image as its dictionary tells it. ``place`` is where it stands in the stream."""
    page, gs = run.page, run.gs
    stencil = bool(get("/ImageMask", False))
    space = None if stencil else run.resources.space_object(space_obj)
    if space is not None and space.family == "Unknown" and space_obj is None and get("/Filter") is not None:
        space = None  # JPEG 2000 carries its own space (7.4.9)
    if space is not None:
        page.note_space(space)
    elif stencil:
        page.note_inks(gs.fill)
    inks = space.all_inks if space else tuple(ink for ink, _ in gs.fill.inks) if stencil else ()
    _count(page, get, 1 / 8 if stencil else int(get("/BitsPerComponent", 8)) / 8 * (space.components if space else 3))
    page.add(
        ImageObject(
            run.index,
            *place,
            gs.values(page.layers),
            (int(get("/Width", 0)), int(get("/Height", 0))),
            1 if stencil else int(get("/BitsPerComponent", 8)),
            space.family if space else gs.fill.family if stencil else "JPXDecode",
            space.additive if space else gs.fill.additive if stencil else True,
            inks,
            stencil,
            get("/SMask") is not None or bool(get("/SMaskInData", 0)),
        )
    )


def _count(page: PageInventory, get: Callable[..., Any], pixel_bytes: float) -> None:
    """Raise LimitExceeded for a picture that would unpack to more than its file may."""
    width, height = int(get("/Width", 0)), int(get("/Height", 0))
    most = page.cache.most_unpacked
    if width * height > limits.MAX_PICTURE_PIXELS or width * height * pixel_bytes > most:
        raise LimitExceeded(
            f"A picture of {width:,} × {height:,} pixels unpacks to {width * height * pixel_bytes / 1e6:,.0f} MB; "
            f"{most / 1e6:,.0f} MB are the most for a file of this size.", "Ask for one of fewer pixels.",
        )


def _inline_image(run: Run, start: int) -> int:
    """Note an inline image whose ``BI`` has been read; gives the place behind its ``EI``."""
    data, pos = run.stream.data, run.pos
    items: list[Any] = []
    while pos < len(data):
        stop = OPERATION.match(data, pos)
        if stop and stop[2] == b"ID":
            items += operands(stop[1])
            pos = stop.end()
            break
        values, pos, _ = token(data, pos)
        items += values
    raw = dict(zip((str(k) for k in items[::2]), items[1::2], strict=False))
    long = {"/" + INLINE_KEYS.get(key, key): value for key, value in raw.items()}
    space_obj = long.get("/ColorSpace")
    indexed = isinstance(space_obj, list)
    if isinstance(space_obj, list):
        space_obj = space_obj[1] if len(space_obj) > 1 else None
    space_obj = INLINE_SPACES.get(str(space_obj), space_obj)
    space = run.resources.space_object(space_obj)
    length, name = None, ""
    if "/Filter" not in long:
        components = 1 if long.get("/ImageMask") or indexed else max(space.components, 1)
        bits = 1 if long.get("/ImageMask") else int(long.get("/BitsPerComponent", 8))
        row = (int(long.get("/Width", 0)) * components * bits + 7) // 8
        length = row * int(long.get("/Height", 0))
    else:
        first = long["/Filter"]
        name = str(first[0] if isinstance(first, list) and first else first)
    end = end_of_inline_image(data, pos, length, name)
    _add_image(run, long.get, (start, end), space_obj)
    return end
