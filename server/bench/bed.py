"""The cutter's bed: a sheet is laid in, its marks are found or jogged to, origin and pointer are set."""

from dataclasses import dataclass
from typing import Annotated, Any

from django.db import transaction
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from jobs import models
from jobs.api.bodies import FormatName
from jobs.api.common import find, picture
from jobs.api.wants import WORK
from jobs.listing import WorkShown, work_shown
from jobs.store.children import run_step
from jobs.store.files import load
from jobs.store.floor import current_sheet, goes_on, must_be_free
from jobs.store.log import log
from jobs.store.queue import begin, under_way
from jobs.store.reading import consistent_read
from jobs.store.snapshots import pool_key
from ninja import Router, Schema
from pydantic import Field

from bench.loadings import (
    END_S,
    PointerShown,
    before_of,
    is_cut,
    kept_seen,
    laid_of,
    loading_of,
    plain,
    pointer_of,
    print_of,
    run_of,
)
from horismos.destinations import destination_of
from horismos.errors import NotFound, NotReady
from horismos.release.cut_formats import cut_names
from horismos.roles import LineRole
from horismos.simulation.bed import Laying, Side
from horismos.words import plural
from horismos.workflow.figures import roles_weeded
from horismos.workflow.floor import PrintedSheet, SheetStage
from horismos.workflow.showing.bench import AlignedShown

__all__ = ["router"]

router = Router()
Place = Annotated[float, Field(ge=-1e5, le=1e5, allow_inf_nan=False)]
"""A coordinate before the cutter, in mm."""
Seen = Annotated[float, Field(ge=4, le=60)]
Small = Annotated[float, Field(ge=-500, le=500, allow_inf_nan=False)]


class LayingGiven(Schema):
    """How a sheet is laid in; what is null comes as it comes. Stretch is a fraction."""

    side: Side = Side.FRONT
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    turned: bool = False
    shift_x_mm: Small | None = None
    shift_y_mm: Small | None = None
    turn_deg: Small | None = None
    stretch: Small | None = None
    skew_deg: Small | None = None
    truly: int | None = None
    """The sheet that is laid in truly, where it is another one than was meant: what the simulated camera then sees."""


class ScanGiven(Schema):
    """Where the carriage stands with the pointer on the first mark; null to begin where that is meant."""

    side: Side = Side.FRONT
    first: tuple[Place, Place] | None = None


class MarkGiven(Schema):
    """Where the carriage stands with the pointer on a mark; null leaves the mark out."""

    side: Side = Side.FRONT
    number: Annotated[int, Field(ge=1, le=10_000)]
    place: tuple[Place, Place] | None


class OriginGiven(Schema):
    """A new origin before an operation: by how much it lies from the old one, in mm; null returns to the old one."""

    side: Side = Side.FRONT
    before: Annotated[int, Field(ge=0, le=1_000)]
    moved: tuple[Small, Small] | None


class StoodGiven(Schema):
    """How far a cut has come when it was stopped, in seconds."""

    side: Side = Side.FRONT
    stood_s: Annotated[float, Field(ge=0, le=1e7, allow_inf_nan=False)]


class SideGiven(Schema):
    """Which side of the sheet looks up."""

    side: Side = Side.FRONT


class PointerGiven(Schema):
    """Where the carriage stands with the pointer on the middle of the cross that was cut."""

    place: tuple[Place, Place]


@dataclass(frozen=True)
class SightShown:
    """What the camera saw of a mark: a picture by its content, and where in it the mark was found, in pixels."""

    number: int
    sha256: str
    spot: list[float] | None


@dataclass(frozen=True, kw_only=True)
class BedShown:
    """The cutter's bed. Without a loading nothing lies there with this side up.

    ``formats`` are those that the package has a cut file of this side in.
    ``code_of`` is the package whose code was read, if another; ``cross`` where the cross to calibrate by is cut.
    """

    release_id: int
    side: Side
    loading: int | None
    laying: Laying | None
    aligned: AlignedShown | None
    sights: list[SightShown]
    known: bool
    code_meant: str | None
    code_read: str | None
    code_of: int | None
    code_of_name: str
    camera: bool
    rollers: list[float]
    formats: list[FormatName]
    roles: list[LineRole]
    pointer: PointerShown
    cross: list[float] | None
    shifts: dict[str, list[float]]
    stood_s: float
    work: WorkShown | None


def _made(release_id: int) -> models.Release:
    return find(models.Release.objects.select_related("job"), release_id)


def _shown(made: models.Release, side: Side) -> BedShown:
    """The bed as it is at one moment: work that has ended is never told with a bed from before it."""
    with consistent_read():
        found, work = loading_of(made, side), under_way(made.job, models.WorkKind.SCAN)
    destination = destination_of(made.ticket)
    sheet, now = found.sheet if found else None, current_sheet(made)
    files = now.own_files if now else made.files
    common: dict[str, Any] = {
        "known": sheet is None or sheet.known or SheetStage(sheet.stage).is_over,
        "release_id": made.pk, "side": side, "code_meant": made.ticket.get("code"),
        "camera": destination.cutter.camera, "rollers": list(destination.room.rollers_mm),
        "formats": list(cut_names([one["name"] for one in files], destination.cutter, side is Side.BACK)),
        "roles": roles_weeded(made.ticket, side), "pointer": pointer_of(destination.id),
    }
    if found is None:
        return BedShown(
            loading=None, laying=None, aligned=None, sights=[], code_read=None, code_of=None, code_of_name="",
            cross=None, shifts={}, stood_s=0.0, work=None, **common,
        )
    lies, other = laid_of(made, before_of(found)), _code_of(found, made)
    return BedShown(
        loading=found.pk, laying=Laying.from_json(found.laying), aligned=lies.aligned, cross=lies.cross,
        sights=[SightShown(one["number"], one["sha256"], one["spot"]) for one in found.seen if one.get("sha256")],
        code_read=found.code, code_of=other.pk if other else None, code_of_name=other.job.name if other else "",
        shifts=found.shifts, stood_s=found.stood_s, work=work_shown(work) if work else None, **common,
    )


def _code_of(found: models.Loading, made: models.Release) -> models.Release | None:
    """The package whose code was read on a sheet, if another."""
    if not found.code or found.code == made.ticket.get("code"):
        return None
    return models.Release.objects.filter(ticket__code=found.code).select_related("job").order_by("-pk").first()


def _laid(made: models.Release, side: Side) -> models.Loading:
    found = loading_of(made, side)
    if found is None:
        raise NotReady("No sheet lies before the cutter.", "Load it first.")
    return found


@router.get("/bench/{release_id}/bed", response=BedShown)
def bed(request: HttpRequest, release_id: int, side: Side = Side.FRONT) -> BedShown:
    """What lies before the cutter with a side up, and what is known of it."""
    return _shown(_made(release_id), side)


@router.post("/bench/{release_id}/load", response=BedShown, auth=WORK)
def load_sheet(request: HttpRequest, release_id: int, body: LayingGiven) -> BedShown:
    """Lay a sheet in; where the cutter has a camera it looks for the marks at once."""
    made = _made(release_id)
    sheet = _to_load(made)
    laying = Laying.from_json(body.model_dump(exclude={"truly"}))
    truly = find(models.Sheet.objects.select_related("release"), body.truly) if body.truly else None
    front = loading_of(made) if laying.side is Side.BACK else None
    if laying.side is Side.BACK and (front is None or not is_cut(front)):
        raise NotReady("The front has not been cut yet.", "Load it face up, and cut the front to its end first.")
    loading = models.Loading(
        release=made, sheet=sheet, truly=truly, laying=plain(laying), front=front, who_id=request.user.pk
    )
    laid_of(made, before_of(loading))  # refused where it cannot be held
    with transaction.atomic():
        if sheet is not None:
            must_be_free(made, request.user.pk)
            sheet = goes_on(sheet, lambda value: value.is_loaded(timezone.now()))
            loading.stood_s = _stood_before(sheet, laying.side)
            if sheet.own_ticket.get("code") is None and truly is None:  # nothing tells it but who has laid it in
                goes_on(sheet, PrintedSheet.is_known)
        loading.save()
    if destination_of(made.ticket).cutter.camera and made.ticket.get("makes") != "cut":
        begin(made.job, models.WorkKind.SCAN, {"loading": loading.pk})
    return _shown(made, laying.side)


@router.post("/bench/{release_id}/scan", response=BedShown, auth=WORK)
def scan(request: HttpRequest, release_id: int, body: ScanGiven) -> BedShown:
    """Let the camera look for the marks again, from the first one on."""
    made = _made(release_id)
    loading = _laid(made, body.side)
    begin(made.job, models.WorkKind.SCAN, {"loading": loading.pk, "first": _spot(made, body.first)})
    return _shown(made, body.side)


def _spot(made: models.Release, carriage: tuple[float, float] | None) -> list[float] | None:
    """Where the pointer shines, as the cutter believes by its calibration."""
    if carriage is None:
        return None
    pointer = pointer_of(made.ticket["destination"])
    return [carriage[0] + pointer.x_mm, carriage[1] + pointer.y_mm]


@router.post("/bench/{release_id}/mark", response=BedShown, auth=WORK)
def mark(request: HttpRequest, release_id: int, body: MarkGiven) -> BedShown:
    """Take a mark where the pointer stands, or leave it out."""
    made = _made(release_id)
    loading = _laid(made, body.side)
    if all(one.number != body.number for one in laid_of(made, before_of(loading)).aligned.marks):
        raise NotFound(f"There is no mark {body.number}.", "Choose one of the sheet's.")
    spot = _spot(made, body.place)
    kept_seen(loading, body.number, (spot[0], spot[1]) if spot else None)
    return _shown(made, body.side)


@router.post("/bench/{release_id}/origin", response=BedShown, auth=WORK)
def origin(request: HttpRequest, release_id: int, body: OriginGiven) -> BedShown:
    """Set a new origin between two operations, or return to the old one."""
    made = _made(release_id)
    loading = _laid(made, body.side)
    shifts = {key: value for key, value in loading.shifts.items() if int(key) < body.before}
    if body.moved is not None:
        shifts[str(body.before)] = list(body.moved)
    elif shifts:
        shifts[str(body.before)] = [0.0, 0.0]
    loading.shifts = shifts
    loading.save(update_fields=["shifts"])
    return _shown(made, body.side)


@router.post("/bench/{release_id}/stood", response=BedShown, auth=WORK)
def stood(request: HttpRequest, release_id: int, body: StoodGiven) -> BedShown:
    """Keep how far a cut had come when it was stopped: from there it goes on."""
    made = _made(release_id)
    loading = _laid(made, body.side)
    _cut_so_far(made, loading, body, request.user.pk)
    return _shown(made, body.side)


def _cut_so_far(made: models.Release, loading: models.Loading, body: StoodGiven, who: int | None) -> None:
    """Keep how far the cut has come, and which pieces that are; it is begun where nobody said so. Raises NotReady."""
    run = run_of(loading, made, body.side)
    sheet, back = loading.sheet, any(op["side"] == "back" for op in made.ticket["operations"])
    come = max(body.stood_s, loading.stood_s)  # what is cut stays cut
    over = come >= run.total_s - END_S
    with transaction.atomic():
        if sheet is not None and come > 0 and not SheetStage(sheet.stage).is_over:
            if sheet.unsure:
                done = [one.number for one in run.pieces if one.at_s <= come + END_S]
                sheet = goes_on(sheet, lambda value: value.had_come(done))
                log(made.job, who, f"Looked how far its cut had come: {plural(len(sheet.cut), 'piece')}")
            if SheetStage(sheet.stage) is not SheetStage.CUTTING:
                _begun(made, loading)
            last = body.side is Side.BACK or not back
            done = [one.number for one in run.pieces if one.at_s <= come + END_S] if last else []
            if over and last:
                sheet = goes_on(sheet, PrintedSheet.is_cut)
                log(made.job, who, f"Cut: {plural(len(sheet.cut), 'piece')}")
            else:
                goes_on(sheet, lambda value: value.is_stopped(done), "" if over else "Stopped")
        loading.stood_s = come
        loading.cut = loading.cut or over
        loading.save(update_fields=["stood_s", "cut"])


def _to_load(made: models.Release) -> models.Sheet | None:
    """The sheet that is loaded next. Raises NotReady where none is left, or its cut cannot follow its print."""
    sheet = current_sheet(made)
    if sheet is None:
        return None
    if sheet.refused:
        raise NotReady(sheet.refused, "Print it again as it was released.")
    if sheet.held:
        raise NotReady("It is held in the queue of the cutter.", "Let it go there first.")
    return sheet


def _stood_before(sheet: models.Sheet, side: Side) -> float:
    """How far the cut of a sheet had come when it lay there last: from there it goes on, and nothing is cut twice."""
    last = sheet.loadings.filter(laying__side=side.value).order_by("-pk").first()
    return last.stood_s if last else 0.0


@router.post("/bench/{release_id}/begin", response=BedShown, auth=WORK)
def begin_cut(request: HttpRequest, release_id: int, body: SideGiven) -> BedShown:
    """Let the cut begin, or go on. Raises NotReady where it is wet, or nobody knows which sheet lies there."""
    made = _made(release_id)
    _begun(made, _laid(made, body.side))
    return _shown(made, body.side)


def _begun(made: models.Release, loading: models.Loading) -> None:
    trouble = laid_of(made, before_of(loading)).aligned.trouble
    if trouble:
        raise NotReady("It is not aligned.", trouble)
    if loading.sheet is not None:
        goes_on(loading.sheet, lambda value: value.is_begun(timezone.now()))


@router.post("/bench/{release_id}/known", response=BedShown, auth=WORK)
def known(request: HttpRequest, release_id: int, body: SideGiven) -> BedShown:
    """A person has looked, and says that what lies in the cutter is this sheet."""
    made = _made(release_id)
    loading = _laid(made, body.side)
    if loading.sheet is not None:
        goes_on(loading.sheet, PrintedSheet.is_known)
        loading.code = None
        loading.save(update_fields=["code"])
        log(made.job, request.user.pk, "Looked at the sheet in the cutter: it is this one")
    return _shown(made, body.side)


@router.post("/bench/{release_id}/off", response=BedShown, auth=WORK)
def take_off(request: HttpRequest, release_id: int, body: SideGiven) -> BedShown:
    """Take the sheet out of the cutter. Raises NotReady while it is being cut."""
    made = _made(release_id)
    loading = _laid(made, body.side)
    if loading.sheet is not None:
        goes_on(loading.sheet, PrintedSheet.is_taken_off)
        log(made.job, request.user.pk, "Taken out of the cutter")
    return _shown(made, body.side)


@router.post("/bench/{release_id}/pointer", response=BedShown, auth=WORK)
def calibrate(request: HttpRequest, release_id: int, body: PointerGiven) -> BedShown:
    """Keep where the pointer shines: it stands on the middle of a cross that the blade has cut."""
    made = _made(release_id)
    x, y = laid_of(made, before_of(_laid(made, Side.FRONT))).cross
    models.PointerOffset.objects.create(
        destination_id=made.ticket["destination"], x_mm=x - body.place[0], y_mm=y - body.place[1],
        who_id=request.user.pk,
    )
    return _shown(made, Side.FRONT)


@router.get("/bench/{release_id}/under")
def under(
    request: HttpRequest, release_id: int, loading: int, x: Place, y: Place, side_mm: Seen, cross: bool = False,
) -> HttpResponse:
    """What a person sees under the pointer while the carriage stands at a place, as PNG."""
    made = _made(release_id)
    found = find(made.loadings.all(), loading)
    png = run_step(
        "bench:under", print_of(found), before_of(found), f"{loading}", (x, y), side_mm, cross,
        key=pool_key(made.job), what="Looking under the pointer",
    )
    answer = picture(png, immutable=False)
    answer["Cache-Control"] = "private, max-age=60"  # its address does not name what it shows
    return answer


@router.get("/bench/{release_id}/sights/{sha256}")
def sight(request: HttpRequest, release_id: int, sha256: str) -> HttpResponse:
    """What the camera saw of a mark, as PNG."""
    made = _made(release_id)
    kept = {one["sha256"] for seen in made.loadings.values_list("seen", flat=True) for one in seen if one.get("sha256")}
    if sha256 not in kept:
        raise NotFound("There is no such picture.", "Load the sheet again.")
    return picture(load(sha256))
