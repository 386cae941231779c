"""The job ticket: what the package holds, in JSON, for people and machines at the cutter."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from typing import Any

from horismos import __version__
from horismos.checking import Rehearsed, Report, edge_limits
from horismos.checking.engine.decisions import Decision
from horismos.cutting import CutPlan, Operation
from horismos.cutting.shop_facts import ShopFacts
from horismos.destinations import Destination, destination_to_json
from horismos.materials import material_to_json
from horismos.orders import Order
from horismos.paths import flatten
from horismos.release.printpdf import laid_down
from horismos.release.x4 import STANDARD
from horismos.sheet import Sheet

__all__ = ["Ordered", "SheetNumber", "Written", "ticket"]

VERDICTS = ("clean", "look", "stop")


@dataclass(frozen=True, eq=False)
class Written:
    """What was written: files by name, how far each cut file lies off in mm, and the lines of the print PDF.

    ``hindered`` is what keeps the print PDF from following PDF/X-4, in words.
    """

    files: Mapping[str, bytes]
    off_mm: Mapping[str, float]
    print_off_mm: float
    hindered: tuple[str, ...] = ()


@dataclass(frozen=True, eq=False)
class Ordered:
    """A job on a sheet: its name, what was asked for, and what is open of the check that was just made.

    ``let_pass`` are the decisions on what that check found and may stand; ``rehearsed`` what came of rehearsing it.
    """

    name: str
    order: Order
    report: Report
    let_pass: tuple[Decision, ...] = ()
    rehearsed: Rehearsed | None = None


@dataclass(frozen=True)
class SheetNumber:
    """Which sheet of how many it is, counted from 1."""

    number: int = 1
    count: int = 1


def _operation(operation: Operation, destination: Destination, facts: ShopFacts) -> dict[str, Any]:
    tool = operation.tool
    tested = facts.tested.get(operation.role) if tool.passed else None
    setting = {key: value for key, value in asdict(tool).items() if key not in ("role", "passed")}
    return {
        "role": operation.role.value,
        "ink": destination.name_of(operation.role),
        "tool": tool.number,
        "force_gf": tool.sent_gf,
        "speed_mm_s": tool.speed_mm_s,
        "passes": tool.passes,
        "perforation": {"cut_mm": tool.cut_mm, "tie_mm": tool.tie_mm} if tool.perforates else None,
        "setting": setting,
        "tested": asdict(tested) if tested else None,
        "contours": len(operation.contours),
        "strokes": len(operation.strokes),
        "cut_mm": round(operation.cut_mm, 1),
        "travel_mm": round(operation.travel_mm, 1),
        "time_s": round(operation.time_s, 1),
        "side": "back" if operation.mirrored else "front",
        "aligning": operation.aligning,
        "copies": [list(run) for run in operation.copy_runs],
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
        "used_length_mm": round(sheet.used_length_mm, 3),
        "columns": grid.columns if grid else None,
        "rows": grid.rows if grid else None,
        "copies": len(sheet.placements),
        "gap_mm": grid.gap_mm if grid else None,
        "turned": grid.turned if grid else None,
        "leader_mm": sheet.cutter.leader_mm,
        "trailer_mm": sheet.cutter.trailer_mm,
        "waste_percent": round(sheet.waste * 100, 1),
        "frame_mm": [round(v, 4) for v in sheet.printed.frame] if sheet.printed.frame else None,
    }


def _job(job: Ordered) -> dict[str, Any]:
    found = job.rehearsed
    return {
        "job": job.name, "order": {**_edge(job.order, job.report), **job.order.to_json()},
        "check_sheet": job.report.sheet.to_json(),
        "let_pass": [
            {"id": one.id, "message": one.message, "reason": one.reason, "who": one.who} for one in job.let_pass
        ],
        "rehearsed": None if found is None else {
            "loads": found.loads, "missed": found.missed, "pieces": found.pieces, "spoilt": found.spoilt,
        },
    }


def _drying(sheet: Sheet, destination: Destination) -> dict[str, float]:
    """How long the print dries: as its material says, else as the usual hot folder does."""
    usual, material = destination.rip.usual, sheet.material
    return {
        "dry_h": usual.dry_h if material.dry_h is None else material.dry_h,
        "laminate_h": usual.laminate_h if material.laminate_h is None else material.laminate_h,
    }


def ticket(
    name: str, jobs: Sequence[Ordered], destination: Destination, sheet: Sheet, plan: CutPlan, written: Written,
    standing: SheetNumber, facts: ShopFacts,
) -> dict[str, Any]:
    """The ticket as plain values; lengths in mm on the sheet, from its lower left corner."""
    first = jobs[0]
    numbers = {id(piece): number for number, piece in enumerate(sheet.pieces)}
    return {
        "job": name,
        "made_by": f"horismos {__version__}",
        "order": {**_edge(first.order, first.report), **first.order.to_json()},
        "jobs": [_job(job) for job in jobs],
        "sheet_number": standing.number,
        "sheets_in_all": standing.count,
        "scale_percent": 100,
        "destination": destination.id,
        "machines": destination_to_json(destination),
        "material": material_to_json(sheet.material),
        "kept_at": facts.kept_at,
        "laminate": next((job.order.laminate.value for job in jobs if job.order.laminate), ""),
        "drying": _drying(sheet, destination),
        "artwork_sha256": hashlib.sha256(sheet.pieces[0].artwork.data).hexdigest(),
        "pieces": [
            {
                "job": piece.job or name, "artwork_sha256": hashlib.sha256(piece.artwork.data).hexdigest(),
                "copies": len(sheet.copies_of(piece)), "size_mm": [round(v, 4) for v in piece.page.size_mm],
            }
            for piece in sheet.pieces
        ],
        "verdict": max((job.report.verdict for job in jobs), key=VERDICTS.index),
        "looks": list(dict.fromkeys(f.id for job in jobs for f in job.report.findings if f.severity == "look")),
        "makes": sheet.makes.value,
        "ink_order": list(laid_down(sheet, destination)) if sheet.makes.prints else [],
        "pdf_x": {"standard": STANDARD, "follows": not written.hindered, "hindered_by": list(written.hindered)}
        if sheet.makes.prints else None,
        "sheet": _sheet(sheet),
        "marks": [
            {
                "number": mark.number,
                "kind": mark.kind.id,
                "x_mm": round(mark.x_mm, 4),
                "y_mm": round(mark.y_mm, 4),
                "opens": [mark.along_x, mark.along_y],
                "arm_mm": mark.arm_mm,
                "weight_mm": mark.weight_mm,
            }
            for mark in sheet.printed.marks
        ],
        "code": sheet.code.text if sheet.code else None,
        "code_box": [round(v, 3) for v in sheet.printed.code.box] if sheet.printed.code else None,
        "aligning": _corners(plan),
        "mirrored": sheet.mirrored,
        "origin_mm": [round(v, 4) for v in plan.origin_mm],
        "dialect": asdict(plan.cutter.dialect),
        "cutter": plan.cutter.id,
        "placements": [
            {
                "piece": numbers[id(copy.piece)], "matrix": [round(v, 9) for v in copy.matrix],
                "bounds": [round(v, 3) for v in copy.bounds],
            }
            for copy in sheet.printed.placements
        ],
        "operations": [_operation(operation, destination, facts) for operation in plan.operations],
        "pauses": [asdict(pause) for pause in plan.pauses],
        "left_out_roles": sorted({role.value for piece in sheet.pieces for role in piece.left_out}),
        "time_s": round(plan.time_s, 1),
        "files": [
            {"name": key, "bytes": len(data), "sha256": hashlib.sha256(data).hexdigest()}
            for key, data in written.files.items()
        ],
        "worst_off_mm": {key: round(value, 4) for key, value in written.off_mm.items()},
        "print_lines_off_mm": round(written.print_off_mm, 4),
        "notes": [*sheet.notes, *_notes(plan), *_of_standing(standing)],
    }


def _corners(plan: CutPlan) -> list[list[float]]:
    """The corners of the aligning figure and how long their sides are: x, y, side."""
    drawn = [flatten(contour) for op in plan.operations if op.aligning for contour in op.contours]
    return [[round(float(v), 4) for v in (*points[1], points[0][0] - points[1][0])] for points in drawn]


def _of_standing(standing: SheetNumber) -> list[str]:
    return [f"Sheet {standing.number} of {standing.count}."] if standing.count > 1 else []


def _notes(plan: CutPlan) -> list[str]:
    if not plan.operations:
        return []
    notes = ["Cut when the print is dry. Test-cut first. One origin for all passes.", *plan.said]
    if any(operation.mirrored for operation in plan.operations):
        notes.append(
            "Back cut: turn the sheet over sideways, so that its leading edge stays in front and left and right change "
            "places; the file is mirrored for that."
        )
    return notes
