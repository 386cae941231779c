"""All that a job is, as frozen values: what every step of the way takes."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from functools import cached_property

from horismos.artwork import Artwork, Line, Page, line_objects
from horismos.checking import CheckInputs, CheckSheet, Rehearsed
from horismos.checking.engine.decisions import Decision, settled
from horismos.checking.engine.findings import Report
from horismos.cutting import Tool
from horismos.cutting.shop_facts import ShopFacts
from horismos.destinations import DEFAULT, Destination
from horismos.errors import NotFound
from horismos.materials import MATERIALS, Material
from horismos.orders import Order
from horismos.reporting.letter_texts import LetterTexts
from horismos.roles import LineRole
from horismos.sheet import Layout

__all__ = ["Case", "JobFacts", "Progress"]

Progress = Callable[[float, str], None]
"""Hears the share done, 0 to 1, and what is being done; raises Cancelled where a person has stopped it."""


@dataclass(frozen=True)
class JobFacts:
    """What papers say about a job beside the work itself; ``shop`` signs them, ``when`` is when it was checked.

    ``texts`` are the words of letters, where the shop has its own.
    """

    name: str = "job"
    customer: str = ""
    file_name: str = ""
    original_sha256: str = ""
    revision: int = 1
    shop: str = ""
    when: str = ""
    texts: LetterTexts = field(default_factory=LetterTexts)


@dataclass(frozen=True, eq=False, kw_only=True)
class Case:
    """A job: its artwork as read, what was asked for, where it goes, and what people decided.

    ``material`` is None where nobody said one. ``tools`` are the job's own settings, ``shop_tools`` those that the shop
    has tested on its cutter and material, each where they differ from the shipped ones. ``known`` is what people have
    said of this customer's files before, as in ``CheckInputs``. ``beside`` goes onto the ticket of a release.
    """

    artwork: Artwork
    order: Order = field(default_factory=Order)
    destination: Destination = DEFAULT
    material: Material | None = None
    check_sheet: CheckSheet = field(default_factory=CheckSheet)
    layout: Layout = field(default_factory=Layout)
    tools: Mapping[LineRole, Tool] = field(default_factory=dict)
    shop_tools: Mapping[LineRole, Tool] = field(default_factory=dict)
    decisions: tuple[Decision, ...] = ()
    page_number: int = 1
    facts: JobFacts = field(default_factory=JobFacts)
    known: tuple[tuple[str, str], ...] = ()
    rehearsed: Rehearsed | None = None
    signed: bool | None = None
    beside: ShopFacts = field(default_factory=ShopFacts)

    @property
    def page(self) -> Page:
        """The page that is cut. Raises NotFound."""
        if not 1 <= self.page_number <= len(self.artwork.pages):
            raise NotFound(f"There is no page {self.page_number}.")
        return self.artwork.pages[self.page_number - 1]

    @property
    def lines(self) -> list[Line]:
        """The lines of that page."""
        return line_objects(self.artwork, self.page, self.destination)

    @cached_property
    def terms(self) -> CheckInputs:
        """What the check goes by."""
        return CheckInputs(
            self.order, self.destination, self.check_sheet, self.material, self.known, self.rehearsed,
            self.layout.makes.prints, self.signed,
        )

    @property
    def media(self) -> Material:
        """The material to lay out on: the first that ships where none was said."""
        return self.material or next(iter(MATERIALS.values()))

    def open_in(self, report: Report) -> Report:
        """A report without what people let stand."""
        return report.without(settled(report, self.decisions))
