"""Brings the ink load under a limit and keeps the look: black takes the place of the colours that make grey."""

import contextlib
from collections.abc import Iterable, Mapping
from typing import Any

import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Name

from horismos.artwork.edit import reopened
from horismos.artwork.model import PROCESS_INKS, ImageObject, Paint
from horismos.artwork.paints import paints_of
from horismos.artwork.pixels import (
    carriers,
    colours_through,
    edit_pages,
    inline_pictures,
    put_samples,
    run_through,
    samples_of,
)
from horismos.artwork.recolour import ColourOperator, recolour_within, recoloured
from horismos.artwork.spaces import Space, space_of
from horismos.checking import CheckInputs, CheckSheet
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Finding
from horismos.checking.inks.heavy import heavy_places
from horismos.colour import delta_e_of_cmyk
from horismos.colour.limit import limited, limited_pixels
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotRead, CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.mending.page.turn import everywhere
from horismos.orders import Order
from horismos.words import plural

LIMIT = Setting("limit_percent", SettingKind.NUMBER, "The most ink at one place", 280.0, "%", 100.0, 400.0)
MOST_SAMPLED = 20_000
"""[ours] pixels of a picture that are measured for the figures."""
SPARE = 1.0
"""[standard of the check] per cent: a step of 1 in 255 on each plate."""
Floats = NDArray[np.float64]


def _tints(paint: Paint) -> tuple[Floats, float]:
    """The process tints of a paint, shape (4,), and what its other inks come to, 0 to 1 each."""
    named = dict(paint.inks)
    process = np.array([named.get(ink, 0.0) for ink in PROCESS_INKS])
    return process, sum(tint for ink, tint in paint.inks if ink not in PROCESS_INKS)


def _less(paint: Paint, limit: float) -> Floats | None:
    """The process tints that a flat colour is to have; None where it is under the limit, or is made of spots."""
    if paint.additive or paint.family in ("Pattern", "Separation") or not paint.inks:
        return None
    process, others = _tints(paint)
    if (process.sum() + others) * 100 <= limit + 1e-6 or not process.any():
        return None
    less: Floats = limited(process[None], max(limit - others * 100, 0.0))[0]
    return less


class _Colours:
    """Flat colours above the limit, each made less once."""

    def __init__(self, limit: float) -> None:
        self.limit = limit

    def operators(self, one: ColourOperator) -> bytes | None:
        less = _less(one.paint, self.limit)
        if less is None:
            return None
        down = np.floor(less * 1e4) / 1e4
        if not set(ink for ink, _ in one.paint.inks) - set(PROCESS_INKS):
            return (" ".join(f"{v:.4f}" for v in down) + (" K" if one.stroking else " k")).encode()
        tints = dict(zip(PROCESS_INKS, down, strict=True))
        values = " ".join(f"{tints.get(ink, tint):.4f}" for ink, tint in one.paint.inks)
        return f"{values} {'SCN' if one.stroking else 'scn'}".encode()


def _is_cmyk(space: Space) -> bool:
    inks = space.base.inks if space.family == "Indexed" and space.base else space.inks
    return inks == PROCESS_INKS and space.family != "DeviceN"


def _flat(before: MendContext) -> dict[Paint, int]:
    """The flat colours above the limit, with how many objects use them."""
    found: dict[Paint, int] = {}
    for page in before.artwork.pages:
        for obj in page.objects:
            if not isinstance(obj, ImageObject):
                for paint, _ in paints_of(obj):
                    if _less(paint, float(before.step["limit_percent"])) is not None:
                        found[paint] = found.get(paint, 0) + 1
    return found


def _heavy(before: MendContext) -> list[tuple[Any, Floats, float]]:
    """The process pictures and shadings that exceed it, as they stand in the file: sampled colours, and their share."""
    limit, found = float(before.step["limit_percent"]), []
    with reopened(before.artwork) as pdf:
        listed = [*carriers(pdf), *(made for page in before.artwork.pages for _, made in inline_pictures(pdf, page))]
        for one in listed:
            colours = _colours_in(one)
            colours = _colours_in(one)
            if colours is not None and (over := colours.sum(axis=1) * 100 > limit + 0.4).any():
                found.append((one.get("/Subtype"), colours[over], float(over.mean())))
    return found


def _colours_in(one: Any) -> Floats | None:
    """Colours, shape (n, 4), that a picture or a shading in process inks lays down; None for another one."""
    if not _is_cmyk(space_of(one.get("/ColorSpace"), lambda name: None)):
        return None
    if "/ShadingType" in one:
        return colours_through(one)
    with contextlib.suppress(CannotRead):
        pixels = samples_of(one)[0].reshape(-1, 4)
        step = max(1, len(pixels) // MOST_SAMPLED)
        return np.asarray(pixels[::step] / 255, float)
    return None


def _say(before: MendContext) -> MendSummary:
    limit = float(before.step["limit_percent"])
    flat, heavy = before.cached("flat", lambda: _flat(before)), before.cached("heavy", lambda: _heavy(before))
    if not flat and not heavy:
        raise NothingToDo(f"No colour comes to more than {limit:g} % by itself.")
    colours = np.concatenate([np.array([_tints(paint)[0] for paint in flat]).reshape(-1, 4), *(c for _, c, _ in heavy)])
    apart = delta_e_of_cmyk(colours, limited(colours, limit))
    pictures = sum(kind == Name.Image for kind, *_ in heavy)
    parts = [
        plural(sum(flat.values()), "object") if flat else "", plural(pictures, "picture") if pictures else "",
        plural(len(heavy) - pictures, "shading") if len(heavy) > pictures else "",
    ]
    return MendSummary(
        f"Brings {' and '.join(part for part in parts if part)} to {limit:g} % of ink: black takes the place of the "
        f"colours below it. On the press profile that is ΔE {apart.mean():.1f} on average and {apart.max():.1f} at "
        "most where anything changes.",
        {"objects": sum(flat.values()), "pictures": pictures, "shadings": len(heavy) - pictures,
         "mean_delta_e": round(float(apart.mean()), 2), "max_delta_e": round(float(apart.max()), 2)},
        lambda: everywhere(before),
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    limit = float(before.step["limit_percent"])
    colours = _Colours(limit)
    for one in list(carriers(pdf)):
        _reduce(pdf, one, limit)
    edit_pages(
        pdf, before.artwork.pages, lambda _, picture: _reduce(pdf, picture, limit),
        lambda page: recoloured(pdf, page, colours.operators),
    )
    recolour_within(pdf, colours.operators, {})


def _reduce(pdf: pikepdf.Pdf, one: Any, limit: float) -> bool:
    """Bring a picture or a shading under the limit; whether it was above it."""
    if not _is_cmyk(space_of(one.get("/ColorSpace"), lambda name: None)):
        return False
    if "/ShadingType" in one:
        return _over(_colours_in(one), limit) and run_through(
            pdf, one, lambda values: limited(values, limit), Name.DeviceCMYK
        )
    with contextlib.suppress(CannotRead):
        pixels, _, written = samples_of(one)
        less = limited_pixels(pixels, limit)
        if not np.array_equal(less, pixels):
            put_samples(one, less, written)
            return True
    return False


def _over(colours: Floats | None, limit: float) -> bool:
    return colours is not None and bool((colours.sum(axis=1) * 100 > limit + 1e-6).any())


def _prove(before: MendContext, difference: Difference) -> None:
    """Raise CannotWrite where the plates still come to more: inks of several objects lie on each other there."""
    limit = float(before.step["limit_percent"]) + SPARE
    for page in difference.later.pages:
        context = Context(difference.later, page, CheckInputs(Order(), before.destination, CheckSheet()))
        try:
            left = heavy_places(context, limit, 0.0) if context.may_exceed(limit) else None
        finally:
            context.close()
        if left is not None and left.above_cm2 > 0:
            raise CannotWrite(
                f"The inks still come to {left.highest:.0f} %, where several objects print on each other, or where a "
                "profile of the file's own makes more of them.",
                "Flatten the art first: then they are one.",
            )


def _offer(mend: Mend, finding: Finding) -> Iterable[Mapping[str, Value]]:
    """As much as the check allowed."""
    yield {"limit_percent": finding.limit} if finding.limit >= LIMIT.least else {}


register(Mend(
    id="limit-ink", label="Limit the ink to {limit_percent:g} %", answers=("ink.load",),
    touches=frozenset([Facet.ART, Facet.LOOK, Facet.NAMES]), settings=(LIMIT,), say=_say, do=_do, prove=_prove,
    offer=_offer, safe=False, order=115
))
