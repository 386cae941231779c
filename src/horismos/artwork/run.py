"""Runs one content stream, operator by operator (ISO 32000-1, annex A).

What it finds it gives to the page's interpreter, which keeps count over all streams.
"""

import zlib
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import pikepdf

from horismos.artwork import limits
from horismos.artwork.model import (
    Clip,
    ImageObject,
    Paint,
    PathObject,
    ShadingObject,
    TextObject,
)
from horismos.artwork.resources import Resources
from horismos.artwork.scan import OPERATION, PATH, Name, end_of_inline_image, operands, token
from horismos.artwork.spaces import DEVICE_SPACES, Space
from horismos.artwork.state import IDENTITY, GraphicsState, multiply
from horismos.errors import LimitExceeded
from horismos.paths.contour import Matrix

if TYPE_CHECKING:
    from horismos.artwork.interpret import Interpreter

__all__ = ["Run", "matrix_of"]

Args = list[Any]


def _numbers(args: Args, count: int) -> list[float]:
    """The last ``count`` operands as numbers; missing ones are 0."""
    values = [float(v) if isinstance(v, int | float) else 0.0 for v in args[-count:]]
    return [0.0] * (count - len(values)) + values


def matrix_of(values: Any) -> Matrix:
    try:
        a, b, c, d, e, f = (float(v) for v in values)
    except (TypeError, ValueError):
        return IDENTITY
    return (a, b, c, d, e, f)


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
        self.pos = 0

    def run(self) -> None:
        """Run to the end of the stream."""
        data = self.stream.data
        pending: Args = []
        pos, size = 0, len(data)
        match_path, match_operation = PATH.match, OPERATION.match
        while pos < size:
            found = match_path(data, pos) if not pending else None
            if found:
                if self.path_start < 0:
                    self.path_start = pos
                self.path_end = found.end(1)
                if found[2]:
                    self.pending_clip = found[2].decode()
                pos = found.end()
                if found[3]:
                    self.paint_path(found[3].decode(), pos)
                continue
            found = match_operation(data, pos)
            if found and found[2] not in (b"true", b"false", b"null"):
                start, pos = pos, found.end()
                self.pos = pos
                args = pending + operands(found[1]) if pending else operands(found[1])
                pending = []
                self.operate(found[2].decode(), args, start)
                pos = self.pos
                continue
            values, pos, regular = token(data, pos)
            pending += values
            if not regular:
                self.page.repairs.setdefault("Content holds bytes that mean nothing.")
        if self.stack:
            self.page.repairs.setdefault("Graphics states were saved and not restored.")

    def operate(self, operator: str, args: Args, start: int) -> None:
        """Carry out one operator; one that is not known is noted and passed over."""
        method = OPERATORS.get(operator)
        if method is None:
            if not self.page.lenient:
                self.page.repairs.setdefault(f"Unknown operator “{operator[:12]}”.")
            return
        try:
            method(self, args, start)
        except BROKEN as e:
            self.page.repairs.setdefault(f"Operator “{operator}” could not be carried out ({e}).")

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
        else:
            self.page.repairs.setdefault("A graphics state was restored that was never saved.")

    def concat(self, args: Args, start: int) -> None:
        self.gs.ctm = multiply(matrix_of(args[-6:]), self.gs.ctm)
        self.gs.changed()

    def line_width(self, args: Args, start: int) -> None:
        self.gs.line_width = _numbers(args, 1)[0]
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
            gs.font_size = float(d["/Font"][1])
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
        self._set(stroking, space, space.paint(_numbers(args, space.components)))

    def choose_colour(self, args: Args, stroking: bool) -> None:
        space = self.gs.stroke_space if stroking else self.gs.fill_space
        if args and isinstance(args[-1], Name):
            self._set(stroking, space, self._pattern(args, space))
        else:
            self._set(stroking, space, space.paint(args))

    def _pattern(self, args: Args, space: Space) -> Paint:
        """The inks that a pattern can lay down (ISO 32000-1, 8.7)."""
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
        inner = Resources(pattern.get("/Resources"), self.page.cache)
        spaces = inner.dictionary.get("/ColorSpace") if inner.dictionary is not None else None
        names = [str(key)[1:] for key in spaces.keys()] if spaces is not None else []
        inks = [i for name in names for i in inner.space(name).all_inks]
        return Paint("Pattern", tuple((ink, 1.0) for ink in dict.fromkeys(inks)))

    # -- XObjects, images, shadings ----------------------------------------------------------------

    def draw(self, args: Args, start: int) -> None:
        xobject = self.resources.entry("/XObject", args[0])
        if xobject is None:
            self.page.repairs.setdefault(f"XObject “{args[0]}” is missing.")
            return
        layers = self.resources.layers(xobject.get("/OC"))
        self.page.push_layers(layers)
        subtype = str(xobject.get("/Subtype"))
        if subtype == "/Image":
            self._image(xobject.get, start, self.pos, xobject.get("/ColorSpace"))
        elif subtype == "/Form":
            place = (start, self.pos)
            self.page.draw_form(xobject, self.gs, self.resources.dictionary, self.index, place)
        self.page.pop_layers()

    def _image(self, get: Callable[..., Any], start: int, end: int, space_obj: Any) -> None:
        stencil = bool(get("/ImageMask", False))
        space = None if stencil else self.resources.space_object(space_obj)
        if space is not None:
            self.page.note_space(space)
        else:
            self.page.note_inks(self.gs.fill)
        inks = space.all_inks if space else tuple(ink for ink, _ in self.gs.fill.inks)
        self.page.add(
            ImageObject(
                self.index,
                start,
                end,
                self.gs.values(self.page.layers),
                (int(get("/Width", 0)), int(get("/Height", 0))),
                1 if stencil else int(get("/BitsPerComponent", 8)),
                space.family if space else self.gs.fill.family,
                space.additive if space else self.gs.fill.additive,
                inks,
                stencil,
                get("/SMask") is not None,
            )
        )

    def inline_image(self, args: Args, start: int) -> None:
        """An inline image (ISO 32000-1, 8.9.7); the place moves behind its end."""
        data, pos = self.stream.data, self.pos
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
        if isinstance(space_obj, list):
            space_obj = space_obj[1] if len(space_obj) > 1 else None
        space_obj = INLINE_SPACES.get(str(space_obj), space_obj)
        space = self.resources.space_object(space_obj)
        length = None
        if "/Filter" not in long:
            components = 1 if long.get("/ImageMask") else max(space.components, 1)
            bits = 1 if long.get("/ImageMask") else int(long.get("/BitsPerComponent", 8))
            row = (int(long.get("/Width", 0)) * components * bits + 7) // 8
            length = row * int(long.get("/Height", 0))
        self.pos = end_of_inline_image(data, pos, length)
        self._image(long.get, start, self.pos, space_obj)

    def shade(self, args: Args, start: int) -> None:
        shading = self.resources.entry("/Shading", args[0])
        space = self.resources.space_object(shading.get("/ColorSpace"))
        self.page.note_space(space)
        paint = Paint(space.family, tuple((i, 1.0) for i in space.all_inks), space.additive)
        state = self.gs.values(self.page.layers)
        self.page.add(ShadingObject(self.index, start, self.pos, state, paint))

    # -- marked content ----------------------------------------------------------------------------

    def begin_marked(self, args: Args, start: int) -> None:
        layers: tuple[int, ...] = ()
        if len(args) > 1 and args[0] == "OC" and isinstance(args[1], Name):
            layers = self.resources.layers(self.resources.entry("/Properties", args[1]))
        self.page.push_layers(layers)

    def end_marked(self, args: Args, start: int) -> None:
        self.page.pop_layers()

    def begin_compatibility(self, args: Args, start: int) -> None:
        self.page.lenient += 1

    def end_compatibility(self, args: Args, start: int) -> None:
        self.page.lenient = max(0, self.page.lenient - 1)

    def nothing(self, args: Args, start: int) -> None:
        """An operator that changes nothing that is asked about."""

    # -- text (ISO 32000-1, 9.4) -------------------------------------------------------------------

    def begin_text(self, args: Args, start: int) -> None:
        self.text_matrix = self.line_matrix = IDENTITY

    def font(self, args: Args, start: int) -> None:
        self.gs.font = self.resources.font(args[0])
        self.gs.font_size = _numbers(args, 1)[0]
        if self.gs.font is None:
            self.page.repairs.setdefault(f"Font “{args[0]}” is missing.")

    def text_position(self, args: Args, start: int) -> None:
        x, y = _numbers(args, 2)
        self.line_matrix = multiply((1, 0, 0, 1, x, y), self.line_matrix)
        self.text_matrix = self.line_matrix

    def text_position_leading(self, args: Args, start: int) -> None:
        self.gs.leading = -_numbers(args, 1)[0]
        self.text_position(args, start)

    def set_text_matrix(self, args: Args, start: int) -> None:
        self.text_matrix = self.line_matrix = matrix_of(args[-6:])

    def next_line(self, args: Args, start: int) -> None:
        self.text_position([0.0, -self.gs.leading], start)

    def show(self, args: Args, start: int) -> None:
        self._show([args[-1]], start)

    def show_spaced(self, args: Args, start: int) -> None:
        self._show(args[-1], start)

    def next_line_show(self, args: Args, start: int) -> None:
        self.next_line([], start)
        self._show([args[-1]], start)

    def next_line_show_spaced(self, args: Args, start: int) -> None:
        self.gs.word_space, self.gs.char_space = _numbers(args[:2], 2)
        self.next_line_show(args, start)

    def _show(self, parts: list[Any], start: int) -> None:
        gs, font = self.gs, self.gs.font
        width, shown = 0.0, False
        for part in parts:
            if isinstance(part, bytes):
                shown = shown or bool(part)
                advance, glyphs, spaces = font.advance(part) if font else (len(part) / 2, len(part), 0)
                width += advance * gs.font_size + glyphs * gs.char_space + spaces * gs.word_space
            elif isinstance(part, float):
                width -= part / 1000 * gs.font_size
        width *= gs.scale
        if shown and gs.rendering_mode != 7:
            whole = multiply(self.text_matrix, gs.ctm)
            low, high = gs.rise - 0.25 * gs.font_size, gs.rise + 0.8 * gs.font_size
            a, b, c, d, e, f = whole
            xs = [a * x + c * y + e for x in (0, width) for y in (low, high)]
            ys = [b * x + d * y + f for x in (0, width) for y in (low, high)]
            size = abs(gs.font_size) * (c * c + d * d) ** 0.5
            name = font.name if font else "missing"
            state = gs.values(self.page.layers)
            bounds = (min(xs), min(ys), max(xs), max(ys))
            mode = gs.rendering_mode
            self.page.add(
                TextObject(self.index, start, self.pos, state, name, size, mode, bounds)
            )
            if font:
                self.page.fonts.setdefault(font.name, font)
            if mode in (0, 2, 4, 6):
                self.page.note_inks(gs.fill)
            if mode in (1, 2, 5, 6):
                self.page.note_inks(gs.stroke)
        self.text_matrix = multiply((1, 0, 0, 1, width, 0), self.text_matrix)


BROKEN = (
    IndexError, TypeError, AttributeError, KeyError, ValueError, OverflowError, ZeroDivisionError, zlib.error,
    pikepdf.PdfError,
)
"""What an operator with operands or resources of the wrong shape can raise."""
INLINE_KEYS = {
    "BPC": "BitsPerComponent", "CS": "ColorSpace", "D": "Decode", "DP": "DecodeParms",
    "F": "Filter", "H": "Height", "IM": "ImageMask", "I": "Interpolate", "W": "Width",
}  # ISO 32000-1, table 93
INLINE_SPACES = {"G": "DeviceGray", "RGB": "DeviceRGB", "CMYK": "DeviceCMYK"}  # table 94


def _text_number(field: str, factor: float = 1.0) -> Callable[[Run, Args, int], None]:
    def set_it(run: Run, args: Args, start: int) -> None:
        setattr(run.gs, field, _numbers(args, 1)[0] * factor)

    return set_it


def _painter(operator: str) -> Callable[[Run, Args, int], None]:
    return lambda run, args, start: run.paint_path(operator, run.pos)


def _rendering_mode(run: Run, args: Args, start: int) -> None:
    run.gs.rendering_mode = int(_numbers(args, 1)[0])


OPERATORS: dict[str, Callable[[Run, Args, int], None]] = {
    **{op: _painter(op) for op in ("f", "F", "f*", "S", "s", "B", "B*", "b", "b*", "n")},
    **{op: Run.nothing for op in ("J", "j", "M", "ri", "i", "ET", "MP", "DP", "d0", "d1", "EI")},
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
    "BT": Run.begin_text, "Tf": Run.font, "Td": Run.text_position,
    "TD": Run.text_position_leading, "Tm": Run.set_text_matrix, "T*": Run.next_line,
    "Tj": Run.show, "TJ": Run.show_spaced, "'": Run.next_line_show, '"': Run.next_line_show_spaced,
    "Tc": _text_number("char_space"), "Tw": _text_number("word_space"),
    "Tz": _text_number("scale", 0.01), "TL": _text_number("leading"), "Ts": _text_number("rise"),
    "Tr": _rendering_mode,
}  # ISO 32000-1, annex A

