"""What may be sent about a job, with the bounds of every field: what is out of them never gets further."""

from datetime import date
from types import MappingProxyType
from typing import Annotated, Any

from ninja import Schema
from pydantic import AfterValidator, BaseModel, Field, StringConstraints

from horismos.errors import NotFound
from horismos.orders import Order, order_schema
from horismos.release.cut_formats import format_of, registered
from horismos.sheet import Turn
from horismos.sheet.layout import FIELDS
from horismos.workflow.showing.sheet import ToolShown
from jobs.api.tables import ReadBy, TableBody
from jobs.store.layouts import LAYOUT
from jobs.store.shelf import known_materials

__all__ = [
    "Answered",
    "AnswersGiven",
    "Change",
    "FormatName",
    "JobChange",
    "Key",
    "Keys",
    "Number",
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


def _order(data: object) -> Order:
    order = Order.from_json(data)
    if order.material is not None and order.material not in known_materials():
        raise NotFound(f"There is no material “{order.material}”.", f"Known: {', '.join(known_materials())}.")
    return order


class Change(BaseModel):
    """A change names the ``version`` of the job that the person has seen."""

    version: Annotated[int, Field(ge=1)]


class Answered(BaseModel):
    """What a person says about a file; everything may be left open."""

    password: Annotated[str, StringConstraints(max_length=1_000)] | None = None
    pages: Annotated[list[Annotated[int, Field(ge=1, le=MOST_PAGES)]], Field(max_length=MOST_PAGES)] | None = None
    width_mm: Length | None = None
    height_mm: Length | None = None
    unit: Key | None = None
    binding: Annotated[dict[Key, Key], Field(max_length=1_000)] | None = None
    each_page: bool = False


class AnswersGiven(Change, Answered):
    """What a person says about a file, on the version that was seen."""


class LayoutChange(Change, TableBody):
    """What is to be changed of a layout; what is not named stays."""

    about = "Layout"
    table = MappingProxyType({key: FIELDS[key] for key in LAYOUT})


class JobChange(LayoutChange):
    """What is to be changed of a job; what is not named stays."""

    name: Name = ""
    customer: Words = ""
    due: date | None = None
    order: Annotated[Order, ReadBy(_order, order_schema())] = Order()
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
