"""Colour spaces of ISO 32000-1, 8.6: which inks a colour names, and whether it is additive.

Not for converting colour: that is done by renderers and colour engines.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import pikepdf

from horismos.artwork.limits import MAX_PROGRAM_BYTES
from horismos.artwork.model import PROCESS_INKS, Paint
from horismos.artwork.unpack import stream_bytes

__all__ = ["DEVICE_SPACES", "Space", "space_of"]

MAX_DEPTH = 6


@dataclass(frozen=True)
class Space:
    """A colour space: its family, how many components it has, and the inks these name."""

    family: str
    components: int
    inks: tuple[str, ...] = ()
    additive: bool = False
    base: "Space | None" = None
    table: bytes = b""

    def paint(self, values: list[Any]) -> Paint:
        """The paint that component values mean in this space (ISO 32000-1, 8.6.8)."""
        tints = [float(v) for v in values if isinstance(v, int | float)]
        if self.family == "Indexed" and self.base:
            return self._from_table(int(tints[0]) if tints else 0)
        if self.additive:
            return Paint(self.family, (), True, tuple(tints))
        if self.inks == ("Black",) and self.family != "Separation":
            return Paint(self.family, (("Black", 1.0 - (tints[0] if tints else 0.0)),))
        tints += [0.0] * (len(self.inks) - len(tints))
        if "None" not in self.inks:
            return Paint(self.family, tuple(zip(self.inks, tints, strict=False)))
        named = zip(self.inks, tints, strict=False)
        return Paint(self.family, tuple((ink, tint) for ink, tint in named if ink != "None"))

    def initial(self) -> Paint:
        """The paint that is current right after the space was chosen."""
        if self.family in ("Separation", "DeviceN"):
            return self.paint([1.0] * self.components)
        if self.inks == PROCESS_INKS:
            return self.paint([0.0, 0.0, 0.0, 1.0])
        return self.paint([0.0] * self.components)

    def _from_table(self, index: int) -> Paint:
        assert self.base is not None
        n = self.base.components
        entry = self.table[index * n : index * n + n]
        return self.base.paint([byte / 255 for byte in entry])

    @property
    def all_inks(self) -> tuple[str, ...]:
        """Every ink that something in this space can name."""
        inks = self.base.all_inks if self.base else self.inks
        return tuple(ink for ink in inks if ink != "None")


GRAY = Space("DeviceGray", 1, ("Black",))
RGB = Space("DeviceRGB", 3, additive=True)
CMYK = Space("DeviceCMYK", 4, PROCESS_INKS)
DEVICE_SPACES = {
    "DeviceGray": GRAY,
    "DeviceRGB": RGB,
    "DeviceCMYK": CMYK,
    "Pattern": Space("Pattern", 0),
    "CalGray": Space("CalGray", 1, additive=True),
    "CalRGB": Space("CalRGB", 3, additive=True),
    "CalCMYK": CMYK,
    "Lab": Space("Lab", 3, additive=True),
}
UNKNOWN = Space("Unknown", 1)


def _text(obj: Any) -> str:
    return str(obj).removeprefix("/")


def space_of(obj: Any, look_up: Callable[[str], Any], depth: int = 0) -> Space:
    """The colour space that an object of the file describes.

    ``look_up`` gives the resource of a name, or None. What is not understood comes back as the
    family ``Unknown``.
    """
    if depth > MAX_DEPTH or obj is None:
        return UNKNOWN
    if isinstance(obj, pikepdf.Name | str):
        name = _text(obj)
        if name in DEVICE_SPACES:
            return DEVICE_SPACES[name]
        found = look_up(name)
        return space_of(found, look_up, depth + 1) if found is not None else UNKNOWN
    if not isinstance(obj, pikepdf.Array) or not len(obj):
        return UNKNOWN
    family = _text(obj[0])
    try:
        return _from_array(family, obj, look_up, depth)
    except (IndexError, KeyError, TypeError, ValueError, AttributeError, pikepdf.PdfError):
        return UNKNOWN


def _from_array(family: str, obj: Any, look_up: Callable[[str], Any], depth: int) -> Space:
    if family == "ICCBased":
        return _from_profile(obj[1], look_up, depth)
    if family == "Separation":
        return Space("Separation", 1, (_text(obj[1]),))
    if family == "DeviceN":
        return _device_n(obj)
    if family in ("Indexed", "I"):
        base = space_of(obj[1], look_up, depth + 1)
        table = obj[3]
        raw = stream_bytes(table, MAX_PROGRAM_BYTES) if isinstance(table, pikepdf.Stream) else bytes(table)
        return Space("Indexed", 1, (), base.additive, base, raw[: 256 * 32])
    if family == "Pattern" and len(obj) > 1:
        return Space("Pattern", 0, base=space_of(obj[1], look_up, depth + 1))
    return DEVICE_SPACES.get(family, UNKNOWN)


def _from_profile(stream: Any, look_up: Callable[[str], Any], depth: int) -> Space:
    """An ICCBased space (8.6.5.5); where the profile cannot be told, its alternate says what it is."""
    n = int(stream.get("/N", 3))
    by_count = {1: GRAY, 3: RGB, 4: CMYK}
    try:
        header = stream_bytes(stream, MAX_PROGRAM_BYTES)[:ICC_HEADER]
    except (pikepdf.PdfError, RuntimeError):
        header = b""
    base = {b"GRAY": GRAY, b"RGB ": RGB, b"CMYK": CMYK, b"Lab ": DEVICE_SPACES["Lab"]}.get(header[16:20])
    if (base is None or base.components != n) and "/Alternate" in stream:
        base = space_of(stream["/Alternate"], look_up, depth + 1)
    if base is None or base.components != n:
        base = by_count[n]
    return Space("ICCBased", n, base.inks, base.additive)


ICC_HEADER = 128
"""[standard] ICC.1: the header; bytes 16 to 20 name the profile's colour space."""


def _device_n(obj: Any) -> Space:
    """A DeviceN or NChannel space (8.6.6.5); process components count by their place."""
    names = [_text(name) for name in obj[1]]
    process = obj[4].get("/Process") if len(obj) > 4 else None
    if process is not None and _text(process.get("/ColorSpace")) == "DeviceCMYK":
        own = [_text(name) for name in process.get("/Components", [])]
        known = dict(zip(own, PROCESS_INKS, strict=False))
        names = [known.get(name, name) for name in names]
    return Space("DeviceN", len(names), tuple(names))
