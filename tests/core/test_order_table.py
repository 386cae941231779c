"""One table says what an order may be: reader, schema, page and API agree with it."""

import json
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from horismos.errors import BadValue
from horismos.orders import FIELDS, Order, order_schema

ROOT = Path(__file__).resolve().parents[2]
SCHEMA = json.loads(json.dumps(order_schema()))["properties"]


def takes(schema: dict[str, Any], value: Any) -> bool:
    """Whether a value is of a schema, for the words of JSON Schema 2020-12 that are used here."""
    if "anyOf" in schema:
        return any(takes(one, value) for one in schema["anyOf"])
    if "enum" in schema:
        return value in schema["enum"] and isinstance(value, str)
    number = isinstance(value, int | float) and not isinstance(value, bool)
    right = {
        "null": value is None, "boolean": isinstance(value, bool), "string": isinstance(value, str), "number": number,
        "integer": number and value == int(value), "array": isinstance(value, list),
    }[schema["type"]]
    if not right:
        return False
    if "items" in schema:
        return all(takes(schema["items"], one) for one in value)
    if "maxLength" in schema:
        return len(value) <= schema["maxLength"]
    if "maximum" in schema:
        low = schema.get("exclusiveMinimum", schema.get("minimum"))
        return low <= value <= schema["maximum"] and not ("exclusiveMinimum" in schema and value == low)
    return True


def near(schema: dict[str, Any]) -> st.SearchStrategy[Any]:
    """Values about the edges of what is taken, and of other kinds."""
    plain = schema["anyOf"][0]
    edges = [plain[key] + d for key in ("minimum", "exclusiveMinimum", "maximum") if key in plain for d in (-1, 0, 1)]
    words = plain.get("enum", plain.get("items", {}).get("enum", ["film-1370"]))
    return st.one_of(
        st.sampled_from([*edges, *words, True, False, None, "", "odd", -1, 0.5, 7, 2.0**40, [], {}]),
        st.lists(st.sampled_from([*words, "odd"]), max_size=3),
    )


@settings(max_examples=400, deadline=None)
@given(st.data())
def test_the_reader_takes_just_what_the_schema_says(data: st.DataObject) -> None:
    name = data.draw(st.sampled_from(sorted(FIELDS)))
    value = data.draw(near(SCHEMA[name]))
    try:
        Order.from_json({name: value})
    except BadValue as why:
        assert not takes(SCHEMA[name], value), (name, value)
        assert name in str(why)
    else:
        assert takes(SCHEMA[name], value), (name, value)


def test_an_order_says_back_what_it_was_given_and_its_defaults_are_those_of_the_schema() -> None:
    said = {"width_mm": 80, "roles": ["kiss-cut"], "edge": "bleed", "white": False, "holes": 0, "quantity": 3}
    assert {key: Order.from_json(said).to_json()[key] for key in said} == said
    assert {key: one["default"] for key, one in SCHEMA.items() if one["default"] is not None} == Order().to_json()
    with pytest.raises(BadValue, match="unknown key “colour”"):
        Order.from_json({"colour": "red"})


def test_the_published_schema_and_the_api_are_those_of_the_table() -> None:
    assert json.loads((ROOT / "docs" / "schemas" / "order.schema.json").read_text())["properties"] == SCHEMA
    api = json.loads((ROOT / "web" / "openapi.json").read_text())["components"]["schemas"]["OrderGiven"]["properties"]
    assert set(api) == set(SCHEMA)
    for name, own in SCHEMA.items():
        plain = own["anyOf"][0]
        given_ = next((one for one in api[name].get("anyOf", [api[name]]) if one.get("type") != "null"), {})
        for key in ("minimum", "exclusiveMinimum", "maximum"):
            if key in plain:
                assert given_.get(key) == plain[key], (name, key)
