"""The exact extent of shown text, from the outlines of embedded fonts.

Where a font is not embedded, or its outlines cannot be read, the extent is estimated from widths and size.
Not for drawing text: that is the renderers' work.
"""

import io
from collections.abc import Callable
from typing import Any

from fontTools.agl import toUnicode
from fontTools.cffLib import CFFFontSet
from fontTools.encodings.StandardEncoding import StandardEncoding
from fontTools.pens.boundsPen import BoundsPen
from fontTools.t1Lib import T1Font
from fontTools.ttLib import TTFont

from horismos.artwork.fonts import UsedFont, text_width
from horismos.artwork.model import TextObject
from horismos.artwork.scan import shown_strings
from horismos.paths.box import Bounds, placed

__all__ = ["Outlines", "outlines_of", "text_bounds", "text_box"]

ASCENT, DESCENT = 0.8, -0.25
"""[ours] the extent of a line of text whose outlines are not known, at size 1."""
UNREADABLE = (Exception,)
"""What the font library raises on a broken program is not listed anywhere."""


class Outlines:
    """The bounds of a font's glyphs by character code, at size 1, each read once."""

    def __init__(self, box_of: Callable[[int], Bounds | None]) -> None:
        self._box_of = box_of
        self._boxes: dict[int, Bounds | None] = {}

    def box(self, code: int) -> Bounds | None:
        """The bounds of a code's glyph; None for one that paints nothing."""
        if code not in self._boxes:
            try:
                self._boxes[code] = self._box_of(code)
            except UNREADABLE:
                self._boxes[code] = (0.0, DESCENT, 0.5, ASCENT)
        return self._boxes[code]


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
    try:
        if font.program.kind == "type1":
            return _type1(font)
        data = font.program.data
        if font.program.kind == "truetype" or data[:4] in (b"OTTO", b"\x00\x01\x00\x00", b"true"):
            return _sfnt(font)
        return _cff(font)
    except UNREADABLE:
        return None


def _type3_box(font: UsedFont, code: int) -> Bounds | None:
    glyph = font.glyphs.get(code)
    return glyph.box if glyph else None


def _scaled(bounds: Any, unit: float) -> Bounds | None:
    if bounds is None:
        return None
    x0, y0, x1, y1 = (float(v) * unit for v in bounds)
    return x0, y0, x1, y1


def _drawn(glyph_set: Any, name: str, unit: float) -> Bounds | None:
    if name not in glyph_set:
        name = ".notdef"
        if name not in glyph_set:
            return None
    pen = BoundsPen(glyph_set)
    glyph_set[name].draw(pen)
    return _scaled(pen.bounds, unit)


def _name_of(font: UsedFont, code: int, own: Callable[[int], str]) -> str:
    """The glyph name of a code in a simple font (ISO 32000-1, 9.6.6.2)."""
    if code in font.encoding:
        return font.encoding[code]
    if font.base_encoding in CODECS:
        return _name_in(font.base_encoding, code)
    return own(code)


CODECS = {"WinAnsiEncoding": "cp1252", "MacRomanEncoding": "mac_roman", "StandardEncoding": ""}


def _name_in(encoding: str, code: int) -> str:
    codec = CODECS[encoding]
    if not codec:
        return str(StandardEncoding[code])
    try:
        return _names_by_character().get(bytes([code]).decode(codec), ".notdef")
    except UnicodeDecodeError:
        return "bullet"


_NAMES: dict[str, str] = {}


def _names_by_character() -> dict[str, str]:
    """Glyph names of the Adobe Glyph List for one character each, the plainest name first."""
    if not _NAMES:
        from fontTools.agl import AGL2UV

        for name, value in sorted(AGL2UV.items(), key=lambda item: (len(item[0]), item[0])):
            _NAMES.setdefault(chr(value), name)
        _NAMES.update({" ": "space", "-": "hyphen", "\xa0": "space", "\xad": "hyphen"})
        _NAMES.update({chr(AGL2UV[name]): name for name in StandardEncoding if name in AGL2UV})
    return _NAMES


def _type1(font: UsedFont) -> Outlines:
    assert font.program is not None
    program = T1Font.__new__(T1Font)
    program.encoding = "ascii"
    program.data, _ = _type1_data(font.program.data), None
    program.parse()
    glyphs, own = program.getGlyphSet(), program["Encoding"]
    unit = float(program["FontMatrix"][0])

    def built_in(code: int) -> str:
        return str(StandardEncoding[code] if own == "StandardEncoding" else own[code])

    return Outlines(lambda code: _drawn(glyphs, _name_of(font, code, built_in), unit))


def _type1_data(data: bytes) -> bytes:
    """A Type 1 program as one piece, from the plain form or the segmented one."""
    if data[:1] == b"\x80":
        parts, at = [], 0
        while data[at : at + 1] == b"\x80" and data[at + 1] != 3:
            size = int.from_bytes(data[at + 2 : at + 6], "little")
            parts.append(data[at + 6 : at + 6 + size])
            at += 6 + size
        return b"".join(parts)
    return data


def _cff(font: UsedFont) -> Outlines:
    assert font.program is not None
    fonts = CFFFontSet()
    fonts.decompile(io.BytesIO(font.program.data), None)
    top = fonts[0]
    glyphs, order = top.CharStrings, top.charset
    unit = float(top.FontMatrix[0]) if hasattr(top, "FontMatrix") else 0.001
    by_cid = hasattr(top, "ROS")

    def box(code: int) -> Bounds | None:
        if font.composite:
            name = f"cid{code:05d}" if by_cid else order[code] if code < len(order) else ".notdef"
        else:
            own = top.Encoding
            name = _name_of(font, code, lambda c: StandardEncoding[c] if isinstance(own, str) else own[c])
        if name not in glyphs:
            return None
        pen = BoundsPen(None)
        glyphs[name].draw(pen)
        return _scaled(pen.bounds, unit)

    return Outlines(box)


def _sfnt(font: UsedFont) -> Outlines:
    assert font.program is not None
    sfnt = TTFont(io.BytesIO(font.program.data), lazy=True, fontNumber=0)
    glyphs, order = sfnt.getGlyphSet(), sfnt.getGlyphOrder()
    unit = 1.0 / float(sfnt["head"].unitsPerEm)
    tables = {(t.platformID, t.platEncID): t.cmap for t in sfnt["cmap"].tables} if "cmap" in sfnt else {}

    def name_of(code: int) -> str:
        if font.composite:
            table = font.cids_to_glyphs
            number = code
            if table is not None:
                number = int.from_bytes(table[2 * code : 2 * code + 2], "big")
            return order[number] if number < len(order) else ".notdef"
        return _simple_truetype(font, code, tables, order)

    return Outlines(lambda code: _drawn(glyphs, name_of(code), unit))


def _simple_truetype(
    font: UsedFont, code: int, tables: dict[tuple[int, int], dict[int, str]], order: list[str]
) -> str:
    """The glyph of a code in a simple TrueType font (ISO 32000-1, 9.6.6.4)."""
    encoded = (font.encoding or font.base_encoding) and (3, 0) not in tables
    if encoded and (not font.symbolic or font.encoding):
        name = _name_of(font, code, lambda c: str(StandardEncoding[c]))
        characters = toUnicode(name)
        if (3, 1) in tables and characters and ord(characters[0]) in tables[3, 1]:
            return tables[3, 1][ord(characters[0])]
        if (1, 0) in tables and characters:
            try:
                found = tables[1, 0].get(characters[0].encode("mac_roman")[0])
            except UnicodeEncodeError:
                found = None
            if found:
                return found
        if name in order:
            return name
    for table, offset in (((3, 0), 0xF000), ((3, 0), 0), ((1, 0), 0), ((3, 1), 0)):
        found = tables.get(table, {}).get(code + offset)
        if found:
            return found
    return order[code] if not tables and code < len(order) else ".notdef"


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
    x = 0.0
    corners: list[tuple[float, float]] = []
    for part in shown_strings(text.operand):
        if isinstance(part, float):
            x -= part / 1000 * size * scale
        if not isinstance(part, bytes):
            continue
        for code in font.codes(part):
            box = outlines.box(code)
            if box is not None:
                x0, y0, x1, y1 = placed(box, matrix) if matrix else box
                corners.append((x + x0 * size * scale, text.rise + y0 * size))
                corners.append((x + x1 * size * scale, text.rise + y1 * size))
            space = text.word_space if code == 32 and not font.composite else 0.0
            width = font.widths.get(code, font.default_width) / 1000
            x += (width * size + text.char_space + space) * scale
    return _mapped(text, corners) if corners else None


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
