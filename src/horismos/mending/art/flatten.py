"""Draws what is see-through without transparency, so that a RIP that knows none prints the same.

Flat colours become vectors in the colours that they make; pictures over nothing are mixed with paper; the rest
becomes pixels, on the plates that are there, and only where it makes a difference. Lines are not touched.
"""

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np
import pikepdf
from pikepdf import Array, Dictionary, Name, Stream

from horismos.artwork.edit import Edit, edit_page, reopened, unused_names
from horismos.artwork.lines import line_objects
from horismos.artwork.model import PROCESS_INKS, ImageObject, Page, PathObject, TextObject
from horismos.artwork.outline_text import outlined, text_end
from horismos.artwork.parting import art_alone, clip_operator
from horismos.artwork.pathdata import path_operators
from horismos.artwork.pixels import picture_drawn, stencil
from horismos.artwork.recolour import colours_at, repainted
from horismos.artwork.spaces import space_of
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotRead, CannotWrite, NothingToDo
from horismos.mending.art.blending import Flat, Piece
from horismos.mending.art.mixed_picture import Mixed
from horismos.mending.art.pixel_patches import Patch, patches
from horismos.mending.art.see_through import SeeThrough, Unit, Way, see_through
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, Places, register
from horismos.mending.engine.settings import Setting, SettingKind
from horismos.mending.tints import Spaces, in_order, picture
from horismos.paths.contour import Contour
from horismos.paths.matrix import Matrix, inverse, multiply
from horismos.rendering.plates import fitting_ppi, plates
from horismos.words import plural

PPI = Setting("ppi", SettingKind.NUMBER, "The resolution where it must be pixels", 300.0, "ppi", 72.0, 1200.0)
Resources = dict[tuple[str, str], Any]


def _lines(before: MendContext, page: Page) -> set[int]:
    return {line.index for line in before.lines if line.page is page}


def _found(before: MendContext) -> dict[int, SeeThrough]:
    def find() -> dict[int, SeeThrough]:
        with reopened(before.artwork) as pdf:
            rgb = [_blends_in_rgb(page.obj) for page in pdf.pages]
        found = {
            page.number: see_through(page, _lines(before, page), rgb[page.number - 1]) for page in before.artwork.pages
        }
        return {number: one for number, one in found.items() if one is not None}

    found = before.cached("see-through", find)
    if not found:
        raise NothingToDo("Nothing of the art is see-through.")
    return found


def _blends_in_rgb(page: Any) -> bool:
    """Whether a page says that what is see-through on it is mixed in RGB (ISO 32000-1, 11.6.6)."""
    group = page.get("/Group")
    space = space_of(group.get("/CS"), lambda name: None) if isinstance(group, Dictionary) else None
    return space is not None and space.additive and space.components == 3


def _say(before: MendContext) -> MendSummary:
    found = _found(before)
    units = [unit for one in found.values() for unit in one.units]
    vectors = sum(unit.way is Way.VECTOR for unit in units)
    others = len(units) - vectors
    parts = [
        f"{plural(vectors, 'flat shape')} as {'a vector' if vectors == 1 else 'vectors'}" if vectors else "",
        f"{plural(others, 'other')} as pixels at {before.step['ppi']:g} ppi, where that must be" if others else "",
    ]
    return MendSummary(
        f"Draws {plural(len(units), 'see-through object')} without transparency: "
        f"{' and '.join(part for part in parts if part)}. Spot inks keep their plates; lines stay as they are.",
        {"objects": len(units), "vectors": vectors, "others": others}, lambda: _places(found),
    )


def _places(found: dict[int, SeeThrough]) -> Places:
    return {number: [unit.box for unit in one.units] for number, one in found.items()}


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    if any(line.object.state.group >= 0 or line.object.state.transparent for line in before.lines):
        raise CannotWrite("Lines stand in transparency.", "Lift the lines out first, then flatten.")
    found = _found(before)
    spaces = Spaces(pdf)
    for page in before.artwork.pages:
        if page.number in found:
            _Flattened(before, pdf, page, found[page.number], spaces).write()
    _drop_transparency(pdf)


class _Flattened:
    """One page, with the edits and resources that it comes to."""

    def __init__(self, before: MendContext, pdf: pikepdf.Pdf, page: Page, found: SeeThrough, spaces: Spaces) -> None:
        self.before, self.pdf, self.page, self.found, self.spaces = before, pdf, page, found, spaces
        self.names = unused_names(before.artwork.pages, "HzFlat")
        self.edits: dict[int, list[Edit]] = {}
        self.resources: Resources = {}
        self._colours: dict[Any, str] = {}
        texts = [unit.index for unit in found.units if isinstance(page.objects[unit.index], TextObject)]
        self.text_ends = colours_at(pdf, page, texts)[0] if texts else []

    def write(self) -> None:
        """Put all of it into the open copy of the file."""
        units = [self._settled(unit) for unit in self.found.units]
        for unit in units:
            if unit.way is Way.VECTOR:
                self._vector(unit)
        pixels = [unit for unit in units if unit.way is Way.PIXELS]
        for patch in patches(self.before, self.page, pixels, self.found, float(self.before.step["ppi"])):
            self._patch(patch)
        edit_page(self.pdf, self.page, self.edits, self.resources)

    def _add(self, category: str, obj: Any) -> str:
        name = next(self.names)
        self.resources[(category, name)] = obj
        return name

    def _edit(self, stream: int, edit: Edit) -> None:
        self.edits.setdefault(stream, []).append(edit)

    # -- vectors -----------------------------------------------------------------------------------

    def _colour(self, colour: Flat, stroking: bool = False) -> bytes:
        """The operators that set a flat colour."""
        if colour.additive:
            lights = " ".join(f"{1 - tint:.5f}" for _, tint in colour.tints)
            return f"{lights} {'RG' if stroking else 'rg'}".encode()
        tints = dict(colour.tints)
        order, space = self.spaces.of(tints)
        values = " ".join(f"{tints.get(ink, 0.0):.5f}" for ink in order)
        if space == Name.DeviceCMYK:
            return f"{values} {'K' if stroking else 'k'}".encode()
        if order not in self._colours:
            self._colours[order] = self._add("/ColorSpace", space)
        choose, set_it = ("CS", "SCN") if stroking else ("cs", "scn")
        return f"/{self._colours[order]} {choose} {values} {set_it}".encode()

    def _vector(self, unit: Unit) -> None:
        obj = self.page.objects[unit.index]
        assert unit.colour is not None
        inside = b"".join(self._piece(piece, obj.state.ctm) for piece in unit.inside)
        if isinstance(obj, TextObject):
            colours = (b"", self._colour(unit.colour))
            for stream, edits in repainted(self.pdf, self.page, {unit.index: colours}).items():
                self.edits.setdefault(stream, []).extend(edits)
            if inside:
                end = text_end(self.page, obj, self.text_ends)
                self._edit(obj.stream, Edit(end, end, inside))
            return
        assert isinstance(obj, PathObject)
        data = self.page.streams[obj.stream].data
        path, clip = data[obj.start : obj.path_end], clip_operator(data[obj.path_end : obj.end])
        drawn = b" q " + self._colour(unit.colour, obj.strokes) + b" " + path + b" " + obj.operator.encode() + b" Q "
        self._edit(obj.stream, Edit(obj.start, obj.end, drawn + inside + (path + clip + b" n " if clip else b"")))

    def _piece(self, piece: Piece, ctm: Matrix) -> bytes:
        path = path_operators(piece.contours, ctm)
        fill = b" f* " if piece.even_odd else b" f "
        return b" q " + _clips(piece.clips, ctm) + self._colour(piece.colour) + b"\n" + path + fill + b"Q "

    # -- pictures ----------------------------------------------------------------------------------

    def _settled(self, unit: Unit) -> Unit:
        """A picture drawn without its mask, where that can be; otherwise it is pixels like the rest."""
        if unit.way is not Way.PICTURE:
            return unit
        obj = self.page.objects[unit.index]
        assert isinstance(obj, ImageObject)
        below = [i for i in _lines(self.before, self.page) if i < unit.index]
        try:
            image = picture_drawn(self.pdf, self.page, obj)
            mixed = None
            if image is not None:
                mixed = Mixed.of(self.pdf, self.spaces, image, unit, self.found.additive)
            hard = mixed is not None and mixed.hard
            if mixed is None or (below and obj.additive and not hard):
                return replace(unit, way=Way.PIXELS)
            drawn = self._one(obj, mixed.stencilled() if hard else mixed.on(None))
            for piece in unit.inside if not hard else ():
                clips = [*piece.clips, (piece.contours, piece.even_odd)]
                drawn += b" q " + _clips(clips, obj.state.ctm) + self._one(obj, mixed.on(piece.colour)) + b" Q "
        except CannotRead:
            return replace(unit, way=Way.PIXELS)
        self._edit(obj.stream, Edit(obj.start, obj.end, drawn))
        return unit

    def _one(self, obj: ImageObject, made: Any) -> bytes:
        """The operators that draw a picture where the object drew one."""
        name = self._add("/XObject", made)
        return f" q /{self._over()} gs /{name} Do Q ".encode() if not obj.additive else f" /{name} Do ".encode()

    def _over(self) -> str:
        """The graphics state in which a picture lays down its own inks and leaves the plates of others."""
        if "over" not in self._colours:
            self._colours["over"] = self._add("/ExtGState", Dictionary(OP=True, op=True, OPM=0))
        return self._colours["over"]

    def _patch(self, patch: Patch) -> None:
        obj = self.page.objects[patch.index]
        ctm = obj.state.ctm
        x0, y0, x1, y1 = patch.drawn.box
        place = multiply((x1 - x0, 0.0, 0.0, y1 - y0, x0, y0), inverse(ctm))
        name = self._add("/XObject", self._picture(patch))
        data = self.page.streams[obj.stream].data
        state = "" if self.found.additive else f"/{self._over()} gs "
        behind, clip = b"", _clips(patch.edge, ctm) if patch.edge else b""
        if isinstance(obj, PathObject):
            path, clips = data[obj.start : obj.path_end], clip_operator(data[obj.path_end : obj.end])
            behind = path + clips + b" n " if clips else b""
        numbers = " ".join(f"{v:.8f}" for v in place)
        drawn = b" q " + clip + f"{state}{numbers} cm /{name} Do Q ".encode()
        if isinstance(obj, TextObject):
            for stream, edits in outlined(self.pdf, self.page, {patch.index: ()}).items():
                self.edits.setdefault(stream, []).extend(edits)
            end = text_end(self.page, obj, self.text_ends)
            self._edit(obj.stream, Edit(end, end, drawn))
        else:
            self._edit(obj.stream, Edit(obj.start, obj.end, drawn + behind))

    def _picture(self, patch: Patch) -> Any:
        tints, inks = patch.drawn.tints, patch.drawn.inks
        if self.found.additive:
            made = picture(self.pdf, tints, Name.DeviceRGB)
        else:
            used = [ink for i, ink in enumerate(inks) if ink in PROCESS_INKS or patch.spots[i]]
            order, space = self.spaces.of(used)
            made = picture(self.pdf, in_order(inks, tints, order), space)
        made.Mask = stencil(self.pdf, ~patch.mask)
        return made


def _clips(clips: Sequence[tuple[Sequence[Contour], bool]], ctm: Matrix) -> bytes:
    """The operators that clip to each of these."""
    parts = (path_operators(contours, ctm) + (b" W* n" if odd else b" W n") for contours, odd in clips)
    return b" ".join(parts) + b" "


# -- what is left ------------------------------------------------------------------------------------

LIVE = ("/ca", "/CA", "/BM", "/SMask", "/AIS")


def _drop_transparency(pdf: pikepdf.Pdf) -> None:
    """Take groups, opacities, blend modes and soft masks out of a file in which nothing needs them any more."""
    pdf.remove_unreferenced_resources()
    for obj in pdf.objects:
        _drop_inside(obj, 0)


def _drop_inside(obj: Any, depth: int) -> None:
    if depth > 12:
        return
    if isinstance(obj, Array):
        children: list[Any] = list(obj)
    elif isinstance(obj, Dictionary | Stream):
        group = obj.get("/Group")
        if isinstance(group, Dictionary) and group.get("/S") == Name.Transparency:
            del obj["/Group"]
        if obj.get("/Subtype") == Name.Image and "/SMask" in obj:
            del obj["/SMask"]
        states = obj.get("/ExtGState")
        for state in [states[key] for key in states.keys()] if isinstance(states, Dictionary) else []:
            for key in LIVE:
                if key in state:
                    del state[key]
        children = [obj.get(key) for key in obj.keys()]
    else:
        return
    for child in children:
        if isinstance(child, Array | Dictionary) and not child.is_indirect:
            _drop_inside(child, depth + 1)


# -- the proof ---------------------------------------------------------------------------------------

SAME = 2
"""Of 255: a plate may differ by rounding twice."""
MOST_SHARE = 0.03
"""[ours] of the pixels of a plate that may differ by more: those at the edges of what became pixels."""
PROOF_PPI = 150.0


def _prove(before: MendContext, difference: Difference) -> None:
    """Raise CannotWrite where the plates of the art are not the same: what a screen mixes in RGB is no proof."""
    for old, new in zip(before.artwork.pages, difference.later.pages, strict=True):
        if old.number not in _found(before):
            continue
        ppi = min(PROOF_PPI, fitting_ppi(old.boxes.media))
        one, other = (
            {
                plate.ink: plate.tint.astype(np.int16) for plate in plates(
                    art_alone(artwork, page, line_objects(artwork, page, before.destination)), ppi, None,
                    inks=page.ink_names,
                )
            }
            for artwork, page in ((before.artwork, old), (difference.later, new))
        )
        blank = np.zeros_like(one["Black"])
        for ink in {*one, *other}:
            share = float((abs(one.get(ink, blank) - other.get(ink, blank)) > SAME).mean())
            if share > MOST_SHARE:
                raise CannotWrite(
                    f"The plate of {ink} would differ on {share * 100:.1f} % of the page.", "Leave it to the RIP.",
                )


register(Mend(
    id="flatten", label="Flatten the art", answers=("art.transparency",),
    touches=frozenset([Facet.ART, Facet.LOOK, Facet.NAMES]), settings=(PPI,), say=_say, do=_do, prove=_prove,
    safe=False, order=125
))
