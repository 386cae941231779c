"""The job ticket: what the package holds, in JSON, for people and machines at the cutter."""

import hashlib
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from horismos import __version__
from horismos.checking import Report, edge_limits
from horismos.cutting import CutPlan, Operation
from horismos.destinations import Destination
from horismos.orders import Order
from horismos.sheet import Sheet

__all__ = ["Written", "ticket"]


@dataclass(frozen=True, eq=False)
class Written:
    """What was written: files by name, how far each cut file lies off in mm, and the lines of the print PDF."""

    files: Mapping[str, bytes]
    off_mm: Mapping[str, float]
    print_off_mm: float


def _operation(operation: Operation, destination: Destination) -> dict[str, Any]:
    tool = operation.tool
    perforation = {"cut_mm": tool.cut_mm, "tie_mm": tool.tie_mm} if tool.cut_mm else None
    return {
        "role": operation.role.value,
        "ink": destination.name_of(operation.role),
        "tool": tool.number,
        "force_gf": tool.force_gf,
        "speed_mm_s": tool.speed_mm_s,
        "passes": tool.passes,
        "perforation": perforation,
        "contours": len(operation.contours),
        "cut_mm": round(operation.cut_mm, 1),
        "travel_mm": round(operation.travel_mm, 1),
        "time_s": round(operation.time_s, 1),
        "side": "back" if operation.mirrored else "front",
    }


def _edge(order: Order, report: Report) -> dict[str, float]:
    """What was gone by along the edge, also where the order does not say it."""
    wanted = edge_limits(order, report.sheet)
    return {"bleed_mm": wanted.bleed, "border_mm": wanted.border, "tolerance_mm": wanted.tolerance}


def _sheet(sheet: Sheet) -> dict[str, Any]:
    grid = sheet.grid
    return {
        "width_mm": sheet.material.width_mm,
        "length_mm": round(sheet.length_mm, 3),
        "columns": grid.columns if grid else None,
        "rows": grid.rows if grid else None,
        "copies": len(sheet.placements),
        "gap_mm": grid.gap_mm if grid else None,
        "turned": grid.turned if grid else None,
        "leader_mm": sheet.cutter.leader_mm,
        "trailer_mm": sheet.cutter.trailer_mm,
        "waste_percent": round(sheet.waste * 100, 1),
    }


def ticket(
    name: str, order: Order, destination: Destination, report: Report, sheet: Sheet, plan: CutPlan, written: Written
) -> dict[str, Any]:
    """The ticket as plain values; lengths in mm on the sheet, from its lower left corner."""
    return {
        "job": name,
        "made_by": f"horismos {__version__}",
        "order": {**_edge(order, report), **order.to_json()},
        "scale_percent": 100,
        "destination": destination.id,
        "material": {"id": sheet.material.id, "title": sheet.material.title},
        "artwork_sha256": hashlib.sha256(sheet.pieces[0].artwork.data).hexdigest(),
        "pieces": [
            {
                "job": piece.job or name, "artwork_sha256": hashlib.sha256(piece.artwork.data).hexdigest(),
                "copies": len(sheet.copies_of(piece)),
            }
            for piece in sheet.pieces
        ],
        "verdict": report.verdict,
        "looks": [f.id for f in report.findings if f.severity == "look"],
        "sheet": _sheet(sheet),
        "marks": [
            {
                "number": mark.number,
                "kind": mark.kind.value,
                "x_mm": round(mark.x_mm, 4),
                "y_mm": round(mark.y_mm, 4),
                "opens": [mark.along_x, mark.along_y],
                "arm_mm": mark.arm_mm,
                "weight_mm": mark.weight_mm,
            }
            for mark in sheet.printed.marks
        ],
        "code": sheet.code.text if sheet.code else None,
        "mirrored": sheet.mirrored,
        "origin_mm": [round(v, 4) for v in plan.origin_mm],
        "operations": [_operation(operation, destination) for operation in plan.operations],
        "left_out_roles": sorted({role.value for piece in sheet.pieces for role in piece.left_out}),
        "time_s": round(plan.time_s, 1),
        "files": [
            {"name": key, "bytes": len(data), "sha256": hashlib.sha256(data).hexdigest()}
            for key, data in written.files.items()
        ],
        "worst_off_mm": {key: round(value, 4) for key, value in written.off_mm.items()},
        "print_lines_off_mm": round(written.print_off_mm, 4),
        "notes": [*sheet.notes, *_notes(plan)],
    }


def _notes(plan: CutPlan) -> list[str]:
    notes = ["Cut when the print is dry. Test-cut first. One origin for all passes."]
    if any(operation.mirrored for operation in plan.operations):
        notes.append("Back cut: turn the sheet over on its short axis; the file is mirrored for that.")
    return notes
