"""A job as it stands at one moment: all that it is, read once, as values; what is worked out of it is its own."""

import hashlib
import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass, replace
from functools import cached_property
from typing import Any, ClassVar

from horismos.artwork.kinds import FileKind
from horismos.checking import CheckSheet, Rehearsed, Severity
from horismos.checking.engine.decisions import Decision
from horismos.cutting import Tool
from horismos.cutting.depth import through_laminate, tools_for
from horismos.destinations import Destination
from horismos.errors import NotFound, NotReady
from horismos.fingerprint import code_fingerprint
from horismos.intake import Answers
from horismos.materials import Material, laminated
from horismos.media import Media
from horismos.orders import Laminate, Order
from horismos.reporting.letter_texts import LetterTexts
from horismos.roles import LineRole
from horismos.sheet import Layout
from horismos.workflow.case import JobFacts
from horismos.workflow.steps.stored import Content, StoredCase
from horismos.workflow.take_in import Arrival
from jobs import models
from jobs.store.customers import customer_order, texts_for
from jobs.store.decisions import decisions_of
from jobs.store.files import content_of
from jobs.store.kept import ShelfTerms, kept_standing, standing_of
from jobs.store.shelf import shelf_key, shop_name

__all__ = ["ROWS", "JobSnapshot", "order_of", "pool_key", "read_job", "remember", "snapshot_of"]

KEYS = 8
"""Part of the keys of what was released and rehearsed; raised, all of that would be unknown."""
PROOF = "file.proof"
ROWS = ("order", "material", "revision", "analysis", "destination")
"""What is read with the row of a job."""


@dataclass(frozen=True, eq=False)
class JobSnapshot:
    """All that a job is at one moment.

    ``row`` is its row with those of ``ROWS``. ``own_tools`` and ``shop_tools`` are the settings that differ from the
    shipped ones, ``customer`` is what is remembered of the customer's files, ``texts`` the words of letters to them.
    What is changed later makes what was found for this snapshot out of date, as its keys tell. A job that was released
    has of the Shelf what it was released with.
    """

    row: models.Job
    order: Order
    destination: Destination
    material: Material
    check_sheet: CheckSheet
    decisions: tuple[Decision, ...]
    own_tools: Mapping[LineRole, Tool]
    shop_tools: Mapping[LineRole, Tool]
    customer: models.Customer | None
    texts: LetterTexts
    word = "job"
    room = "job"
    shared = None
    shares: ClassVar[tuple[models.Share, ...]] = ()

    @property
    def revision(self) -> models.Revision:
        """The artwork. Raises NotReady where it has none yet."""
        if self.row.revision is None:
            raise NotReady("The job has no artwork yet.", "Answer what the file leaves open, or drop another.")
        return self.row.revision

    @property
    def analysis(self) -> models.Analysis | None:
        """What was found on it last; of which state of the job, its key tells."""
        found: models.Analysis | None = getattr(self.row, "analysis", None)
        return found

    @property
    def pool_key(self) -> str:
        """Which child handles its files: one that has met none but those that came from the same."""
        return pool_key(self.row)

    @property
    def known(self) -> tuple[tuple[str, str], ...]:
        """What people have said of the customer's files before, in a settled order."""
        return tuple(sorted(self.customer.known.items())) if self.customer else ()

    @property
    def original(self) -> Content:
        """The customer's file, or what it holds where it opened only with a password."""
        return content_of(self.row.intake.get("unlocked") or self.row.original)

    @property
    def standing(self) -> ShelfTerms:
        """What of the Shelf it goes by, with the versions of that."""
        return kept_standing(self.row) or standing_of(self.row)

    @property
    def arrival(self) -> Arrival:
        """What is known of the file beside its bytes: what was said, and what is remembered of its customer."""
        said = self.row.intake.get("answers", {})
        binding = {**(self.customer.binding if self.customer else {}), **said.get("binding", {})}
        answers = Answers.from_json({**said, "binding": binding})
        usual = customer_order(self.row.customer)
        before = {**(self.customer.order if self.customer else {}), **usual}
        last = Order.from_json(before) if before else None
        return Arrival(b"", self.row.original_name, answers, self.order, self.destination, last)

    @property
    def default_tools(self) -> dict[LineRole, Tool]:
        """The settings of every role that hold where it has none of its own: the shop's, else the shipped."""
        return {**tools_for(self.material), **self.shop_tools}

    @cached_property
    def case(self) -> StoredCase:
        """The job as the core sees it, its artwork in the store. Raises NotReady where it has no artwork yet."""
        job, notes = self.row, self.row.intake.get("notes", [])
        return StoredCase(
            content=content_of(self.revision.sha256), order=self.order, destination=self.destination,
            material=self.material, check_sheet=self.check_sheet, layout=Layout.from_json(job.layout),
            tools=dict(self.own_tools), shop_tools=dict(self.shop_tools), decisions=self.decisions,
            page_number=job.page, facts=self._facts(), known=self.known, rehearsed=self.rehearsed,
            signed=self.signed, taken_in=tuple((note["severity"], note["words"]) for note in notes),
            made_from=FileKind(job.intake.get("kind", FileKind.PDF))
        )

    @property
    def stored(self) -> StoredCase:
        """The job as it is nested, rehearsed and released."""
        return self.case

    @property
    def media(self) -> Media | None:
        """What is loaded, where that was said."""
        return self.case.layout.media

    @property
    def used_by(self) -> str:
        """What an offcut of its sheet says that it is left of."""
        return f"the sheet of “{self.row.name}”"

    def with_check_sheet(self, check_sheet: CheckSheet) -> "JobSnapshot":
        """The job as it would be by another check sheet."""
        return replace(self, check_sheet=check_sheet)

    def _facts(self) -> JobFacts:
        job, found = self.row, self.analysis
        return JobFacts(
            job.name, job.customer, job.original_name or self.revision.file_name, job.original, self.revision.number,
            shop_name(), f"{found.when:%Y-%m-%d %H:%M} UTC" if found else "", self.texts,
        )

    # -- keys ------------------------------------------------------------------------------------------

    @cached_property
    def package_key(self) -> str:
        """What a package of it would be made of."""
        sheet, job = self.check_sheet, self.row
        shop = [asdict(tool) for _, tool in sorted(self.shop_tools.items())]
        return _hash([
            job.revision.sha256 if job.revision else "", _hash(self._asked()), job.layout, [*self._tools(), *shop],
            sheet.limits, sheet.severities,
        ])

    @cached_property
    def analysis_key(self) -> str:
        """What an analysis depends on, our own code among it; another key means that it is out of date."""
        return _hash([self.package_key, code_fingerprint(), self._rehearsed_json(), *self._signed_too()])

    @cached_property
    def check_key(self) -> str:
        """What a check depends on beside the artwork and its limits."""
        return _hash([*self._asked(), code_fingerprint(), self._rehearsed_json(), *self._signed_too()])

    @cached_property
    def share_key(self) -> str:
        """What its copies on a sheet that it shares depend on; its own layout is none of it."""
        job, shop = self.row, [asdict(tool) for _, tool in sorted(self.shop_tools.items())]
        order = {key: value for key, value in job.order.data.items() if key not in ("quantity", "material")}
        return _hash([
            job.revision.sha256 if job.revision else "", order, job.destination_id, job.page, [*self._tools(), *shop],
            self.check_sheet.limits, *shelf_key(self.destination, self.material),
        ])

    def _asked(self) -> list[object]:
        job = self.row
        return [job.order.data, job.destination_id, job.material_id, job.page, job.intake.get("notes", []), KEYS,
                self.known, *shelf_key(self.destination, self.material)]

    def _tools(self) -> list[tuple[str, Any]]:
        return sorted((row.role, row.data) for row in self.row.tools.all())

    def _rehearsed_json(self) -> dict[str, Any] | None:
        return None if self.rehearsed is None else asdict(self.rehearsed)

    def _signed_too(self) -> list[bool]:
        """Whether it is signed, where anybody asks for that: a check that is off is nothing to look again for."""
        asked = self.check_sheet.severities.get(PROOF, Severity.OFF) is not Severity.OFF
        return [self.signed] if asked else []

    # -- what was found of just this ---------------------------------------------------------------------

    @property
    def rehearsed(self) -> Rehearsed | None:
        """What came of rehearsing it as it stands; None where nobody has, or it has been changed since."""
        kept = self.row.rehearsal
        return Rehearsed(**kept["counts"]) if kept and kept["key"] == self.package_key else None

    @cached_property
    def signed(self) -> bool:
        """Whether the customer has signed a proof of just this artwork."""
        sha256 = self.row.revision.sha256 if self.row.revision else ""
        approved = models.LetterAnswer.APPROVED
        return self.row.letters.filter(kind=models.LetterKind.PROOF, answer=approved, proves=sha256).exists()

    @property
    def is_current(self) -> bool:
        """Whether what was found last is about it as it stands."""
        return self.analysis is not None and bool(self.analysis.key) and self.analysis.key == self.analysis_key

    @property
    def checked(self) -> tuple[Content, dict[str, Any]] | None:
        """The content and the report of the last check, where a new one can build on it."""
        found = self.analysis
        if found is None or not found.report or found.error or not found.checked or found.terms != self.check_key:
            return None
        return content_of(found.checked), dict(found.report)


def snapshot_of(row: models.Job) -> JobSnapshot:
    """All that a job is, with its row as it was read."""
    customer = models.Customer.objects.filter(name=row.customer).first() if row.customer else None
    shelf = kept_standing(row) or standing_of(row)
    order, material, tools = order_of(row), shelf.material, shelf.tools
    if order.laminate:
        material = laminated(material, order.laminate is Laminate.GLOSSY)
        tools = through_laminate(tools, material)
    return JobSnapshot(
        row=row, order=order, destination=shelf.destination, material=material,
        check_sheet=shelf.check_sheet, decisions=tuple(decisions_of(row)),
        own_tools={LineRole(one.role): Tool.kept(LineRole(one.role), one.data) for one in row.tools.all()},
        shop_tools=tools, customer=customer, texts=texts_for(row.customer),
    )


def read_job(job_id: int) -> JobSnapshot:
    """All that a job is now. Raises NotFound."""
    row = models.Job.objects.select_related(*ROWS).prefetch_related("tools").filter(pk=job_id).first()
    if row is None:
        raise NotFound(f"There is no job {job_id} here.", "It may have been removed; go back to the Desk.")
    return snapshot_of(row)


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


def pool_key(job: models.Job) -> str:
    """Which child handles a job's files: one that has met none but those that came from the same."""
    return job.original or f"job-{job.pk}"


def order_of(job: models.Job) -> Order:
    """The order of a job."""
    return Order.from_json(job.order.data)


def _hash(parts: list[object]) -> str:
    return hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()
