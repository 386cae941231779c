"""The operators of a content stream (ISO 32000-1, annex A), and the reading of a stream by them."""

import zlib
from collections.abc import Callable

import pikepdf

from horismos.artwork.images import draw, inline_image
from horismos.artwork.run import Args, Run
from horismos.artwork.scan import OPERATION, PATH_OR_OPERATION, TEXT, operands, token
from horismos.artwork.state import numbers_of
from horismos.artwork.text import TEXT_OPERATORS, show_blocks, show_text

__all__ = ["run_stream"]


def run_stream(run: Run) -> None:
    """Run to the end of a stream."""
    data = run.stream.data
    pending: Args = []
    pos, size = 0, len(data)
    match_any, match_text = PATH_OR_OPERATION.match, TEXT.match
    while pos < size:
        if run.in_text and not pending:
            found = match_text(data, pos)
            if found:
                pos = show_text(run, found)
                continue
        found = match_any(data, pos)
        if found and found[1] and not pending:
            if run.path_start < 0:
                run.path_start = pos
            run.path_end = found.end(1)
            if found[2]:
                run.pending_clip = found[2].decode()
            pos = found.end()
            if found[3]:
                run.paint_path(found[3].decode(), pos)
            continue
        if found and found[1]:
            found = OPERATION.match(data, pos)
        if found:
            raw, word = found.groups()[-2:]
            if word == b"BT" and not pending:
                behind = show_blocks(run, data, pos)
                if behind > pos:
                    pos = behind
                    continue
            if word not in NO_OPERATORS:
                start, pos = pos, found.end()
                run.pos = pos
                args = operands(raw) if raw else []
                if pending:
                    args, pending = pending + args, []
                _operate(run, word, args, start)
                pos = run.pos
                continue
        values, pos, regular = token(data, pos)
        pending += values
        if not regular:
            run.page.repaired("Content holds bytes that mean nothing.")
    if run.stack:
        run.page.unrestored = len(run.stack) if run.index == 0 else run.page.unrestored
        run.page.repaired("Graphics states were saved and not restored.")


def _operate(run: Run, word: bytes, args: Args, start: int) -> None:
    """Carry out one operator; one that is not known is noted and passed over."""
    method = BY_WORD.get(word)
    if method is None:
        if not run.page.lenient:
            run.page.repaired(f"Unknown operator “{word[:12].decode()}”.")
        return
    run.began = start
    try:
        method(run, args, start)
    except BROKEN as e:
        run.page.repaired(f"Operator “{word.decode()}” could not be carried out ({e}).", lost=True)


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
    "Do": draw, "BI": inline_image, "sh": Run.shade,
    "BMC": Run.begin_marked, "BDC": Run.begin_marked, "EMC": Run.end_marked,
    "BX": Run.begin_compatibility, "EX": Run.end_compatibility,
    **TEXT_OPERATORS,
}  # ISO 32000-1, annex A
BY_WORD = {word.encode(): method for word, method in OPERATORS.items()}
NO_OPERATORS = frozenset([b"true", b"false", b"null"])

