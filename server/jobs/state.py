"""From what the server keeps to the core's values, and back to plain values for the screen."""

import hashlib
import json
from dataclasses import asdict, replace
from functools import lru_cache
from typing import Any

from horismos.artwork import Artwork, read_bytes
from horismos.artwork.lines import line_objects
from horismos.checking import Report
from horismos.cutting import DEFAULT_TOOLS, Tool
from horismos.destinations import SHIPPED, Destination
from horismos.errors import BadValue, HorismosError, NotReady
from horismos.formats.svg import svg_path
from horismos.inspect import inspect
from horismos.mending import say
from horismos.names import recognise, spelling
from horismos.orders import Order
from horismos.release import Prepared
from horismos.roles import LineRole
from horismos.sheet import MATERIALS, Layout
from horismos.steps import Step, StepKind
from jobs import models
from jobs.files import load

__all__ = [
    "DEFAULT_TOOLS", "MATERIALS", "artwork_of", "key_of", "order_of", "seen", "step_from", "terms_key", "tools_of",
]

CHECKS = 4
"""Raised when checks change what they say: then nothing is carried over from before."""


def order_of(job: models.Job) -> Order:
    """The order of a job."""
    return Order.from_json(job.order.data)


def destination_of(job: models.Job) -> Destination:
    """The destination of a job."""
    return SHIPPED[job.destination_id]


def artwork_of(job: models.Job) -> Artwork:
    """The artwork of a job's current revision. Raises NotReady where it has none."""
    if job.revision is None:
        raise NotReady("The job has no artwork yet.", "Answer what the file leaves open, or drop another.")
    notes = tuple((n["severity"], n["words"]) for n in job.intake.get("notes", []))
    return replace(artwork_by_content(job.revision.sha256), taken_in=notes)


@lru_cache(maxsize=4)
def artwork_by_content(sha256: str) -> Artwork:
    """An artwork of the store: what is looked at again need not be read again."""
    return read_bytes(load(sha256))


def layout_of(job: models.Job) -> Layout:
    """How the copies are to lie."""
    return Layout(**job.layout)


def tools_of(job: models.Job) -> dict[LineRole, Tool]:
    """The tool settings of a job, the shipped ones below its own."""
    own = {LineRole(t.role): Tool(LineRole(t.role), **t.data) for t in job.tools.all()}
    return {**DEFAULT_TOOLS, **own}


def terms_key(job: models.Job) -> str:
    """What a check depends on beside the artwork and its limits."""
    parts = [job.order.data, job.destination_id, job.material_id, job.page, job.intake.get("notes", []), CHECKS]
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()


def key_of(job: models.Job) -> str:
    """What an analysis depends on; another key means that it is out of date."""
    from jobs.sheets import sheet_of

    tools = sorted((t.role, t.data) for t in job.tools.all())
    sheet = sheet_of(job)
    parts = [
        job.revision.sha256 if job.revision else "", terms_key(job), job.layout, tools, sheet.limits, sheet.severities,
    ]
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()


def step_from(data: dict[str, str]) -> Step:
    """A step from its plain form. Raises BadValue for what is none."""
    try:
        kind = StepKind(data.get("kind", ""))
        role = LineRole(data["role"]) if data.get("role") else None
    except ValueError as error:
        raise BadValue(f"That is no mend: {error}.") from None
    return Step(kind, role, data.get("ink", ""), data.get("to", ""))


def seen(artwork: Artwork, job: models.Job) -> dict[str, Any]:
    """What the stage shows: the page, and each line as path data in mm with its role."""
    destination = destination_of(job)
    page = artwork.pages[min(job.page, len(artwork.pages)) - 1]
    document = inspect(artwork, destination)["pages"][page.number - 1]
    paths: dict[tuple[str, str, bool], list[str]] = {}
    for line in line_objects(artwork, page, destination):
        role = line.role.value if line.role else "unclear"
        key = (role, line.ink, not line.object.state.visible)
        paths.setdefault(key, []).append(svg_path(line.contours))
    for ink in document["inks"]:
        found = recognise(ink["name"], destination) if ink["role"] else None
        wanted = destination.name_of(found.role) if found and found.role else ink["name"]
        ink["wanted"] = wanted
        ink["spelling"] = [asdict(run) for run in spelling(ink["name"], wanted)]
    return {
        **document,
        "pages": len(artwork.pages),
        "crop_box_mm": list(page.boxes.crop),
        "drawn": [
            {"role": role, "ink": ink, "hidden": hidden, "path": "".join(listed)}
            for (role, ink, hidden), listed in paths.items()
        ],
    }


def reported(report: Report, artwork: Artwork, destination: Destination) -> dict[str, Any]:
    """A report with what each offered mend says beforehand."""
    document = report.to_json()
    said: dict[Step, str] = {}
    for finding, shown in zip(report.findings, document["findings"], strict=True):
        for step, mend in zip(finding.mends, shown["mends"], strict=True):
            if step not in said:
                try:
                    said[step] = say(artwork, step, destination)
                except HorismosError as error:
                    said[step] = str(error)
            mend["says"] = said[step]
    return document


def sheet_shown(prepared: Prepared) -> dict[str, Any]:
    """A sheet for the screen."""
    sheet = prepared.sheet
    lines = [
        {"role": role.value, "path": svg_path(c for line in of for c in line.contours)}
        for role, of in prepared.lines.items()
    ]
    return {
        "width_mm": sheet.material.width_mm,
        "length_mm": sheet.length_mm,
        "columns": sheet.columns,
        "rows": sheet.rows,
        "gap_mm": sheet.gap_mm,
        "turned": sheet.turned,
        "waste": sheet.waste,
        "side_margin_mm": sheet.side_margin_mm,
        "leader_mm": sheet.leader_mm,
        "trailer_mm": sheet.trailer_mm,
        "clip": list(sheet.clip),
        "placements": [list(m) for m in sheet.placements],
        "marks": [asdict(mark) for mark in sheet.marks],
        "lines": lines,
        "notes": list(sheet.notes),
        "left_out": [role.value for role in prepared.left_out],
    }


def cut_shown(prepared: Prepared) -> dict[str, Any]:
    """A cut plan for the screen."""
    plan = prepared.plan
    return {
        "operations": [
            {
                "role": op.role.value,
                "tool": asdict(op.tool),
                "contours": len(op.contours),
                "cut_mm": op.cut_mm,
                "travel_mm": op.travel_mm,
                "time_s": op.time_s,
                "mirrored": op.mirrored,
            }
            for op in plan.operations
        ],
        "cut_mm": plan.cut_mm,
        "travel_mm": plan.travel_mm,
        "time_s": plan.time_s,
    }


