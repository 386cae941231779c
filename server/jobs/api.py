"""The API. Thin: it stores, queues and answers; the core computes."""

import json
import math
from typing import Any

from django.conf import settings
from django.contrib.auth import authenticate, login, logout
from django.core.cache import cache
from django.db import transaction
from django.http import FileResponse, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404
from ninja import File, Form, NinjaAPI, UploadedFile
from ninja.errors import HttpError
from ninja.security import django_auth

from horismos.cutting import DEFAULT_TOOLS, Tool
from horismos.devices import play
from horismos.errors import HorismosError, NotFound, NotPermitted, NotReady, StopsOpen
from horismos.intake import Answers, kind_of
from horismos.orders import Order
from horismos.rendering.png import png_of
from horismos.roles import LineRole
from horismos.sheet import Layout
from jobs import models, schemas, show, state
from jobs.check_api import router
from jobs.common import decide, find_job
from jobs.files import keep, load, path_of
from jobs.inks import amounts, plate_picture, section_shown
from jobs.settling import may_waive
from jobs.tasks import begin
from jobs.views import kept_view, page_picture, picture_of

api = NinjaAPI(title="Horismos", version="1", auth=django_auth, docs_url=None)
FAILED_LOGINS = 8
WAIT_S = 300
PICTURE_PIXELS = 4_000_000
MOST_JOBS = 200


STATUSES = {NotFound: 404, NotPermitted: 403, NotReady: 409, StopsOpen: 409}
"""What the web calls an error; anything else that was asked for and cannot be is 400."""


@api.exception_handler(HorismosError)
def _problem(request: HttpRequest, error: HorismosError) -> HttpResponse:
    status = next((status for kind, status in STATUSES.items() if isinstance(error, kind)), 400)
    return api.create_response(request, {"message": str(error), "code": error.code}, status=status)


@api.exception_handler(HttpError)
def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "code": "refused"}, status=error.status_code)


# -- people ---------------------------------------------------------------------------------------


@api.post("/login", auth=None, response={200: schemas.Me, 401: schemas.Problem, 429: schemas.Problem})
def log_in(request: HttpRequest, body: schemas.Login) -> Any:
    """Log in; after too many failures from one address there is a pause."""
    key = f"failed:{request.META.get('REMOTE_ADDR')}"
    if cache.get(key, 0) >= FAILED_LOGINS:
        return 429, {"message": "Too many attempts. Wait five minutes."}
    user = authenticate(request, username=body.name, password=body.password)
    if user is None:
        cache.set(key, cache.get(key, 0) + 1, WAIT_S)
        return 401, {"message": "Name and password do not fit together."}
    cache.delete(key)
    login(request, user)
    return {"name": user.get_username()}


@api.post("/logout", response=schemas.Me)
def log_out(request: HttpRequest) -> Any:
    """Log out."""
    logout(request)
    return {"name": ""}


@api.get("/me", response=schemas.Me)
def me(request: HttpRequest) -> Any:
    """Who is logged in."""
    return {"name": request.user.get_username()}


# -- jobs -----------------------------------------------------------------------------------------


@api.get("/jobs", response=list[schemas.JobRow])
def jobs(request: HttpRequest) -> Any:
    """All jobs, due first."""
    listed = models.Job.objects.select_related("order", "material", "analysis")
    return [show.job_row(job) for job in listed.prefetch_related("releases", "works", "settled")]


@api.post("/jobs", response=schemas.TakenIn)
def take_in(
    request: HttpRequest, file: File[UploadedFile], customer: Form[str] = "", again: Form[bool] = False
) -> Any:
    """Take in a customer's file as a new job; one that is known by its content is named instead."""
    name = (file.name or "artwork").replace("\\", "/").rsplit("/", 1)[-1][:200]
    if (file.size or 0) > settings.MOST_UPLOAD_BYTES:
        raise HttpError(413, f"{name} is larger than 500 MB. Ask for a smaller file.")
    data = file.read()
    try:
        kind_of(data, name)
    except HorismosError as error:
        raise HttpError(400, f"{name}: {error}") from None
    original = keep(data)
    known = models.Job.objects.filter(original=original).order_by("-id").first()
    if known is not None and not again:
        return {"job": show.job_row(find_job(known.pk)), "known": True}
    with transaction.atomic():
        job = _new_job(name, original, customer.strip()[:200])
        decide(request, job, f"Took in {name}")
        begin(job, "take-in")
    return {"job": show.job_row(find_job(job.pk)), "known": False}


def _new_job(file_name: str, original: str, customer: str) -> models.Job:
    job = models.Job.objects.create(
        name=file_name.rsplit(".", 1)[0][:200] or "Untitled",
        original=original, original_name=file_name, customer=customer,
        destination=models.Destination.objects.get(pk="house"),
        material=models.Material.objects.get(pk="film-1370"),
    )
    models.Order.objects.create(job=job, data={"quantity": 1})
    return job


@api.post("/jobs/{job_id}/answers", response=schemas.WorkShape)
def answer(request: HttpRequest, job_id: int, body: schemas.AnswersShape) -> Any:
    """Say what a file leaves open; it is taken in again with that. Bindings are remembered."""
    job = find_job(job_id)
    if not job.original:
        raise HttpError(400, "The job has no file of its own. Drop it again.")
    given = body.dict(exclude_unset=True, exclude={"each_page", "password"})
    before = job.intake.get("answers", {})
    said = {**before, **given, "binding": {**before.get("binding", {}), **(given.get("binding") or {})}}
    answers = Answers.from_json(said)
    with transaction.atomic():
        job.intake = {**job.intake, "answers": answers.to_json()}
        job.save()
        if job.customer and body.binding:
            customer, _ = models.Customer.objects.get_or_create(name=job.customer)
            customer.binding = {**customer.binding, **body.binding}
            customer.save()
        if body.each_page:
            _each_page(request, job, body.pages or [])
        what = ", ".join(sorted({*given, *(["password"] if body.password else [])}))
        decide(request, job, f"Answered: {what}")
        work = begin(job, "take-in", {"password": body.password} if body.password else {})
    return show.work_shape(work)


def _each_page(request: HttpRequest, job: models.Job, pages: list[int]) -> None:
    """Let a job keep the first of its pages, and begin a job of its own for each other one."""
    if len(pages) > MOST_JOBS:
        raise HttpError(400, f"{len(pages)} pages are too many jobs at once. Choose at most {MOST_JOBS}.")
    for number in pages[1:]:
        other = _new_job(job.original_name, job.original, job.customer)
        other.name = f"{job.name}, page {number}"
        other.intake = {"answers": {"pages": [number]}}
        other.save()
        decide(request, other, f"Took in page {number} of {job.original_name}")
        begin(other, "take-in")
    job.intake = {**job.intake, "answers": {**job.intake.get("answers", {}), "pages": pages[:1]}}
    job.name = f"{job.name}, page {pages[0]}" if pages else job.name
    job.save()


@api.get("/jobs/{job_id}", response=schemas.JobShape)
def job(request: HttpRequest, job_id: int) -> Any:
    """One job, whole."""
    return show.job_whole(find_job(job_id), may_waive(request.user))


@api.patch("/jobs/{job_id}", response=schemas.JobShape)
def change(request: HttpRequest, job_id: int, body: schemas.JobChange) -> Any:
    """Change the order, the destination, the material, the layout or tool settings."""
    job = find_job(job_id)
    given = body.dict(exclude_unset=True)
    with transaction.atomic():
        for field in ("name", "customer", "due"):
            if field in given:
                setattr(job, field, given[field])
        if "destination" in given:
            job.destination = get_object_or_404(models.Destination, pk=given["destination"])
        if "material" in given:
            job.material = get_object_or_404(models.Material, pk=given["material"])
        layout = {**job.layout, **{k: given[k] for k in ("columns", "gap_mm", "turned") if k in given}}
        Layout(**layout)
        job.layout = layout
        job.save()
        if "order" in given:
            job.order.data = Order.from_json(given["order"]).to_json()
            job.order.save()
            if not job.intake.get("order_kept"):
                job.intake = {**job.intake, "order_kept": True}
                job.save(update_fields=["intake"])
            if job.customer:
                models.Customer.objects.update_or_create(name=job.customer, defaults={"order": job.order.data})
        for shape in given.get("tools") or []:
            tool = Tool(LineRole(shape["role"]), **{k: v for k, v in shape.items() if k != "role"})
            data = {k: v for k, v in shape.items() if k != "role"}
            if tool == DEFAULT_TOOLS[tool.role]:
                job.tools.filter(role=tool.role.value).delete()
            else:
                job.tools.update_or_create(role=tool.role.value, defaults={"data": data})
        if set(given) - {"name", "customer", "due"}:
            decide(request, job, f"Changed {', '.join(sorted(given))}")
            begin(job, "analyse")
    return show.job_whole(find_job(job_id), may_waive(request.user))


@api.post("/jobs/{job_id}/mends", response=schemas.WorkShape)
def mend(request: HttpRequest, job_id: int, body: schemas.Mend) -> Any:
    """Carry out a mend as a new revision."""
    job = find_job(job_id)
    step = state.step_from(body.dict())
    decide(request, job, step.label)
    return show.work_shape(begin(job, "mend", dict(step.to_json())))


@api.post("/jobs/{job_id}/undo", response=schemas.WorkShape)
def undo(request: HttpRequest, job_id: int) -> Any:
    """Go back to the revision before; the one left stays in the store."""
    job = find_job(job_id)
    if job.revision is None or job.revision.parent is None:
        raise HttpError(400, "There is nothing to undo: this is the file as it came.")
    decide(request, job, f"Undid revision {job.revision.number}: {job.revision.said}")
    job.revision = job.revision.parent
    job.save(update_fields=["revision"])
    return show.work_shape(begin(job, "analyse"))


@api.post("/jobs/{job_id}/release", response=schemas.WorkShape)
def release(request: HttpRequest, job_id: int) -> Any:
    """Write the package; refused while a stop is open."""
    job = find_job(job_id)
    row = show.job_row(job)
    if row["stops"]:
        raise HttpError(409, f"{row['stops']} stops are open. Mend them first.")
    decide(request, job, "Asked for the release")
    return show.work_shape(begin(job, "release"))


@api.get("/jobs/{job_id}/picture")
def picture(
    request: HttpRequest, job_id: int, x0: float, y0: float, x1: float, y1: float, ppi: float,
    view: str = "art", revision: int = 0,
) -> HttpResponse:
    """A part of a view of a revision (mm) as PNG, at most so many pixels."""
    job = find_job(job_id)
    if not (x1 > x0 and y1 > y0 and 0.5 <= ppi <= 10_000):
        raise HttpError(400, "That is no area of the page.")
    if (x1 - x0) * (y1 - y0) * (ppi / 25.4) ** 2 > PICTURE_PIXELS:
        raise HttpError(400, "That picture is too large. Ask for a smaller part.")
    made = job.revisions.filter(number=revision).first() if revision else job.revision
    if made is None:
        raise HttpError(404, "There is no such revision.")
    pixels = picture_of(kept_view(job, made, view), (x0, y0, x1, y1), ppi)
    return _picture(pixels)


@api.get("/jobs/{job_id}/pages/{number}")
def page_of_original(request: HttpRequest, job_id: int, number: int) -> HttpResponse:
    """A small picture of one page of the customer's PDF, to choose by."""
    return _picture(page_picture(path_of(find_job(job_id).original), number))


def _picture(pixels: Any) -> HttpResponse:
    answer = HttpResponse(png_of(pixels), content_type="image/png")
    answer["Cache-Control"] = "private, max-age=86400, immutable"
    return answer


def _plates(job: models.Job) -> dict[str, Any]:
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    if analysis is None or "sha256" not in analysis.plates:
        raise HttpError(404, "There are no plates yet.")
    return dict(analysis.plates)


@api.get("/jobs/{job_id}/plates")
def plate_set(request: HttpRequest, job_id: int, inks: str = "", mode: str = "ink") -> HttpResponse:
    """Plates laid over each other (numbers in a row, none for all), or the ink load as heat."""
    which = [int(part) for part in inks.split(",") if part.isdigit()]
    return _picture(plate_picture(_plates(find_job(job_id)), which, mode))


@api.get("/jobs/{job_id}/amounts", response=list[int])
def ink_amounts(request: HttpRequest, job_id: int, x: float, y: float) -> Any:
    """The tint of every ink at a place in mm, 0 to 255, in the order of the plates."""
    return amounts(_plates(find_job(job_id)), [(x, y)])[0]


@api.get("/jobs/{job_id}/section", response=schemas.SectionShape)
def cut_open(request: HttpRequest, job_id: int, x0: float, y0: float, x1: float, y1: float) -> Any:
    """The material cut open along a line across the page (mm)."""
    job = find_job(job_id)
    if not 0.01 <= math.hypot(x1 - x0, y1 - y0) <= 200_000:
        raise HttpError(400, "Draw a longer line.")
    artwork = state.artwork_of(job)
    page = artwork.pages[min(job.page, len(artwork.pages)) - 1]
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    known = analysis.plates if analysis and "sha256" in analysis.plates else {}
    return section_shown(job, artwork, page, state.destination_of(job), known, (x0, y0), (x1, y1))


api.add_router("", router)


# -- work -----------------------------------------------------------------------------------------


@api.get("/works/{work_id}", response=schemas.WorkShape)
def work(request: HttpRequest, work_id: int) -> Any:
    """How far a piece of work is."""
    return show.work_shape(get_object_or_404(models.Work, pk=work_id))


@api.post("/works/{work_id}/cancel", response=schemas.WorkShape)
def cancel(request: HttpRequest, work_id: int) -> Any:
    """Ask a piece of work to stop; what was there before stands."""
    found = get_object_or_404(models.Work, pk=work_id)
    models.Work.objects.filter(pk=found.pk).update(cancel=True)
    models.Work.objects.filter(pk=found.pk, state="waiting").update(state="cancelled", what="stopped")
    found.refresh_from_db()
    return show.work_shape(found)


# -- bench, shelf, files --------------------------------------------------------------------------


@api.get("/shelf", response=schemas.Shelf)
def shelf(request: HttpRequest) -> Any:
    """Materials, destinations, tool settings."""
    return show.shelf()


@api.get("/bench", response=list[schemas.ReleaseShape])
def bench(request: HttpRequest) -> Any:
    """What was released to the machines, newest first."""
    listed = models.Release.objects.select_related("job").order_by("-id")
    return [show.release_shape(made) for made in listed]


@api.post("/bench/{release_id}/rip", response=schemas.WorkShape)
def run_rip(request: HttpRequest, release_id: int) -> Any:
    """Let the simulated RIP take a print PDF from its hot folder."""
    made = get_object_or_404(models.Release, pk=release_id)
    return show.work_shape(begin(made.job, "rip", {"release": made.pk}))


@api.get("/bench/{release_id}/play", response=schemas.PlaybackShape)
def playback(request: HttpRequest, release_id: int, name: str = "") -> Any:
    """Let the simulated cutter read a cut file: every stroke with its times."""
    made = get_object_or_404(models.Release, pk=release_id)
    cuts = [f for f in made.files if f["name"].endswith(".plt") and name in ("", f["name"])]
    if not cuts:
        raise HttpError(404, "The package holds no such cut file.")
    played = play(load(cuts[0]["sha256"]), made.ticket)
    sheet = made.ticket["sheet"]
    return {
        "moves": [
            {
                "operation": m.operation, "tool": m.tool, "force_gf": m.force_gf,
                "speed_mm_s": m.speed_mm_s, "start_s": m.start_s, "end_s": m.end_s,
                "points": m.points.round(3).tolist(),
            }
            for m in played.moves
        ],
        "total_s": played.total_s, "cut_mm": played.cut_mm, "travel_mm": played.travel_mm,
        "width_mm": sheet["width_mm"], "length_mm": sheet["length_mm"],
        "operations": [o for o in made.ticket["operations"] if o["side"] == "front"],
    }


@api.get("/bench/{release_id}/plates/{sha256}")
def plate(request: HttpRequest, release_id: int, sha256: str) -> HttpResponse:
    """A plate as a picture."""
    made = get_object_or_404(models.Release, pk=release_id)
    if sha256 not in {p["sha256"] for p in made.plates}:
        raise HttpError(404, "There is no such plate.")
    return HttpResponse(load(sha256), content_type="image/png")


@api.get("/bench/{release_id}/files/{name}")
def download(request: HttpRequest, release_id: int, name: str) -> FileResponse:
    """A file of a package, as a download with a safe name."""
    made = get_object_or_404(models.Release, pk=release_id)
    found = next((f for f in made.files if f["name"] == name), None)
    if found is None:
        raise HttpError(404, "The package holds no such file.")
    return FileResponse(
        path_of(found["sha256"]).open("rb"), as_attachment=True, filename=found["name"],
        content_type="application/octet-stream",
    )


def openapi() -> str:
    """The OpenAPI document of this API, as text."""
    return json.dumps(api.get_openapi_schema(), indent=1, default=str) + "\n"
