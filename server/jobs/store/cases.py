"""A job in the database as the core's values: its case, and what its last check goes for."""

import hashlib
import json
from dataclasses import asdict, dataclass
from typing import Any

from django.conf import settings

from horismos.artwork.kinds import FileKind
from horismos.checking import CheckSheet, Rehearsed
from horismos.cutting import Tool
from horismos.cutting.depth import tools_for
from horismos.destinations import SHIPPED, Destination
from horismos.errors import NotReady
from horismos.fingerprint import code_fingerprint
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.roles import LineRole
from horismos.sheet import Layout
from horismos.workflow.case import JobFacts
from horismos.workflow.steps.stored import Content, StoredCase
from jobs import models
from jobs.store.check_sheets import check_sheet_of
from jobs.store.decisions import decisions_of
from jobs.store.files import content_of
from jobs.store.shop_tools import shop_key, shop_tools
from jobs.store.snapshots import memo

__all__ = [
    "Standing",
    "analysis_key",
    "case_of",
    "destination_of",
    "order_of",
    "package_key",
    "pool_key",
    "rehearsed_of",
    "remember",
    "share_key",
    "standing_of",
    "tools_of",
    "tools_of_shop",
]

KEYS = 8
"""Part of the keys of what was released and rehearsed; raised, all of that would be unknown."""


def case_of(job: models.Job, check_sheet: CheckSheet | None = None) -> StoredCase:
    """A job as the core sees it, its artwork in the store. Raises NotReady where it has no artwork yet."""
    if job.revision is None:
        raise NotReady("The job has no artwork yet.", "Answer what the file leaves open, or drop another.")
    return StoredCase(
        content_of(job.revision.sha256), order_of(job), destination_of(job), MATERIALS[job.material_id],
        check_sheet or check_sheet_of(job), Layout.from_json(job.layout), tools_of(job),
        shop_tools(job.destination_id, job.material_id), tuple(decisions_of(job)),
        job.page, _facts(job), _known(job), rehearsed_of(job),
        tuple((n["severity"], n["words"]) for n in job.intake.get("notes", [])),
        FileKind(job.intake.get("kind", FileKind.PDF)),
    )


def _known(job: models.Job) -> tuple[tuple[str, str], ...]:
    """What people have said of the customer's files before, in a settled order."""
    found = models.Customer.objects.filter(name=job.customer).first() if job.customer else None
    return tuple(sorted(found.known.items())) if found else ()


def remember(job: models.Job, key: str, role: str) -> list[models.Job]:
    """Keep with the customer of a job which ink, colour or layer a person has made a line.

    Gives the customer's other jobs that are to be looked at again for it: those that are not released.
    """
    if not job.customer:
        return []
    customer, _ = models.Customer.objects.get_or_create(name=job.customer)
    if customer.known.get(key) == role:
        return []
    customer.known = {**customer.known, key: role}
    customer.save(update_fields=["known"])
    others = models.Job.objects.filter(customer=job.customer, releases=None, revision__isnull=False)
    return list(others.exclude(pk=job.pk))


def _facts(job: models.Job) -> JobFacts:
    analysis: models.Analysis | None = getattr(job, "analysis", None)
    assert job.revision is not None
    return JobFacts(
        job.name, job.customer, job.original_name or job.revision.file_name, job.original, job.revision.number,
        settings.SHOP_NAME, f"{analysis.when:%Y-%m-%d %H:%M} UTC" if analysis else "",
    )


def pool_key(job: models.Job) -> str:
    """Which child handles a job's files: one that has met none but those that came from the same."""
    return job.original or f"job-{job.pk}"


def order_of(job: models.Job) -> Order:
    """The order of a job."""
    return Order.from_json(job.order.data)


def destination_of(job: models.Job) -> Destination:
    """The destination of a job."""
    return SHIPPED[job.destination_id]


def tools_of(job: models.Job) -> dict[LineRole, Tool]:
    """The tool settings of a job where they differ from the shipped ones."""
    return {LineRole(t.role): Tool.kept(LineRole(t.role), t.data) for t in job.tools.all()}


def tools_of_shop(job: models.Job) -> dict[LineRole, Tool]:
    """The settings of every role that hold for a job where it has none of its own: the shop's, else the shipped."""
    return {**tools_for(MATERIALS[job.material_id]), **shop_tools(job.destination_id, job.material_id)}


@dataclass(frozen=True, eq=False)
class Standing:
    """A job as it stands at one moment: its case, and the keys of what it depends on.

    ``terms`` is what a check depends on beside the artwork and its limits; ``key`` what all that is found
    depends on. What is changed later makes what was found for this standing out of date. ``checked`` and
    ``before`` are the content and the report of the last check where a new one can build on it.
    """

    case: StoredCase
    key: str
    terms: str
    checked: Content | None
    before: dict[str, Any] | None


def standing_of(job: models.Job) -> Standing:
    """A job as it stands now. Raises NotReady where it has no artwork yet."""
    key, terms = analysis_key(job), _terms_key(job)
    found: models.Analysis | None = getattr(job, "analysis", None)
    if found is None or not found.report or found.terms != terms or found.error or not found.checked:
        return Standing(case_of(job), key, terms, None, None)
    return Standing(case_of(job), key, terms, content_of(found.checked), found.report)


def rehearsed_of(job: models.Job) -> Rehearsed | None:
    """What came of rehearsing a job as it stands; None where nobody has, or it has been changed since."""
    kept = job.rehearsal
    return Rehearsed(**kept["counts"]) if kept and kept["key"] == package_key(job) else None


def analysis_key(job: models.Job) -> str:
    """What an analysis depends on, our own code among it; another key means that it is out of date."""
    found = rehearsed_of(job)
    return _hash([package_key(job), code_fingerprint(), None if found is None else asdict(found)])


def package_key(job: models.Job) -> str:
    """What a package of a job would be made of."""
    return memo(("made", job.pk), lambda: _made_key(job))


def _made_key(job: models.Job) -> str:
    tools = [*sorted((t.role, t.data) for t in job.tools.all()), *shop_key(job.destination_id, job.material_id)]
    sheet = check_sheet_of(job)
    return _hash([
        job.revision.sha256 if job.revision else "", _hash(_asked(job)), job.layout, tools, sheet.limits,
        sheet.severities,
    ])


def share_key(job: models.Job) -> str:
    """What a job's copies on a sheet that it shares depend on; its own layout is none of it."""
    tools = [*sorted((t.role, t.data) for t in job.tools.all()), *shop_key(job.destination_id, job.material_id)]
    sheet = check_sheet_of(job)
    revision = job.revision.sha256 if job.revision else ""
    order = {key: value for key, value in job.order.data.items() if key not in ("quantity", "material")}
    return _hash([revision, order, job.destination_id, job.page, tools, sheet.limits])


def _terms_key(job: models.Job) -> str:
    found = rehearsed_of(job)
    return _hash([*_asked(job), code_fingerprint(), None if found is None else asdict(found)])


def _asked(job: models.Job) -> list[object]:
    return [job.order.data, job.destination_id, job.material_id, job.page, job.intake.get("notes", []), KEYS,
            _known(job)]


def _hash(parts: list[object]) -> str:
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()
