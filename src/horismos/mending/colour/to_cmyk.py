"""Converts RGB, Lab and calibrated colour into CMYK by ICC: flat colours, pictures and shadings."""

import zlib
from collections.abc import Iterator
from typing import Any

import numpy as np
import pikepdf
from pikepdf import Array, Dictionary, Name, Stream

from horismos.artwork.edit import Edit, edit_page, is_inline, unused_names
from horismos.artwork.functions import run_function
from horismos.artwork.limits import MAX_PROGRAM_BYTES
from horismos.artwork.model import ImageObject, Page, PaintedObject
from horismos.artwork.paints import is_additive
from horismos.artwork.recolour import ColourOperator, recoloured
from horismos.artwork.spaces import space_of
from horismos.artwork.unpack import stream_bytes
from horismos.colour.convert import INTENTS, cmyk_of, picture_in_cmyk
from horismos.comparing.facets import Facet
from horismos.errors import CannotRead, NothingToDo
from horismos.mending.engine.registry import Before, Mend, Said, register, where
from horismos.mending.engine.settings import Kind, Setting
from horismos.words import plural

INTENT = Setting("intent", Kind.CHOICE, "The rendering intent", "relative", options=tuple(INTENTS))
PROFILE = Setting("profile", Kind.CHOICE, "The press profile", "FOGRA39L", options=("FOGRA39L",))
STEPS = 256
"""[ours] samples of a shading's colours; between them it runs straight."""
MOST_PIXELS = 400_000_000


def _additive(before: Before) -> list[tuple[Page, PaintedObject]]:
    found = [(page, o) for page in before.artwork.pages for o in page.objects if is_additive(o)]
    if not found:
        raise NothingToDo("Everything is in inks already.")
    return found


def _say(before: Before) -> Said:
    found = _additive(before)
    pictures = sum(isinstance(o, ImageObject) for _, o in found)
    others = len(found) - pictures
    parts = [plural(others, "object")] * bool(others) + [plural(pictures, "picture")] * bool(pictures)
    return Said(
        f"Converts {' and '.join(parts)} to CMYK for {before.step['profile']}, {before.step['intent']} intent; what "
        "has no profile of its own is taken as sRGB. Pure black becomes black alone.",
        {"objects": others, "pictures": pictures}, lambda: where(found),
    )


def profile_of(space: Any) -> bytes:
    """The ICC profile of a colour space of the file; empty where it has none."""
    if isinstance(space, Array) and len(space) > 1 and space[0] == Name.ICCBased:
        return stream_bytes(space[1], MAX_PROGRAM_BYTES)
    if isinstance(space, Array) and len(space) > 1 and space[0] in (Name.Indexed, Name.Pattern):
        return profile_of(space[1])
    return b""


class _Colours:
    """Flat colours, each converted once."""

    def __init__(self, intent: str) -> None:
        self.intent = intent
        self._known: dict[tuple[Any, ...], bytes] = {}

    def operators(self, one: ColourOperator) -> bytes | None:
        """What sets the colour of an operator in CMYK; None where it is in inks, or a pattern."""
        paint = one.paint
        if not paint.additive or paint.family == "Pattern" or not paint.values:
            return None
        profile = profile_of(one.space)
        key = (paint, profile, one.stroking)
        if key not in self._known:
            if paint.family != "Lab" and not any(paint.values):
                cmyk = np.array([0.0, 0.0, 0.0, 1.0])
            else:
                cmyk = cmyk_of(np.array([paint.values]), paint.family, profile, self.intent)[0]
            self._known[key] = (" ".join(f"{v:.4f}" for v in cmyk) + (" K" if one.stroking else " k")).encode()
        return self._known[key]


def _do(before: Before, pdf: pikepdf.Pdf) -> None:
    colours = _Colours(str(before.step["intent"]))
    for obj in list(_objects(pdf)):
        _convert(pdf, obj, colours.intent)
    names = unused_names(before.artwork.pages, "HzPicture")
    for page in before.artwork.pages:
        edits = recoloured(pdf, page, colours.operators)
        resources: dict[tuple[str, str], Any] = {}
        for obj in page.objects:
            if isinstance(obj, ImageObject) and is_additive(obj) and is_inline(page, obj):
                _inline(pdf, page, obj, next(names), colours.intent, edits, resources)
        if edits:
            edit_page(pdf, page, edits, resources)
    for obj in pdf.objects:
        group = obj.get("/Group") if isinstance(obj, Dictionary | Stream) else None
        if isinstance(group, Dictionary) and "/CS" in group and _is_additive(group["/CS"]):
            group.CS = Name.DeviceCMYK


def _objects(pdf: pikepdf.Pdf) -> Iterator[Any]:
    """Every picture and shading of the file whose colours are additive."""
    for obj in pdf.objects:
        if not isinstance(obj, Dictionary | Stream):
            continue
        resources = obj.get("/Resources")
        within = resources.get("/Shading") if isinstance(resources, Dictionary) else None
        for one in (obj, obj.get("/Shading"), *_values(within), *_values(obj.get("/Shading"))):
            if not isinstance(one, Dictionary | Stream) or "/ColorSpace" not in one:
                continue
            if ("/ShadingType" in one or one.get("/Subtype") == Name.Image) and _is_additive(one["/ColorSpace"]):
                yield one


def _values(obj: Any) -> list[Any]:
    return [obj[key] for key in obj.keys()] if isinstance(obj, Dictionary) else []


def _is_additive(space: Any) -> bool:
    return space_of(space, lambda name: None).additive


def _convert(pdf: pikepdf.Pdf, obj: Any, intent: str) -> None:
    if not _is_additive(obj["/ColorSpace"]):
        return  # it was reached by another way already
    if "/ShadingType" in obj:
        _shading(pdf, obj, intent)
    else:
        _picture(pdf, obj, intent)


def _shading(pdf: pikepdf.Pdf, obj: Any, intent: str) -> None:
    """An axial or radial shading through CMYK; another kind stays, and the check will say so."""
    function = obj.get("/Function")
    if int(obj["/ShadingType"]) not in (2, 3) or function is None:
        return
    domain = [float(v) for v in obj.get("/Domain", [0, 1])]
    rgb = run_function(function, np.linspace(domain[0], domain[1], STEPS))
    if rgb is None:
        return
    space = obj["/ColorSpace"]
    cmyk = cmyk_of(rgb, space_of(space, lambda name: None).family, profile_of(space), intent)
    data = np.round(cmyk * 65535).astype(">u2").tobytes()
    made = pdf.make_stream(data)
    made.FunctionType, made.Domain, made.Range = 0, Array(domain), Array([0, 1] * 4)
    made.Size, made.BitsPerSample = Array([STEPS]), 16
    obj.Function, obj.ColorSpace = made, Name.DeviceCMYK
    if "/Background" in obj:
        del obj["/Background"]


def _picture(pdf: pikepdf.Pdf, obj: Any, intent: str) -> None:
    """A picture with its pixels in CMYK; one that cannot be read here stays, and the check will say so."""
    if int(obj["/Width"]) * int(obj["/Height"]) > MOST_PIXELS or int(obj.get("/BitsPerComponent", 8)) == 16:
        return
    decode = [float(v) for v in obj.get("/Decode", [])]
    if decode and decode != [0.0, 1.0] * (len(decode) // 2) and obj["/ColorSpace"] != Name.Indexed:
        return
    try:
        image = pikepdf.PdfImage(obj).as_pil_image()
        if image.mode not in ("RGB", "L"):
            image = image.convert("RGB")
        made = picture_in_cmyk(image, profile_of(obj["/ColorSpace"]), intent)
    except (pikepdf.PdfError, pikepdf.models.image.UnsupportedImageTypeError, NotImplementedError, ValueError, OSError,
            CannotRead, pikepdf.models.image.HifiPrintImageNotTranscodableError):
        return
    mask = obj.get("/Mask")
    if isinstance(mask, Array):
        obj.Mask = _stencil(pdf, np.asarray(image.convert("RGB")), [int(v) for v in mask])
    obj.write(zlib.compress(made.tobytes(), 1), filter=Name.FlateDecode)
    obj.ColorSpace, obj.BitsPerComponent = Name.DeviceCMYK, 8
    for key in ("/Decode", "/DecodeParms"):
        if key in obj:
            del obj[key]


def _inline(
    pdf: pikepdf.Pdf, page: Page, obj: ImageObject, name: str, intent: str, edits: dict[int, list[Edit]],
    resources: dict[tuple[str, str], Any],
) -> None:
    """A picture that stands in the content, as one of its own in CMYK; one that cannot be read here stays."""
    written = pdf.make_stream(page.streams[obj.stream].data[obj.start : obj.end])
    try:
        (found,) = [i for i in pikepdf.parse_content_stream(written) if isinstance(i, pikepdf.ContentStreamInlineImage)]
        image = found.iimage.as_pil_image().convert("RGB")
        made = picture_in_cmyk(image, b"", intent)
    except (pikepdf.PdfError, ValueError, NotImplementedError, OSError, KeyError, AttributeError, CannotRead):
        return
    picture = pdf.make_stream(zlib.compress(made.tobytes(), 6))
    picture.Type, picture.Subtype, picture.Filter = Name.XObject, Name.Image, Name.FlateDecode
    picture.Width, picture.Height = image.size
    picture.ColorSpace, picture.BitsPerComponent = Name.DeviceCMYK, 8
    resources[("/XObject", name)] = picture
    edits.setdefault(obj.stream, []).append(Edit(obj.start, obj.end, f" /{name} Do ".encode()))


def _stencil(pdf: pikepdf.Pdf, pixels: Any, ranges: list[int]) -> Any:
    """A mask for the pixels whose colour a key hides (ISO 32000-1, 8.9.6.4): its key means nothing in CMYK."""
    low, high = np.array(ranges[::2][:3]), np.array(ranges[1::2][:3])
    hidden = ((pixels >= low) & (pixels <= high)).all(axis=2)
    made = pdf.make_stream(np.packbits(hidden, axis=1).tobytes())
    made.Type, made.Subtype, made.ImageMask = Name.XObject, Name.Image, True
    made.Width, made.Height, made.BitsPerComponent = pixels.shape[1], pixels.shape[0], 1
    return made


register(Mend(
    "to-cmyk", "Convert to CMYK", ("ink.rgb",), frozenset([Facet.ART, Facet.NAMES, Facet.LOOK]), (INTENT, PROFILE),
    _say, _do, safe=False, order=110,
))
