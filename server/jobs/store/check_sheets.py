"""Check sheets in the database: which of them a job goes by, their versions, what a change would do."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.db import transaction
from django.db.models import Q

from horismos.checking import CheckSheet, all_limits, merged, registered
from horismos.checking.engine.check_sheet import SCOPES
from horismos.checking.engine.rules import TOPICS
from horismos.errors import NotFound
from horismos.reporting.words import WORDS
from jobs import models
from jobs.store.reading import memo

__all__ = [
    "CheckKnown", "CheckSheetShown", "LimitKnown", "VersionShown", "check_sheet_of", "known_checks", "latest",
    "parsed", "save_version", "sheets_shown", "title_of",
]

TITLED: dict[str, type[models.Destination] | type[models.Material]] = {
    "destination": models.Destination, "material": models.Material,
}
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
    if scope in TITLED and (title := _titles(scope).get(subject)):
        return title
    if scope == "customer" and subject and models.Job.objects.filter(customer=subject).exists():
        return subject
    raise NotFound(f"There is no {scope} “{subject}” to keep a check sheet for.")


def _titles(scope: str) -> dict[str, str]:
    """What lies on the Shelf of a sort, by its id, with its title."""
    return memo(("titles", scope), lambda: dict(TITLED[scope].objects.values_list("pk", "title")))


def latest(scope: str, subject: str) -> models.CheckSheetVersion | None:
    """The version of a sheet that counts, or None."""
    return _latest([(scope, subject)]).get((scope, subject))


def _latest(subjects: Sequence[tuple[str, str]]) -> dict[tuple[str, str], models.CheckSheetVersion]:
    """The versions that count of sheets, asked for at once."""
    wanted = Q()
    for scope, subject in subjects:
        wanted |= Q(sheet__scope=scope, sheet__subject=subject)
    found = models.CheckSheetVersion.objects.filter(wanted).select_related("sheet").order_by("number")
    return memo(
        ("check sheets", *subjects), lambda: {(one.sheet.scope, one.sheet.subject): one for one in found}
    )


def _value(scope: str, subject: str, data: Mapping[str, Any], version: str) -> CheckSheet:
    read = CheckSheet.from_json(data)
    return CheckSheet(title_of(scope, subject), read.limits, read.severities, version)


def check_sheet_of(job: models.Job, instead: tuple[str, str, CheckSheet] | None = None) -> CheckSheet:
    """The sheets that apply to a job, laid over each other; one of them may be replaced by a draft."""
    sheets, subjects = [], _subjects(job)
    versions = _latest(subjects)
    for scope, subject in subjects:
        if instead is not None and instead[:2] == (scope, subject):
            sheets.append(instead[2])
            continue
        version = versions.get((scope, subject))
        if version is not None:
            sheets.append(_value(scope, subject, version.data, f"version {version.number}"))
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


def save_version(
    scope: str, subject: str, sheet: CheckSheet, who: int | None, note: str
) -> models.CheckSheetVersion:
    """Keep a new version of a sheet."""
    with transaction.atomic():
        kept, _ = models.CheckSheet.objects.get_or_create(scope=scope, subject=subject)
        last = kept.versions.order_by("-number").first()
        return models.CheckSheetVersion.objects.create(
            sheet=kept, number=last.number + 1 if last else 1, data=sheet.to_json(), who_id=who, note=note[:200]
        )


def sheets_shown() -> list[CheckSheetShown]:
    """Every sheet that there is or could be."""
    customers = models.Job.objects.exclude(customer="").values_list("customer", flat=True).distinct()
    things = [("shop", ""), *((scope, one) for scope in TITLED for one in _titles(scope)),
              *(("customer", c) for c in sorted(set(customers)))]
    kept = {(s.scope, s.subject): s for s in models.CheckSheet.objects.prefetch_related("versions__who")}
    return [
        CheckSheetShown(scope, subject, title_of(scope, subject), tuple(
            _version(v) for v in reversed(list(kept[scope, subject].versions.all()))
        ) if (scope, subject) in kept else ())
        for scope, subject in sorted(things, key=lambda t: SCOPES.index(t[0]))
    ]


def _version(version: models.CheckSheetVersion) -> VersionShown:
    return VersionShown(
        version.number, version.who.get_username() if version.who else "someone", version.when, version.note,
        version.data.get("limits", {}), version.data.get("severities", {}),
    )
