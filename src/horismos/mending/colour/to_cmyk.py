"""Converts RGB, Lab and calibrated colour into CMYK by ICC: flat colours, pictures and shadings."""

import contextlib
from typing import Any

import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Array, Dictionary, Name, Stream
from PIL import Image

from horismos.artwork.limits import MAX_PROGRAM_BYTES
from horismos.artwork.model import ImageObject, Page, PaintedObject
from horismos.artwork.paints import is_additive
from horismos.artwork.pixels import (
    carriers,
    edit_pages,
    mask_of_key,
    put_samples,
    run_through,
    samples_of,
)
from horismos.artwork.recolour import ColourOperator, recolour_within, recoloured
from horismos.artwork.spaces import space_of
from horismos.artwork.unpack import stream_bytes
from horismos.colour.convert import INTENTS, cmyk_of, picture_in_cmyk
from horismos.comparing.facets import Facet
from horismos.errors import CannotRead, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register, where
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.words import plural

INTENT = Setting("intent", SettingKind.CHOICE, "The rendering intent", "relative", options=tuple(INTENTS), habit=True)
PROFILE = Setting("profile", SettingKind.CHOICE, "The press profile", "FOGRA39L", options=("FOGRA39L",))


def _additive(before: MendContext) -> list[tuple[Page, PaintedObject]]:
    found = [(page, o) for page in before.artwork.pages for o in page.objects if is_additive(o)]
    if not found:
        raise NothingToDo("Everything is in inks already.")
    return found


def _say(before: MendContext) -> MendSummary:
    found = _additive(before)
    pictures = sum(isinstance(o, ImageObject) for _, o in found)
    others = len(found) - pictures
    parts = [plural(others, "object")] * bool(others) + [plural(pictures, "picture")] * bool(pictures)
    return MendSummary(
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


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    colours = _Colours(str(before.step["intent"]))
    for obj in list(carriers(pdf)):
        _convert(pdf, obj, colours.intent)

    def converted(obj: ImageObject, picture: Any) -> bool:
        wanted = is_additive(obj) and _is_additive(picture.get("/ColorSpace"))
        if wanted:
            _picture(pdf, picture, colours.intent)
        return wanted

    edit_pages(pdf, before.artwork.pages, converted, lambda page: recoloured(pdf, page, colours.operators))
    recolour_within(pdf, colours.operators, {})
    for obj in pdf.objects:
        group = obj.get("/Group") if isinstance(obj, Dictionary | Stream) else None
        if isinstance(group, Dictionary) and "/CS" in group and _is_additive(group["/CS"]):
            group.CS = Name.DeviceCMYK


def _is_additive(space: Any) -> bool:
    return space_of(space, lambda name: None).additive


def _convert(pdf: pikepdf.Pdf, obj: Any, intent: str) -> None:
    if not _is_additive(obj["/ColorSpace"]):
        return
    if "/ShadingType" in obj:
        _shading(pdf, obj, intent)
    else:
        _picture(pdf, obj, intent)


def _shading(pdf: pikepdf.Pdf, obj: Any, intent: str) -> None:
    """A shading through CMYK; one of a kind that cannot be changed stays, and the check will say so."""
    space = obj["/ColorSpace"]
    family, profile = space_of(space, lambda name: None).family, profile_of(space)
    run_through(pdf, obj, lambda rgb: cmyk_of(rgb, family, profile, intent), Name.DeviceCMYK)


def _picture(pdf: pikepdf.Pdf, obj: Any, intent: str) -> None:
    """A picture with its pixels in CMYK; one that cannot be read here stays, and the check will say so."""
    with contextlib.suppress(CannotRead):
        samples, space, written = samples_of(obj)
        mode = {1: "L", 3: "LAB" if space.family == "Lab" else "RGB"}[samples.shape[2]]
        if mode == "LAB":
            samples = _signed(samples, written)
        image = Image.fromarray(samples[..., 0] if mode == "L" else samples, mode)
        made = picture_in_cmyk(image, profile_of(written), intent)
        del samples, image  # a large picture is not held three times
        if isinstance(obj.get("/Mask"), Array):
            obj.Mask = mask_of_key(pdf, obj)
        put_samples(obj, np.asarray(made), Name.DeviceCMYK)


def _signed(samples: NDArray[np.uint8], space: Any) -> NDArray[np.uint8]:
    """Lab samples, which run over the range that their space gives a and b (8.6.5.4), with these as signed bytes."""
    ends = [float(v) for v in space[1].get("/Range", [-100, 100, -100, 100])]
    out = samples.copy()
    for i in (1, 2):
        low, high = ends[2 * i - 2 : 2 * i]
        out[..., i] = np.round(low + np.arange(256) / 255 * (high - low)).clip(-128, 127).astype(np.int8).view(
            np.uint8
        )[samples[..., i]]
    return out


register(Mend(
    id="to-cmyk", label="Convert to CMYK", answers=("ink.rgb",),
    touches=frozenset([Facet.ART, Facet.NAMES, Facet.LOOK]), settings=(INTENT, PROFILE), say=_say, do=_do, safe=False,
    order=110
))
