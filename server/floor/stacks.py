"""Stacks of fabric at the machines: cut layer by layer on one zero, then sewn."""

import io
import zipfile
from dataclasses import dataclass, replace
from typing import Annotated, Any

import numpy as np
from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse
from jobs import models
from jobs.api.common import download, find
from jobs.store.cases import destination_of
from jobs.store.files import load, path_of
from jobs.store.stacks import StackPackageShown, package_shown
from jobs.store.works import log
from ninja import Router, Schema
from ninja.errors import HttpError
from pydantic import Field

from horismos.cutting.depth import Outcome
from horismos.errors import NotFound, NotReady
from horismos.formats.embroidery import FORMATS
from horismos.materials import Stratum
from horismos.paths.contour import Floats
from horismos.roles import Part
from horismos.simulation.sewing import sew
from horismos.simulation.stack_cut import StackJob, cut_stack
from horismos.words import safe_name
from horismos.workflow.showing.stack import LayerShown
from horismos.workflow.stack import MACHINE, parking

__all__ = ["router"]

router = Router()
Offset = Annotated[float, Field(ge=-200, le=200, allow_inf_nan=False)]


class StackOriginGiven(Schema):
    """Where the zero is set, in mm from where it was for the first layer; 0, 0 takes it back there."""

    x_mm: Offset
    y_mm: Offset


@dataclass(frozen=True)
class LayerCutShown:
    """A layer that was cut: where the blade went, in mm of the page; how deep, what that comes to, how far off it is.

    ``inside_mm`` is by how much it lies within the layer below, negative where it lies over its edge.
    """

    number: int
    paths: list[str]
    frame: str
    deep_um: float
    outcome: Outcome
    off_mm: list[float]
    inside_mm: float | None


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


@dataclass(frozen=True)
class SewnSeam:
    """Needle points x, y, x, y … in mm of the page, and when the needle was down in each, in s."""

    colour: str
    points: list[float]
    at_s: list[float]


@dataclass(frozen=True)
class HaltShown:
    """A stop of the sewing machine, before a seam: what a person does then, and the layer that is laid, if any."""

    at_s: float
    before: int
    words: str
    lays: int | None


@dataclass(frozen=True)
class SewnShown:
    """A stitch file as the machine sews it; ``refused`` says why it does not. ``begins`` is what is done before."""

    begins: HaltShown
    seams: list[SewnSeam]
    halts: list[HaltShown]
    total_s: float
    thread_mm: float
    count: int
    trims: int
    refused: str


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


@router.post("/stacks/{stack_id}/cut", response=StackBed)
def cut_next(request: HttpRequest, stack_id: int) -> StackBed:
    """Cut the next layer, the lowest first, wherever the zero is now."""
    return _changed(stack_id, request.user.pk, _cut)


def _cut(made: models.StackPackage) -> str:
    number = _next(made)
    if number is None:
        raise NotReady("All layers are cut.", "Sew them now, or begin anew with another sheet.")
    made.cut = [*made.cut, {"layer": number, "origin": made.origin or [0.0, 0.0]}]
    return f"Cut “{made.facts['layers'][number]['name']}” of the stack"


@router.post("/stacks/{stack_id}/origin", response=StackBed)
def set_origin(request: HttpRequest, stack_id: int, body: StackOriginGiven) -> StackBed:
    """Set another zero between two layers, or take it back."""

    def to(made: models.StackPackage) -> str:
        made.origin = [body.x_mm, body.y_mm]
        return f"Set the stack’s origin to {body.x_mm:g}, {body.y_mm:g} mm from the first"

    return _changed(stack_id, request.user.pk, to)


@router.post("/stacks/{stack_id}/anew", response=StackBed)
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
    if file is None or format not in FORMATS:
        raise NotFound(f"The stack has no stitches as “{format}”.", "Choose one of its files.")
    found = sew(load(file["sha256"]), FORMATS[format], MACHINE)
    x, y = made.facts["middle_mm"]
    stops = made.facts["stops"]
    if len(stops) != len(found.halts) + 1 and not found.refused:
        raise NotFound("The stitches are not those of this stack.", "Write its files again.")
    seams, part = [], 0
    for i, (points, at) in enumerate(zip(found.seams, found.at_s, strict=True)):
        part += sum(halt.before == i for halt in found.halts)
        flat = (points + np.array([x, y])).round(2).ravel().tolist()
        seams.append(SewnSeam(stops[part]["colour"], flat, at.round(2).tolist()))
    halts = [
        HaltShown(halt.at_s, halt.before, stop["words"], stop["lays"])
        for halt, stop in zip(found.halts, stops[1:], strict=False)
    ]
    return SewnShown(
        HaltShown(0.0, 0, stops[0]["words"], stops[0]["lays"]), seams, halts, found.total_s, found.thread_mm,
        found.count, found.trims, found.refused,
    )



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
        path_of(found["sha256"]).open("rb"), as_attachment=True, filename=found["name"],
        content_type="application/octet-stream",
    )


def _next(made: models.StackPackage) -> int | None:
    left = len(made.facts["layers"]) - len(made.cut)
    return left - 1 if left else None


def _bed(made: models.StackPackage) -> StackBed:
    facts = made.facts
    layers = [LayerShown(**{**layer, "outcome": Outcome(layer["outcome"])}) for layer in facts["layers"]]
    cutter = parking(destination_of(made.job).cutter)
    files = {file["layer"]: file["sha256"] for file in made.files if file["layer"] is not None}
    jobs = [
        StackJob(
            layers[one["layer"]].name, load(files[one["layer"]]), _strata(facts["strata"][one["layer"]]),
            (one["origin"][0], one["origin"][1]), bool(made.stack.get("frame_mm")),
        )
        for one in made.cut
    ]
    home = np.array(facts["origin_mm"]) - np.array(facts["shift_mm"])
    done = [
        LayerCutShown(
            one["layer"], [_path(stroke + home) for stroke in cut.strokes],
            "" if cut.frame is None else _path(cut.frame + home), cut.deep_um, cut.outcome,
            [round(v, 3) for v in cut.off_mm],
            None if cut.inside_mm is None else round(cut.inside_mm, 3),
        )
        for one, cut in zip(made.cut, cut_stack(jobs, cutter, made.pk), strict=True)
    ]
    return StackBed(
        package_shown(made), list(facts["bounds"]), layers, done, _next(made), list(made.origin or [0.0, 0.0]),
        home.tolist(),
    )


def _path(points: Floats) -> str:
    return "M" + "L".join(f"{x:.2f} {y:.2f}" for x, y in points.tolist())


def _strata(kept: list[dict[str, Any]]) -> tuple[Stratum, ...]:
    return tuple(replace(Stratum(**one), part=Part(one["part"])) for one in kept)
