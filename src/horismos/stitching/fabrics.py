"""Fabrics: how thick one is with its adhesive, how much it shrinks under heat, and how far stitches pull it in."""

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

from horismos.json_readers import COLOUR, Field, number, record, text
from horismos.materials import Material, Stratum
from horismos.roles import Part

__all__ = ["FABRICS", "FIELDS", "READ", "Fabric", "fabric_called"]

CARRIER = Stratum("carrier paper", 120, Part.CARRIER)
"""[ours] what the lowest fabric lies on."""
RESISTS_GF_UM = 0.45
"""[ours] what a micrometre of woven or felted fabric takes of the force; film takes 0.75."""


@dataclass(frozen=True)
class Fabric:
    """A fabric, lengths in µm, ``colour`` as #rrggbb.

    ``shrinks`` is the share of its length that it loses when it is heated, ``pull_mm`` how far stitches across its edge
    pull in at either end.
    """

    id: str
    title: str
    thickness_um: float
    adhesive_um: float
    colour: str
    shrinks: float = 0.0
    pull_mm: float = 0.0

    @property
    def thick_um(self) -> float:
        """How thick it is, adhesive included."""
        return self.thickness_um + self.adhesive_um

    @property
    def strata(self) -> tuple[Stratum, ...]:
        """Its strata from the face down, without what it lies on."""
        woven = Stratum(self.title.lower(), self.thickness_um, Part.FACE, RESISTS_GF_UM)
        glue = Stratum("adhesive", self.adhesive_um, Part.ADHESIVE, RESISTS_GF_UM)
        return (woven, glue) if self.adhesive_um else (woven,)

    def lying_on(self, below: "Fabric | None", width_mm: float) -> Material:
        """What a blade meets that cuts it: itself, and below it another fabric that is to stay whole, or a carrier.

        What lies below counts as the carrier, which a kiss cut does not go through.
        """
        if below is None:
            under: tuple[Stratum, ...] = (CARRIER,)
        else:
            under = tuple(Stratum(s.kind, s.thickness_um, Part.CARRIER, s.resists_gf_um) for s in below.strata)
        return Material(self.id, self.title, width_mm, None, (*self.strata, *under), grain=True)


FABRICS: Mapping[str, Fabric] = {
    one.id: one
    for one in (
        # [ours] thicknesses, shrinking and pull; what is on the roll differs, and is found by a test cut and a sample.
        Fabric("twill", "Twill", 300, 60, "#D8D2C2", 0.005, 0.1),
        Fabric("felt", "Felt", 1100, 60, "#8C9A6B", 0.01, 0.2),
        Fabric("canvas", "Canvas", 450, 60, "#C9B48A", 0.008, 0.1),
        Fabric("microfibre", "Microfibre", 250, 50, "#7D8FA3", 0.003, 0.1),
    )
}
"""The fabrics that ship with the product."""


FIELDS: Mapping[str, Field] = MappingProxyType({
    "id": Field(text(80), "its name in files"),
    "title": Field(text(200, least=1), "what people call it"),
    "thickness_um": Field(number(10, 20_000), "how thick it is without its adhesive", "µm"),
    "adhesive_um": Field(number(0, 5_000), "how thick its adhesive is", "µm"),
    "colour": Field(COLOUR, "its colour as #rrggbb"),
    "shrinks": Field(number(0, 0.2), "the share of its length that it loses under heat"),
    "pull_mm": Field(number(0, 1), "how far stitches across its edge pull in at either end", "mm"),
})
"""What may be said of a fabric."""
READ = record(FIELDS, Fabric("", "", 1, 0, "#FFFFFF"), ("id", "title", "thickness_um", "adhesive_um", "colour"))


def fabric_called(name: str) -> Fabric:
    """A fabric by its id; one that nobody has described is taken to be as thick as twill.

    >>> fabric_called("Felt").thickness_um
    1100
    >>> fabric_called("sailcloth").title
    'sailcloth'
    """
    known = FABRICS.get(name.strip().lower())
    if known:
        return known
    twill = FABRICS["twill"]
    return Fabric(name, name, twill.thickness_um, twill.adhesive_um, twill.colour, twill.shrinks, twill.pull_mm)
