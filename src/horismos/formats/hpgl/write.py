"""Writes HP-GL: a tool, its speed and force, strokes with the tool down; in the dialect of a cutter.

Coordinates are the cutter's units from the origin, x across the media and y along the feed, unless it turns them or
counts from the right. Lengths beyond 32767 units need HP-GL/2, which keeps these instructions. ``VS`` is in cm/s;
``FS`` is given in grams-force, as the cutter of this shop takes it [ours].
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from horismos.machines import Dialect
from horismos.paths.contour import Floats

__all__ = ["StrokeSegment", "ToolRun", "write_hpgl"]

PLAIN = Dialect()


@dataclass(frozen=True, eq=False)
class StrokeSegment:
    """A part of a stroke, shape (n, 2) in mm on the sheet, at one force; None: as it was set for the tool."""

    points: Floats
    force_gf: float | None = None


@dataclass(frozen=True, eq=False)
class ToolRun:
    """What one tool draws: strokes, each of parts one behind the other with the tool down.

    ``force_gf`` and ``speed_mm_s`` are None where they are left to the machine. ``pause``: a person puts the tool in.
    """

    tool: int
    force_gf: float | None
    speed_mm_s: float | None
    strokes: Sequence[Sequence[StrokeSegment]]
    pause: bool = False


def write_hpgl(runs: Sequence[ToolRun], origin_mm: tuple[float, float], dialect: Dialect = PLAIN) -> bytes:
    """The HP-GL of tool runs; every stroke is a move with the tool up and a draw with it down."""
    parts = [*filter(None, dialect.header.replace(";", ";\n").split("\n"))]
    for run in runs:
        setting = (dialect.pause if run.pause else "") + dialect.tool.format(number=run.tool)
        if run.speed_mm_s is not None:
            setting += dialect.speed.format(cm_s=run.speed_mm_s / 10, mm_s=run.speed_mm_s)
        parts.append(setting + _force(run.force_gf, dialect))
        now = run.force_gf
        for stroke in run.strokes:
            drawn, now = _stroke(stroke, run, now, origin_mm, dialect)
            parts += drawn
    parts.append(dialect.trailer)
    return "\n".join(parts).encode("ascii") + b"\n"


def _force(force_gf: float | None, dialect: Dialect) -> str:
    return "" if force_gf is None else dialect.force.format(gf=force_gf)


def _stroke(
    stroke: Sequence[StrokeSegment], run: ToolRun, now: float | None, origin_mm: tuple[float, float], dialect: Dialect
) -> tuple[list[str], float | None]:
    """One stroke, and the force that is set behind it; nothing where it is shorter than a unit."""
    out: list[str] = []
    at: tuple[int, int] | None = None
    for part in stroke:
        units = _units(part.points, origin_mm, dialect)
        units = units[np.concatenate([[True], np.any(np.diff(units, axis=0) != 0, axis=1)])]
        if len(units) < 2:
            continue  # shorter than a unit: nothing that a blade could cut
        force = run.force_gf if part.force_gf is None else part.force_gf
        changed = "" if force == now else _force(force, dialect)
        begin = (int(units[0, 0]), int(units[0, 1]))
        drawn = ",".join(map(str, units[1:].ravel().tolist()))
        out.append(f"{changed}PD{drawn};" if begin == at else f"{changed}PU{begin[0]},{begin[1]};PD{drawn};")
        now, at = force, (int(units[-1, 0]), int(units[-1, 1]))
    return out, now


def _units(points: Floats, origin_mm: tuple[float, float], dialect: Dialect) -> np.ndarray:
    way = -1 if dialect.right else 1
    units: np.ndarray = np.rint((points - origin_mm) / dialect.unit_mm * np.array([way, 1])).astype(int)
    return units[:, ::-1] if dialect.turned else units
