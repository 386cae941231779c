"""Embedded font programs: Type 1, CFF, TrueType and OpenType. Loaded where a file has one, since it takes a while."""

import io
from collections.abc import Callable
from typing import Any

from fontTools.agl import toUnicode
from fontTools.cffLib import CFFFontSet
from fontTools.encodings.StandardEncoding import StandardEncoding
from fontTools.misc.transform import Scale
from fontTools.pens.boundsPen import BoundsPen
from fontTools.pens.recordingPen import DecomposingRecordingPen
from fontTools.pens.transformPen import TransformPen
from fontTools.t1Lib import T1Font
from fontTools.ttLib import TTFont

from horismos.artwork.fonts import UsedFont
from horismos.artwork.outlines import Draw, Outlines
from horismos.paths.box import Bounds
from horismos.paths.contour import Contour
from horismos.paths.pen import ContourPen

__all__ = ["outlines_in"]


def outlines_in(font: UsedFont) -> Outlines:
    """The bounds of the glyphs of a font's program. Raises whatever the font library does on a broken one."""
    assert font.program is not None
    if font.program.kind == "type1":
        return _type1(font)
    data = font.program.data
    if font.program.kind == "truetype" or data[:4] in (b"OTTO", b"\x00\x01\x00\x00", b"true"):
        return _sfnt(font)
    return _cff(font)


def _made(draw: Draw, glyphs: Any, unit: float) -> Outlines:
    """The outlines that a drawing function gives."""

    def box(code: int) -> Bounds | None:
        pen = BoundsPen(glyphs)
        draw(code, pen)
        if pen.bounds is None:
            return None
        x0, y0, x1, y1 = (float(v) * unit for v in pen.bounds)
        return x0, y0, x1, y1

    def contours(code: int) -> list[Contour]:
        drawn, pen = DecomposingRecordingPen(glyphs, skipMissingComponents=True), ContourPen()
        draw(code, drawn)
        drawn.replay(TransformPen(pen, Scale(unit)))
        return pen.contours

    return Outlines(box, contours)


def _draw_from(glyphs: Any, name_of: Callable[[int], str]) -> Draw:
    def draw(code: int, pen: Any) -> None:
        name = name_of(code)
        if name not in glyphs:
            name = ".notdef"
        if name in glyphs:
            glyphs[name].draw(pen)

    return draw


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

    return _made(_draw_from(glyphs, lambda code: _name_of(font, code, built_in)), glyphs, unit)


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

    def draw(code: int, pen: Any) -> None:
        if font.composite:
            name = f"cid{code:05d}" if by_cid else order[code] if code < len(order) else ".notdef"
        else:
            own = top.Encoding
            name = _name_of(font, code, lambda c: StandardEncoding[c] if isinstance(own, str) else own[c])
        if name in glyphs:
            glyphs[name].draw(pen)

    return _made(draw, None, unit)


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

    return _made(_draw_from(glyphs, name_of), glyphs, unit)


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
