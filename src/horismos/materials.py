"""Materials: a stack of strata on a roll or sheet."""

from dataclasses import dataclass

__all__ = ["MATERIALS", "Material", "Stratum"]


@dataclass(frozen=True)
class Stratum:
    """One stratum of a material. ``kind`` is laminate, film, adhesive or liner."""

    kind: str
    thickness_um: float


@dataclass(frozen=True)
class Material:
    """A roll (``length_mm`` None) or a sheet; strata from the face down.

    ``ground`` is what the ink lies on: ``white``, ``clear`` or ``dark``; the last two want white ink.
    """

    id: str
    title: str
    width_mm: float
    length_mm: float | None
    strata: tuple[Stratum, ...]
    ground: str = "white"


def _film(id: str, title: str, width_mm: float, laminated: bool, ground: str = "white") -> Material:
    """[practice] film 80-100 µm, laminate 70-80 µm, adhesive 20-30 µm, liner 120-150 µm."""
    strata = (Stratum("film", 90), Stratum("adhesive", 25), Stratum("liner", 140))
    return Material(
        id, title, width_mm, None, (Stratum("laminate", 75), *strata) if laminated else strata, ground
    )


MATERIALS: dict[str, Material] = {
    m.id: m
    for m in (
        _film("film-1370", "White film, roll 1370 mm", 1370, False),
        _film("film-610", "White film, roll 610 mm", 610, False),
        _film("floor-1370", "Laminated floor film, roll 1370 mm", 1370, True),
        _film("clear-1067", "Clear film, roll 1067 mm", 1067, False, "clear"),
    )
}
"""The materials that ship with the product; widths are usual rolls [practice]."""
