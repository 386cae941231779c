"""Reads a customer's PDF into pages, painted objects, inks, layers, boxes and lines.

The terms are those of ISO 32000. Nothing is decoded or parsed point by point before it is asked
for; the customer's bytes are never changed.
"""

from horismos.artwork.lines import Line, line_objects, lines_by_role
from horismos.artwork.model import (
    Artwork,
    Boxes,
    Font,
    ImageObject,
    Ink,
    Layer,
    Page,
    PathObject,
    ShadingObject,
    TextObject,
)
from horismos.artwork.parting import art_alone
from horismos.artwork.read import read, read_bytes

__all__ = [
    "Artwork",
    "Boxes",
    "Font",
    "ImageObject",
    "Ink",
    "Layer",
    "Line",
    "Page",
    "PathObject",
    "ShadingObject",
    "TextObject",
    "art_alone",
    "line_objects",
    "lines_by_role",
    "read",
    "read_bytes",
]
