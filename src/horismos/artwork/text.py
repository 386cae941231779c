"""Text operators (ISO 32000-1, 9.3 and 9.4). What is shown is measured only when asked for."""

from collections.abc import Callable
from re import Match
from typing import Any

from horismos.artwork.fonts import text_width
from horismos.artwork.model import TextObject
from horismos.artwork.run import Args, Run
from horismos.artwork.scan import TEXT_BLOCK, operands
from horismos.artwork.state import matrix_of, numbers_of
from horismos.paths.matrix import IDENTITY

__all__ = ["TEXT_OPERATORS", "show_blocks", "show_text"]

NOT_SHOWN = 7
"""Rendering mode 7 adds to the clip and paints nothing (table 106)."""


def show_blocks(run: Run, data: bytes, pos: int) -> int:
    """Carry out whole text objects of the plain form as long as they follow each other.

    Gives the place behind the last one, or ``pos`` where none stands there.
    """
    match = TEXT_BLOCK.match
    found = match(data, pos)
    while found:
        name, size, x, y, placed, later, later_size, string, array = found.groups()
        if name is not None:
            _choose_font(run, name, size)
        if placed is not None:
            run.text_matrix = run.line_matrix = matrix_of(operands(placed))
        else:
            run.text_matrix = run.line_matrix = (1.0, 0.0, 0.0, 1.0, _float(x), _float(y))
        if later is not None:
            _choose_font(run, later, later_size)
        run.unmoved = None
        shown = string if array is None else array
        pos = found.end()
        _show(run, shown, found.start(), pos)
        found = match(data, pos)
    return pos


def show_text(run: Run, found: Match[bytes]) -> int:
    """Carry out one operator that the text expression of ``scan`` found; gives the place behind."""
    which, end = found.lastindex, found.end()
    if which == 7 or which == 8:
        _show(run, found[which], found.start(), end)
    elif which == 3:
        x, y = _float(found[1]), _float(found[2])
        if found[3] == b"D":
            run.gs.leading = -y
        _move(run, x, y)
    elif which == 6:
        _matrix(run, operands(found[6]), 0)
    elif which == 5:
        _choose_font(run, found[4], found[5])
    else:
        run.pos = end
        _end(run, [], 0)
    return end


def _float(raw: bytes) -> float:
    try:
        return float(raw)
    except ValueError:
        return float(operands(raw)[0])


def _choose_font(run: Run, name: bytes, size: bytes) -> None:
    key = (name, size)
    if run.last_font != key:
        _font(run, [*operands(b"/" + name), _float(size)], 0)
        run.last_font = key


def _begin(run: Run, args: Args, start: int) -> None:
    run.text_matrix = run.line_matrix = IDENTITY
    run.unmoved = None
    run.in_text = True


def _end(run: Run, args: Args, start: int) -> None:
    run.in_text = False
    if run.page.colours is not None:
        run.page.text_ends.append((run.index, run.pos))


def _font(run: Run, args: Args, start: int) -> None:
    gs, run.last_font = run.gs, None
    gs.font = run.resources.font(args[0])
    gs.font_size = float(args[1])
    if gs.font is None:
        run.page.repaired(f"Font “{args[0]}” is missing.", lost=True)


def _move(run: Run, x: float, y: float) -> None:
    a, b, c, d, e, f = run.line_matrix
    run.line_matrix = run.text_matrix = (a, b, c, d, a * x + c * y + e, b * x + d * y + f)
    run.unmoved = None


def _position(run: Run, args: Args, start: int) -> None:
    _move(run, *numbers_of(args, 2))


def _position_leading(run: Run, args: Args, start: int) -> None:
    run.gs.leading = -numbers_of(args, 1)[0]
    _position(run, args, start)


def _matrix(run: Run, args: Args, start: int) -> None:
    run.text_matrix = run.line_matrix = matrix_of(args[-6:])
    run.unmoved = None


def _next_line(run: Run, args: Args, start: int) -> None:
    _move(run, 0.0, -run.gs.leading)


def _show_args(run: Run, args: Args, start: int) -> None:
    _show(run, run.stream.data[start : run.pos], start, run.pos, args[-1])


def _next_line_show(run: Run, args: Args, start: int) -> None:
    _next_line(run, [], start)
    _show_args(run, args, start)


def _next_line_show_spaced(run: Run, args: Args, start: int) -> None:
    run.gs.word_space, run.gs.char_space = numbers_of(args[:2], 2)
    _next_line_show(run, args, start)


def _show(run: Run, operand: bytes, start: int, end: int, value: Any = None) -> None:
    gs, page = run.gs, run.page
    if run.unmoved is not None:
        _move_on(run, run.unmoved)
    if value is not None:
        operand = _plain(value)
    font, mode = gs.font, gs.rendering_mode
    made = TextObject(
        run.index, start, end, gs.values(page.layers), font, gs.font_size, run.text_matrix,
        gs.char_space, gs.word_space, gs.scale, gs.rise, mode, operand,
    )
    run.unmoved = made
    if len(operand) <= 2 or mode == NOT_SHOWN or (b"(" not in operand and b"<" not in operand):
        return  # an array of nothing but numbers moves on and shows nothing
    page.add(made)
    if font is not None:
        if page.fonts.get(font.name) is not font:
            page.note_font(font)
        if font.procedures is not None:
            page.run_glyphs(font, operand)
    if mode in (0, 2, 4, 6):
        page.note_inks(gs.fill)
    if mode in (1, 2, 5, 6):
        page.note_inks(gs.stroke)


def _move_on(run: Run, shown: TextObject) -> None:
    """Move the text matrix on by what was shown last; only a further string needs it."""
    width = text_width(shown)
    x, y = (0.0, width) if shown.font_used and shown.font_used.vertical else (width, 0.0)
    a, b, c, d, e, f = run.text_matrix
    run.text_matrix = (a, b, c, d, a * x + c * y + e, b * x + d * y + f)


def _plain(value: Any) -> bytes:
    """A showing operand that was read piece by piece, as bytes of content."""
    if isinstance(value, bytes):
        return b"<" + value.hex().encode() + b">"
    parts = [f"{v}".encode() if isinstance(v, float) else _plain(v) for v in value if isinstance(v, float | bytes)]
    return b"[" + b" ".join(parts) + b"]"


def _number(field: str, factor: float = 1.0) -> Callable[[Run, Args, int], None]:
    def set_it(run: Run, args: Args, start: int) -> None:
        setattr(run.gs, field, numbers_of(args, 1)[0] * factor)

    return set_it


def _rendering_mode(run: Run, args: Args, start: int) -> None:
    run.gs.rendering_mode = int(numbers_of(args, 1)[0])


TEXT_OPERATORS: dict[str, Callable[[Run, Args, int], None]] = {
    "BT": _begin, "ET": _end, "Tf": _font, "Td": _position,
    "TD": _position_leading, "Tm": _matrix, "T*": _next_line,
    "Tj": _show_args, "TJ": _show_args, "'": _next_line_show, '"': _next_line_show_spaced,
    "Tc": _number("char_space"), "Tw": _number("word_space"),
    "Tz": _number("scale", 0.01), "TL": _number("leading"), "Ts": _number("rise"),
    "Tr": _rendering_mode,
}  # ISO 32000-1, annex A
