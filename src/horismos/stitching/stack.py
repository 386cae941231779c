"""What a stack is made of: its layers from the top down, and how each is sewn."""

import re
from collections.abc import Mapping
from dataclasses import asdict, dataclass, fields
from enum import StrEnum
from typing import Any

from horismos.errors import BadValue
from horismos.formats.embroidery import FORMATS
from horismos.json_readers import Read, choice, number, object_of, text, yes
from horismos.roles import LineRole
from horismos.stitching.fabrics import FABRICS, Fabric, fabric_called

__all__ = ["Inner", "Join", "Lay", "Layer", "Outline", "Sewing", "Stack", "StitchKind", "Underlay"]

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
        given = object_of(data, name, SEWING)
        if "kind" not in given:
            raise BadValue(f"{name} has no kind.", f"Give one of {', '.join(StitchKind)}.")
        said = {key: SEWING[key](f"{name}: {key}", value) for key, value in given.items()}
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
    fabric: str
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
    def cloth(self) -> Fabric:
        """Its fabric."""
        return fabric_called(self.fabric)

    @property
    def looks(self) -> str:
        """The colour that it has, as #rrggbb: its own, else its fabric's."""
        return self.colour or self.cloth.colour

    @classmethod
    def from_json(cls, data: object, number: int) -> "Layer":
        """A layer as it is given. Raises BadValue, naming it."""
        given = object_of(data, f"Layer {number}", LAYER)
        said: dict[str, Any] = {
            key: LAYER[key](f"Layer {number}: {key}", value) for key, value in given.items() if key != "stitches"
        }
        name = said.get("name") or f"layer {number}"
        sewn = given.get("stitches", [])
        if not isinstance(sewn, list) or len(sewn) > MOST_SEWINGS:
            raise BadValue(f"Layer {number}: stitches must be a list of at most {MOST_SEWINGS} kinds.")
        stitches = tuple(Sewing.from_json(one, f"Layer {number}, stitches {i}") for i, one in enumerate(sewn, 1))
        if number > 1 and said.get("offset_mm", 0.0) < 0 and not said.get("drawn"):
            raise BadValue(
                f"“{name}” is {-said['offset_mm']:g} mm smaller than the layer above it.",
                "Give it an offset of 0 or more: each layer carries the one above.",
            )
        return cls(**{"fabric": "twill", **said, "name": name, "stitches": stitches})


@dataclass(frozen=True)
class Stack:
    """A stack of fabric, its layers from the top down; ``formats`` are those of the stitch files.

    ``frame_mm`` is how far from the lowest layer a weeding frame lies, None for none.
    """

    layers: tuple[Layer, ...]
    formats: tuple[str, ...] = ("dst",)
    frame_mm: float | None = None
    outline: Outline = Outline.AUTO

    @classmethod
    def from_json(cls, data: object) -> "Stack":
        """A stack as people write it. Raises BadValue for keys and values that cannot be meant, naming them."""
        given = object_of(data, "Stack", ("layers", "formats", "frame_mm", "outline"))
        layers = given.get("layers")
        if not isinstance(layers, list) or not 1 <= len(layers) <= MOST_LAYERS:
            raise BadValue(f"Stack: layers must be a list of one to {MOST_LAYERS} layers, from the top down.")
        formats = given.get("formats", ["dst"])
        if not isinstance(formats, list) or not all(isinstance(one, str) for one in formats):
            raise BadValue("Stack: formats must be a list of names.", f"Known: {', '.join(FORMATS)}.")
        for one in formats:
            if one.lower() not in FORMATS:
                raise BadValue(f"“{one}” is no format that stitches are written in.", f"Known: {', '.join(FORMATS)}.")
        frame = given.get("frame_mm")
        made = tuple(Layer.from_json(one, i) for i, one in enumerate(layers, 1))
        _names_differ(made)
        return cls(
            made, tuple(dict.fromkeys(one.lower() for one in formats)),
            None if frame is None else number(1, 200)("Stack: frame_mm", frame),
            Outline(choice(Outline)("Stack: outline", given.get("outline", Outline.AUTO))),
        )

    def to_json(self) -> dict[str, Any]:
        """The stack as plain values, as it is given."""
        return {
            "layers": [
                {**{f.name: getattr(one, f.name) for f in fields(one)}, "stitches": [asdict(s) for s in one.stitches]}
                for one in self.layers
            ],
            "formats": list(self.formats), "frame_mm": self.frame_mm, "outline": self.outline,
        }


def _names_differ(layers: tuple[Layer, ...]) -> None:
    names = [layer.name.casefold() for layer in layers]
    twice = next((layer.name for layer in layers if names.count(layer.name.casefold()) > 1), None)
    if twice:
        raise BadValue(f"Two layers are called “{twice}”.", "Give each a name of its own: files are named by it.")


def _colour(name: str, value: object) -> str:
    if not isinstance(value, str) or not re.fullmatch(r"#[0-9A-Fa-f]{6}|", value):
        raise BadValue(f"{name} must be a colour as #rrggbb.")
    return value


def _corners(name: str, value: object) -> Join | None:
    return None if value is None else Join(choice(Join)(name, value))


def _force(name: str, value: object) -> float | None:
    return None if value is None else float(number(1, 1000)(name, value))


def _fabric(name: str, value: object) -> str:
    said = str(text(60)(name, value)).strip()
    if not said:
        raise BadValue(f"{name} is empty.", f"Give a fabric, such as {', '.join(FABRICS)}.")
    return said


LAYER: Mapping[str, Read] = {
    "name": text(60), "fabric": _fabric, "drawn": text(300), "offset_mm": number(-20, 100), "join": choice(Join),
    "inner": choice(Inner), "shrinks": number(0, 0.2), "pull_mm": number(0, 1), "colour": _colour, "thread": _colour,
    "lay": choice(Lay), "force_gf": _force, "passed": yes, "stitches": text(0),
}
SEWING: Mapping[str, Read] = {
    "kind": choice(StitchKind), "width_mm": number(0, 30), "spacing_mm": number(0.2, 12), "inset_mm": number(0, 30),
    "underlay": choice(Underlay), "corners": _corners,
}
