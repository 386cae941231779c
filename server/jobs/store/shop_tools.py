"""The tool settings of the shop, by destination, material and role: versions, and what a test cut makes of them."""

from dataclasses import dataclass, replace
from datetime import datetime

from django.db import transaction

from horismos.cutting import Tool
from horismos.cutting.depth import CutOutcome, tools_for
from horismos.cutting.shop_facts import ShopFacts, Tested
from horismos.errors import ChangedMeanwhile, NotPermitted
from horismos.json_readers import plain_fields
from horismos.roles import CUT_ORDER, LineRole
from horismos.shelf import Kind, ShelfItem
from horismos.workflow.showing.sheet import ToolShown
from jobs import models
from jobs.store.shelf import destination_called, known_shelf, material_called
from jobs.store.shelf_changes import keep_item

__all__ = [
    "ShopToolShown", "facts_for", "keep_seen", "keep_tool", "shop_tools", "shop_tools_shown",
    "tools_for_pair", "version_of",
]

NAMING = frozenset(["destination", "material", "role", "holder"])
"""What a thing says beside the tool that it is."""
STEP_GF = 10.0
"""[ours] by so much a test cut corrects the force; through, by twice."""
MOST_GF = 20.0
"""[ours] so far test cuts may take a force from what was confirmed by somebody who may change the Shelf."""
CORRECTS = {
    CutOutcome.SHALLOW: STEP_GF, CutOutcome.RIGHT: 0.0, CutOutcome.LINER: -STEP_GF, CutOutcome.THROUGH: -2 * STEP_GF
}


@dataclass(frozen=True)
class ShopToolVersion:
    """A version of a setting: what it was, who kept it and why, and what the test cut before had shown.

    ``confirmed`` where who kept it may change the Shelf.
    """

    number: int
    tool: ToolShown
    who: str
    when: datetime
    seen: str
    note: str
    confirmed: bool


@dataclass(frozen=True)
class ShopToolShown:
    """The setting for a role on a material at a cutter; without versions it is as shipped. The newest comes first.

    ``tested_by`` and ``tested`` say who last saw a test cut come out right with just this setting, and when.
    """

    role: LineRole
    tool: ToolShown
    tested_by: str
    tested: datetime | None
    versions: list[ShopToolVersion]


def shop_tools(destination: str, material: str) -> dict[LineRole, Tool]:
    """The shop's settings, by role, where it has such."""
    return dict(known_shelf().tools.get((destination, material), {}))


def tools_for_pair(destination: str, material: str) -> list[ShelfItem]:
    """The things that these settings are."""
    return [
        item for item in known_shelf().offered(Kind.TOOL)
        if (item.data["destination"], item.data["material"]) == (destination, material)
    ]


def _item(destination: str, material: str, role: LineRole) -> ShelfItem | None:
    found = (item for item in tools_for_pair(destination, material) if item.data["role"] == role.value)
    return next(found, None)


def _known(destination: str, material: str) -> None:
    destination_called(destination)
    material_called(material)


def shop_tools_shown(destination: str, material: str) -> list[ShopToolShown]:
    """The setting of every role, with its versions. Raises NotFound."""
    _known(destination, material)
    shipped = tools_for(material_called(material))
    now = shop_tools(destination, material)
    out = []
    for role in CUT_ORDER:
        item = _item(destination, material, role)
        rows = models.ShelfVersion.objects.filter(item=item.id).select_related("who") if item else ()
        versions = [_version(role, row) for row in rows][::-1]
        tool = ToolShown.of(now.get(role, shipped[role]))
        right = next((v for v in versions if v.seen == CutOutcome.RIGHT and v.tool == tool), None)
        out.append(ShopToolShown(role, tool, right.who if right else "", right.when if right else None, versions))
    return out


def _version(role: LineRole, row: models.ShelfVersion) -> ShopToolVersion:
    data = {key: value for key, value in row.data.items() if key not in NAMING}
    who = row.who.get_username() if row.who else ""
    return ShopToolVersion(
        row.number, ToolShown.of(Tool.kept(role, data)), who, row.when, str(row.about.get("seen", "")), row.note,
        bool(row.about.get("confirmed", True)),
    )


def facts_for(destination: models.ShelfItem, material: models.ShelfItem) -> ShopFacts:
    """What the shop knows beside a job's work: who tested the settings and when, and where the material is kept."""
    tested = {
        one.role: Tested(one.tested_by, f"{one.tested.day} {one.tested:%B %Y}")
        for one in shop_tools_shown(destination.id, material.id) if one.tested is not None
    }
    return ShopFacts(tested, str(material.data.get("kept_at", "")))


def version_of(destination: str, material: str, role: LineRole) -> int:
    """The number of the newest version of a setting; 0 where it is as shipped."""
    item = _item(destination, material, role)
    return known_shelf().numbers[item.id] if item else 0


def keep_tool(
    destination: str, material: str, tool: Tool, who: int | None, note: str = "", seen: str = "",
    confirmed: bool = True,
) -> None:
    """Keep a setting as the newest version. Raises NotFound, and BadValue for a force that its cutter cannot give."""
    _known(destination, material)
    before = _item(destination, material, tool.role)
    words = tool.role.words
    title = f"{words[:1].upper()}{words[1:]} · {material_called(material).title} · "
    data = {
        **{key: value for key, value in plain_fields(tool).items() if key not in ("role", "passed")},
        "destination": destination, "material": material, "role": tool.role.value,
        "holder": before.data["holder"] if before else None, "passed": seen == CutOutcome.RIGHT,
    }
    keep_item(
        Kind.TOOL, before.id if before else None,
        before.title if before else f"{title}{destination_called(destination).title}"[:200], data, who, note,
        about={"seen": seen, "confirmed": confirmed},
    )


def keep_seen(
    destination: str, material: str, role: LineRole, version: int, seen: CutOutcome, who: int | None, may_confirm: bool,
) -> Tool:
    """Correct a setting by what a test cut of its ``version`` has shown, and keep it; gives what it is now.

    Where who says so may not change the Shelf, the force stays near to what was last confirmed. Raises NotFound,
    BadValue, ChangedMeanwhile where it is another version by now, NotPermitted where it would go too far.
    """
    _known(destination, material)
    with transaction.atomic():
        now = version_of(destination, material, role)
        if now != version:
            raise ChangedMeanwhile(
                f"The {role.words}’s setting is version {now} by now, and version {version} was cut.",
                "Cut the figure again, with the setting as it is.",
            )
        tool = {**tools_for(material_called(material)), **shop_tools(destination, material)}[role]
        if tool.force_gf is not None:
            tool = replace(tool, force_gf=tool.force_gf + CORRECTS[seen])
            if not may_confirm:
                _near(destination, material, tool)
        keep_tool(destination, material, tool, who, seen=seen.value, confirmed=may_confirm)
    return tool


def _near(destination: str, material: str, tool: Tool) -> None:
    """Raise NotPermitted where a force is far from the last that somebody with the right to has confirmed."""
    item = _item(destination, material, tool.role)
    rows = models.ShelfVersion.objects.filter(item=item.id).order_by("-number") if item else ()
    last = next((row for row in rows if row.about.get("confirmed", True)), None)
    kept = {key: value for key, value in last.data.items() if key not in NAMING} if last else None
    sure = Tool.kept(tool.role, kept) if kept else tools_for(material_called(material))[tool.role]
    if sure.force_gf is None or tool.force_gf is None or abs(tool.force_gf - sure.force_gf) <= MOST_GF:
        return
    raise NotPermitted(
        f"Test cuts would take the {tool.role.words} to {tool.force_gf:g} gf, and {sure.force_gf:g} gf was confirmed.",
        "Look at blade and material; somebody who may change the Shelf can set or confirm it there.",
    )
