"""What a stack is made of: its layers from the top down, and how each is sewn."""

from collections.abc import Mapping
from dataclasses import KW_ONLY, asdict, dataclass
from enum import StrEnum
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.formats.embroidery import StitchSuffix
from horismos.json_readers import (
    COLOUR,
    Field,
    Reader,
    choice,
    number,
    object_schema,
    one_of,
    optional,
    plain_fields,
    read_fields,
    schema_of,
    text,
    yes,
)
from horismos.roles import LineRole
from horismos.stitching.fabrics import FABRICS, Fabric, fabric_called
from horismos.stitching.fabrics import READ as FABRIC

__all__ = [
    "FIELDS", "LAYER_FIELDS", "LEAST_WIDE_MM", "MOST_LAYERS", "MOST_SEWINGS", "SEWING_FIELDS", "Inner", "Join", "Lay",
    "Layer", "Outline", "Sewing", "Stack", "StitchKind", "Underlay", "stack_schema",
]

MOST_LAYERS = 5
LEAST_WIDE_MM = 0.6
"""[ours] narrower than this a needle would meet its own holes."""
MOST_SEWINGS = 8
"""[ours] kinds of stitches that a layer has at most."""


class StitchKind(StrEnum):
    """What stitches are for: a line to lay fabric by, one that holds it, and two that close its edge."""

    PLACEMENT = "placement"
    TACK_DOWN = "tack-down"
    ZIGZAG = "zigzag"
    SATIN = "satin"

    @property
    def words(self) -> str:
        """The kind in words."""
        return "placement line" if self is StitchKind.PLACEMENT else self.value

    @property
    def runs(self) -> bool:
        """Whether it is one line of stitches, which has no width."""
        return self in (StitchKind.PLACEMENT, StitchKind.TACK_DOWN)

    @property
    def usual(self) -> tuple[float, float, float]:
        """Width, spacing and inset in mm where none are given [ours]."""
        return USUAL[self]


USUAL: Mapping[StitchKind, tuple[float, float, float]] = {
    StitchKind.PLACEMENT: (0.0, 2.5, 0.5),
    StitchKind.TACK_DOWN: (0.0, 2.5, 1.0),
    StitchKind.ZIGZAG: (2.5, 2.0, 1.5),
    StitchKind.SATIN: (3.0, 0.4, 1.5),
}


class Join(StrEnum):
    """How an edge goes round a corner; stitches go round it alike: capped where it is round, else mitred."""

    ROUND = "round"
    MITRE = "mitre"


class Inner(StrEnum):
    """What becomes of inner contours: the fabric has them too, or is whole there."""

    KEEP = "keep"
    CLOSE = "close"


class Outline(StrEnum):
    """What a stack is made on: a line of the file by its role, or the outline of its art.

    By itself it is the kiss cut, else the through cut, else the art.
    """

    AUTO = "auto"
    KISS_CUT = "kiss-cut"
    THROUGH_CUT = "through-cut"
    PERFORATION = "perforation"
    BACK_CUT = "back-cut"
    CREASE = "crease"
    ART = "art"

    @property
    def roles(self) -> tuple[LineRole, ...]:
        """The roles of which a line will do, the first of them before the others."""
        if self is Outline.AUTO:
            return LineRole.KISS_CUT, LineRole.THROUGH_CUT
        return () if self is Outline.ART else (LineRole(self.value),)


class Lay(StrEnum):
    """How fabric is laid on what lies there already: by its own adhesive, or by heat."""

    STICK = "stick"
    HEAT = "heat"


class Underlay(StrEnum):
    """What is sewn below a satin, so that it lies well and is held."""

    NONE = "none"
    CENTRE = "centre"
    ZIGZAG = "zigzag"


@dataclass(frozen=True)
class Sewing:
    """One kind of stitches round a layer; lengths in mm.

    ``width_mm`` is how wide they are, and counts nothing for a run. ``spacing_mm`` is between two stitches on one side,
    the longer one on a curve; of a run it is the length of a stitch. ``inset_mm`` is how far the inner edge of the
    stitches lies inside the fabric's edge. ``corners`` None: as the layer's edge goes round them.
    """

    kind: StitchKind
    width_mm: float
    spacing_mm: float
    inset_mm: float
    underlay: Underlay = Underlay.CENTRE
    corners: Join | None = None

    @classmethod
    def usual(cls, kind: StitchKind) -> "Sewing":
        """A kind with its usual lengths."""
        return cls(kind, *kind.usual)

    @classmethod
    def from_json(cls, data: object, name: str) -> "Sewing":
        """Stitches as they are given: what is left out is as usual for the kind. Raises BadValue."""
        said = read_fields(name, data, SEWING_FIELDS, ("kind",))
        if not said["kind"].runs and said.get("width_mm", LEAST_WIDE_MM) < LEAST_WIDE_MM:
            raise BadValue(f"{name}: width_mm is {said['width_mm']:g}.", f"Give {LEAST_WIDE_MM:g} mm or more.")
        usual = asdict(cls.usual(said["kind"]))
        if "width_mm" in said and "inset_mm" not in said and not said["kind"].runs:
            usual["inset_mm"] = min(usual["inset_mm"], said["width_mm"] / 2)
        return cls(**{**usual, **said})


@dataclass(frozen=True)
class Layer:
    """A layer of fabric; lengths in mm.

    ``drawn`` says what of the file it is drawn as, by the key of what is drawn; empty: it follows the layer above.
    ``offset_mm`` is from that, or from the layer above, of the top one from the outline of the art. ``shrinks`` is the
    share of its length that the fabric loses under heat, by which it is cut larger; ``pull_mm`` how much further its
    stitches reach at either end, since they pull in. ``colour`` is the fabric's, ``thread`` the thread's, as #rrggbb.
    ``force_gf`` is what a test cut has led to, None: as its thickness asks for; it ``passed`` where that test showed
    the fabric cut and nothing below.
    """

    name: str
    _: KW_ONLY
    fabric: str | Fabric = "twill"
    drawn: str = ""
    offset_mm: float = 0.0
    join: Join = Join.ROUND
    inner: Inner = Inner.KEEP
    shrinks: float = 0.0
    pull_mm: float = 0.0
    colour: str = ""
    thread: str = ""
    lay: Lay = Lay.STICK
    force_gf: float | None = None
    passed: bool = False
    stitches: tuple[Sewing, ...] = ()

    @property
    def fabric_id(self) -> str:
        """Its fabric's id."""
        return self.fabric.id if isinstance(self.fabric, Fabric) else self.fabric

    @property
    def cloth(self) -> Fabric:
        """Its fabric."""
        return self.fabric if isinstance(self.fabric, Fabric) else fabric_called(self.fabric)

    @property
    def looks(self) -> str:
        """The colour that it has, as #rrggbb: its own, else its fabric's."""
        return self.colour or self.cloth.colour

    @classmethod
    def from_json(cls, data: object, number: int) -> "Layer":
        """A layer as it is given. Raises BadValue, naming it."""
        said = read_fields(f"Layer {number}", data, LAYER_FIELDS)
        name = said.get("name") or f"layer {number}"
        if number > 1 and said.get("offset_mm", 0.0) < 0 and not said.get("drawn"):
            raise BadValue(
                f"“{name}” is {-said['offset_mm']:g} mm smaller than the layer above it.",
                "Give it an offset of 0 or more: each layer carries the one above.",
            )
        return cls(**{**said, "name": name})


@dataclass(frozen=True)
class Stack:
    """A stack of fabric, its layers from the top down; ``formats`` are those of the stitch files.

    ``frame_mm`` is how far from the lowest layer a weeding frame lies, None for none.
    """

    layers: tuple[Layer, ...]
    formats: tuple[StitchSuffix, ...] = (StitchSuffix.DST,)
    frame_mm: float | None = None
    outline: Outline = Outline.AUTO

    @classmethod
    def from_json(cls, data: object) -> "Stack":
        """A stack as people write it. Raises BadValue for keys and values that cannot be meant, naming them."""
        made = cls(**read_fields("Stack", data, FIELDS, ("layers",)))
        _names_differ(made.layers)
        return made

    def to_json(self) -> dict[str, Any]:
        """The stack as plain values, as it is given."""
        return plain_fields(self)


def _names_differ(layers: tuple[Layer, ...]) -> None:
    names = [layer.name.casefold() for layer in layers]
    twice = next((layer.name for layer in layers if names.count(layer.name.casefold()) > 1), None)
    if twice:
        raise BadValue(f"Two layers are called “{twice}”.", "Give each a name of its own: files are named by it.")


def _fabric(name: str, value: object) -> str | Fabric:
    if isinstance(value, Mapping):
        described: Fabric = FABRIC(name, value)
        return described
    said = str(text(60)(name, value)).strip()
    if not said:
        raise BadValue(f"{name} is empty.", f"Give a fabric, such as {', '.join(FABRICS)}.")
    return said


def _sewings(name: str, value: object) -> tuple[Sewing, ...]:
    of = name.removesuffix(": stitches")
    if not isinstance(value, list | tuple) or len(value) > MOST_SEWINGS:
        raise BadValue(f"{name} must be a list of at most {MOST_SEWINGS} kinds.")
    return tuple(Sewing.from_json(one, f"{of}, stitches {i}") for i, one in enumerate(value, 1))


def _layers(name: str, value: object) -> tuple[Layer, ...]:
    if not isinstance(value, list | tuple) or not 1 <= len(value) <= MOST_LAYERS:
        raise BadValue(f"{name} must be a list of one to {MOST_LAYERS} layers, from the top down.")
    return tuple(Layer.from_json(one, i) for i, one in enumerate(value, 1))


def _formats(name: str, value: object) -> tuple[StitchSuffix, ...]:
    known = f"Known: {', '.join(StitchSuffix)}."
    if not isinstance(value, list | tuple) or not all(isinstance(one, str) for one in value):
        raise BadValue(f"{name} must be a list of names.", known)
    for one in value:
        if one.lower() not in set(StitchSuffix):
            raise BadValue(f"“{one}” is no format that stitches are written in.", known)
    return tuple(dict.fromkeys(StitchSuffix(one.lower()) for one in value))


def _list(schema: Mapping[str, Any], least: int, most: int) -> dict[str, Any]:
    return {"type": "array", "items": dict(schema), "minItems": least, "maxItems": most}


SEWING_FIELDS: Mapping[str, Field] = MappingProxyType({
    "kind": Field(choice(StitchKind), "what they are for"),
    "width_mm": Field(number(0, 30), "how wide they are; nothing for a run, 0.6 or more for others", "mm"),
    "spacing_mm": Field(number(0.2, 12), "between two stitches on one side; of a run, its stitches' length", "mm"),
    "inset_mm": Field(number(0, 30), "how far their inner edge lies inside the fabric's edge", "mm"),
    "underlay": Field(choice(Underlay), "what is sewn below a satin"),
    "corners": Field(optional(choice(Join)), "how they go round a corner; null: as the layer's edge"),
})
"""What may be said of stitches; lengths that are left out are as usual for the kind."""
_EMPTY = text(0)
_COLOUR = one_of(lambda name, value: (COLOUR if value else _EMPTY)(name, value), {"enum": [""]}, COLOUR.schema)
LAYER_FIELDS: Mapping[str, Field] = MappingProxyType({
    "name": Field(text(60), "what it is called; left out: its number"),
    "fabric": Field(
        one_of(_fabric, {**text(60).schema, "pattern": "\\S"}, FABRIC.schema), "its fabric, by its id, or all of it"
    ),
    "drawn": Field(text(300), "what of the file it is drawn as; empty: it follows the layer above"),
    "offset_mm": Field(number(-20, 100), "from the layer above, of the top one from the outline", "mm"),
    "join": Field(choice(Join), "how its edge goes round a corner"),
    "inner": Field(choice(Inner), "what becomes of inner contours"),
    "shrinks": Field(number(0, 0.2), "the share of its length that it loses under heat"),
    "pull_mm": Field(number(0, 1), "how much further stitches reach at either end", "mm"),
    "colour": Field(_COLOUR, "the fabric's colour as #rrggbb; empty: the fabric's own"),
    "thread": Field(_COLOUR, "the thread's colour as #rrggbb"),
    "lay": Field(choice(Lay), "how it is laid on what lies there"),
    "force_gf": Field(optional(number(1, 1000)), "the force that a test cut led to; null: as its thickness asks", "gf"),
    "passed": Field(yes, "whether that test came out right"),
    "stitches": Field(
        Reader(_sewings, _list(object_schema(SEWING_FIELDS, None, ("kind",)), 0, MOST_SEWINGS)), "how it is sewn"
    ),
})
"""What may be said of a layer."""
FIELDS: Mapping[str, Field] = MappingProxyType({
    "layers": Field(
        Reader(_layers, _list(object_schema(LAYER_FIELDS, Layer("")), 1, MOST_LAYERS)), "its layers, from the top down"
    ),
    "formats": Field(Reader(_formats, _list(choice(StitchSuffix).schema, 0, 20)), "in which stitches are written"),
    "frame_mm": Field(optional(number(1, 200)), "how far from the lowest layer a frame is cut; null: none", "mm"),
    "outline": Field(choice(Outline), "what it is made on: a line by its role, or the art"),
})
"""What may be said of a stack."""


def stack_schema() -> dict[str, Any]:
    """What a stack may be, as JSON Schema 2020-12."""
    return schema_of("Stack", FIELDS, Stack(()), ("layers",))
