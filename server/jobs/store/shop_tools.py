"""The tool settings of the shop, by destination, material and role: versions, and what a test cut makes of them."""

from dataclasses import asdict, dataclass, replace
from datetime import datetime

from django.db import transaction
from django.db.models import Max

from horismos.cutting import Tool
from horismos.cutting.depth import CutOutcome, tools_for
from horismos.errors import ChangedMeanwhile, NotPermitted
from horismos.roles import CUT_ORDER, LineRole
from horismos.workflow.showing.sheet import ToolShown
from jobs import models
from jobs.store.reading import memo
from jobs.store.shelf import destination_called, material_called

__all__ = [
    "ShopToolShown", "jobs_with", "keep_seen", "keep_tool", "shop_key", "shop_tools", "shop_tools_shown",
    "version_of",
]

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
    return dict(memo(("shop tools", destination, material), lambda: _shop_tools(destination, material)))


def _shop_tools(destination: str, material: str) -> dict[LineRole, Tool]:
    rows = models.ShopTool.objects.filter(destination_id=destination, material_id=material).order_by("number")
    return {
        LineRole(row.role): replace(Tool.kept(LineRole(row.role), row.data), passed=row.seen == CutOutcome.RIGHT)
        for row in rows
    }


def shop_key(destination: str, material: str) -> list[object]:
    """What depends on the shop's settings depends on these."""
    return [asdict(tool) for _, tool in sorted(shop_tools(destination, material).items())]


def _known(destination: str, material: str) -> None:
    destination_called(destination)
    material_called(material)


def shop_tools_shown(destination: str, material: str) -> list[ShopToolShown]:
    """The setting of every role, with its versions. Raises NotFound."""
    _known(destination, material)
    rows = models.ShopTool.objects.filter(destination_id=destination, material_id=material).select_related("who")
    shipped = tools_for(material_called(material))
    out = []
    for role in CUT_ORDER:
        versions = [_version(row) for row in rows if row.role == role.value][::-1]
        tool = versions[0].tool if versions else ToolShown.of(shipped[role])
        right = next((v for v in versions if v.seen == CutOutcome.RIGHT and v.tool == tool), None)
        out.append(ShopToolShown(role, tool, right.who if right else "", right.when if right else None, versions))
    return out


def _version(row: models.ShopTool) -> ShopToolVersion:
    tool = Tool.kept(LineRole(row.role), row.data)
    who = row.who.get_username() if row.who else ""
    return ShopToolVersion(row.number, ToolShown.of(tool), who, row.when, row.seen, row.note, row.confirmed)


def version_of(destination: str, material: str, role: LineRole) -> int:
    """The number of the newest version of a setting; 0 where it is as shipped."""
    of = models.ShopTool.objects.filter(destination_id=destination, material_id=material, role=role.value)
    return of.aggregate(last=Max("number"))["last"] or 0


def keep_tool(
    destination: str, material: str, tool: Tool, who: int | None, note: str = "", seen: str = "",
    confirmed: bool = True,
) -> None:
    """Keep a setting as the newest version. Raises NotFound."""
    _known(destination, material)
    of = models.ShopTool.objects.filter(destination_id=destination, material_id=material, role=tool.role.value)
    with transaction.atomic():
        last = of.order_by("-number").first()
        models.ShopTool.objects.create(
            destination_id=destination, material_id=material, role=tool.role.value, seen=seen, who_id=who, note=note,
            confirmed=confirmed, number=last.number + 1 if last else 1,
            data={key: value for key, value in asdict(tool).items() if key not in ("role", "passed")},
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
    of = models.ShopTool.objects.filter(destination_id=destination, material_id=material, role=tool.role.value)
    last = of.filter(confirmed=True).order_by("number").last()
    sure = Tool.kept(tool.role, last.data) if last else tools_for(material_called(material))[tool.role]
    if sure.force_gf is None or tool.force_gf is None or abs(tool.force_gf - sure.force_gf) <= MOST_GF:
        return
    raise NotPermitted(
        f"Test cuts would take the {tool.role.words} to {tool.force_gf:g} gf, and {sure.force_gf:g} gf was confirmed.",
        "Look at blade and material; somebody who may change the Shelf can set or confirm it there.",
    )


def jobs_with(destination: str, material: str) -> list[models.Job]:
    """The jobs that are not released and are cut with these settings."""
    found = models.Job.objects.filter(destination_id=destination, material_id=material, releases=None)
    return list(found.filter(revision__isnull=False))
