"""What people write as JSON, each as JSON Schema 2020-12, made from the tables by which it is read."""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import Any

from horismos.checking.engine.check_sheet import check_sheet_schema
from horismos.checking.engine.rules import all_limits
from horismos.cutting.tools import tools_schema
from horismos.destinations import destination_schema
from horismos.making.spec import make_schema
from horismos.materials import material_schema
from horismos.mending.engine.recipe import recipe_schema
from horismos.orders import order_schema
from horismos.release.following import rip_report_schema
from horismos.release.ticket_fields import ticket_schema
from horismos.sheet.spec import plan_schema
from horismos.shelf import shelf_schema
from horismos.stitching.stack import stack_schema
from horismos.workflow.lay_out import TOOLS
from horismos.workflow.pile.shop import pile_shop_schema

__all__ = ["PUBLISHED", "SCHEMAS"]

SCHEMAS: Mapping[str, Callable[[], dict[str, Any]]] = MappingProxyType({
    "order": order_schema,
    "lines": make_schema,
    "layout": lambda: plan_schema({TOOLS: {
        "description": "the tools by role; left out: shipped", "anyOf": [tools_schema(), {"type": "null"}],
    }}),
    "pile": pile_shop_schema,
    "stack": stack_schema,
    "material": material_schema,
    "destination": destination_schema,
    "recipe": recipe_schema,
    "shelf": shelf_schema,
    "ticket": ticket_schema,
    "rip-report": rip_report_schema,
    "check-sheet": lambda: check_sheet_schema(all_limits()),
})
"""By their names."""
PUBLISHED: Mapping[str, str] = MappingProxyType({
    name: "ticket.schema.json" if name == "ticket" else f"schemas/{name}.schema.json" for name in SCHEMAS
})
"""Where each is written to, within docs: other programs read the ticket's."""
