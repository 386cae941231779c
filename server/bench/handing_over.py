"""Cut files handed over: on a stick, into the cutter's hot folder, or straight to its socket."""

import io
import threading
import zipfile
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path
from typing import Any

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from jobs import models
from jobs.api.bodies import FormatName
from jobs.api.common import download, find
from jobs.api.wants import WORK
from jobs.store.files import load, write_whole
from jobs.store.floor import current_sheet, sheet_value
from jobs.store.log import log
from ninja import Router, Schema

from horismos.destinations import destination_of
from horismos.errors import NotFound, NotReady
from horismos.release.cut_formats import cut_names
from horismos.release.sending import address_of, send
from horismos.simulation.bed import Side
from horismos.simulation.device import device
from horismos.simulation.devices import device_for
from horismos.words import plural, safe_name
from horismos.workflow.floor import SheetStage

__all__ = ["router"]

router = Router()
_taking: set[tuple[str, int]] = set()
_asking = threading.Lock()


class Way(StrEnum):
    """How a cut file gets to the cutter."""

    HOT_FOLDER = "hot-folder"
    SOCKET = "socket"


class WayGiven(Schema):
    """How the cut file of a side is handed over, and in which of the formats that the package has."""

    way: Way
    side: Side = Side.FRONT
    format: FormatName = "hpgl"


@dataclass(frozen=True)
class HandedOver:
    """What came of it, in words."""

    words: str


def _made(release_id: int) -> models.Release:
    return find(models.Release.objects.select_related("job"), release_id)


def _files(made: models.Release) -> list[dict[str, Any]]:
    """The files of the sheet that is next, as it came out of the printer. Raises NotReady where it is not to be cut."""
    sheet = current_sheet(made)
    if sheet is None:
        return list(made.files)
    if sheet.refused:
        raise NotReady(sheet.refused, "Print it again as it was released.")
    return sheet.own_files


def _cut_file(made: models.Release, side: Side, format: str) -> tuple[str, bytes]:
    contents = {file["name"]: file["sha256"] for file in _files(made)}
    names = cut_names(contents, destination_of(made.ticket).cutter, side is Side.BACK)
    if format not in names:
        raise NotFound("The package holds no such cut file.", "Choose the other side, or another format.")
    return names[format], load(contents[names[format]])


@router.post("/bench/{release_id}/hand-over", response=HandedOver, auth=WORK)
def hand_over(request: HttpRequest, release_id: int, body: WayGiven) -> HandedOver:
    """Put the cut file into the cutter's hot folder, or send it to the device: no sooner than it may be cut."""
    made = _made(release_id)
    sheet = current_sheet(made)
    if sheet is not None and not SheetStage(sheet.stage).is_over:
        sheet_value(sheet).must_not_wait(timezone.now(), "cut")
    name, data = _cut_file(made, body.side, body.format)
    if body.way is Way.HOT_FOLDER:
        write_whole(Path(settings.VAR) / "cutter-folder" / str(made.ticket["destination"]) / name, data)
        words = f"{name} lies in the cutter’s hot folder."
    else:
        words = _sent(str(made.ticket["destination"]), name, data, body.format)
    log(made.job, request.user.pk, f"Handed over: {words}")
    return HandedOver(words)


def _sent(destination: str, name: str, data: bytes, format: str) -> str:
    """Send a file to the shop's device; where it has named none, to a simulated one."""
    named = settings.CUTTERS.get(destination)
    if named:
        address = address_of(named)
        with _alone(address):
            return f"{name}: {send(data, address):,} bytes sent to {address[0]}:{address[1]}."
    kind = device_for(format)
    with device() as simulated:
        send(data, simulated.address)
    came, read = len(simulated.taken), kind.strokes(bytes(simulated.taken))
    return f"{name}: {came:,} bytes taken by {kind.words}, which reads {plural(read, 'stroke')}."


@contextmanager
def _alone(address: tuple[str, int]) -> Iterator[None]:
    """Send to a device while nobody else does: two files would run into each other, and a slow one keeps a thread."""
    with _asking:
        if address in _taking:
            at = f"{address[0]}:{address[1]}"
            raise NotReady(f"The device at {at} is taking a file just now.", "Wait until it has it.")
        _taking.add(address)
    try:
        yield
    finally:
        _taking.discard(address)


@router.get("/bench/{release_id}/stick")
def stick(request: HttpRequest, release_id: int) -> HttpResponse:
    """All that a cutter needs of a package, as one ZIP: the cut files of both sides in all formats, and the ticket."""
    made = _made(release_id)
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for file in _files(made):
            if "-cut." in file["name"] or file["name"].endswith("-ticket.json"):
                packed.writestr(file["name"], load(file["sha256"]))
    return download(out.getvalue(), f"{safe_name(str(made.ticket['job']))}-cut.zip", "application/zip")
