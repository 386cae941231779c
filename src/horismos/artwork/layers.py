"""Optional-content groups (ISO 32000-1, 8.11) and their ISO 19593-1 metadata."""

from typing import Any

import pikepdf

from horismos.artwork.model import Layer
from horismos.artwork.resources import same_object
from horismos.roles import role_of_step

__all__ = ["layers_of"]


def _members(obj: Any) -> set[tuple[int, ...]]:
    return {same_object(o) for o in obj} if isinstance(obj, pikepdf.Array) else set()


def _state(group: Any, category: str, key: str) -> bool | None:
    """What a group's usage dictionary says of a category (table 102), or None."""
    try:
        return bool(group["/Usage"][category][key] != pikepdf.Name.OFF)
    except (KeyError, TypeError, ValueError, AttributeError):
        return None


def _step(group: Any) -> tuple[str, str | None] | None:
    """The processing step that a group declares."""
    metadata = group.get("/GTS_Metadata")
    if not isinstance(metadata, pikepdf.Dictionary) or "/GTS_ProcStepsGroup" not in metadata:
        return None
    kind = metadata.get("/GTS_ProcStepsType")
    name = str(metadata["/GTS_ProcStepsGroup"]).removeprefix("/")
    return name, str(kind).removeprefix("/") if kind is not None else None


def layers_of(pdf: pikepdf.Pdf) -> tuple[tuple[Layer, ...], dict[tuple[int, ...], int]]:
    """The layers of a file, and their index by object number."""
    properties = pdf.Root.get("/OCProperties")
    if not isinstance(properties, pikepdf.Dictionary):
        return (), {}
    default = properties.get("/D", pikepdf.Dictionary())
    on, off = _members(default.get("/ON")), _members(default.get("/OFF"))
    base_on = str(default.get("/BaseState", "/ON")) != "/OFF"
    layers: list[Layer] = []
    numbers: dict[tuple[int, ...], int] = {}
    for group in properties.get("/OCGs", []):
        number = same_object(group)
        if number in numbers or not isinstance(group, pikepdf.Dictionary):
            continue
        visible = number not in off if base_on else number in on
        printing = _state(group, "/Print", "/PrintState")
        step = _step(group)
        role = role_of_step(*step) if step else None
        prints = visible if printing is None else visible and printing
        numbers[number] = len(layers)
        layers.append(Layer(str(group.get("/Name", "unnamed")), visible, prints, role, step))
    return tuple(layers), numbers
