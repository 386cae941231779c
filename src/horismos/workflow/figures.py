"""Test cuts at the cutter: a figure for each tool on the sheet that lies there, and what the operator would see."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

import numpy as np

from horismos.cutting import Tool
from horismos.cutting.depth import CutOutcome, outcome_of, reached_um, wanted_um
from horismos.cutting.weeding import figure, figure_strokes, place_of_figures
from horismos.destinations import destination_of
from horismos.formats.hpgl import ToolRun, write_hpgl
from horismos.formats.svg import svg_path
from horismos.machines import Dialect
from horismos.materials import Stratum, material_of
from horismos.roles import LineRole
from horismos.simulation.bed import Side
from horismos.simulation.cutter import as_brought

__all__ = ["Tested", "cut_figure", "roles_weeded"]

@dataclass(frozen=True, eq=False)
class Tested:
    """A test cut: its file and where it stands, in mm; how deep it went and what is seen when it is weeded."""

    role: LineRole
    tool: Tool
    hpgl: bytes
    at: tuple[float, float]
    path: str
    strata: tuple[Stratum, ...]
    wanted_um: float
    reached_um: float
    seen: CutOutcome


def cut_figure(ticket: Mapping[str, Any], side: Side, role: LineRole, tool: Tool) -> Tested:
    """Cut the figure of a role on the sheet of a ticket, with a setting.

    Each role's figure stands at a place of its own. Raises DoesNotFit where the sheet has no blank place.
    """
    roles = roles_weeded(ticket, side)
    where = place_of_figures(len(roles), *_sheet(ticket), _taken(ticket, side))
    at = where[roles.index(role)]
    strokes = figure_strokes(tool, *at)
    dialect = Dialect(**ticket["dialect"])
    origin = float(ticket["origin_mm"][0]), float(ticket["origin_mm"][1])
    run = ToolRun(tool.number, tool.sent_gf, tool.speed_mm_s, [stroke.parts for stroke in strokes])
    strata = material_of(ticket).strata
    truly = as_brought(tool)
    return Tested(
        role, tool, write_hpgl([run], origin, dialect), at, svg_path([figure(*at)]), strata,
        wanted_um(role, strata), reached_um(truly, strata), outcome_of(truly, strata),
    )


def roles_weeded(ticket: Mapping[str, Any], side: Side) -> list[LineRole]:
    """What is cut of a side, in its order; only what parts something can be weeded."""
    cut = [op for op in ticket["operations"] if op["side"] == side.value and not op["aligning"]]
    return [role for role in dict.fromkeys(LineRole(op["role"]) for op in cut) if role.facts.through]


def _sheet(ticket: Mapping[str, Any]) -> tuple[tuple[float, float], float]:
    sheet = ticket["sheet"]
    rollers = destination_of(ticket).room.rollers_mm
    return (float(sheet["width_mm"]), float(sheet["length_mm"])), rollers[1] + 1.0


def _taken(ticket: Mapping[str, Any], side: Side) -> list[tuple[float, float, float, float]]:
    """What lies on the sheet already, as it lies with a side up."""
    boxes = [tuple(one["bounds"]) for one in ticket["placements"]]
    boxes += [(m["x_mm"] - m["arm_mm"], m["y_mm"] - m["arm_mm"], m["x_mm"] + m["arm_mm"], m["y_mm"] + m["arm_mm"])
              for m in ticket["marks"]]
    boxes += [tuple(ticket["code_box"])] if ticket.get("code_box") else []
    boxes += [(x, y, x + long, y + long) for x, y, long in ticket.get("aligning", ())]
    found = np.array(boxes, float).reshape(-1, 4)
    if side is Side.BACK:
        wide = float(ticket["sheet"]["width_mm"])
        found = np.column_stack([wide - found[:, 2], found[:, 1], wide - found[:, 0], found[:, 3]])
    return [(a, b, c, d) for a, b, c, d in found.tolist()]
