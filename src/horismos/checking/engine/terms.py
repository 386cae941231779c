"""What a check goes by beside the artwork."""

from dataclasses import dataclass
from functools import cached_property

from horismos.checking.engine.check_sheet import CheckSheet
from horismos.checking.measuring.edge_map import EdgeLimits
from horismos.destinations import Destination
from horismos.materials import Material
from horismos.orders import DEFAULT_BLEED_MM, DEFAULT_BORDER_MM, DEFAULT_TOLERANCE_MM, Order

__all__ = ["CheckInputs", "Rehearsed", "edge_limits"]


def edge_limits(order: Order, sheet: CheckSheet) -> EdgeLimits:
    """What is wanted along the edge: the order's word; where it says nothing the check sheet's, or the shipped limit.

    >>> edge_limits(Order(bleed_mm=3.0), CheckSheet(limits={"edge.bleed": 4.0, "edge.risk": 0.3}))
    EdgeLimits(bleed=3.0, border=1.5, tolerance=0.3, edge=<Edge.EITHER: 'either'>)
    """

    def chosen(said: float | None, id: str, shipped: float) -> float:
        return said if said is not None else sheet.limits.get(id, shipped)

    return EdgeLimits(
        chosen(order.bleed_mm, "edge.bleed", DEFAULT_BLEED_MM),
        chosen(order.border_mm, "edge.border", DEFAULT_BORDER_MM),
        chosen(order.tolerance_mm, "edge.risk", DEFAULT_TOLERANCE_MM),
        order.edge,
    )


@dataclass(frozen=True)
class Rehearsed:
    """What came of rehearsing a job: loads, those in which a mark was missed, pieces cut, and those that were spoilt.

    ``bare`` media shows, ``trimmed`` art, ``loose`` before they were cut whole, ``broken`` out of their ties.
    """

    loads: int
    missed: int
    pieces: int
    bare: int
    trimmed: int
    loose: int
    broken: int

    @property
    def spoilt(self) -> int:
        """The pieces that were spoilt."""
        return self.bare + self.trimmed + self.loose + self.broken

    @property
    def spoilt_percent(self) -> float:
        """The share of pieces that were spoilt; all where every load was missed."""
        if not self.pieces:
            return 100.0 if self.missed else 0.0
        return min(100.0, self.spoilt / self.pieces * 100)


@dataclass(frozen=True)
class CheckInputs:
    """The order, where it goes, the check sheet, the material (or None).

    ``known`` is what people have said of this customer's files before: a key such as ``ink:Stanze`` with the role.
    ``rehearsed`` is what came of rehearsing it as it stands, None where nobody has. What is cut only is not
    ``printed``: then nothing is asked of colour. ``signed`` says whether the customer has signed a proof of just this
    artwork, None where nobody keeps proofs.
    """

    order: Order
    destination: Destination
    sheet: CheckSheet
    material: Material | None = None
    known: tuple[tuple[str, str], ...] = ()
    rehearsed: Rehearsed | None = None
    printed: bool = True
    signed: bool | None = None

    @cached_property
    def edge(self) -> EdgeLimits:
        """What is wanted along the edge."""
        return edge_limits(self.order, self.sheet)
