"""What may be sent about a job, with the bounds of every field: what is out of them never gets further."""

from datetime import date
from typing import Annotated, Any

from ninja import Schema
from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from horismos.release.cut_formats import format_of, registered
from horismos.roles import LineRole
from horismos.sheet import Makes, MarksRound, Turn
from horismos.sheet.inks import InkLayer
from horismos.sheet.layout import Fill
from horismos.sheet.mark_kinds import kind_of
from horismos.sheet.mark_kinds import registered as mark_kinds
from horismos.workflow.showing.sheet import ToolShown
from jobs.store.shelf import known_materials

__all__ = [
    "AnswersGiven",
    "Change",
    "FormatName",
    "JobChange",
    "Key",
    "Keys",
    "Number",
    "OrderGiven",
    "ReleaseAsked",
    "RepeatAsked",
    "SafeAsked",
    "Settle",
    "SharedBegun",
    "SharedChange",
    "StepAsked",
    "Words",
]

LONGEST_MM = 100_000.0
MOST_PAGES = 2_000


def _single_line(text: str) -> str:
    """A name is one line of text that can be seen."""
    if any(not c.isprintable() for c in text):
        raise ValueError("holds signs that cannot be printed")
    return text


Name = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=200), AfterValidator(_single_line)
]
Words = Annotated[str, StringConstraints(strip_whitespace=True, max_length=200), AfterValidator(_single_line)]
Reason = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2_000)]
Key = Annotated[str, StringConstraints(max_length=200)]
LongText = Annotated[str, StringConstraints(max_length=10_000)]
Length = Annotated[float, Field(gt=0, le=LONGEST_MM, allow_inf_nan=False)]
Margin = Annotated[float, Field(ge=0, le=1_000, allow_inf_nan=False)]
Number = Annotated[float, Field(allow_inf_nan=False)]
Listed = Annotated[list[Number | Annotated[list[Number], Field(max_length=4)]], Field(max_length=10_000)]


def _known(material: str | None) -> str | None:
    if material is not None and material not in known_materials():
        raise ValueError(f"is none of {', '.join(known_materials())}")
    return material


class OrderGiven(BaseModel):
    """An order; None where it says nothing."""

    width_mm: Length | None = None
    height_mm: Length | None = None
    quantity: Annotated[int, Field(ge=1, le=1_000_000)] = 1
    roles: Annotated[list[LineRole], Field(max_length=20)] | None = None
    edge: Key = "either"
    bleed_mm: Margin | None = None
    border_mm: Margin | None = None
    tolerance_mm: Margin | None = None
    viewing_distance_m: Length | None = None
    seen: Key = "front"
    material: Annotated[str | None, AfterValidator(_known)] = None
    white: bool | None = None
    holes: Annotated[int, Field(ge=0, le=100_000)] | None = None


class Change(Schema):
    """A change names the ``version`` of the job that the person has seen."""

    version: Annotated[int, Field(ge=1)]


class AnswersGiven(Change):
    """What a person says about a file; everything may be left open."""

    password: Annotated[str, StringConstraints(max_length=1_000)] | None = None
    pages: Annotated[list[Annotated[int, Field(ge=1, le=MOST_PAGES)]], Field(max_length=MOST_PAGES)] | None = None
    width_mm: Length | None = None
    height_mm: Length | None = None
    unit: Key | None = None
    binding: Annotated[dict[Key, Key], Field(max_length=1_000)] | None = None
    each_page: bool = False


MarkKindName = Annotated[
    str, AfterValidator(lambda id: kind_of(id).id), Field(json_schema_extra={"enum": list(mark_kinds())})
]
"""A kind of registration mark, by its id."""


class MarksGiven(BaseModel):
    """Which registration marks are wanted; what is not named is the cutter's own. Read by ``MarkPlan.from_json``."""

    kind: MarkKindName = "bracket-in"
    count: Annotated[int, Field(ge=2, le=4)] | None = None
    every_mm: Number | None = None
    around: MarksRound | Annotated[list[Number], Field(min_length=4, max_length=4)] = MarksRound.ART
    distance_mm: Number | None = None
    arm_mm: Number | None = None
    weight_mm: Number | None = None


class MediaGiven(BaseModel):
    """What is loaded: across the machine and along the feed; ``length_mm`` of a roll is what is left on it."""

    title: Annotated[str, StringConstraints(min_length=1, max_length=80), AfterValidator(_single_line)]
    width_mm: Length
    length_mm: Length | None = None
    roll: bool = True
    turned: bool = False


class CopyGiven(BaseModel):
    """A copy that was placed: a matrix from its mm to the sheet's, which item from 0, which sheet from 1."""

    matrix: Annotated[list[Number], Field(min_length=6, max_length=6)]
    item: Annotated[int, Field(ge=0, le=500)] = 0
    sheet: Annotated[int, Field(ge=1, le=2_000)] = 1


class AligningGiven(BaseModel):
    """How the figure is cut by which a turned sheet is aligned; what is not given is as the through cut has it."""

    number: Annotated[int, Field(ge=1, le=8)] | None = None
    force_gf: Number | None = None
    speed_mm_s: Number | None = None
    passes: Annotated[int, Field(ge=1, le=10)] | None = None


class LayoutChange(Change):
    """What is to be changed of a layout; what is not named stays. Read by ``Layout.from_json``.

    ``placed`` are copies one by one, ``placed_of`` the outlines that they were placed by, as the sheet says it.
    """

    columns: Annotated[int, Field(ge=1, le=20_000)] | None = None
    gap_mm: Margin | None = None
    turned: bool | None = None
    length_mm: Length | None = None
    fill: Fill | None = None
    media: MediaGiven | None = None
    marks: MarksGiven | None = None
    code: bool | None = None
    mirror: bool | None = None
    makes: Makes | None = None
    inks: Annotated[list[InkLayer], Field(max_length=3)] | None = None
    frame_mm: Margin | None = None
    placed: Annotated[list[CopyGiven], Field(max_length=20_000)] | None = None
    placed_of: Key | None = None
    cut_order: Annotated[list[LineRole], Field(max_length=8)] | None = None
    cut_only: Annotated[list[LineRole], Field(max_length=8)] | None = None
    cut_copies: Annotated[list[int], Field(max_length=20_000)] | None = None
    aligning: AligningGiven | None = None

    def given(self) -> dict[str, Any]:
        """Only what was named."""
        return self.dict(exclude_unset=True, exclude={"version"})


class JobChange(LayoutChange):
    """What is to be changed of a job; what is not named stays."""

    name: Name = ""
    customer: Words = ""
    due: date | None = None
    order: OrderGiven = OrderGiven()
    destination: Key = ""
    material: Key = ""
    tools: Annotated[list[ToolShown], Field(max_length=20)] = []


class ShareGiven(BaseModel):
    """What a job has on a shared sheet: so many copies, turned so."""

    job: Annotated[int, Field(ge=1)]
    quantity: Annotated[int, Field(ge=1, le=20_000)] | None = None
    turn: Turn = Turn.QUARTER


class SharedBegun(Schema):
    """Jobs that are to share a sheet."""

    jobs: Annotated[list[Annotated[int, Field(ge=1)]], Field(min_length=1, max_length=100)]


class SharedChange(LayoutChange):
    """What is to be changed of a shared sheet; what is not named stays."""

    name: Name = ""
    shares: Annotated[list[ShareGiven], Field(min_length=1, max_length=100)] = []


class RepeatAsked(Schema):
    """So many copies of a job once more."""

    quantity: Annotated[int, Field(ge=1, le=1_000_000)]
    due: date | None = None


class NestAsked(Change):
    """How copies may be turned, what lies between their cuts (None: twice the bleed), and how long it may take."""

    turn: Turn = Turn.FREE
    gap_mm: Margin | None = None
    seconds: Annotated[float, Field(ge=1, le=600, allow_inf_nan=False)] = 10.0


class MendGiven(Schema):
    """A mend with its settings; a making is an object, as large as a drawing is, and read by ``Make.from_json``."""

    kind: Key
    settings: Annotated[dict[Key, LongText | Number | Listed | dict[str, Any]], Field(max_length=50)] = {}


class StepAsked(Change, MendGiven):
    """A mend with its settings, on the revision that the person has seen; ``then`` are mends done with it, as one."""

    revision: Annotated[int, Field(ge=0)]
    then: Annotated[list[MendGiven], Field(max_length=20)] = []


class SafeAsked(Change):
    """All safe mends, on the revision that the person has seen."""

    revision: Annotated[int, Field(ge=0)]


FormatName = Annotated[
    str, AfterValidator(lambda id: format_of(id).id), Field(json_schema_extra={"enum": list(registered())})
]
"""A cut format, by its id."""


class ReleaseAsked(Change):
    """The revision, and the report on it (its ``found``), by which the person releases.

    ``also`` are formats beside HP-GL that the lines are written in.
    """

    revision: Annotated[int, Field(ge=1)]
    found: Key
    also: Annotated[list[FormatName], Field(max_length=10)] = []


class Settle(Change):
    """A finding, by its key, that may stand, and why."""

    key: Key
    reason: Reason


class Keys(Schema):
    """Findings by their keys."""

    keys: Annotated[list[Key], Field(max_length=1_000)]
