"""Tool settings: force, speed and passes for a role on a material at a destination's cutter."""

from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType
from typing import Any

from horismos.cutting.depth import tools_for
from horismos.cutting.tools import DEFAULT_TOOLS, Tool
from horismos.cutting.tools import FIELDS as TOOL
from horismos.errors import BadValue
from horismos.json_readers import Field, choice, optional, plain_fields, read_fields, text, yes
from horismos.roles import LineRole
from horismos.shelf.kind import Kind, Shelf, ShelfItem, ShelfKind, by_table, register
from horismos.shelf.kinds.destination import destination_of
from horismos.shelf.kinds.holder import in_holder
from horismos.shelf.kinds.material import material_of

__all__ = ["tool_of"]

FIELDS: Mapping[str, Field] = MappingProxyType({
    "destination": Field(text(80, least=1), "the destination whose cutter it is for"),
    "material": Field(text(80, least=1), "the material that it cuts"),
    "role": Field(choice(LineRole), "the line that it cuts"),
    "holder": Field(optional(text(80)), "the holder that it is in, which says blade and slot; null: as said here"),
    **TOOL,
    "passed": Field(yes, "whether a test cut with just this setting came out right"),
})
"""What a shop says of a tool setting."""
_USUAL = plain_fields(DEFAULT_TOOLS[LineRole.KISS_CUT])
BEGINS: Mapping[str, Any] = MappingProxyType({
    **{key: one for key, one in _USUAL.items() if key in FIELDS and key != "role"}, "holder": None,
})


def tool_of(item: ShelfItem, shelf: Shelf) -> Tool:
    """The tool that a thing is. Raises BadValue for one that its role, holder or cutter cannot be."""
    data, name = item.data, f"Tool “{item.title}”"
    destination = destination_of(shelf.called(Kind.DESTINATION, data["destination"], name), shelf)
    material = material_of(shelf.called(Kind.MATERIAL, data["material"], name), shelf)
    role = LineRole(data["role"])
    said = read_fields(name, {key: data[key] for key in TOOL if key in data}, TOOL)
    if data["holder"]:
        holder = shelf.called(Kind.HOLDER, data["holder"], name)
        if holder.data["cutter"] != destination.cutter.id:
            raise BadValue(f"{name}: the holder “{holder.title}” is in another cutter.", "Choose one of its own.")
        said = {**said, **read_fields(name, in_holder(holder, shelf), TOOL)}
    made: Tool = replace(tools_for(material)[role], **said, passed=bool(data["passed"]))
    if not destination.cutter.gives(made.force_gf):
        raise BadValue(
            f"{name} wants {made.force_gf:g} gf, and {destination.cutter.title} gives "
            f"{destination.cutter.least_gf:g} to {destination.cutter.most_gf:g} gf.", "Give a force between.",
        )
    return made


register(ShelfKind(
    kind=Kind.TOOL, one="tool setting", many="tool settings",
    says="The force, speed and passes for a line on a material at a cutter, as the shop has found them by test cuts.",
    read=by_table(FIELDS, BEGINS, ("destination", "material", "role")), begins=BEGINS,
    refers={"destination": Kind.DESTINATION, "material": Kind.MATERIAL, "holder": Kind.HOLDER}, value=tool_of,
    alone=lambda item: (item.data["destination"], item.data["material"], item.data["role"]),
))
