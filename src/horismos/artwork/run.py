"""One run through one content stream: its state, and what operators do to it (ISO 32000-1, annex A).

What it finds it writes into the page's ledger. Text and images are in files of their own; ``operators`` has
the table and reads the stream.
"""

from typing import Any

import pikepdf

from horismos.artwork import limits
from horismos.artwork.layers import EVERYWHERE
from horismos.artwork.model import Clip, Paint, PathObject, ShadingObject, TextObject
from horismos.artwork.page_inventory import ColourOperator, PageInventory
from horismos.artwork.resources import Resources
from horismos.artwork.scan import Name
from horismos.artwork.spaces import DEVICE_SPACES, Space
from horismos.artwork.state import GraphicsState, matrix_of, numbers_of, rectangle_of
from horismos.errors import LimitExceeded
from horismos.paths.matrix import IDENTITY, Matrix, multiply

__all__ = ["Args", "Run"]

Args = list[Any]
"""The operands of an operator."""


class Run:
    """One run through one content stream."""

    def __init__(self, page: PageInventory, index: int, resources: Resources, gs: GraphicsState) -> None:
        self.page = page
        self.index = index
        self.stream = page.streams[index]
        self.resources = resources
        self.gs = gs
        self.stack: list[GraphicsState] = []
        self.path_start = -1
        self.path_end = -1
        self.pending_clip = ""
        self.text_matrix: Matrix = IDENTITY
        self.line_matrix: Matrix = IDENTITY
        self.unmoved: TextObject | None = None
        """Shown text that the text matrix has not moved on for yet."""
        self.in_text = False
        self.last_font: tuple[bytes, bytes] | None = None
        self.pos = 0
        self.began = 0
        if page.colours is not None:
            page.states[index] = lambda: self.gs

    # -- paths ------------------------------------------------------------------------------------

    def paint_path(self, operator: str, end: int) -> None:
        """Paint, or only clip with, the path built so far."""
        if self.path_start < 0:
            return
        page, gs = self.page, self.gs
        if operator != "n":
            made = PathObject(
                self.index, self.path_start, self.path_end, end, operator, gs.values(page.layers)
            )
            page.add(made)
            if made.strokes:
                page.note_inks(gs.stroke)
            if made.fills:
                page.note_inks(gs.fill)
        if self.pending_clip:
            even_odd = self.pending_clip == "W*"
            span = (self.path_start, self.path_end)
            page.clips.append(Clip(gs.clip, self.index, *span, even_odd, gs.ctm))
            gs.clip = len(page.clips) - 1
            gs.changed()
        self.path_start, self.pending_clip = -1, ""

    def clip_nonzero(self, args: Args, start: int) -> None:
        self.pending_clip = "W"

    def clip_even_odd(self, args: Args, start: int) -> None:
        self.pending_clip = "W*"

    # -- graphics state -----------------------------------------------------------------------------

    def save(self, args: Args, start: int) -> None:
        if len(self.stack) >= limits.MAX_STATE_DEPTH:
            raise LimitExceeded("Graphics states are nested too deeply.")
        self.stack.append(self.gs.saved())

    def restore(self, args: Args, start: int) -> None:
        if self.stack:
            self.gs = self.stack.pop()
            self.last_font = None
        else:
            self.page.repaired("A graphics state was restored that was never saved.")

    def concat(self, args: Args, start: int) -> None:
        self.gs.ctm = multiply(matrix_of(args[-6:]), self.gs.ctm)
        self.gs.changed()

    def line_width(self, args: Args, start: int) -> None:
        self.gs.line_width = numbers_of(args, 1)[0]
        self.gs.changed()

    def dash(self, args: Args, start: int) -> None:
        pattern = tuple(float(v) for v in args[0])
        self.gs.dash = (pattern if any(pattern) else (), float(args[1]))
        self.gs.changed()

    def ext_g_state(self, args: Args, start: int) -> None:
        """Graphics state parameters (ISO 32000-1, table 58)."""
        d = self.resources.entry("/ExtGState", args[0])
        if d is None:
            self.page.repaired(f"Graphics state “{args[0]}” is missing.", lost=True)
            return
        gs = self.gs
        if "/LW" in d:
            gs.line_width = float(d["/LW"])
        if "/D" in d:
            gs.dash = (tuple(float(v) for v in d["/D"][0]), float(d["/D"][1]))
        if "/OP" in d:
            gs.overprint_stroke = bool(d["/OP"])
            gs.overprint_fill = bool(d.get("/op", d["/OP"]))
        if "/op" in d:
            gs.overprint_fill = bool(d["/op"])
        if "/OPM" in d:
            gs.overprint_mode = int(d["/OPM"])
        gs.alpha_stroke = float(d.get("/CA", gs.alpha_stroke))
        gs.alpha_fill = float(d.get("/ca", gs.alpha_fill))
        if "/BM" in d:
            mode = d["/BM"]
            gs.blend = str(mode[0] if isinstance(mode, pikepdf.Array) else mode).removeprefix("/")
        if "/SMask" in d:
            gs.soft_mask = isinstance(d["/SMask"], pikepdf.Dictionary)
        if "/Font" in d:
            gs.font, gs.font_size = self.resources.font_object(d["/Font"][0]), float(d["/Font"][1])
        if "/LC" in d:
            gs.line_cap = int(d["/LC"])
        if "/LJ" in d:
            gs.line_join = int(d["/LJ"])
        if "/ML" in d:
            gs.miter_limit = float(d["/ML"])
        if "/FL" in d:
            gs.flatness = float(d["/FL"])
        gs.changed()

    # -- colour (ISO 32000-1, 8.6.8) ---------------------------------------------------------------

    def _set(self, stroking: bool, space: Space, paint: Paint, chooses: bool = False) -> None:
        if self.page.colours is not None:
            self._log(stroking, paint, chooses)
        if stroking:
            self.gs.stroke_space, self.gs.stroke = space, paint
        else:
            self.gs.fill_space, self.gs.fill = space, paint
        self.gs.changed()

    def choose_space(self, args: Args, stroking: bool) -> None:
        space = self.resources.space(args[0])
        if space.family == "Unknown":
            self.page.repaired(f"Colour space “{args[0]}” is missing or broken.", lost=True)
        if self.page.colours is not None:
            chosen = (self.index, str(args[0]), self.resources.entry("/ColorSpace", args[0]))
            self.gs.named = {**self.gs.named, stroking: chosen}
        self._set(stroking, space, space.initial(), chooses=True)

    def _log(self, stroking: bool, paint: Paint, chooses: bool) -> None:
        """Note where a colour is set, for whoever is to set another one there."""
        assert self.page.colours is not None
        run, name, found = self.gs.named.get(stroking, (-1, "", None))
        self.page.colours.append(ColourOperator(
            self.index, self.began, self.pos, stroking, paint, chooses, name if run == self.index else "", found
        ))
        self.gs.set_by = {**self.gs.set_by, stroking: len(self.page.colours) - 1}

    def choose_device(self, family: str, args: Args, stroking: bool) -> None:
        space = DEVICE_SPACES[family]
        if self.page.colours is not None:
            self.gs.named = {**self.gs.named, stroking: (-1, "", None)}
        key = (family, *args)
        paint = self.page.device_paints.get(key)
        if paint is None:
            paint = self.page.device_paints[key] = space.paint(numbers_of(args, space.components))
        self._set(stroking, space, paint)

    def choose_colour(self, args: Args, stroking: bool) -> None:
        space = self.gs.stroke_space if stroking else self.gs.fill_space
        if args and isinstance(args[-1], Name):
            self._set(stroking, space, self._pattern(args, space))
        else:
            self._set(stroking, space, space.paint(args))

    def _pattern(self, args: Args, space: Space) -> Paint:
        """The inks that a pattern lays down (8.7): those that a tiling's own content uses."""
        pattern = self.resources.entry("/Pattern", args[-1])
        if pattern is None:
            self.page.repaired(f"Pattern “{args[-1]}” is missing.", lost=True)
            return Paint("Pattern", ())
        if int(pattern.get("/PatternType", 1)) == 2:
            shaded = self.resources.space_object(pattern["/Shading"].get("/ColorSpace"))
            return Paint("Pattern", tuple((i, 1.0) for i in shaded.all_inks), shaded.additive)
        if int(pattern.get("/PaintType", 1)) == 2 and space.base:
            paint = space.base.paint(args[:-1])
            return Paint("Pattern", paint.inks, paint.additive)
        return self.page.tiling(pattern)

    # -- shadings, marked content ----------------------------------------------------------------------

    def shade(self, args: Args, start: int) -> None:
        shading = self.resources.entry("/Shading", args[0])
        if shading is None:
            self.page.repaired(f"Shading “{args[0]}” is missing.", lost=True)
            return
        space = self.resources.space_object(shading.get("/ColorSpace"))
        self.page.note_space(space)
        paint = Paint(space.family, tuple((i, 1.0) for i in space.all_inks), space.additive)
        state = self.gs.values(self.page.layers)
        box = rectangle_of(shading.get("/BBox"))
        self.page.add(ShadingObject(self.index, start, self.pos, state, paint, box))

    def begin_marked(self, args: Args, start: int) -> None:
        member = EVERYWHERE
        if len(args) > 1 and args[0] == "OC" and isinstance(args[1], Name):
            properties = self.resources.entry("/Properties", args[1])
            if properties is None:
                self.page.repaired(f"Layer “{args[1]}” is missing.", lost=True)
            member = self.page.cache.membership(properties)
        self.page.push_layers(member)

    def end_marked(self, args: Args, start: int) -> None:
        self.page.pop_layers()

    def glyph_coloured(self, args: Args, start: int) -> None:
        self.page.coloured_glyph = True

    def glyph_uncoloured(self, args: Args, start: int) -> None:
        self.page.coloured_glyph = False

    def begin_compatibility(self, args: Args, start: int) -> None:
        self.page.lenient += 1

    def end_compatibility(self, args: Args, start: int) -> None:
        self.page.lenient = max(0, self.page.lenient - 1)

    def nothing(self, args: Args, start: int) -> None:
        """An operator that changes nothing that is asked about."""
