"""The Shelf: what a shop keeps as its own, by kinds, and all of it as one file."""

from horismos.shelf.document import (
    Choice,
    Compared,
    Document,
    Standing,
    compared,
    examples,
    merged,
    read_document,
    shelf_schema,
    write_document,
)
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, id_for, kind_of, referred, registered
from horismos.shelf.shop import ShopFacts

__all__ = [
    "Choice", "Compared", "Document", "Kind", "Shelf", "ShelfItem", "ShelfKind", "ShopFacts", "Standing", "compared",
    "examples", "id_for", "kind_of", "merged", "read_document", "referred", "registered", "shelf_schema",
    "write_document",
]
