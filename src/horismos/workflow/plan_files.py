"""Plans the cut of files laid out on sheets, and writes the cut files: what the command does."""

from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from horismos.cutting import CutPlan, Operation, Tool, plan_cut, tools_from_json
from horismos.cutting.depth import tools_for
from horismos.release.cut_files import CutFile, cut_files
from horismos.roles import LineRole
from horismos.workflow.lay_out import TOOLS, LaidOut, lay_out_files
from horismos.workflow.tools import wanted_of

__all__ = ["PlannedFiles", "plan_files"]


@dataclass(frozen=True, eq=False)
class PlannedFiles:
    """The sheets, how each is cut, and the files of them all."""

    laid: LaidOut
    cuts: tuple[CutPlan, ...]
    files: tuple[CutFile, ...]

    def to_json(self) -> dict[str, Any]:
        """The plan as plain values, as docs/layouts.md tells them."""
        operations = [
            _told(op, number) for number, cut in enumerate(self.cuts, 1) for op in cut.operations
        ]
        return {
            "operations": operations,
            "files": [{"name": f.name, "format": f.format, "roles": list(f.roles)} for f in self.files],
            "worst_off_mm": round(max((f.off_mm for f in self.files), default=0.0), 4),
            "time_s": round(sum(cut.time_s for cut in self.cuts), 2),
            "notes": list(dict.fromkeys(said for cut in self.cuts for said in cut.said)),
        }


def _told(operation: Operation, sheet: int) -> dict[str, Any]:
    return {
        "role": operation.role.value, "tool": operation.tool.number, "contours": len(operation.contours),
        "strokes": len(operation.strokes), "cut_mm": round(operation.cut_mm, 3),
        "travel_mm": round(operation.travel_mm, 3), "time_s": round(operation.time_s, 3),
        "mirrored": operation.mirrored, "sheet": sheet, "aligning": operation.aligning,
    }


def plan_files(data: Any, folder: Path, kind: str = "hpgl") -> PlannedFiles:
    """Lay the files of a plan out, plan the cut and write it; paths are relative to the folder.

    Raises BadValue and NotFound for a plan that cannot be meant, what taking in raises for a file, DoesNotFit.
    """
    laid = lay_out_files(data, folder)
    tools = _tools(data, tools_for(laid.plan.material))
    wanted = wanted_of(laid.plan.layout)
    cuts, files = [], []
    count = len(laid.filled.sheets)
    for number, sheet in enumerate(laid.filled.sheets, 1):
        cut = plan_cut(sheet, lambda piece: tools, wanted)
        base = f"sheet-{number}-of-{count}" if count > 1 else "sheet"
        files += cut_files(base, cut, sheet, laid.plan.destination, kind)
        cuts.append(cut)
    return PlannedFiles(laid, tuple(cuts), tuple(files))


def _tools(data: Any, shipped: Mapping[LineRole, Tool]) -> Mapping[LineRole, Tool]:
    """The tools of every role: the plan's own, else the shipped. Raises BadValue."""
    own = data.get(TOOLS) if isinstance(data, Mapping) else None
    return {**shipped, **({} if own is None else tools_from_json(own, "Plan: tools", shipped))}
