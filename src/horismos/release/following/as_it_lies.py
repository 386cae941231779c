"""The ticket of a repeat as it lies on the media: where its marks, code and copies are, and its own cut files."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from horismos.cutting import CutPlan, Operation
from horismos.paths.box import placed
from horismos.paths.matrix import Matrix, multiply
from horismos.release.following.laid import Laid, box_of

__all__ = ["FollowedFile", "ticket_as_it_lies"]


@dataclass(frozen=True)
class FollowedFile:
    """A cut file of a repeat, counted from 1: so many lines it cuts, the aligning figure left out."""

    name: str
    repeat: int
    contours: int
    data: bytes


def ticket_as_it_lies(
    laid: Laid, sides: Sequence[CutPlan], files: Sequence[FollowedFile], repeat: int
) -> dict[str, Any]:
    """The ticket of a repeat as it lies on the media: where its marks, code and copies are, and its own cut files."""
    ticket, onto = laid.released.ticket, laid.landing.of(repeat)
    along = (repeat - 1) * laid.landing.step_mm
    own = [file for file in files if file.repeat == repeat]
    kept = [one for one in ticket["files"] if one["name"].endswith("-print.pdf")]
    plans = {"front": sides[0], "back": sides[1]}
    planned = {side: iter(plan.operations) for side, plan in plans.items()}
    front = sides[0].origin_mm
    return {
        **ticket,
        "scale_percent": round(100 * abs(onto[0] * onto[3] - onto[1] * onto[2]) ** 0.5, 4),
        "mirrored": bool(ticket["mirrored"]) != laid.report.mirrored,
        "sheet": {
            **ticket["sheet"], "width_mm": laid.released.material.width_mm,
            "length_mm": round(along + laid.landing.length_mm + max(laid.report.moved_mm[1], 0.0), 3),
            "frame_mm": _rounded(ticket["sheet"]["frame_mm"], onto),
        },
        "marks": [
            {
                "number": m.number, "kind": m.kind.id, "x_mm": round(m.x_mm, 4), "y_mm": round(m.y_mm + along, 4),
                "opens": [m.along_x, m.along_y], "arm_mm": round(m.arm_mm, 4), "weight_mm": round(m.weight_mm, 4),
            }
            for m in laid.sheet.marks
        ],
        "code_box": _rounded(ticket["code_box"], onto),
        "aligning": [[round(x, 4), round(y + along, 4), round(side, 4)] for x, y, side in laid.corners],
        "origin_mm": [round(front[0], 4), round(front[1] + along, 4)],
        "placements": [
            {
                "piece": p["piece"], "matrix": [round(v, 9) for v in multiply(laid.released.matrix(n), onto)],
                "bounds": _rounded(p["bounds"], onto),
            }
            for n, p in enumerate(ticket["placements"])
        ],
        "operations": [_operation(op, next(planned[op["side"]])) for op in ticket["operations"]],
        "time_s": round(
            sum(plan.time_s for plan in sides) + sum(float(pause["time_s"]) for pause in ticket["pauses"]), 1
        ),
        "files": kept + [
            {"name": f.name, "bytes": len(f.data), "sha256": hashlib.sha256(f.data).hexdigest()} for f in own
        ],
        "notes": [*ticket["notes"], *(f"The print was {words}." for words in laid.report.words)],
    }


def _rounded(box: Sequence[float] | None, onto: Matrix) -> list[float] | None:
    known = box_of(box)
    return None if known is None else [round(v, 4) for v in placed(known, onto)]


def _operation(said: Mapping[str, Any], made: Operation) -> dict[str, Any]:
    return {
        **said, "contours": len(made.contours), "strokes": len(made.strokes), "cut_mm": round(made.cut_mm, 1),
        "travel_mm": round(made.travel_mm, 1), "time_s": round(made.time_s, 1),
        "copies": [list(run) for run in made.copy_runs],
    }
