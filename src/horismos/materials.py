"""Materials: a stack of strata on a roll or sheet."""

from dataclasses import dataclass, replace
from enum import StrEnum

from horismos.errors import BadValue, NotFound
from horismos.json_readers import choice, number, object_of, text, yes
from horismos.misregistration import Misregistration
from horismos.roles import Part

__all__ = ["MATERIALS", "Ground", "Material", "Stratum", "material_called", "material_from_json"]


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
    which all pieces have to lie. ``price_m2`` is what a square metre costs the shop, None where nobody said.
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


LAMINATE = Stratum("laminate", 75)
FILM = (Stratum("film", 90), Stratum("adhesive", 25, Part.ADHESIVE), Stratum("liner", 140, Part.CARRIER))
"""[practice] film 80-100 µm, laminate 70-80 µm, adhesive 20-30 µm, liner 120-150 µm."""


TWILL = (Stratum("twill", 300), Stratum("adhesive", 60, Part.ADHESIVE), Stratum("carrier paper", 120, Part.CARRIER))
"""[practice] fabric with a heat-seal adhesive on its carrier; what is on the roll differs."""


PAPER = (Stratum("paper", 80), Stratum("adhesive", 20, Part.ADHESIVE), Stratum("liner", 60, Part.CARRIER))
"""[ours] a light sticker paper for small printers."""


def _film(
    id: str, title: str, width_mm: float, laminated: bool = False, ground: Ground = Ground.WHITE, glossy: bool = False
) -> Material:
    return Material(id, title, width_mm, None, (LAMINATE, *FILM) if laminated else FILM, ground, glossy=glossy)


MOST_STRATA = 20
MATERIALS: dict[str, Material] = {
    m.id: m
    for m in (
        _film("film-1370", "White film, roll 1370 mm", 1370),
        _film("film-610", "White film, roll 610 mm", 610),
        _film("floor-1370", "Laminated floor film, roll 1370 mm", 1370, laminated=True),
        _film("clear-1067", "Clear film, roll 1067 mm", 1067, ground=Ground.CLEAR),
        _film("gloss-1370", "White film with gloss laminate, roll 1370 mm", 1370, laminated=True, glossy=True),
        Material("twill-1500", "Polyester twill, roll 1500 mm", 1500, None, TWILL, grain=True),
        Material("paper-a3", "Sticker paper, sheets A3", 297, 420, PAPER),
    )
}
"""The materials that ship with the product; widths are usual rolls [practice]."""


def material_called(id: str) -> Material:
    """A material by its id; where none of that id ships any more, the first, which is a plain film."""
    return MATERIALS.get(id) or next(iter(MATERIALS.values()))


def material_from_json(data: object) -> Material:
    """A material as a shop writes it: what it does not say is as of the shipped one that it is ``like``.

    ``strata`` run from the face down, each with its ``kind``, ``thickness_um``, ``part`` (face, adhesive or carrier)
    and ``resists_gf_um``. Raises BadValue or NotFound.
    """
    keys = ("like", "title", "width_mm", "length_mm", "strata", "ground", "glossy", "grain")
    given = object_of(data, "The material", keys)
    like = given.get("like", next(iter(MATERIALS)))
    if like not in MATERIALS:
        raise NotFound(f"The material is like “{like}”, and there is none such.", f"Known: {', '.join(MATERIALS)}.")
    base = MATERIALS[str(like)]
    size = number(10, 200_000)
    length = given.get("length_mm", base.length_mm)
    return replace(
        base, title=text(200)("The material: title", given.get("title", base.title)),
        width_mm=size("The material: width_mm", given.get("width_mm", base.width_mm)),
        length_mm=None if length is None else size("The material: length_mm", length),
        strata=_strata(given["strata"]) if "strata" in given else base.strata,
        ground=choice(Ground)("The material: ground", given.get("ground", base.ground.value)),
        glossy=yes("The material: glossy", given.get("glossy", base.glossy)),
        grain=yes("The material: grain", given.get("grain", base.grain)),
    )


def _strata(value: object) -> tuple[Stratum, ...]:
    if not isinstance(value, list) or not 0 < len(value) <= MOST_STRATA:
        raise BadValue(f"The material: strata must be a list of 1 to {MOST_STRATA}, from the face down.")
    out = []
    for i, one in enumerate(value, 1):
        name = f"The material: stratum {i}"
        given = object_of(one, name, ("kind", "thickness_um", "part", "resists_gf_um"))
        for key in ("kind", "thickness_um"):
            if key not in given:
                raise BadValue(f"{name}: {key} is missing.")
        out.append(Stratum(
            text(80)(f"{name}: kind", given["kind"]), number(1, 50_000)(f"{name}: thickness_um", given["thickness_um"]),
            choice(Part)(f"{name}: part", given.get("part", Part.FACE.value)),
            number(0.01, 1_000)(f"{name}: resists_gf_um", given.get("resists_gf_um", 0.75)),
        ))
    return tuple(out)

