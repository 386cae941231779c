"""A job in the database as the core's values: its case, and what its last check goes for."""

import hashlib
import json
from collections import OrderedDict
from dataclasses import dataclass, replace

from django.conf import settings

from horismos.artwork import Artwork, read_bytes
from horismos.artwork.kinds import Kind
from horismos.checking import CheckSheet, Report
from horismos.cutting import Tool
from horismos.destinations import SHIPPED, Destination
from horismos.errors import HorismosError, NotReady
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.roles import LineRole
from horismos.sheet import Layout
from horismos.workflow import Case, Earlier, JobFacts
from jobs import models
from jobs.store.check_sheets import check_sheet_of
from jobs.store.decisions import decisions_of
from jobs.store.files import load

__all__ = [
    "Standing", "artwork_by_content", "case_of", "destination_of", "earlier_of", "key_of", "order_of", "remember",
    "standing_of", "tools_of",
]

CHECKS = 5
"""Raised when checks change what they say: then nothing is carried over from before."""


def case_of(job: models.Job, check_sheet: CheckSheet | None = None) -> Case:
    """A job as the core sees it. Raises NotReady where it has no artwork yet."""
    if job.revision is None:
        raise NotReady("The job has no artwork yet.", "Answer what the file leaves open, or drop another.")
    notes = tuple((n["severity"], n["words"]) for n in job.intake.get("notes", []))
    artwork = replace(
        artwork_by_content(job.revision.sha256), taken_in=notes, made_from=Kind(job.intake.get("kind", Kind.PDF)),
    )
    return Case(
        artwork, order_of(job), destination_of(job), MATERIALS[job.material_id], check_sheet or check_sheet_of(job),
        Layout(**job.layout), tools_of(job), tuple(decisions_of(job)), job.page, _facts(job),
    )


def _facts(job: models.Job) -> JobFacts:
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    assert job.revision is not None
    return JobFacts(
        job.name, job.customer, job.original_name or job.revision.file_name, job.original, job.revision.number,
        settings.SHOP_NAME, f"{analysis.when:%Y-%m-%d %H:%M} UTC" if analysis else "",
    )


OPEN_ARTWORKS = 4
_artworks: OrderedDict[str, Artwork] = OrderedDict()


def artwork_by_content(sha256: str) -> Artwork:
    """An artwork of the store: what is looked at again need not be read again."""
    found = _artworks.get(sha256)
    return found if found is not None else remember(sha256, read_bytes(load(sha256)))


def remember(sha256: str, artwork: Artwork) -> Artwork:
    """Remember an artwork that was read already, by the hash under which it is kept."""
    _artworks[sha256] = artwork
    _artworks.move_to_end(sha256)
    while len(_artworks) > OPEN_ARTWORKS:
        _artworks.popitem(last=False)
    return artwork


def order_of(job: models.Job) -> Order:
    """The order of a job."""
    return Order.from_json(job.order.data)


def destination_of(job: models.Job) -> Destination:
    """The destination of a job."""
    return SHIPPED[job.destination_id]


def tools_of(job: models.Job) -> dict[LineRole, Tool]:
    """The tool settings of a job where they differ from the shipped ones."""
    return {LineRole(t.role): Tool(LineRole(t.role), **t.data) for t in job.tools.all()}


@dataclass(frozen=True, eq=False)
class Standing:
    """A job as it stands at one moment: its case, and the keys of what it depends on.

    ``terms`` is what a check depends on beside the artwork and its limits; ``key`` what all that is found
    depends on. What is changed later makes what was found for this standing out of date.
    """

    case: Case
    key: str
    terms: str


def standing_of(job: models.Job) -> Standing:
    """A job as it stands now. Raises NotReady where it has no artwork yet."""
    key, terms = key_of(job), _terms_key(job)
    return Standing(case_of(job), key, terms)


def earlier_of(job: models.Job, now: Standing) -> Earlier | None:
    """The last check of a job where a new one can build on it."""
    found: models.Analysis | None = getattr(job, "analysis", None)
    if found is None or not found.report or found.terms != now.terms or found.error:
        return None
    try:
        old = artwork_by_content(found.checked)
        artwork = now.case.artwork
        old = replace(old, taken_in=artwork.taken_in, made_from=artwork.made_from)
        return Earlier(old, Report.from_json(found.report))
    except (HorismosError, OSError, ValueError, KeyError):
        return None


def key_of(job: models.Job) -> str:
    """What an analysis depends on; another key means that it is out of date."""
    tools = sorted((t.role, t.data) for t in job.tools.all())
    sheet = check_sheet_of(job)
    return _hash([
        job.revision.sha256 if job.revision else "", _terms_key(job), job.layout, tools, sheet.limits, sheet.severities,
    ])


def _terms_key(job: models.Job) -> str:
    parts = [job.order.data, job.destination_id, job.material_id, job.page, job.intake.get("notes", []), CHECKS]
    return _hash(parts)


def _hash(parts: list[object]) -> str:
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()
