"""Fonts as far as a check needs them: the name, whether it is embedded, how wide its text runs."""

from dataclasses import dataclass
from typing import Any

import pikepdf

__all__ = ["UsedFont", "font_of"]


@dataclass(frozen=True)
class UsedFont:
    """A font resource (ISO 32000-1, 9.5). Widths are in thousandths of the font size."""

    name: str
    embedded: bool
    composite: bool
    widths: dict[int, float]
    default_width: float

    def advance(self, text: bytes) -> tuple[float, int, int]:
        """The width of a string in text space at size 1, its glyphs, and its single spaces."""
        if self.composite:
            codes = [text[i] << 8 | text[i + 1] for i in range(0, len(text) - 1, 2)]
            spaces = 0
        else:
            codes = list(text)
            spaces = text.count(b" ")
        total = sum(self.widths.get(code, self.default_width) for code in codes)
        return total / 1000, len(codes), spaces


def font_of(obj: Any) -> UsedFont:
    """The font that a font dictionary describes; lenient, since only its width depends on it."""
    subtype = str(obj.get("/Subtype", "/Type1"))
    name = str(obj.get("/BaseFont", obj.get("/Name", "/unnamed"))).removeprefix("/")
    if subtype == "/Type3":
        matrix = [float(v) for v in obj.get("/FontMatrix", [0.001, 0, 0, 0.001, 0, 0])]
        widths = {k: v * 1000 * matrix[0] for k, v in _simple_widths(obj).items()}
        return UsedFont(name, True, False, widths, 0.0)
    if subtype == "/Type0":
        descendant = obj.DescendantFonts[0]
        widths = _composite_widths(descendant.get("/W"))
        default = float(descendant.get("/DW", 1000))
        return UsedFont(name, _embedded(descendant), True, widths, default)
    descriptor = obj.get("/FontDescriptor")
    missing = float(descriptor.get("/MissingWidth", 500)) if descriptor is not None else 500.0
    return UsedFont(name, _embedded(obj), False, _simple_widths(obj), missing)


def _embedded(font: Any) -> bool:
    descriptor = font.get("/FontDescriptor")
    return descriptor is not None and any(
        key in descriptor for key in ("/FontFile", "/FontFile2", "/FontFile3")
    )


def _simple_widths(font: Any) -> dict[int, float]:
    first = int(font.get("/FirstChar", 0))
    widths = font.get("/Widths")
    if not isinstance(widths, pikepdf.Array):
        return {}
    return {first + i: float(width) for i, width in enumerate(widths)}


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
