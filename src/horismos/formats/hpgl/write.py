"""Writes HP-GL: IN SP VS FS PU PD PA.

Coordinates are plotter units of 0.025 mm from the origin, x across the media and y along the
feed. Lengths beyond 32767 units need HP-GL/2, which keeps these instructions. ``VS`` is in cm/s;
``FS`` is given in grams-force, as the cutter of this shop takes it [ours].
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from horismos.paths.contour import Floats
from horismos.units import PLOTTER_UNIT_MM

__all__ = ["ToolRun", "write_hpgl"]


@dataclass(frozen=True, eq=False)
class ToolRun:
    """What one tool draws with one setting: polylines in mm on the sheet, shape (n, 2) each."""

    tool: int
    force_gf: float
    speed_mm_s: float
    strokes: tuple[Floats, ...]


def _units(points: Floats, origin_mm: tuple[float, float]) -> np.ndarray:
    return np.rint((points - origin_mm) / PLOTTER_UNIT_MM).astype(int)


def write_hpgl(runs: Sequence[ToolRun], origin_mm: tuple[float, float]) -> bytes:
    """The HP-GL of tool runs; every stroke is a move with the tool up and a draw with it down."""
    parts = ["IN;", "PA;"]
    for run in runs:
        parts.append(f"SP{run.tool};VS{run.speed_mm_s / 10:g};FS{run.force_gf:g};")
        for stroke in run.strokes:
            units = _units(stroke, origin_mm)
            keep = np.concatenate([[True], np.any(np.diff(units, axis=0) != 0, axis=1)])
            units = units[keep]
            if len(units) < 2:
                continue  # shorter than a plotter unit: nothing that a blade could cut
            drawn = ",".join(map(str, units[1:].ravel().tolist()))
            parts.append(f"PU{units[0, 0]},{units[0, 1]};PD{drawn};")
    parts.append("PU;SP0;")
    return "\n".join(parts).encode("ascii") + b"\n"
