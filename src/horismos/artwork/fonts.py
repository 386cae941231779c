"""Fonts as far as a check needs them: name, embedding, widths, and the program for exact bounds.

Nothing is parsed here but the font dictionary; the outlines are read in ``glyphs`` when asked for.
"""

import re
from dataclasses import dataclass, field
from typing import Any, Protocol

import pikepdf

from horismos.artwork.limits import MAX_PROGRAM_BYTES
from horismos.artwork.scan import shown_strings
from horismos.artwork.unpack import stream_bytes
from horismos.paths.box import Bounds
from horismos.paths.matrix import Matrix

__all__ = ["FontProgram", "Glyph", "UsedFont", "font_of", "text_width"]

@dataclass(frozen=True, eq=False)
class FontProgram:
    """An embedded font file (ISO 32000-1, 9.9). ``kind`` is type1, truetype or cff."""

    kind: str
    data: bytes = field(repr=False)


@dataclass(frozen=True)
class Glyph:
    """A glyph of a Type 3 font, run once: its bounds in glyph space."""

    box: Bounds | None


@dataclass(frozen=True, eq=False, kw_only=True)
class UsedFont:
    """A font resource (ISO 32000-1, 9.5). Widths are in thousandths of the font size.

    ``encoding`` maps codes to glyph names where the file says so; ``cids_to_glyphs`` is the
    CIDToGIDMap's bytes, or None for the identity. ``glyphs`` and ``paints`` are filled in as a
    Type 3 font is used; ``matrix`` maps its glyph space to text space. ``kept`` holds what was read of
    its program once.
    """

    name: str
    embedded: bool
    composite: bool
    widths: dict[int, float]
    default_width: float
    kind: str = "Type1"
    program: FontProgram | None = None
    encoding: dict[int, str] = field(default_factory=dict)
    base_encoding: str = ""
    symbolic: bool = False
    identity: bool = True
    cids: dict[int, int] = field(default_factory=dict)
    cids_to_glyphs: bytes | None = None
    matrix: Matrix = (0.001, 0, 0, 0.001, 0, 0)
    procedures: Any = None
    resources: Any = None
    vertical: bool = False
    glyphs: dict[int, Glyph] = field(default_factory=dict)
    paints: dict[Any, None] = field(default_factory=dict)
    kept: dict[str, Any] = field(default_factory=dict, repr=False)

    def codes(self, text: bytes) -> list[int]:
        """The character codes of a string; of a composite font the CIDs that they choose."""
        if not self.composite:
            return list(text)
        codes = [text[i] << 8 | text[i + 1] for i in range(0, len(text) - 1, 2)]
        return [self.cids.get(code, 0) for code in codes] if self.cids else codes

    def advance(self, text: bytes) -> tuple[float, int, int]:
        """The width of a string in text space at size 1, its glyphs, and its single spaces."""
        codes = self.codes(text)
        widths, default = self.widths, self.default_width
        total = sum([widths.get(code, default) for code in codes])
        return total / 1000, len(codes), 0 if self.composite else text.count(b" ")


class Shown(Protocol):
    """A showing operator, as far as its width goes."""

    @property
    def operand(self) -> bytes: ...
    @property
    def font_used(self) -> UsedFont | None: ...
    @property
    def size(self) -> float: ...
    @property
    def char_space(self) -> float: ...
    @property
    def word_space(self) -> float: ...
    @property
    def scale(self) -> float: ...


def text_width(text: Shown) -> float:
    """How far an operator moves on in text space (ISO 32000-1, 9.4.4)."""
    width = 0.0
    for part in shown_strings(text.operand):
        if isinstance(part, bytes):
            if text.font_used:
                advance, glyphs, spaces = text.font_used.advance(part)
            else:
                advance, glyphs, spaces = len(part) / 2, len(part), 0
            width += advance * text.size + glyphs * text.char_space + spaces * text.word_space
        elif isinstance(part, float):
            width -= part / 1000 * text.size
    return width * text.scale


def font_of(obj: Any) -> UsedFont:
    """The font that a font dictionary describes; lenient, since only its extent depends on it."""
    subtype = str(obj.get("/Subtype", "/Type1")).removeprefix("/")
    name = str(obj.get("/BaseFont", obj.get("/Name", "/unnamed"))).removeprefix("/")
    base, differences = _encoding(obj)
    if subtype == "Type3":
        a, b, c, d, e, f = (float(v) for v in obj.get("/FontMatrix", [0.001, 0, 0, 0.001, 0, 0]))
        matrix: Matrix = (a, b, c, d, e, f)
        widths = {k: v * 1000 * matrix[0] for k, v in _simple_widths(obj).items()}
        return UsedFont(
            name=name, embedded=True, composite=False, widths=widths, default_width=0.0, kind=subtype, program=None,
            encoding=differences, base_encoding=base, matrix=matrix, procedures=obj.get("/CharProcs"),
            resources=obj.get("/Resources")
        )
    if subtype == "Type0":
        descendant = obj.DescendantFonts[0]
        widths = _composite_widths(descendant.get("/W"))
        default = float(descendant.get("/DW", 1000))
        cmap = obj.get("/Encoding", pikepdf.Name("/Identity-H"))
        encoding = str(cmap) if isinstance(cmap, pikepdf.Name) else ""
        cids = _cids(stream_bytes(cmap, MAX_PROGRAM_BYTES)) if isinstance(cmap, pikepdf.Stream) else {}
        to_glyphs = descendant.get("/CIDToGIDMap")
        table = stream_bytes(to_glyphs, MAX_PROGRAM_BYTES) if isinstance(to_glyphs, pikepdf.Stream) else None
        program = _program(descendant)
        return UsedFont(
            name=name, embedded=program is not None, composite=True, widths=widths, default_width=default,
            kind=subtype, program=program, identity=encoding.startswith("/Identity") or bool(cids), cids=cids,
            cids_to_glyphs=table, vertical=encoding.endswith("-V")
        )
    descriptor = obj.get("/FontDescriptor")
    missing = float(descriptor.get("/MissingWidth", 0)) if descriptor is not None else 500.0
    widths = _simple_widths(obj) or _standard_widths(name)
    symbolic = bool(int(descriptor.get("/Flags", 0)) & 4) if descriptor is not None else False
    program = _program(obj)
    return UsedFont(
        name=name, embedded=program is not None, composite=False, widths=widths, default_width=missing, kind=subtype,
        program=program, encoding=differences, base_encoding=base, symbolic=symbolic
    )


def _cids(cmap: bytes) -> dict[int, int]:
    """The CIDs of two-byte codes in an embedded CMap (9.7.5.3)."""
    out: dict[int, int] = {}
    for body in re.findall(rb"begincidchar(.*?)endcidchar", cmap, re.DOTALL):
        out.update((int(code, 16), int(cid)) for code, cid in re.findall(rb"<([0-9A-Fa-f]+)>\s+(\d+)", body))
    for body in re.findall(rb"begincidrange(.*?)endcidrange", cmap, re.DOTALL):
        for low, high, cid in re.findall(rb"<([0-9A-Fa-f]+)>\s*<([0-9A-Fa-f]+)>\s+(\d+)", body):
            first = int(low, 16)
            last = min(int(high, 16), first + 0xFFFF)
            out.update((code, int(cid) + code - first) for code in range(first, last + 1))
    return out


def _encoding(obj: Any) -> tuple[str, dict[int, str]]:
    """The name of the base encoding and the differences from it (9.6.6)."""
    encoding = obj.get("/Encoding")
    if isinstance(encoding, pikepdf.Name):
        return str(encoding)[1:], {}
    if not isinstance(encoding, pikepdf.Dictionary):
        return "", {}
    out: dict[int, str] = {}
    code = 0
    for item in encoding.get("/Differences", []):
        if isinstance(item, pikepdf.Name):
            out[code] = str(item)[1:]
            code += 1
        else:
            code = int(item)
    return str(encoding.get("/BaseEncoding", "/"))[1:], out


def _program(font: Any) -> FontProgram | None:
    descriptor = font.get("/FontDescriptor")
    if descriptor is None:
        return None
    for key, kind in (("/FontFile", "type1"), ("/FontFile2", "truetype"), ("/FontFile3", "cff")):
        stream = descriptor.get(key)
        if stream is not None:
            try:
                return FontProgram(kind, stream_bytes(stream, MAX_PROGRAM_BYTES))
            except (pikepdf.PdfError, AttributeError, RuntimeError):
                return FontProgram(kind, b"")
    return None


def _simple_widths(font: Any) -> dict[int, float]:
    first = int(font.get("/FirstChar", 0))
    widths = font.get("/Widths")
    if not isinstance(widths, pikepdf.Array):
        return {}
    return {first + i: float(width) for i, width in enumerate(widths)}


def _standard_widths(name: str) -> dict[int, float]:
    """Widths of the standard 14 fonts (9.6.2.2), which a file need not give; none for others."""
    from reportlab.pdfbase.pdfmetrics import getFont, standardFonts

    if name not in standardFonts:
        return {}
    return {code: float(width) for code, width in enumerate(getFont(name).widths)}


def _composite_widths(w: Any) -> dict[int, float]:
    """Widths by CID (ISO 32000-1, 9.7.4.3)."""
    out: dict[int, float] = {}
    if not isinstance(w, pikepdf.Array):
        return out
    i = 0
    while i + 1 < len(w):
        first, second = int(w[i]), w[i + 1]
        if isinstance(second, pikepdf.Array):
            out.update({first + k: float(width) for k, width in enumerate(second)})
            i += 2
        elif i + 2 < len(w):
            out.update(dict.fromkeys(range(first, min(int(second), 65535) + 1), float(w[i + 2])))
            i += 3
        else:
            break
    return out
