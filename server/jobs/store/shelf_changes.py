"""What changes the Shelf: things made, changed, retired, brought in, each as a version; what is in use stays."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any

from django.db import transaction
from django.db.models import Max, QuerySet

from horismos.errors import BadValue, ChangedMeanwhile, NotFound, NothingToDo, NotReady
from horismos.shelf import Kind, ShelfItem, id_for, kind_of
from horismos.shelf.differences import differences
from jobs import models
from jobs.store.log import log_shelf
from jobs.store.queue import begin
from jobs.store.shelf import item_of, known_shelf, shop_row

__all__ = ["Used", "keep_item", "put_items", "remove_item", "retire_item", "row_called", "used_in", "usual_first"]

MOST_TOLD = 3
MOST_LISTED = 50


@dataclass(frozen=True)
class Used:
    """Where a thing is in use: by other things, by jobs (by number and name, at most so many), and how many there are.
    """

    items: tuple[ShelfItem, ...]
    jobs: tuple[tuple[int, str], ...]
    job_count: int
    released: int


def row_called(id: str) -> models.ShelfItem:
    """The row of a thing. Raises NotFound."""
    row = models.ShelfItem.objects.filter(pk=id).first()
    if row is None:
        raise NotFound(f"There is nothing called “{id}” on the Shelf.", "It may have been removed.")
    return row


def keep_item(
    kind: Kind, id: str | None, title: object, data: object, who: int | None, note: str = "", seen: int | None = None,
    about: Mapping[str, Any] | None = None,
) -> models.ShelfItem:
    """Make a thing (``id`` None), or keep its next version; ``seen`` is the version that the person has seen.

    Raises BadValue, NotFound, ChangedMeanwhile, NothingToDo where nothing of it is another now.
    """
    with transaction.atomic():
        known = known_shelf()
        if id is None:
            item = kind_of(kind).item(id_for(str(title), known.shelf), title, data)
            kind_of(kind).check(item, known.shelf)
            return _made(item, who, note, about or {})
        row = row_called(id)
        _unchanged(row, seen)
        before = item_of(row)
        after = kind_of(kind).item(id, title, data, row.retired)
        if before.kind is not kind:
            raise BadValue(f"“{row.title}” is a {kind_of(before.kind).one}.", "Look at it again.")
        return _changed(before, after, row, who, note, about)


def _unchanged(row: models.ShelfItem, seen: int | None) -> None:
    """Raise ChangedMeanwhile where a thing is not of the version that a person has seen."""
    if seen is not None and row.number != seen:
        last = row.versions.select_related("who").order_by("-number").first()
        who = last.who.get_username() if last and last.who else "somebody else"
        raise ChangedMeanwhile(
            f"“{row.title}” was changed by {who} after you had looked.", "Look at it as it is now, then change it.",
        )


def _made(item: ShelfItem, who: int | None, note: str, about: Mapping[str, Any]) -> models.ShelfItem:
    row = models.ShelfItem.objects.create(
        id=item.id, kind=item.kind.value, title=item.title, data=dict(item.data), retired=item.retired,
        position=_behind(item.kind),
    )
    _version(row, who, note, about)
    log_shelf(row, who, f"Made the {kind_of(item.kind).one}{f': {note}' if note else ''}")
    _again([item.id])
    return row


def _behind(kind: Kind) -> int:
    """The place behind all others of a kind."""
    last: int | None = models.ShelfItem.objects.filter(kind=kind.value).aggregate(last=Max("position"))["last"]
    return 0 if last is None else last + 1


def _changed(
    before: ShelfItem, after: ShelfItem, row: models.ShelfItem, who: int | None, note: str,
    about: Mapping[str, Any] | None,
) -> models.ShelfItem:
    found = differences(before, after)
    if not found and about is None:
        raise NothingToDo(f"“{before.title}” is so already.")
    shelf = known_shelf().shelf.with_item(after)
    kind_of(after.kind).check(after, shelf)
    for other in shelf.referring(after.id):  # what is made of it has to go on being something
        kind_of(other.kind).value(other, shelf)
    row.title, row.data, row.retired, row.number = after.title, dict(after.data), after.retired, row.number + 1
    row.save()
    _version(row, who, note, about or {})
    told = [f"{one.where} {one.before or 'nothing'} → {one.after or 'nothing'}".strip() for one in found[:MOST_TOLD]]
    more = f" and {len(found) - MOST_TOLD} more" if len(found) > MOST_TOLD else ""
    log_shelf(row, who, f"{', '.join(told)}{more}{f': {note}' if note else ''}" if told else note or "Kept as it is")
    _again([row.pk])
    return row


def _version(row: models.ShelfItem, who: int | None, note: str, about: Mapping[str, Any]) -> None:
    row.versions.create(
        number=row.number, title=row.title, data=row.data, retired=row.retired, about=dict(about), who_id=who,
        note=note[:200],
    )
    shop_row().touch()


def retire_item(id: str, retired: bool, who: int | None, note: str, seen: int | None) -> models.ShelfItem:
    """Offer a thing no more, or again; what is made of it stays. Raises NotReady where it is the last that is needed.
    """
    with transaction.atomic():
        row = row_called(id)
        _unchanged(row, seen)
        before = item_of(row)
        if retired and before.kind in NEEDED and len(known_shelf().offered(before.kind)) == 1:
            raise NotReady(f"“{row.title}” is the last {kind_of(before.kind).one}.", "Make another one first.")
        return _changed(before, replace(before, retired=retired), row, who, note, None)


NEEDED = (Kind.DESTINATION, Kind.MATERIAL)
"""Without one of these no job can begin."""


def remove_item(id: str, who: int | None) -> None:
    """Take away a thing that was never in use. Raises NotReady, saying where it is."""
    with transaction.atomic():
        row = row_called(id)
        used = used_in(row)
        if used.items or used.job_count or used.released:
            by = [f"“{item.title}”" for item in used.items[:MOST_TOLD]]
            by += [f"{used.job_count} jobs"] if used.job_count else []
            raise NotReady(f"“{row.title}” is in use: {', '.join(by) or 'it was released with'}.", "Retire it instead.")
        if row.kind in NEEDED and len(known_shelf().offered(Kind(row.kind))) == 1 and not row.retired:
            raise NotReady(f"“{row.title}” is the last {kind_of(row.kind).one}.", "Make another one first.")
        log_shelf(row, who, f"Removed the {kind_of(row.kind).one}")
        row.delete()
        shop_row().touch()


def usual_first(id: str, who: int | None) -> models.ShelfItem:
    """Let a thing be the usual one of its kind: the first that is offered."""
    with transaction.atomic():
        row = row_called(id)
        rest = models.ShelfItem.objects.filter(kind=row.kind).exclude(pk=row.pk)
        for place, other in enumerate(rest, 1):
            models.ShelfItem.objects.filter(pk=other.pk).update(position=place)
        row.position = 0
        row.save(update_fields=["position"])
        log_shelf(row, who, f"Is the usual {kind_of(row.kind).one} now")
        shop_row().touch()
    return row


def put_items(items: Iterable[ShelfItem], who: int | None, note: str) -> int:
    """Put things on the Shelf that were checked together, each as a thing or its next version; gives how many."""
    put = list(items)
    with transaction.atomic():
        for item in put:
            row = models.ShelfItem.objects.filter(pk=item.id).first()
            if row is None:
                row = models.ShelfItem(pk=item.id, kind=item.kind.value, position=_behind(item.kind))
            else:
                row.number += 1
            row.title, row.data, row.retired = item.title, dict(item.data), item.retired
            row.save()
            _version(row, who, note, {})
            log_shelf(row, who, note)
        _again([item.id for item in put])
    return len(put)


# -- in use --------------------------------------------------------------------------------------------------------


def used_in(row: models.ShelfItem) -> Used:
    """Where a thing is in use."""
    shelf = known_shelf().shelf
    jobs = _jobs_by([row.pk], deep=False)
    listed = tuple(jobs.order_by("-pk").values_list("pk", "name")[:MOST_LISTED])
    released = models.Job.objects.filter(kept__versions__has_key=row.pk).count()
    return Used(shelf.referring(row.pk), listed, jobs.count(), released)


def _jobs_by(ids: Iterable[str], deep: bool = True) -> QuerySet[models.Job]:
    """The jobs that go by these things: directly, or (``deep``) by what is made of them too."""
    shelf, wanted = known_shelf().shelf, set(ids)
    while deep:
        more = {other.id for id in wanted for other in shelf.referring(id)} - wanted
        if not more:
            break
        wanted |= more
    items = [shelf[id] for id in wanted if id in shelf]
    found = models.Job.objects.none()
    for item in items:
        found = found | _jobs_of(item)
    return found.distinct()


def _jobs_of(item: ShelfItem) -> QuerySet[models.Job]:
    """The jobs that say a thing by its id, or that it is for."""
    jobs, data = models.Job.objects, item.data
    match item.kind:
        case Kind.DESTINATION:
            return jobs.filter(destination=item.id)
        case Kind.MATERIAL:
            return jobs.filter(material=item.id)
        case Kind.TOOL:
            return jobs.filter(destination=data["destination"], material=data["material"])
        case Kind.CHECK_SHEET:
            by = {"destination": "destination", "material": "material", "customer": "customer"}
            return jobs.all() if data["scope"] == "shop" else jobs.filter(**{by[data["scope"]]: data[data["scope"]]})
        case Kind.CUSTOMER:
            return jobs.filter(customer__iexact=item.title)
        case Kind.FABRIC:
            return jobs.filter(pk__in=_with_layers("fabric", item.id))
        case Kind.THREAD:
            return jobs.filter(pk__in=_with_layers("thread", str(data["colour"])))
        case _:
            return jobs.none()


def _with_layers(key: str, said: str) -> list[int]:
    """The jobs with a stack that says something of a layer; few have a stack."""
    stacks = models.Job.objects.exclude(stack={}).values_list("pk", "stack")
    return [
        pk for pk, stack in stacks
        if any(str(layer.get(key)).strip().lower() == said.lower() for layer in stack.get("layers", ()))
    ]


DECIDES = frozenset([
    Kind.PRINTER, Kind.CUTTER, Kind.DESTINATION, Kind.MATERIAL, Kind.HOLDER, Kind.TOOL, Kind.CHECK_SHEET,
])
"""What a check or a plan depends on."""


def _again(ids: Iterable[str]) -> None:
    """Look at those jobs again that go by these things and are not released."""
    shelf = known_shelf().shelf
    wanted = [id for id in ids if id in shelf and shelf[id].kind in DECIDES]
    if not wanted:
        return
    open_ones = _jobs_by(wanted).filter(releases=None, kept={}, revision__isnull=False, analysis__isnull=False)
    for job in open_ones.order_by("pk"):
        begin(job, models.WorkKind.ANALYSE, behind=True)
