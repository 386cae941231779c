"""Draws what is in one ink or flat colour in another ink: a grey tone in White, a spot ink in process inks."""

from collections.abc import Callable, Iterable, Mapping
from typing import Any

import numpy as np
import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import edit_page, unused_names
from horismos.artwork.functions import run_function
from horismos.artwork.model import PROCESS_INKS, Page, Paint, PaintedObject
from horismos.artwork.paints import paints_of
from horismos.artwork.recolour import ColourOperator, recolour_within, recoloured
from horismos.checking.engine.findings import Finding
from horismos.comparing.facets import Facet
from horismos.errors import BadValue, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register, where
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.mending.lines.assign_role import in_colour
from horismos.mending.lines.rename import colour_arrays, pdf_name
from horismos.words import plural

SETTINGS = (
    Setting("to", SettingKind.NAME, "The ink to draw in"),
    Setting("ink", SettingKind.NAME, "The ink that it is drawn in", optional=True),
    Setting("colour", SettingKind.COLOUR, "The colour that it is drawn in", optional=True),
)
INK = Setting("ink", SettingKind.NAME, "The spot ink")
TOUCHES = frozenset([Facet.ART, Facet.NAMES, Facet.LOOK])


def _meant(before: MendContext, is_it: Callable[[Paint], bool]) -> list[tuple[Page, PaintedObject]]:
    """The objects of the art that use a paint that is meant."""
    lines = {(line.page.number, line.index) for line in before.lines}
    return [
        (page, obj) for page in before.artwork.pages for index, obj in enumerate(page.objects)
        if (page.number, index) not in lines and any(is_it(paint) for paint, _ in paints_of(obj))
    ]


def _wanted(before: MendContext) -> Callable[[Paint], bool]:
    ink, colour = before.step["ink"], before.step["colour"]
    if bool(ink) == bool(colour):
        raise BadValue("It takes an ink or a colour to tell what is meant.", "Say just one of them.")
    return (lambda p: _tint_of(p, ink) is not None) if ink else (lambda p: in_colour(p, colour))


def _tint_of(paint: Paint, ink: str) -> float | None:
    """The tint of a paint in one ink alone; None where it is another ink, several, or none."""
    used = [(name, tint) for name, tint in paint.inks if tint > 0]
    return used[0][1] if len(used) == 1 and used[0][0] == ink else None


def _say(before: MendContext) -> MendSummary:
    is_it, to = _wanted(before), before.step["to"]
    if to == before.step["ink"]:
        raise NothingToDo("It is that ink already.")
    found = _meant(before, is_it)
    count = len(found)
    if not found:
        raise NothingToDo(f"Nothing of the art is drawn in {before.step['ink'] or 'that colour'}.")
    what = f"“{before.step['ink']}”" if before.step["ink"] else "that colour"
    return MendSummary(
        f"Draws {plural(count, 'object')} in {what} in “{to}”{', at the same tints' if before.step['ink'] else ''}. "
        "Shapes stay.", {"objects": count}, lambda: where(found),
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    is_it, ink = _wanted(before), before.step["ink"]
    name = next(unused_names(before.artwork.pages, "HzTone"))
    spot = before.step["to"] not in PROCESS_INKS
    place = PROCESS_INKS.index(before.step["to"]) if not spot else 0

    def new(one: ColourOperator) -> bytes | None:
        if not is_it(one.paint) or one.paint.family == "Pattern":
            return None
        tint = _tint_of(one.paint, ink) if ink else 1.0
        if spot:
            return f"/{name} {'CS' if one.stroking else 'cs'} {tint:.4f} {'SCN' if one.stroking else 'scn'}".encode()
        tints = [f"{tint:.4f}" if i == place else "0" for i in range(4)]
        return f"{' '.join(tints)} {'K' if one.stroking else 'k'}".encode()

    resources = {("/ColorSpace", name): _space(pdf, before.step["to"])} if spot else {}
    for page in before.artwork.pages:
        edits = recoloured(pdf, page, new)
        if edits:
            edit_page(pdf, page, edits, resources)
    recolour_within(pdf, new, resources)
    pdf.remove_unreferenced_resources()  # an ink that is named still has a plate, though an empty one


def _space(pdf: pikepdf.Pdf, ink: str) -> Any:
    """The Separation of an ink: the file's own, or one that shows as a light grey."""
    for array in colour_arrays(pdf):
        if array[0] == Name.Separation and array[1] == pdf_name(ink):
            return array
    tint = Dictionary(FunctionType=2, Domain=[0, 1], C0=[0, 0, 0, 0], C1=[0.1, 0, 0, 0.1], N=1)
    return pdf.make_indirect(Array([Name.Separation, pdf_name(ink), Name.DeviceCMYK, tint]))


register(Mend(
    id="recolour", label="Draw it in {to}", answers=("ink.unknown",), touches=TOUCHES, settings=SETTINGS, say=_say,
    do=_do, offer=lambda mend, finding: (), safe=False, order=112
))


# -- a spot ink in process inks ----------------------------------------------------------------------


def _say_process(before: MendContext) -> MendSummary:
    ink = before.step["ink"]
    if ink in PROCESS_INKS or ink == "All":
        raise NothingToDo(f"“{ink}” is no spot ink.")
    found = _meant(before, lambda paint: any(name == ink and tint > 0 for name, tint in paint.inks))
    count = len(found)
    if not found:
        raise NothingToDo(f"Nothing of the art is drawn in “{ink}”.")
    return MendSummary(
        f"Draws {plural(count, 'object')} in “{ink}” in process inks instead, in the colour that the file gives for "
        "it on screen. Shapes stay.", {"objects": count}, lambda: where(found),
    )


def _do_process(before: MendContext, pdf: pikepdf.Pdf) -> None:
    """Flat colours become CMYK by the ink's own tint transform; what is left uses the alternate space itself."""
    ink = before.step["ink"]

    def new(one: ColourOperator) -> bytes | None:
        tint = _tint_of(one.paint, ink)
        space = one.space
        if tint is None or one.paint.family != "Separation" or not isinstance(space, Array):
            return None
        if space[2] != Name.DeviceCMYK:
            return None
        made = run_function(space[3], np.array([tint]))
        if made is None or made.shape[1] != 4:
            return None
        return (" ".join(f"{v:.4f}" for v in made[0]) + (" K" if one.stroking else " k")).encode()

    for page in before.artwork.pages:
        edits = recoloured(pdf, page, new)
        if edits:
            edit_page(pdf, page, edits, {})
    recolour_within(pdf, new, {})
    pdf.remove_unreferenced_resources()


def _offer_process(mend: Mend, finding: Finding) -> Iterable[Mapping[str, Value]]:
    return [{"ink": finding.subject}] if finding.subject else []


register(Mend(
    id="spot-to-process", label="Print {ink} in process inks", answers=("ink.unknown",), touches=TOUCHES,
    settings=(INK,), say=_say_process, do=_do_process, offer=_offer_process, safe=False, order=111
))
