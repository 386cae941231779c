"""Check sheets in the database: which of them a job goes by, their versions, what a change would do."""

from collections.abc import Mapping
from typing import Any

from django.db import transaction

from horismos.checking import CheckSheet, Finding, Report, Terms, all_limits, check_whole, merged, registered
from horismos.checking.check import TOPICS
from horismos.checking.sheet import SCOPES
from horismos.destinations import SHIPPED
from horismos.errors import NotFound, NotReady
from horismos.reporting.words import WORDS
from horismos.sheet import MATERIALS
from jobs import models, state

__all__ = ["effect", "known_checks", "parsed", "save_version", "sheet_of", "sheets_shown", "title_of"]


def _subjects(job: models.Job) -> list[tuple[str, str]]:
    found = [("shop", ""), ("destination", job.destination_id), ("material", job.material_id)]
    return [*found, ("customer", job.customer)] if job.customer else found


def title_of(scope: str, subject: str) -> str:
    """What a sheet is called. Raises NotFound where there is no such thing."""
    if scope == "shop" and not subject:
        return "Shop"
    if scope == "destination" and subject in SHIPPED:
        return SHIPPED[subject].title
    if scope == "material" and subject in MATERIALS:
        return MATERIALS[subject].title
    if scope == "customer" and subject and models.Job.objects.filter(customer=subject).exists():
        return subject
    raise NotFound(f"There is no {scope} “{subject}” to keep a check sheet for.")


def _last(scope: str, subject: str) -> models.SheetVersion | None:
    found = models.SheetVersion.objects.filter(sheet__scope=scope, sheet__subject=subject)
    return found.select_related("sheet").order_by("-number").first()


def _value(scope: str, subject: str, data: Mapping[str, Any], version: str) -> CheckSheet:
    read = CheckSheet.from_json(data)
    return CheckSheet(title_of(scope, subject), read.limits, read.severities, version)


def sheet_of(job: models.Job, instead: tuple[str, str, CheckSheet] | None = None) -> CheckSheet:
    """The sheets that apply to a job, laid over each other; one of them may be replaced by a draft."""
    sheets = []
    for scope, subject in _subjects(job):
        if instead is not None and instead[:2] == (scope, subject):
            sheets.append(instead[2])
            continue
        version = _last(scope, subject)
        if version is not None:
            sheets.append(_value(scope, subject, version.data, f"version {version.number}"))
    return merged(sheets)


def known_checks() -> list[dict[str, Any]]:
    """Every check with its shipped severity, its limits and what it is called."""
    limits = all_limits()
    return [
        {
            "id": rule.id, "title": WORDS[rule.id].title, "severity": rule.severity.value,
            "limits": [
                {"key": key, "value": value, "unit": unit, "name": key.partition(":")[2]}
                for key, (value, unit) in limits.items() if key.partition(":")[0] == rule.id
            ],
        }
        for rule in sorted(registered().values(), key=lambda rule: (TOPICS.index(rule.id.partition(".")[0]), rule.id))
    ]


def parsed(scope: str, subject: str, data: object) -> CheckSheet:
    """A draft as a value, without what is no more than the shipped. Raises HorismosError naming what is wrong."""
    read = CheckSheet.from_json(data, all_limits())
    return CheckSheet(title_of(scope, subject), read.limits, read.severities, "draft")


def save_version(scope: str, subject: str, sheet: CheckSheet, who: int | None, note: str) -> models.SheetVersion:
    """Keep a new version of a sheet."""
    with transaction.atomic():
        kept, _ = models.CheckSheet.objects.get_or_create(scope=scope, subject=subject)
        last = kept.versions.order_by("-number").first()
        return models.SheetVersion.objects.create(
            sheet=kept, number=last.number + 1 if last else 1, data=sheet.to_json(), who_id=who, note=note[:200]
        )


def sheets_shown() -> list[dict[str, Any]]:
    """Every sheet that there is or could be, with its versions, the newest first."""
    customers = models.Job.objects.exclude(customer="").values_list("customer", flat=True).distinct()
    things = [("shop", ""), *(("destination", d) for d in SHIPPED), *(("material", m) for m in MATERIALS),
              *(("customer", c) for c in sorted(set(customers)))]
    kept = {(s.scope, s.subject): s for s in models.CheckSheet.objects.prefetch_related("versions__who")}
    return [
        {
            "scope": scope, "subject": subject, "title": title_of(scope, subject),
            "versions": [_version(v) for v in reversed(list(kept[scope, subject].versions.all()))]
            if (scope, subject) in kept else [],
        }
        for scope, subject in sorted(things, key=lambda t: SCOPES.index(t[0]))
    ]


def _version(version: models.SheetVersion) -> dict[str, Any]:
    return {
        "number": version.number, "who": version.who.get_username() if version.who else "someone",
        "when": version.when, "note": version.note, "limits": version.data.get("limits", {}),
        "severities": version.data.get("severities", {}),
    }


def effect(job: models.Job, sheet: CheckSheet, tell: Any) -> dict[str, Any]:
    """What another sheet would change in a job's findings; only the checks that it touches are run."""
    analysis = job.analysis
    if not analysis.report:
        raise NotReady("The job has not been checked yet.")
    before = Report.from_json(analysis.report)
    terms = Terms(state.order_of(job), state.destination_of(job), sheet, MATERIALS[job.material_id])
    after = check_whole(state.artwork_of(job), terms, tell, before, frozenset()).report
    told = {_plain(f) for f in before.findings}
    tells = {_plain(f) for f in after.findings}
    return {
        "verdict": [before.verdict, after.verdict],
        "goes": [_said(f) for f in before.findings if _plain(f) not in tells],
        "comes": [_said(f) for f in after.findings if _plain(f) not in told],
        "ran": list(after.ran),
    }


def _plain(finding: Finding) -> tuple[str, str, str]:
    return finding.key, finding.severity.value, finding.id


def _said(finding: Finding) -> dict[str, Any]:
    return {"id": finding.id, "severity": finding.severity.value, "message": finding.message}
