"""Runs one content stream, operator by operator (ISO 32000-1, annex A).

What it finds it gives to the page's interpreter, which keeps count over all streams.
"""

import zlib
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import pikepdf

from horismos.artwork import limits
from horismos.artwork.images import add_image, run_inline_image
from horismos.artwork.layers import EVERYWHERE
from horismos.artwork.model import Clip, Paint, PathObject, ShadingObject, TextObject
from horismos.artwork.resources import Resources, form_of
from horismos.artwork.scan import OPERATION, PATH_OR_OPERATION, TEXT, Name, operands, token
from horismos.artwork.spaces import DEVICE_SPACES, Space
from horismos.artwork.state import GraphicsState, matrix_of, numbers_of, rectangle_of
from horismos.artwork.text import TEXT_OPERATORS, show_blocks, show_text
from horismos.errors import LimitExceeded
from horismos.paths.contour import IDENTITY, Matrix, multiply

if TYPE_CHECKING:
    from horismos.artwork.interpret import Interpreter

__all__ = ["Run"]

Args = list[Any]


class Run:
    """One run through one content stream."""

    def __init__(self, page: "Interpreter", index: int, resources: Resources, gs: GraphicsState) -> None:
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

    def run(self) -> None:
        """Run to the end of the stream."""
        data = self.stream.data
        pending: Args = []
        pos, size = 0, len(data)
        match_any, match_text = PATH_OR_OPERATION.match, TEXT.match
        while pos < size:
            if self.in_text and not pending:
                found = match_text(data, pos)
                if found:
                    pos = show_text(self, found)
                    continue
            found = match_any(data, pos)
            if found and found[1] and not pending:
                if self.path_start < 0:
                    self.path_start = pos
                self.path_end = found.end(1)
                if found[2]:
                    self.pending_clip = found[2].decode()
                pos = found.end()
                if found[3]:
                    self.paint_path(found[3].decode(), pos)
                continue
            if found and found[1]:
                found = OPERATION.match(data, pos)
            if found:
                raw, word = found.groups()[-2:]
                if word == b"BT" and not pending:
                    behind = show_blocks(self, data, pos)
                    if behind > pos:
                        pos = behind
                        continue
                if word not in NO_OPERATORS:
                    start, pos = pos, found.end()
                    self.pos = pos
                    args = operands(raw) if raw else []
                    if pending:
                        args, pending = pending + args, []
                    self.operate(word, args, start)
                    pos = self.pos
                    continue
            values, pos, regular = token(data, pos)
            pending += values
            if not regular:
                self.page.repairs.setdefault("Content holds bytes that mean nothing.")
        if self.stack:
            self.page.repairs.setdefault("Graphics states were saved and not restored.")

    def operate(self, word: bytes, args: Args, start: int) -> None:
        """Carry out one operator; one that is not known is noted and passed over."""
        method = BY_WORD.get(word)
        if method is None:
            if not self.page.lenient:
                self.page.repairs.setdefault(f"Unknown operator “{word[:12].decode()}”.")
            return
        try:
            method(self, args, start)
        except BROKEN as e:
            self.page.repairs.setdefault(f"Operator “{word.decode()}” could not be carried out ({e}).")

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
            self.page.repairs.setdefault("A graphics state was restored that was never saved.")

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
            self.page.repairs.setdefault(f"Graphics state “{args[0]}” is missing.")
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

    def _set(self, stroking: bool, space: Space, paint: Paint) -> None:
        if stroking:
            self.gs.stroke_space, self.gs.stroke = space, paint
        else:
            self.gs.fill_space, self.gs.fill = space, paint
        self.gs.changed()

    def choose_space(self, args: Args, stroking: bool) -> None:
        space = self.resources.space(args[0])
        if space.family == "Unknown":
            self.page.repairs.setdefault(f"Colour space “{args[0]}” is missing or broken.")
        self._set(stroking, space, space.initial())

    def choose_device(self, family: str, args: Args, stroking: bool) -> None:
        space = DEVICE_SPACES[family]
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
            self.page.repairs.setdefault(f"Pattern “{args[-1]}” is missing.")
            return Paint("Pattern", ())
        if int(pattern.get("/PatternType", 1)) == 2:
            shaded = self.resources.space_object(pattern["/Shading"].get("/ColorSpace"))
            return Paint("Pattern", tuple((i, 1.0) for i in shaded.all_inks), shaded.additive)
        if int(pattern.get("/PaintType", 1)) == 2 and space.base:
            paint = space.base.paint(args[:-1])
            return Paint("Pattern", paint.inks, paint.additive)
        return self.page.tiling(pattern)

    # -- XObjects, images, shadings ----------------------------------------------------------------

    def draw(self, args: Args, start: int) -> None:
        """An external object: a form or an image (8.8)."""
        xobject = self.resources.entry("/XObject", args[0])
        if xobject is None:
            self.page.repairs.setdefault(f"XObject “{args[0]}” is missing.")
            return
        place = (start, self.pos)
        number = xobject.objgen
        form = self.page.cache.forms.get(number)
        layered = form is None and "/OC" in xobject
        if layered:
            self.page.push_layers(self.page.cache.membership(xobject["/OC"]))
        if form is None and str(xobject["/Subtype"]) == "/Form":
            form = form_of(xobject, self.page.read_stream)
            if not layered:
                self.page.cache.forms[number] = form
        if form is not None:
            self.page.draw_form(form, self.gs, self.resources.dictionary, self.index, place)
        elif str(xobject["/Subtype"]) == "/Image":
            add_image(self, xobject.get, place, xobject.get("/ColorSpace"))
        else:
            kind = str(xobject["/Subtype"]).removeprefix("/")
            self.page.repairs.setdefault(f"An XObject of the kind “{kind}” is missing from what can be shown.")
        if layered:
            self.page.pop_layers()

    def inline_image(self, args: Args, start: int) -> None:
        """An inline image (8.9.7); the place moves behind its end."""
        self.pos = run_inline_image(self, start)

    def shade(self, args: Args, start: int) -> None:
        shading = self.resources.entry("/Shading", args[0])
        if shading is None:
            self.page.repairs.setdefault(f"Shading “{args[0]}” is missing.")
            return
        space = self.resources.space_object(shading.get("/ColorSpace"))
        self.page.note_space(space)
        paint = Paint(space.family, tuple((i, 1.0) for i in space.all_inks), space.additive)
        state = self.gs.values(self.page.layers)
        box = rectangle_of(shading.get("/BBox"))
        self.page.add(ShadingObject(self.index, start, self.pos, state, paint, box))

    # -- marked content ----------------------------------------------------------------------------

    def begin_marked(self, args: Args, start: int) -> None:
        member = EVERYWHERE
        if len(args) > 1 and args[0] == "OC" and isinstance(args[1], Name):
            properties = self.resources.entry("/Properties", args[1])
            if properties is None:
                self.page.repairs.setdefault(f"Layer “{args[1]}” is missing.")
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


BROKEN = (
    IndexError, TypeError, AttributeError, KeyError, ValueError, OverflowError, ZeroDivisionError, zlib.error,
    pikepdf.PdfError,
)
"""What an operator with operands or resources of the wrong shape can raise."""


def _number(field: str, make: Callable[[float], float] = float) -> Callable[[Run, Args, int], None]:
    def set_it(run: Run, args: Args, start: int) -> None:
        setattr(run.gs, field, make(numbers_of(args, 1)[0]))
        run.gs.changed()

    return set_it


def _painter(operator: str) -> Callable[[Run, Args, int], None]:
    return lambda run, args, start: run.paint_path(operator, run.pos)


OPERATORS: dict[str, Callable[[Run, Args, int], None]] = {
    **{op: _painter(op) for op in ("f", "F", "f*", "S", "s", "B", "B*", "b", "b*", "n")},
    **{op: Run.nothing for op in ("ri", "MP", "DP", "EI")},
    "J": _number("line_cap", int), "j": _number("line_join", int), "M": _number("miter_limit"),
    "i": _number("flatness"), "d0": Run.glyph_coloured, "d1": Run.glyph_uncoloured,
    "W": Run.clip_nonzero, "W*": Run.clip_even_odd,
    "q": Run.save, "Q": Run.restore, "cm": Run.concat, "w": Run.line_width, "d": Run.dash,
    "gs": Run.ext_g_state,
    "CS": lambda run, args, start: run.choose_space(args, True),
    "cs": lambda run, args, start: run.choose_space(args, False),
    "SC": lambda run, args, start: run.choose_colour(args, True),
    "SCN": lambda run, args, start: run.choose_colour(args, True),
    "sc": lambda run, args, start: run.choose_colour(args, False),
    "scn": lambda run, args, start: run.choose_colour(args, False),
    "G": lambda run, args, start: run.choose_device("DeviceGray", args, True),
    "g": lambda run, args, start: run.choose_device("DeviceGray", args, False),
    "RG": lambda run, args, start: run.choose_device("DeviceRGB", args, True),
    "rg": lambda run, args, start: run.choose_device("DeviceRGB", args, False),
    "K": lambda run, args, start: run.choose_device("DeviceCMYK", args, True),
    "k": lambda run, args, start: run.choose_device("DeviceCMYK", args, False),
    "Do": Run.draw, "BI": Run.inline_image, "sh": Run.shade,
    "BMC": Run.begin_marked, "BDC": Run.begin_marked, "EMC": Run.end_marked,
    "BX": Run.begin_compatibility, "EX": Run.end_compatibility,
    **TEXT_OPERATORS,
}  # ISO 32000-1, annex A
BY_WORD = {word.encode(): method for word, method in OPERATORS.items()}
NO_OPERATORS = frozenset([b"true", b"false", b"null"])

