"""What is said of the shop as a whole: its name, the unit that its people begin with, and in what it reckons."""

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from types import MappingProxyType

from horismos.json_readers import Field, choice, record, text, yes

__all__ = ["FIELDS", "READ", "LengthUnit", "ShopFacts"]


class LengthUnit(StrEnum):
    """In what lengths are seen and typed."""

    MM = "mm"
    INCH = "in"


@dataclass(frozen=True)
class ShopFacts:
    """The shop: ``name`` signs letters and reports, ``currency`` stands behind prices.

    ``sorts`` says that what comes in is mended by itself: what is safe, and what is always done for its customer.
    """

    name: str = ""
    unit: LengthUnit = LengthUnit.MM
    currency: str = ""
    sorts: bool = False


FIELDS: Mapping[str, Field] = MappingProxyType({
    "name": Field(text(120), "its name, as letters and reports are signed"),
    "unit": Field(choice(LengthUnit), "in what lengths are seen, until a person chooses otherwise"),
    "currency": Field(text(8), "in what prices are, such as EUR"),
    "sorts": Field(yes, "whether what comes in is mended by itself, as far as no person is needed"),
})
"""What may be said of the shop."""
READ = record(FIELDS, ShopFacts())
