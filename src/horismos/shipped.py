"""What ships with the product as data: read from files beside the code, in the form in which a shop writes its own."""

import json
from collections.abc import Mapping
from pathlib import Path
from types import MappingProxyType
from typing import Any

from horismos.json_readers import Reader

__all__ = ["shipped_by_id"]

FOLDER = Path(__file__).parent / "data"


def shipped_by_id(file: str, key: str, read: Reader) -> Mapping[str, Any]:
    """The values of a list in a file of what ships, by their ids, in its order."""
    listed = json.loads((FOLDER / f"{file}.json").read_text("utf-8"))[key]
    made = [read(f"{file}.json: {one.get('id')}", one) for one in listed]
    return MappingProxyType({one.id: one for one in made})
