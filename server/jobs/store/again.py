"""A job that is ordered again: begun from the old one, and what has changed in the shop since that was made."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, datetime

from horismos.errors import NotReady
from horismos.media import READ as READ_MEDIA
from horismos.orders import Order
from jobs import models
from jobs.store.kept import NewerShown, newer_than_kept
from jobs.store.log import log
from jobs.store.queue import begin

__all__ = ["AgainShown", "again_of", "begin_again"]


@dataclass(frozen=True, kw_only=True)
class AgainShown:
    """The job that this one is ordered again of, when that was released, and what is otherwise since then.

    ``released`` is None where it never was; then nothing is known of what it was made with. ``gone`` says in sentences
    what is no longer there.
    """

    job_id: int
    name: str
    quantity: int
    released: datetime | None
    newer: list[NewerShown]
    gone: list[str]


def again_of(job: models.Job) -> AgainShown | None:
    """What is shown on a job that was ordered again; None of any other."""
    old = job.again_of
    if old is None:
        return None
    made = models.Release.objects.filter(job=old).order_by("-pk").first()
    return AgainShown(
        job_id=old.pk, name=old.name, quantity=Order.from_json(old.order.data).quantity,
        released=made.created if made else None, newer=newer_than_kept(old), gone=_gone(job),
    )


def _gone(job: models.Job) -> list[str]:
    """What of the job's material and media is not on the Shelf any more."""
    out = []
    if job.material.retired:
        out.append(f"{job.material.title} is off the Shelf: choose another material.")
    if job.destination.retired:
        out.append(f"{job.destination.title} is off the Shelf: choose where it goes now.")
    said: Mapping[str, object] | None = job.layout.get("media")
    if said:
        media = READ_MEDIA("The media of the layout", said)
        there = job.material.media.filter(title=media.title, width_mm=media.width_mm)
        if not there.exists():
            out.append(f"“{media.title}” is used up: say what is loaded now.")
        elif media.length_mm and not there.filter(length_mm__gte=media.length_mm).exists():
            left = max((one.length_mm or 0 for one in there), default=0)
            then = media.length_mm / 1000
            out.append(f"Of “{media.title}” {left / 1000:.2f} m are left; {then:.2f} m were there then.")
    return out


def begin_again(old: models.Job, quantity: int, due: date | None, who: int | None) -> models.Job:
    """A new job with the artwork, lines, tools, layout, decisions and stack of another, in the caller's transaction.

    Raises NotReady where that has no artwork yet.
    """
    if old.revision is None:
        raise NotReady("The job has no artwork yet.", "Answer what its file leaves open first.")
    order = Order.from_json({**old.order.data, "quantity": quantity})
    layout = dict(old.layout)
    if order.quantity != Order.from_json(old.order.data).quantity:
        layout = {key: value for key, value in layout.items() if key not in ("placed", "placed_of", "rows_mm")}
    kept = ("kind", "pages", "notes", "choices", "answers", "unlocked", "order_kept", "named")
    job = models.Job.objects.create(
        original=old.original, original_name=old.original_name, again_of=old, name=old.name, customer=old.customer,
        intake={key: value for key, value in old.intake.items() if key in kept}, due=due, page=old.page,
        destination=old.destination, material=old.material, layout=layout, stack=old.stack,
    )
    models.Order.objects.create(job=job, data=order.to_json())
    for tool in old.tools.all():
        models.ToolSetting.objects.create(job=job, role=tool.role, data=tool.data)
    job.revision = models.Revision.objects.create(
        job=job, number=1, parent=None, sha256=old.revision.sha256, file_name=old.revision.file_name,
        said=f"As “{old.name}”, revision {old.revision.number}, was: ordered again.",
    )
    job.save(update_fields=["revision"])
    for decision in old.decisions.all():
        models.Decision.objects.create(
            job=job, key=decision.key, check_id=decision.check_id, subject=decision.subject,
            severity=decision.severity, message=decision.message, who=decision.who, reason=decision.reason,
        )
    log(job, who, f"Ordered again, {quantity} copies, as job {old.pk} was")
    begin(job, models.WorkKind.ANALYSE)
    return job
