"""Rows of the database in the shapes of the API."""

from dataclasses import asdict
from typing import Any

from horismos.checking.edge_map import EdgeLimits
from horismos.destinations import SHIPPED
from horismos.orders import Order
from horismos.roles import LineRole
from jobs import models, state
from jobs.settling import shown_with
from jobs.sheets import sheet_of

__all__ = ["job_row", "job_whole", "release_shape", "work_shape"]

THUMB_CHARS = 60_000
"""Path data beyond this is not sent with a list of jobs; a thumbnail does without it."""


def work_shape(work: models.Work | None) -> dict[str, Any] | None:
    """A piece of work, or None."""
    if work is None:
        return None
    fields = ("id", "job_id", "kind", "state", "share", "what", "error", "result")
    return {field: getattr(work, field) for field in fields}


def _holds(job: models.Job, findings: list[dict[str, Any]], analysis: models.Analysis | None) -> str:
    """The one thing that holds a job up, in words."""
    if job.asks:
        return str(job.asks[0]["words"])
    if analysis is None or not analysis.key:
        last = job.works.order_by("-id").first()
        stopped = last is not None and last.state == "cancelled"
        return "Taking in was stopped; take the file in again" if stopped else "Waiting to be checked"
    if analysis.error:
        return analysis.error
    stops = sorted((f for f in findings if f["severity"] == "stop"), key=lambda f: f["id"] != "page.size")
    if stops:
        return str(stops[0]["message"])
    if analysis.sheet.get("error"):
        return str(analysis.sheet["error"])
    if job.releases.exists():
        return "Released; wait until the print is dry, then cut"
    return "Ready to release"


def _few(drawn: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return drawn if sum(len(line["path"]) for line in drawn) < THUMB_CHARS else []


def _open(job: models.Job, analysis: models.Analysis | None) -> list[dict[str, Any]]:
    """The findings that nobody has decided on."""
    findings = analysis.report.get("findings", []) if analysis else []
    held = {s.key for s in job.settled.all()}
    return [f for f in findings if f.get("key") not in held]


def _verdict(analysis: models.Analysis | None, findings: list[dict[str, Any]]) -> str:
    if analysis is None or not analysis.report:
        return ""
    severities = {f["severity"] for f in findings}
    return "stop" if "stop" in severities else "look" if "look" in severities else "clean"


def job_row(job: models.Job) -> dict[str, Any]:
    """A job as it stands in the list."""
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    findings = _open(job, analysis)
    lines = analysis.seen.get("lines", []) if analysis else []
    stops = sum(f["severity"] == "stop" for f in findings)
    released = job.releases.exists()
    reached = 0
    if analysis and analysis.report:
        reached = 5 if released else 1 if stops else 2 if analysis.sheet.get("error") else 4
    return {
        "id": job.pk,
        "name": job.name,
        "customer": job.customer,
        "due": job.due,
        "order": job.order.data,
        "material": job.material.title,
        "roles": sorted({line["role"] for line in lines if line["role"]}),
        "verdict": _verdict(analysis, findings),
        "stops": stops,
        "looks": sum(f["severity"] == "look" for f in findings),
        "reached": reached,
        "holds": _holds(job, findings, analysis),
        "size_mm": analysis.seen.get("size_mm", []) if analysis else [],
        "has_picture": bool(analysis and analysis.art_sha256),
        "asks": len(job.asks),
        "art_sha256": analysis.art_sha256 if analysis else "",
        "media_box_mm": analysis.seen.get("media_box_mm", []) if analysis else [],
        "drawn": _few(analysis.seen.get("drawn", [])) if analysis else [],
        "work": work_shape(job.works.order_by("-id").first()),
    }


def release_shape(made: models.Release) -> dict[str, Any]:
    """A release with the state of the machines."""
    sheet = made.ticket["sheet"]
    fields = ("id", "job_id", "files", "worst_off_mm", "rip_state", "rip_refused", "plates", "created")
    return {
        **{field: getattr(made, field) for field in fields},
        "job_name": made.job.name,
        "sheet_mm": [sheet["width_mm"], sheet["length_mm"]],
    }


def job_whole(job: models.Job, waives: bool = False) -> dict[str, Any]:
    """A job with all that its stations show; ``waives`` says whether who asks may let stops pass."""
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    tools = state.tools_of(job)
    return {
        **job_row(job),
        "destination": job.destination_id,
        "material_id": job.material_id,
        "layout": job.layout,
        "current": bool(analysis and analysis.key == state.key_of(job)),
        "error": analysis.error if analysis else "",
        "revision": job.revision.number if job.revision else 0,
        "seen": analysis.seen or None if analysis else None,
        "findings": shown_with(job, analysis.report.get("findings", [])) if analysis else [],
        "may_waive": waives,
        "has_edges": bool(analysis and analysis.edges),
        "edge_wanted": asdict(EdgeLimits.of(Order(), sheet_of(job))),
        "check_sheet": analysis.report.get("sheet", {}).get("version", "shipped") if analysis else "shipped",
        "checks_run": len(analysis.report.get("ran", [])) if analysis else 0,
        "checks_carried": len(analysis.report.get("carried", [])) if analysis else 0,
        "sheet": analysis.sheet if analysis else {},
        "cut": analysis.cut if analysis else {},
        "tools": [asdict(tools[role]) for role in LineRole],
        "revisions": [
            {
                "id": r.pk, "number": r.number, "said": r.said, "sha256": r.sha256,
                "current": r.pk == job.revision_id, "proof": r.proof, "created": r.created,
            }
            for r in job.revisions.order_by("number")
        ],
        "questions": job.asks,
        "intake": {
            "kind": job.intake.get("kind", "pdf"), "pages": job.intake.get("pages", 1),
            "notes": job.intake.get("notes", []), "choices": job.intake.get("choices", []),
            "order_said": job.intake.get("order_said", []), "order_warnings": job.intake.get("order_warnings", []),
            "file_name": job.original_name,
        },
        "plates": analysis.plates if analysis and "sha256" in analysis.plates else None,
        "plates_error": analysis.plates.get("error", "") if analysis else "",
        "strata": [asdict(s) for s in state.MATERIALS[job.material_id].strata],
        "releases": [release_shape(r) for r in job.releases.order_by("-id")],
        "decisions": [
            {"who": d.who.get_username() if d.who else "someone", "what": d.what, "when": d.when}
            for d in job.decisions.select_related("who").order_by("-id")
        ],
    }


def shelf() -> dict[str, Any]:
    """Materials, destinations and tool settings."""
    return {
        "materials": [
            {"id": m.id, "title": m.title, "width_mm": m.width_mm, "strata": [asdict(s) for s in m.strata]}
            for m in state.MATERIALS.values()
        ],
        "destinations": [
            {"id": d.id, "title": d.title, "names": {r.value: n for r, n in d.names.items()}}
            for d in SHIPPED.values()
        ],
        "tools": [asdict(t) for t in state.DEFAULT_TOOLS.values()],
    }


