"""Materials: a stack of strata on a roll or sheet."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from types import MappingProxyType
from typing import Any

from horismos.errors import NotFound
from horismos.json_readers import (
    Field,
    choice,
    number,
    optional,
    plain,
    read_fields,
    record,
    schema_of,
    sequence_of,
    text,
    yes,
)
from horismos.misregistration import Misregistration
from horismos.roles import Part
from horismos.shipped import shipped_by_id

__all__ = [
    "FIELDS", "LAMINATE", "MATERIALS", "READ", "Ground", "Material", "Stratum", "laminated", "material_from_json",
    "material_of", "material_schema", "material_to_json",
]


class Ground(StrEnum):
    """What the ink lies on; on all but a white one white ink is wanted below the colour."""

    WHITE = "white"
    CLEAR = "clear"
    DARK = "dark"
    PATTERNED = "patterned"

    @property
    def wants_white(self) -> bool:
        """Whether colour looks wrong on it without white."""
        return self is not Ground.WHITE


@dataclass(frozen=True)
class Stratum:
    """One stratum of a material: its name in the shop, its thickness, what it is to a cut, and what it resists a blade.

    ``resists_gf_um`` is how many grams-force a micrometre takes [ours]: 90 gf go through 120 µm of film and adhesive.
    """

    kind: str
    thickness_um: float
    part: Part = Part.FACE
    resists_gf_um: float = 0.75


GIVES = Misregistration(stretch_x=0.02, stretch_y=0.05, skew=0.01, bend=0.1)
"""[ours] how far a print gives between printing and cutting: standard deviations, feed more than width."""


@dataclass(frozen=True)
class Material:
    """A roll (``length_mm`` None) or a sheet; strata from the face down. ``gives`` holds standard deviations.

    ``glossy`` says that a laminate mirrors the light of a sensor; ``grain`` that the material has a direction, along
    which all pieces have to lie. ``dry_h`` and ``laminate_h`` are how many hours a print on it dries before it may be
    cut or laminated, None where that is as the hot folder says.
    """

    id: str
    title: str
    width_mm: float
    length_mm: float | None
    strata: tuple[Stratum, ...]
    ground: Ground = Ground.WHITE
    gives: Misregistration = GIVES
    glossy: bool = False
    grain: bool = False
    dry_h: float | None = None
    laminate_h: float | None = None


# -- as JSON -----------------------------------------------------------------------------------------------------------

STRATUM_FIELDS: Mapping[str, Field] = MappingProxyType({
    "kind": Field(text(80), "what the shop calls it"),
    "thickness_um": Field(number(1, 50_000), "how thick it is", "µm"),
    "part": Field(choice(Part), "what it is to a cut"),
    "resists_gf_um": Field(number(0.01, 1_000), "what a micrometre resists a blade", "gf"),
})
GIVES_FIELDS: Mapping[str, Field] = MappingProxyType({
    "dx": Field(number(0, 100), "across, as a standard deviation", "mm"),
    "dy": Field(number(0, 100), "along the feed", "mm"),
    "turn": Field(number(0, 10), "turned", "°"),
    "stretch_x": Field(number(0, 10), "stretched across", "%"),
    "stretch_y": Field(number(0, 10), "stretched along the feed", "%"),
    "skew": Field(number(0, 10), "skewed", "°"),
    "bend": Field(number(0, 100), "bent, to the metre", "mm"),
})
MOST_STRATA = 20
_HOURS = number(0, 1_000)
_STRATUM = record(STRATUM_FIELDS, Stratum("", 1), ("kind", "thickness_um"))
FIELDS: Mapping[str, Field] = MappingProxyType({
    "id": Field(text(80), "its name in files"),
    "title": Field(text(200), "what people call it"),
    "width_mm": Field(number(10, 200_000), "how wide it is", "mm"),
    "length_mm": Field(optional(number(10, 200_000)), "how long a sheet is; null: a roll", "mm"),
    "strata": Field(sequence_of(_STRATUM, 1, MOST_STRATA, "strata"), "its strata, from the face down"),
    "ground": Field(choice(Ground), "what the ink lies on"),
    "glossy": Field(yes, "whether a laminate mirrors the light of a sensor"),
    "grain": Field(yes, "whether pieces have to lie along it"),
    "gives": Field(record(GIVES_FIELDS, Misregistration()), "how far a print gives before it is cut"),
    "dry_h": Field(optional(_HOURS), "how long it dries before it may be cut; null: as the hot folder says", "h"),
    "laminate_h": Field(optional(_HOURS), "how long before it may be laminated; null: as the hot folder says", "h"),
})
"""What may be said of a material."""
_NONE = Material("", "", 10.0, None, ())
READ = record(FIELDS, _NONE, ("id", "title", "width_mm", "strata"))
MATERIALS: Mapping[str, Material] = shipped_by_id("materials", "materials", READ)
"""The materials that ship with the product; the first is a plain film, and stands for what nobody knows."""


LAMINATE_UM, LAMINATE = 75.0, "laminate"
"""[practice] a laminate is 70 to 80 µm thick; so is it called among the strata of a material."""


def laminated(material: Material, glossy: bool) -> Material:
    """A material with a laminate over its print; one that has such already is as it is.

    >>> laminated(MATERIALS["film-1370"], glossy=True).strata[0].kind
    'laminate'
    """
    if any(stratum.kind == LAMINATE for stratum in material.strata):
        return material
    over = Stratum(LAMINATE, LAMINATE_UM)
    return replace(material, strata=(over, *material.strata), glossy=glossy)


def material_of(ticket: Mapping[str, Any]) -> Material:
    """The material of a ticket: as it says itself, or by its id; where there is none of that id, a plain film."""
    said = ticket.get("material", {})
    if "strata" in said:
        found: Material = READ("The material of the ticket", {key: said[key] for key in FIELDS if key in said})
        return found
    return MATERIALS.get(str(said.get("id"))) or next(iter(MATERIALS.values()))


def material_from_json(data: object, known: Mapping[str, Material] = MATERIALS) -> Material:
    """A material as a shop writes it: what it does not say is as of the known one that it is ``like``.

    Raises BadValue or NotFound.
    """
    said = read_fields("The material", data, OWN)
    like = said.pop("like", next(iter(known)))
    if like not in known:
        raise NotFound(f"The material is like “{like}”, and there is none such.", f"Known: {', '.join(known)}.")
    return replace(known[like], **said)


OWN: Mapping[str, Field] = MappingProxyType({
    "like": Field(text(80), "the id of the known one that it is like"),
    **{key: one for key, one in FIELDS.items() if key != "id"},
})
"""What a shop says of a material of its own."""


def material_schema() -> dict[str, Any]:
    """What a shop's own material may be, as JSON Schema 2020-12."""
    return schema_of("Material", OWN)


def material_to_json(material: Material) -> dict[str, Any]:
    """A material with all that is known of it."""
    said: dict[str, Any] = plain(material)
    return said
