"""The order in which inks are laid down: what lies next to the media comes first."""

from collections.abc import Sequence
from enum import StrEnum

from horismos.destinations import Destination
from horismos.errors import BadValue
from horismos.json_readers import Reader
from horismos.roles import InkRole

__all__ = ["BEHIND", "FRONT", "InkLayer", "ink_order", "said_of_order"]


class InkLayer(StrEnum):
    """What is laid down in one go."""

    WHITE = "white"
    COLOUR = "colour"
    VARNISH = "varnish"


FRONT = (InkLayer.WHITE, InkLayer.COLOUR, InkLayer.VARNISH)
"""[practice] seen from the front: white below the colour, varnish over all."""
BEHIND = (InkLayer.COLOUR, InkLayer.WHITE, InkLayer.VARNISH)
"""[practice] seen through clear media: the colour lies next to it, white behind."""


def _ink_order(name: str, value: object) -> tuple[InkLayer, ...]:
    if not isinstance(value, list | tuple) or sorted(map(str, value)) != sorted(InkLayer):
        raise BadValue(f"{name} must name each of {', '.join(InkLayer)} once.", "The first lies next to the media.")
    return tuple(InkLayer(str(layer)) for layer in value)


ink_order = Reader(_ink_order, {
    "type": "array", "items": {"enum": [layer.value for layer in InkLayer]}, "uniqueItems": True,
    "minItems": len(InkLayer), "maxItems": len(InkLayer),
})
"""An order of inks: each of the three once."""


def said_of_order(
    order: Sequence[InkLayer], mirrored: bool, inks: Sequence[str], destination: Destination
) -> str:
    """What is wrong with an order for what is on the sheet: white that would hide the colour; or nothing."""
    white = destination.names.get(InkRole.WHITE)
    if white is None or white not in inks:
        return ""
    first = order.index(InkLayer.WHITE) < order.index(InkLayer.COLOUR)
    if mirrored and first:
        return "White is printed before the colour, and hides it from behind the glass."
    if not mirrored and not first:
        return "White is printed over the colour, and hides it from the front."
    return ""
