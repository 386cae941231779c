"""Bodies whose fields stand in a table of the core: read by that table, and described by its schema."""

from collections.abc import Callable, Mapping
from typing import Any, ClassVar, Self

from pydantic import BaseModel, ConfigDict, GetCoreSchemaHandler, GetJsonSchemaHandler, model_validator
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema, core_schema

from horismos.json_readers import Field, object_schema, read_fields

__all__ = ["ReadBy", "TableBody"]


def _bare(schema: Any) -> Any:
    """A schema as an address has it: what may be left out has no default there."""
    if isinstance(schema, Mapping):
        kept = {key: one for key, one in schema.items() if key != "$schema"}
        return {key: _bare(one) for key, one in kept.items() if key != "default" or isinstance(one, Mapping)}
    return [_bare(one) for one in schema] if isinstance(schema, list | tuple) else schema


class ReadBy:
    """Says of a field that a function of the core reads it, which raises BadValue, and what it may be.

    The field then holds the core's value: ``stack: Annotated[Stack, ReadBy(Stack.from_json, stack_schema())]``.
    """

    def __init__(self, read: Callable[[Any], Any], schema: Mapping[str, Any]) -> None:
        self.read = read
        self.schema = _bare(schema)

    def __get_pydantic_core_schema__(self, kind: Any, handler: GetCoreSchemaHandler) -> CoreSchema:
        return core_schema.no_info_plain_validator_function(self.read)

    def __get_pydantic_json_schema__(self, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        return {**self.schema}


class TableBody(BaseModel):
    """A body that beside its own fields says what is in a ``table``; the core's words say what is wrong with it."""

    model_config = ConfigDict(extra="allow")
    about: ClassVar[str]
    table: ClassVar[Mapping[str, Field]]

    @model_validator(mode="after")
    def _read(self) -> Self:
        read_fields(self.about, self.said, self.table)
        return self

    @property
    def said(self) -> dict[str, Any]:
        """What was named of the table, as it was sent."""
        return dict(self.model_extra or {})

    @property
    def named(self) -> dict[str, Any]:
        """All that was named, of the table and beside it."""
        return {name: getattr(self, name) for name in self.model_fields_set}

    @classmethod
    def __get_pydantic_json_schema__(cls, schema: CoreSchema, handler: GetJsonSchemaHandler) -> JsonSchemaValue:
        made = handler.resolve_ref_schema(handler(schema))
        made["properties"] = {**made.get("properties", {}), **_bare(object_schema(cls.table)["properties"])}
        return {**made, "additionalProperties": False}
