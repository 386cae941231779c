"""Stacks of fabric at the machines: cut layer by layer on one zero, then sewn."""

import io
import zipfile
from dataclasses import dataclass
from typing import Annotated, Any

from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse
from jobs import models
from jobs.api.common import download, find
from jobs.api.wants import WORK
from jobs.store.children import run_step
from jobs.store.files import content_of, load, verified
from jobs.store.log import log
from jobs.store.shelf import destination_of
from jobs.store.stacks import StackPackageShown, package_shown
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field, TypeAdapter

from horismos.cutting.depth import CutOutcome
from horismos.errors import NotFound, NotReady
from horismos.formats.embroidery import StitchSuffix
from horismos.words import safe_name
from horismos.workflow.showing.stack import LayerCutShown, LayerShown, SewnShown
from horismos.workflow.steps.stack import CutLayer

__all__ = ["router"]

router = Router()
CUT, SEWN = TypeAdapter(list[LayerCutShown]), TypeAdapter(SewnShown)
Offset = Annotated[float, Field(ge=-200, le=200, allow_inf_nan=False)]


class StackOriginGiven(Schema):
    """Where the zero is set, in mm from where it was for the first layer; 0, 0 takes it back there."""

    x_mm: Offset
    y_mm: Offset


@dataclass(frozen=True)
class StackBed:
    """A stack before the cutter: its layers from the top down, what was cut of them, and which is cut next.

    ``next`` is the number of that layer, None when all are cut. ``origin_mm`` is where the zero is now, from the first,
    which lies at ``zero_mm`` of the page.
    """

    package: StackPackageShown
    bounds: list[float]
    layers: list[LayerShown]
    cut: list[LayerCutShown]
    next: int | None
    origin_mm: list[float]
    zero_mm: list[float]


def _packages() -> Any:
    return models.StackPackage.objects.select_related("job__revision").order_by("-id")


@router.get("/stacks", response=list[StackPackageShown])
def stacks(request: HttpRequest) -> list[StackPackageShown]:
    """The stacks that were written, newest first."""
    return [package_shown(made) for made in _packages()]


@router.get("/stacks/{stack_id}", response=StackBed)
def stack(request: HttpRequest, stack_id: int) -> StackBed:
    """A stack before the cutter."""
    return _bed(find(_packages(), stack_id))


@router.post("/stacks/{stack_id}/cut", response=StackBed, auth=WORK)
def cut_next(request: HttpRequest, stack_id: int) -> StackBed:
    """Cut the next layer, the lowest first, wherever the zero is now."""
    return _changed(stack_id, request.user.pk, _cut)


def _cut(made: models.StackPackage) -> str:
    number = _next(made)
    if number is None:
        raise NotReady("All layers are cut.", "Sew them now, or begin anew with another sheet.")
    made.cut = [*made.cut, {"layer": number, "origin": made.origin or [0.0, 0.0]}]
    return f"Cut “{made.facts['layers'][number]['name']}” of the stack"


@router.post("/stacks/{stack_id}/origin", response=StackBed, auth=WORK)
def set_origin(request: HttpRequest, stack_id: int, body: StackOriginGiven) -> StackBed:
    """Set another zero between two layers, or take it back."""

    def to(made: models.StackPackage) -> str:
        made.origin = [body.x_mm, body.y_mm]
        return f"Set the stack’s origin to {body.x_mm:g}, {body.y_mm:g} mm from the first"

    return _changed(stack_id, request.user.pk, to)


@router.post("/stacks/{stack_id}/anew", response=StackBed, auth=WORK)
def anew(request: HttpRequest, stack_id: int) -> StackBed:
    """Take the stack off the bed and begin with another sheet."""

    def to(made: models.StackPackage) -> str:
        made.cut, made.origin = [], []
        return "Began the stack anew with another sheet"

    return _changed(stack_id, request.user.pk, to)


def _changed(stack_id: int, who: int | None, change: Any) -> StackBed:
    with transaction.atomic():
        made = find(_packages(), stack_id)
        said = change(made)
        made.save(update_fields=["cut", "origin"])
        log(made.job, who, said)
    return _bed(made)


@router.get("/stacks/{stack_id}/sewn", response=SewnShown)
def sewn(request: HttpRequest, stack_id: int, format: str = "dst") -> SewnShown:
    """The sewing machine at work with a stitch file of the stack."""
    made = find(_packages(), stack_id)
    file = next((f for f in made.files if f["format"] == format and f["layer"] is None), None)
    if file is None or format not in set(StitchSuffix):
        raise NotFound(f"The stack has no stitches as “{format}”.", "Choose one of its files.")
    middle, stops = tuple(made.facts["middle_mm"]), made.facts["stops"]
    found: SewnShown = SEWN.validate_python(
        run_step("stack:sewn", content_of(file["sha256"]), format, middle, stops, key=_key(made), what="Sewing it")
    )
    return found


@router.get("/stacks/{stack_id}/stick")
def stick(request: HttpRequest, stack_id: int) -> HttpResponse:
    """All files of a stack as one ZIP, for a stick."""
    made = find(_packages(), stack_id)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for file in made.files:
            packed.writestr(file["name"], load(file["sha256"]))
    return download(out.getvalue(), f"{safe_name(made.job.name)}-stack.zip", "application/zip")


@router.get("/stacks/{stack_id}/files/{name}")
def stack_file(request: HttpRequest, stack_id: int, name: str) -> FileResponse:
    """A file of a stack, as a download."""
    made = find(_packages(), stack_id)
    found = next((f for f in made.files if f["name"] == name), None)
    if found is None:
        raise HttpError(404, "The stack holds no such file.")
    return FileResponse(
        verified(found["sha256"]).open("rb"), as_attachment=True, filename=found["name"],
        content_type="application/octet-stream",
    )


def _next(made: models.StackPackage) -> int | None:
    left = len(made.facts["layers"]) - len(made.cut)
    return left - 1 if left else None


def _bed(made: models.StackPackage) -> StackBed:
    facts = made.facts
    layers = [LayerShown(**{**layer, "outcome": CutOutcome(layer["outcome"])}) for layer in facts["layers"]]
    files = {file["layer"]: file["sha256"] for file in made.files if file["layer"] is not None}
    jobs = [
        CutLayer(
            one["layer"], layers[one["layer"]].name, content_of(files[one["layer"]]), facts["strata"][one["layer"]],
            (one["origin"][0], one["origin"][1]), bool(made.stack.get("frame_mm")),
        )
        for one in made.cut
    ]
    home = (facts["origin_mm"][0] - facts["shift_mm"][0], facts["origin_mm"][1] - facts["shift_mm"][1])
    destination = destination_of(made.job.destination)
    found = run_step("stack:cut", jobs, destination, home, made.pk, key=_key(made), what="Cutting it") if jobs else []
    done = CUT.validate_python(found)
    return StackBed(
        package_shown(made), list(facts["bounds"]), layers, done, _next(made), list(made.origin or [0.0, 0.0]),
        list(home),
    )


def _key(made: models.StackPackage) -> str:
    """Which child reads the files of a stack: one that has met no others."""
    return f"bench-stack-{made.pk}"
