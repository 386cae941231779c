"""Check sheets in the database: which of them a job goes by, their versions, what a change would do."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from horismos.checking import CheckSheet, all_limits, merged, registered
from horismos.checking.engine.check_sheet import SCOPES
from horismos.checking.engine.rules import TOPICS
from horismos.errors import NotFound
from horismos.reporting.words import WORDS
from horismos.shelf import Kind, ShelfItem
from jobs import models
from jobs.store.customers import customer_called
from jobs.store.shelf import known_shelf
from jobs.store.shelf_changes import keep_item

__all__ = [
    "CheckKnown", "CheckSheetShown", "LimitKnown", "VersionShown", "check_sheet_of", "known_checks", "latest",
    "parsed", "save_version", "sheets_for", "sheets_shown", "title_of",
]

SUBJECTS = {"destination": Kind.DESTINATION, "material": Kind.MATERIAL}
"""What lies on the Shelf and a sheet can be kept for."""


@dataclass(frozen=True)
class LimitKnown:
    """A limit of a check: its key in a sheet, its shipped value, and its name where a check has several."""

    key: str
    value: float
    unit: str
    name: str


@dataclass(frozen=True)
class CheckKnown:
    """A check with its shipped severity, its limits, what it is called, and what it looks for in a sentence."""

    id: str
    title: str
    severity: str
    limits: tuple[LimitKnown, ...]
    says: str


@dataclass(frozen=True)
class VersionShown:
    """A version of a check sheet: what differs from the shipped limits, who kept it and why."""

    number: int
    who: str
    when: datetime
    note: str
    limits: dict[str, float]
    severities: dict[str, str]


@dataclass(frozen=True)
class CheckSheetShown:
    """A check sheet that there is or could be, with its versions, the newest first."""

    scope: str
    subject: str
    title: str
    versions: tuple[VersionShown, ...]


def _subjects(job: models.Job) -> list[tuple[str, str]]:
    found = [("shop", ""), ("destination", job.destination_id), ("material", job.material_id)]
    return [*found, ("customer", job.customer)] if job.customer else found


def title_of(scope: str, subject: str) -> str:
    """What a sheet is called. Raises NotFound where there is no such thing."""
    if scope == "shop" and not subject:
        return "Shop"
    if scope in SUBJECTS and (item := known_shelf().shelf.get(subject)) and item.kind is SUBJECTS[scope]:
        return item.title
    if scope == "customer" and subject and (
        customer_called(subject) or models.Job.objects.filter(customer=subject).exists()
    ):
        return subject
    raise NotFound(f"There is no {scope} “{subject}” to keep a check sheet for.")


def latest(scope: str, subject: str) -> ShelfItem | None:
    """The sheet of a thing as it counts, or None."""
    return _by_subject().get((scope, subject))


def _by_subject() -> dict[tuple[str, str], ShelfItem]:
    """The sheets that count, by what they are for."""
    listed = known_shelf().offered(Kind.CHECK_SHEET)
    return {(one.data["scope"], one.data.get(one.data["scope"]) or ""): one for one in listed}


def sheets_for(job: models.Job) -> list[ShelfItem]:
    """The sheets that apply to a job, a later one before an earlier one."""
    known = _by_subject()
    return [known[one] for one in _subjects(job) if one in known]


def _value(scope: str, subject: str, data: Mapping[str, Any], version: str) -> CheckSheet:
    limits, severities = data["limits"], data["severities"]
    read = CheckSheet.from_json({"limits": limits, "severities": severities})
    return CheckSheet(title_of(scope, subject), read.limits, read.severities, version)


def check_sheet_of(job: models.Job, instead: tuple[str, str, CheckSheet] | None = None) -> CheckSheet:
    """The sheets that apply to a job, laid over each other; one of them may be replaced by a draft."""
    sheets, known, numbers = [], _by_subject(), known_shelf().numbers
    for scope, subject in _subjects(job):
        if instead is not None and instead[:2] == (scope, subject):
            sheets.append(instead[2])
        elif (item := known.get((scope, subject))) is not None:
            sheets.append(_value(scope, subject, item.data, f"version {numbers[item.id]}"))
    return merged(sheets)


def known_checks() -> list[CheckKnown]:
    """Every check, in the order in which findings come."""
    limits = all_limits()
    rules = sorted(registered().values(), key=lambda rule: (TOPICS.index(rule.id.partition(".")[0]), rule.id))
    return [
        CheckKnown(rule.id, WORDS[rule.id].title, rule.severity.value, tuple(
            LimitKnown(key, value, unit, key.partition(":")[2])
            for key, (value, unit) in limits.items() if key.partition(":")[0] == rule.id
        ), rule.says)
        for rule in rules
    ]


def parsed(scope: str, subject: str, data: object) -> CheckSheet:
    """A draft as a value. Raises BadValue naming what is wrong, NotFound where there is nothing to keep it for."""
    read = CheckSheet.from_json(data, all_limits())
    return CheckSheet(title_of(scope, subject), read.limits, read.severities, "draft")


def save_version(scope: str, subject: str, sheet: CheckSheet, who: int | None, note: str) -> models.ShelfItem:
    """Keep a new version of a sheet."""
    before = latest(scope, subject)
    said = sheet.to_json()
    data = {
        "scope": scope, **({scope: subject} if subject else {}), "limits": said["limits"],
        "severities": said["severities"],
    }
    title = before.title if before else f"Checks · {title_of(scope, subject)}"[:200]
    return keep_item(Kind.CHECK_SHEET, before.id if before else None, title, data, who, note, about={})


def sheets_shown() -> list[CheckSheetShown]:
    """Every sheet that there is or could be."""
    customers = models.Job.objects.exclude(customer="").values_list("customer", flat=True).distinct()
    kept = _by_subject()
    on_shelf = [(scope, one.id) for scope, kind in SUBJECTS.items() for one in known_shelf().offered(kind)]
    named = sorted({*customers, *(subject for scope, subject in kept if scope == "customer")})
    things = [("shop", ""), *on_shelf, *(("customer", name) for name in named)]
    versions: dict[str, list[models.ShelfVersion]] = {}
    for row in models.ShelfVersion.objects.filter(item__in=[one.id for one in kept.values()]).select_related("who"):
        versions.setdefault(row.item_id, []).append(row)
    return [
        CheckSheetShown(scope, subject, title_of(scope, subject), tuple(
            _version(row) for row in reversed(versions.get(kept[scope, subject].id, []))
        ) if (scope, subject) in kept else ())
        for scope, subject in sorted(things, key=lambda t: SCOPES.index(t[0]))
    ]


def _version(version: models.ShelfVersion) -> VersionShown:
    return VersionShown(
        version.number, version.who.get_username() if version.who else "someone", version.when, version.note,
        version.data.get("limits", {}), version.data.get("severities", {}),
    )
