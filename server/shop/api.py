"""The one API of the shop, put together from its parts."""

import json
import logging
from errno import EDQUOT, ENOSPC

from bench.api import router as bench
from bench.at_cutter import router as at_cutter
from bench.bed import router as bed
from bench.handing_over import router as handing_over
from bench.queues import router as queues
from bench.stacks import router as stacks
from bench.test_cuts import router as figures
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse
from jobs.api.alike import router as alike
from jobs.api.check import router as check
from jobs.api.corrected import router as corrected
from jobs.api.customers import router as customers
from jobs.api.figures import router as shop_figures
from jobs.api.jobs import router as jobs
from jobs.api.letters import router as letters
from jobs.api.log import router as log_entries
from jobs.api.making import router as making
from jobs.api.mends import router as mends
from jobs.api.pictures import router as pictures
from jobs.api.presence import router as presence
from jobs.api.rehearsal import router as rehearsal
from jobs.api.shared import router as shared
from jobs.api.sheets import router as sheets
from jobs.api.stack import router as stack
from jobs.api.wants import SEE
from jobs.api.works import router as works
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from people.api import router as people
from people.staff import router as staff
from shelf.api import router as shelf
from shelf.beginning import router as beginning
from shelf.check_sheets import router as check_sheets
from shelf.moving import router as moving
from shelf.recipes import router as recipes
from shelf.things import router as things
from shelf.tools import router as tools

from horismos.errors import (
    ChangedMeanwhile,
    HorismosError,
    NoRoom,
    NotFound,
    NothingToDo,
    NotPermitted,
    NotReady,
    StopsOpen,
)
from shop.requests import number
from shop.running import router as running

__all__ = ["api", "openapi"]

api = NinjaAPI(title="Horismos", version="1", auth=SEE, docs_url=None, openapi_url=None)
log = logging.getLogger("horismos.faults")
for router in (
    people, staff, log_entries, jobs, corrected, customers, alike, letters, shop_figures, mends, making, stack, check,
    pictures, rehearsal, sheets, shared, works, shelf, beginning, moving, presence, things, check_sheets, recipes,
    tools, bench, bed, figures, handing_over, at_cutter, queues, stacks, running,
):
    api.add_router("", router)

STATUSES = {
    NotFound: 404, NotPermitted: 403, NotReady: 409, StopsOpen: 409, ChangedMeanwhile: 409, NothingToDo: 409,
    NoRoom: 507,
}
"""What the web calls an error; anything else that was asked for and cannot be is 400."""


@api.exception_handler(HorismosError)
def _problem(request: HttpRequest, error: HorismosError) -> HttpResponse:
    status = next((status for kind, status in STATUSES.items() if isinstance(error, kind)), 400)
    return api.create_response(request, {"message": str(error), "code": error.code}, status=status)


@api.exception_handler(HttpError)
def _http(request: HttpRequest, error: HttpError) -> HttpResponse:
    return api.create_response(request, {"message": str(error), "code": "refused"}, status=error.status_code)


@api.exception_handler(ValidationError)
def _not_understood(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """What was sent does not have the shape that the document of the API asks for; the first thing is named."""
    first = error.errors[0]
    where = ".".join(str(part) for part in first["loc"][1:] if part != "body")
    message = f"{where or 'What was sent'}: {first['msg']}. Correct it and send it again."
    return api.create_response(request, {"message": message, "code": "not-understood"}, status=422)


@api.exception_handler(OverflowError)
def _too_large(request: HttpRequest, error: OverflowError) -> HttpResponse:
    """A number that no row can hold, such as 2 to the 70th: there is nothing of that number."""
    message = "A number is larger than any number here. Correct it and send it again."
    return api.create_response(request, {"message": message, "code": "not-understood"}, status=422)


@api.exception_handler(OSError)
@api.exception_handler(OperationalError)
def _full(request: HttpRequest, error: Exception) -> HttpResponse:
    """A full disk is nobody's mistake here, and has its own words; any other failure of the machine is a fault."""
    if getattr(error, "errno", 0) not in (ENOSPC, EDQUOT) and "disk is full" not in str(error):
        return _fault(request, error)
    log.error("the disk is full: %s %s: %s", request.method, request.path[:200], error)
    return _problem(request, NoRoom())


@api.exception_handler(Exception)
def _fault(request: HttpRequest, error: Exception) -> HttpResponse:
    """Our own code failed. What it was stands in the log; the person gets the number to tell."""
    log.exception("%s %s", request.method, request.path[:200], exc_info=error)
    message = f"The server failed here (request {number.get()}). Tell who looks after it."
    return api.create_response(request, {"message": message, "code": "fault"}, status=500)


def openapi() -> str:
    """The OpenAPI document of this API, as text."""
    return json.dumps(api.get_openapi_schema(), indent=1, default=str) + "\n"
