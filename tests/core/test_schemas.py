"""What people write as JSON has one table each: reader, published schema, pages and API agree with it.

The schemas are read by `jsonschema`, a library of others, as JSON Schema 2020-12 says.
"""

import copy
import json
import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from horismos.checking import CheckSheet
from horismos.checking.engine.rules import all_limits
from horismos.cutting import tools_from_json
from horismos.destinations import destination_from_json
from horismos.errors import HorismosError
from horismos.making import Make
from horismos.materials import material_from_json
from horismos.mending.engine.recipe import Recipe
from horismos.orders import Order
from horismos.release.following import RipReport
from horismos.release.ticket_fields import read_ticket
from horismos.sheet.spec import LayoutPlan
from horismos.shelf import read_document
from horismos.stitching.stack import Stack
from horismos.workflow.lay_out import TOOLS
from horismos.workflow.pile import PileShop
from horismos.workflow.schemas import PUBLISHED, SCHEMAS
from tests.breadth import breadth
from tests.core.shop_of import a_shop

ROOT = Path(__file__).resolve().parents[2]


def plan_of(data: Any) -> LayoutPlan:
    """A plan as the command reads it: the tools apart."""
    if isinstance(data, dict) and data.get(TOOLS) is not None:
        tools_from_json(data[TOOLS], "Plan: tools")
    return LayoutPlan.from_json({k: v for k, v in data.items() if k != TOOLS} if isinstance(data, dict) else data)


PLACE = [12.5, 30]
WRITTEN: dict[str, tuple[Callable[[Any], object], Any]] = {
    "order": (Order.from_json, {
        "width_mm": 80, "height_mm": 80.5, "quantity": 24, "material": "film-1370", "roles": ["kiss-cut", "crease"],
        "edge": "bleed", "bleed_mm": 3, "border_mm": 1.5, "tolerance_mm": 0.5, "viewing_distance_m": 1, "seen": "front",
        "white": True, "holes": 0, "laminate": "matt",
    }),
    "lines": (Make.from_json, {
        "source": "ground", "ground": [255, 250, 240], "ground_at": PLACE, "tolerance": 12, "threshold": 0.5,
        "joined": "anywhere", "shape": "ellipse", "around": "all", "specks_mm2": 2, "inner": {"drop_below_mm2": 20},
        "keep_at": [PLACE], "drop_at": [], "cut_out_at": [PLACE], "objects_at": [PLACE], "bridge_mm": 2,
        "line": "crease", "replaces": True, "lines": [
            {"role": "kiss-cut", "offset_mm": -1, "join": "bevel", "corner_mm": 0.2, "fit_mm": 0.02, "holes": True,
             "tab_mm": 5, "tab_deg": 90},
            {"role": "perforation", "cut_mm": 4, "tie_mm": 0.5, "least_ties": 6, "tie": "scored"},
            {"role": "back-cut", "slit_deg": 45, "run_out_mm": 2},
            {"role": "crease", "drawn": "M 0 0 L 9 9", "edits": [{"do": "corner", "at": PLACE}]},
        ],
    }),
    "layout": (plan_of, {
        "material": {"width_mm": 610, "length_mm": 900}, "destination": "small", "how": "nest", "fill": "length",
        "gap_mm": 6, "length_mm": 700, "seconds": 10, "code": True, "mirror": False, "order": ["kiss-cut"],
        "only": ["kiss-cut", "crease"], "copies": [1, 3], "aligning": {"number": 4, "force_gf": 300, "passes": 2},
        "items": [
            {"file": "a.pdf", "order": "a.json", "quantity": 3, "turn": "free"},
            {"file": "b.pdf", "order": {"holes": 1}},
        ],
        "marks": {"kind": "ring", "every_mm": 500, "around": [0, 0, 500, 600], "distance_mm": 5, "arm_mm": 20,
                  "weight_mm": 1},
        "tools": {"kiss-cut": {"number": 1, "blade": "drag", "offset_mm": 0.25, "overcut_mm": 0.5, "force_gf": 90,
                               "speed_mm_s": 400, "acceleration_mm_s2": 8000, "passes": 1, "age_m": 100,
                               "wear_gf_km": 3},
                  "perforation": {"tie_force_gf": 40, "cut_mm": 4, "tie_mm": 0.5, "least_ties": 2}},
    }),
    "stack": (Stack.from_json, {
        "outline": "kiss-cut", "formats": ["dst", "vp3"], "frame_mm": 6, "layers": [
            {"name": "word", "fabric": "twill", "offset_mm": -1, "join": "mitre", "inner": "close", "shrinks": 0.01,
             "pull_mm": 0.2, "colour": "#F0e8d2", "thread": "", "lay": "heat", "force_gf": 120, "passed": False,
             "stitches": [{"kind": "satin", "width_mm": 3, "spacing_mm": 0.4, "inset_mm": 1.5, "underlay": "zigzag",
                           "corners": "mitre"}]},
            {"name": "ground", "drawn": "layer:ground", "stitches": [{"kind": "placement", "inset_mm": 1}]},
        ],
    }),
    "material": (material_from_json, {
        "like": "film-610", "title": "Own film", "width_mm": 700, "length_mm": 500, "ground": "clear", "glossy": True,
        "grain": False, "strata": [{"kind": "film", "thickness_um": 80, "part": "face", "resists_gf_um": 1}],
        "gives": {"dx": 0.1, "dy": 0.1, "turn": 0.1, "stretch_x": 0, "stretch_y": 0.1, "skew": 0, "bend": 1},
    }),
    "destination": (destination_from_json, {
        "like": "table", "title": "Back room", "names": {"kiss-cut": "Half", "white": "W"}, "printing_inks": ["Gold"],
        "printer_margin_mm": 4, "cutter": {
            "title": "Own", "leader_mm": 60, "travel_speed_mm_s": 500, "holders": 3, "camera": False,
            "pointer_mm": [1, -1], "mark_arm_mm": 8, "dialect": {"unit_mm": 0.01, "right": True, "suffix": "plt"},
        },
    }),
    "pile": (PileShop.from_json, {
        "name_pattern": "{customer}_{title}_{copies}x", "order": {"quantity": 3, "material": "film-610"},
        "check_sheet": {"limits": {"edge.bleed": 2}, "severities": {"edge.bleed": "look"}}, "customers": {"Dune": {
            "order": {"roles": ["kiss-cut"], "edge": "border"}, "bind": {"pen:1": "kiss-cut", "layer:2": "art"},
            "steps": [{"mend": "hairline"}], "make": {"lines": [{"role": "kiss-cut", "offset_mm": 2}]},
        }},
    }),
    "recipe": (Recipe.from_json, {"name": "Tidy", "version": 2, "steps": [
        {"mend": "smooth", "role": "kiss-cut", "tolerance_mm": 0.05}, {"mend": "hairline"},
    ]}),
    "check-sheet": (lambda data: CheckSheet.from_json(data, all_limits()), {
        "format": "horismos check sheet", "name": "Film", "version": "3", "limits": {"edge.bleed": 2.5},
        "severities": {"edge.bleed": "look"},
    }),
}
WRITTEN["ticket"] = (
    lambda data: read_ticket(json.dumps(data).encode()),
    json.loads((ROOT / "tests" / "data" / "ticket.json").read_text()),
)
WRITTEN["rip-report"] = (RipReport.from_json, {
    "copies": 3, "gap_mm": 12.5, "turn_deg": 90, "scale": [1, 0.98], "mirrored": True, "moved_mm": [4, -2.5],
})
WRITTEN["shelf"] = (lambda data: read_document(json.dumps(data).encode()), a_shop())
CHECKS = {name: Draft202012Validator(json.loads(json.dumps(schema()))) for name, schema in SCHEMAS.items()}
TOGETHER = re.compile(
    r"which (shape|line) is not said|cannot both hold|runs (out|along)|is an empty rectangle|marks and marks every|"
    r"has no end to be filled|is to be filled|smaller than the layer above|too small for|without the other|Two layers|"
    r"has two roles|0\.6 mm or more|scores its ties|a blade offset, and|there is none such|hold[s]? places or lines|"
    r"has two things with the id|has no length|has no word|brace that does not close|has no field|or one twice"
)
"""What only two values together can do wrong, which ids a shop knows, what an edit holds: no schema says it."""


def paths(value: Any, path: tuple[Any, ...] = ()) -> Iterator[tuple[Any, ...]]:
    """Where something may be put in its place, in a value of JSON."""
    yield path
    for key, inner in value.items() if isinstance(value, dict) else enumerate(value) if isinstance(value, list) else ():
        yield from paths(inner, (*path, key))


def edges(schema: Any) -> Iterator[Any]:
    """Values on, just below and just above each bound that a schema has, and its words."""
    if isinstance(schema, dict):
        for key in ("minimum", "exclusiveMinimum", "maximum", "minItems", "maxLength"):
            if isinstance(schema.get(key), int | float):
                yield from (schema[key] - 1, schema[key], schema[key] + 1, schema[key] + 0.5)
        yield from schema.get("enum", ())
        for inner in schema.values():
            yield from edges(inner)
    elif isinstance(schema, list):
        for inner in schema:
            yield from edges(inner)


ODD = [None, True, False, "", " ", "odd", -1, 0, 0.5, 1, 7, 1e9, [], {}, [1], [1, 2], ["kiss-cut"], {"odd": 1}, "\n"]
VALUES = {name: [*dict.fromkeys(edges(check.schema))] for name, check in CHECKS.items()}


@breadth(1.0)
@pytest.mark.parametrize("name", SCHEMAS)
def test_a_schema_is_one_and_is_published_as_the_code_has_it(name: str) -> None:
    Draft202012Validator.check_schema(CHECKS[name].schema)
    assert json.loads((ROOT / "docs" / PUBLISHED[name]).read_text()) == CHECKS[name].schema
    read, full = WRITTEN[name]
    read(full)
    assert CHECKS[name].is_valid(full), [str(one) for one in CHECKS[name].iter_errors(full)]


@breadth(1.0)
@pytest.mark.parametrize("name", SCHEMAS)
@settings(max_examples=100, deadline=None)
@given(st.data())
def test_the_reader_takes_just_what_the_schema_says(name: str, data: st.DataObject) -> None:
    read, full = WRITTEN[name]
    path = data.draw(st.sampled_from([*paths(full)]))
    value = data.draw(st.sampled_from(ODD) if data.draw(st.booleans()) else st.sampled_from(VALUES[name] or ODD))
    changed = [copy.deepcopy(full)]
    at: Any = changed
    for key in (0, *path)[:-1]:
        at = at[key]
    last = (0, *path)[-1]
    if isinstance(at, dict) and data.draw(st.integers(0, 9)) == 0:
        at[f"{last}s"] = value
    else:
        at[last] = value
    fits = CHECKS[name].is_valid(changed[0])
    try:
        read(changed[0])
    except HorismosError as why:
        assert not fits or TOGETHER.search(str(why)), (path, value, str(why))
    else:
        assert fits, (path, value)


def test_defaults_of_the_schema_are_those_of_the_reader() -> None:
    said = {"width_mm": 80, "roles": ["kiss-cut"], "edge": "bleed", "white": False, "holes": 0, "quantity": 3}
    assert {key: Order.from_json(said).to_json()[key] for key in said} == said
    properties = CHECKS["order"].schema["properties"]
    assert {key: one["default"] for key, one in properties.items() if one["default"] is not None} == Order().to_json()
    told = {key: one["default"] for key, one in CHECKS["lines"].schema["properties"].items() if "default" in one}
    base = {"lines": [{"role": "kiss-cut"}]}
    assert Make.from_json({**base, **told}) == Make.from_json(base)


@pytest.mark.parametrize(("page", "name"), [
    ("orders.md", "order"), ("lines.md", "lines"), ("layouts.md", "layout"), ("stacks.md", "stack"),
])
def test_the_examples_of_the_pages_are_of_their_schema(page: str, name: str) -> None:
    found = re.findall(r"```json\n(.*?)```", (ROOT / "docs" / page).read_text(), re.S)
    assert CHECKS[name].is_valid(json.loads(found[0]))
    if page == "layouts.md":
        assert CHECKS[name].is_valid(json.loads(found[1]))
    if page == "orders.md":
        assert CHECKS["destination"].is_valid(json.loads(found[1]))


@pytest.mark.parametrize(("body", "field", "name"), [
    ("JobChange", "order", "order"), ("DraftRequest", "make", "lines"), ("StackGiven", "stack", "stack"),
])
def test_the_api_takes_what_the_table_says(body: str, field: str, name: str) -> None:
    api = json.loads((ROOT / "web" / "openapi.json").read_text())["components"]["schemas"][body]["properties"]
    told = api[field]["anyOf"][0] if "anyOf" in api[field] else api[field]
    assert bare(told["properties"]) == bare(CHECKS[name].schema["properties"])


def bare(schema: Any) -> Any:
    """A schema without its defaults, of which the API leaves out those that are null."""
    if isinstance(schema, dict):
        return {key: bare(one) for key, one in schema.items() if key != "default" or isinstance(one, dict)}
    return [bare(one) for one in schema] if isinstance(schema, list) else schema
