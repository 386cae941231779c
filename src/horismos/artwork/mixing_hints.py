"""The order in which inks are laid down, as a file carries it: a mixing hint (ISO 32000-1, 8.6.6.5, table 73)."""

from collections.abc import Sequence

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.model import PROCESS_INKS

__all__ = ["printing_order", "write_printing_order"]


def write_printing_order(pdf: pikepdf.Pdf, order: Sequence[str]) -> None:
    """The order in which inks are laid down, as a mixing hint of a space of all of them (ISO 32000-1, 8.6.6.5)."""
    first = order.index(PROCESS_INKS[0])
    behind = len(order) - first - len(PROCESS_INKS)
    # of all tints only the process inks' are left to be shown
    shown = "pop " * behind + "".join(f"{4 + left} -1 roll pop " for left in range(first, 0, -1))
    tint = pdf.make_stream(f"{{ {shown}}}".encode())
    tint.FunctionType, tint.Domain, tint.Range = 4, Array([0, 1] * len(order)), Array([0, 1] * 4)
    names = Array([Name("/" + ink) for ink in order])
    hints = Dictionary(MixingHints=Dictionary(PrintingOrder=names))
    space = pdf.make_indirect(Array([Name.DeviceN, names, Name.DeviceCMYK, tint, hints]))
    for page in pdf.pages:
        page.obj.Resources.ColorSpace["/Inks"] = space


def printing_order(pdf: pikepdf.Pdf) -> tuple[str, ...]:
    """The order of inks that a print PDF carries; empty where it carries none."""
    for page in pdf.pages:
        spaces = page.obj.get("/Resources", Dictionary()).get("/ColorSpace", Dictionary())
        for name in spaces.keys():
            space = spaces[name]
            if isinstance(space, Array) and len(space) > 4 and "/MixingHints" in space[4]:
                listed = space[4].MixingHints.get("/PrintingOrder", Array())
                return tuple(str(ink).removeprefix("/") for ink in listed)
    return ()
