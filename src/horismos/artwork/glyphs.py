"""The exact extent of shown text, from the outlines of embedded fonts.

Where a font is not embedded, or its outlines cannot be read, the extent is estimated from widths and size.
Not for drawing text: that is the renderers' work.
"""

from collections.abc import Iterator

from horismos.artwork.fonts import UsedFont, text_width
from horismos.artwork.model import TextObject
from horismos.artwork.outlines import ASCENT, DESCENT, UNREADABLE, Outlines
from horismos.artwork.scan import shown_strings
from horismos.paths.box import Bounds, placed
from horismos.paths.contour import Contour
from horismos.paths.matrix import Matrix, multiply

__all__ = ["Outlines", "has_outlines", "outlines_of", "text_bounds", "text_box", "text_contours"]


def outlines_of(font: UsedFont) -> Outlines | None:
    """The bounds of a font's glyphs, read from its program once; None where they cannot be had."""
    if "outlines" not in font.kept:
        font.kept["outlines"] = _outlines(font)
    found: Outlines | None = font.kept["outlines"]
    return found


def _outlines(font: UsedFont) -> Outlines | None:
    if font.kind == "Type3":
        return Outlines(lambda code: _type3_box(font, code))
    if font.program is None or not font.identity:
        return None
    from horismos.artwork.programs import outlines_in

    try:
        return outlines_in(font)
    except UNREADABLE:
        return None


def _type3_box(font: UsedFont, code: int) -> Bounds | None:
    glyph = font.glyphs.get(code)
    return glyph.box if glyph else None


def text_bounds(text: TextObject) -> Bounds | None:
    """The bounds in mm of what a showing operator paints, stroke widths left out; None for mere spaces.

    From the font's outlines where it is embedded, else an estimate from its widths and size.
    """
    font = text.font_used
    outlines = outlines_of(font) if font and not font.vertical else None
    if outlines is None or font is None:
        low, high = text.rise + DESCENT * text.size, text.rise + ASCENT * text.size
        return _mapped(text, [(0.0, low), (text_width(text), high)])
    matrix = font.matrix if font.kind == "Type3" else None
    size, scale = text.size, text.scale
    corners: list[tuple[float, float]] = []
    for code, x in _along(text, font):
        box = outlines.box(code)
        if box is not None:
            x0, y0, x1, y1 = placed(box, matrix) if matrix else box
            corners.append((x + x0 * size * scale, text.rise + y0 * size))
            corners.append((x + x1 * size * scale, text.rise + y1 * size))
    return _mapped(text, corners) if corners else None


def has_outlines(text: TextObject) -> bool:
    """Whether ``text_contours`` can give the contours of a text, as far as its font tells."""
    font = text.font_used
    return bool(font and not font.vertical and font.kind != "Type3" and outlines_of(font) is not None)


def text_contours(text: TextObject) -> list[Contour] | None:
    """The contours in mm of what a showing operator paints, glyph by glyph; None where one cannot be had.

    Not of Type 3 fonts, whose glyphs paint for themselves, nor of text that runs downwards.
    """
    font = text.font_used
    outlines = outlines_of(font) if font and has_outlines(text) else None
    if outlines is None or font is None:
        return None
    out: list[Contour] = []
    for code, x in _along(text, font):
        found = outlines.contours(code)
        if found is None:
            return None
        placed_at: Matrix = (text.size * text.scale, 0.0, 0.0, text.size, x, text.rise)
        out += [c.transformed(multiply(placed_at, text.matrix)) for c in found]
    return out


def _along(text: TextObject, font: UsedFont) -> Iterator[tuple[int, float]]:
    """The codes that a text shows, each with where it stands along the line, in text space (9.4.4)."""
    x = 0.0
    for part in shown_strings(text.operand):
        if isinstance(part, float):
            x -= part / 1000 * text.size * text.scale
        for code in font.codes(part) if isinstance(part, bytes) else ():
            yield code, x
            space = text.word_space if code == 32 and not font.composite else 0.0
            width = font.widths.get(code, font.default_width) / 1000
            x += (width * text.size + text.char_space + space) * text.scale


def text_box(text: TextObject) -> Bounds:
    """The same; the point where the text stands for mere spaces."""
    _, _, _, _, x, y = text.matrix
    return text_bounds(text) or (x, y, x, y)


def _mapped(text: TextObject, corners: list[tuple[float, float]]) -> Bounds:
    """The bounds in mm of points in text space. Boxes are exact where text runs along an axis."""
    a, b, c, d, e, f = text.matrix
    xs0, ys0 = [p[0] for p in corners], [p[1] for p in corners]
    if abs(a * c) + abs(b * d) + abs(a * b) < 1e-12:  # along an axis: two corners are enough
        pairs = [(min(xs0), min(ys0)), (max(xs0), max(ys0))]
    else:
        pairs = [
            (x, y)
            for i in range(0, len(corners) - 1, 2)
            for x in (xs0[i], xs0[i + 1])
            for y in (ys0[i], ys0[i + 1])
        ] or corners
    xs = [a * x + c * y + e for x, y in pairs]
    ys = [b * x + d * y + f for x, y in pairs]
    return min(xs), min(ys), max(xs), max(ys)
