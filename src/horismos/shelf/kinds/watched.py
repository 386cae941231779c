"""Watched folders: what is put into one is taken in by itself, for a customer or for whomever its name says."""

import re
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.errors import BadValue
from horismos.json_readers import Field, Reader, text
from horismos.shelf.kind import Kind, ShelfKind, by_table, register

__all__ = ["FIELDS"]

_FOLDER = re.compile(r"[A-Za-z0-9](?:[A-Za-z0-9 ._-]*[A-Za-z0-9_-])?")


def _folder(name: str, value: object) -> str:
    said: str = text(80, least=1)(name, value)
    if not _FOLDER.fullmatch(said):
        raise BadValue(
            f"{name} “{said}” is no name of a folder.", "Give letters, figures, spaces, dots and hyphens, no path.",
        )
    return said


FIELDS: Mapping[str, Field] = MappingProxyType({
    "folder": Field(
        Reader(_folder, {**text(80, least=1).schema, "pattern": f"^{_FOLDER.pattern}$"}),
        "its name below the folder of all watched ones",
    ),
    "customer": Field(text(200), "whose files come there; empty: as their names say"),
})
"""What is said of a watched folder."""
BEGINS: Mapping[str, Any] = MappingProxyType({"folder": "incoming", "customer": ""})

register(ShelfKind(
    kind=Kind.WATCHED, one="watched folder", many="watched folders",
    says="A folder on the server's disk: what is put there is taken in as soon as it has stopped growing.",
    read=by_table(FIELDS, BEGINS), begins=BEGINS, alone=lambda item: str(item.data["folder"]).casefold(),
))
