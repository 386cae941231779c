"""A draft of a thing of the Shelf, tried on a job."""

from dataclasses import replace
from typing import Any

from jobs import models
from jobs.store.kept import standing_of
from jobs.store.layouts import layout_begun
from jobs.store.shelf import trying
from jobs.store.snapshots import JobSnapshot
from jobs.store.stacks import with_fabrics

from horismos.errors import NotReady
from horismos.orders import Order
from horismos.sheet import Layout
from horismos.shelf import Kind, ShelfItem, kind_of
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["try_shelf"]


@carries_out(models.WorkKind.TRY_SHELF)
def try_shelf(task: Task) -> Result:
    """Say what would change in a job if a draft lay on the Shelf, and the job went by it."""
    asked, job = task.arguments, task.job()
    id = str(asked["id"] or "draft")
    item = kind_of(str(asked["kind"])).item(id, asked["title"], asked["data"])
    if item.kind is Kind.FABRIC:
        return _in_stack(task, job, item)
    if job.analysis is None or not job.analysis.report:
        raise NotReady("The job has not been checked yet.", "Wait for the check.")
    found: StepResult = task.run_step(
        "job:try_otherwise", job.pool_key, job.case, _otherwise(job, item), dict(job.analysis.report),
    )
    return found


def _in_stack(task: Task, job: JobSnapshot, item: ShelfItem) -> StepResult:
    """What a draft of a fabric changes in the stack of a job. Raises NotReady where no layer is of it."""
    stack = job.row.stack
    if not any(str(layer.get("fabric")).strip().lower() == item.id for layer in stack.get("layers", ())):
        raise NotReady(
            f"The job has no layer of “{item.title}” in a stack.", "Choose a job that has, or keep the fabric first."
        )
    now = with_fabrics(stack)
    with trying(item):
        then = with_fabrics(stack)
    found: StepResult = task.run_step("stack:tried", job.pool_key, job.case, now, then)
    return found


def _otherwise(job: JobSnapshot, item: ShelfItem) -> Any:
    """The case of a job that goes by a draft: a destination or material that it has not is taken for its own."""
    row = models.Job.objects.select_related("destination", "material").get(pk=job.row.pk)
    old = layout_begun(row.destination_id)
    own = {key: value for key, value in row.layout.items() if key not in old or old[key] != value}
    order = job.order
    if item.kind is Kind.CUSTOMER:
        order = Order.from_json({**order.to_json(), **item.data["order"]})
        row.destination_id = item.data["destination"] or row.destination_id
        row.material_id = order.material or row.material_id
    if item.kind is Kind.DESTINATION:
        row.destination = models.ShelfItem(pk=item.id)
    if item.kind is Kind.MATERIAL:
        row.material = models.ShelfItem(pk=item.id)
    with trying(item):
        standing = standing_of(row)
        layout = layout_begun(str(row.destination_id), own)
    changed = replace(
        job, destination=standing.destination, material=standing.material, shop_tools=standing.tools,
        check_sheet=standing.check_sheet, order=order,
    )
    return replace(changed.case, layout=Layout.from_json(layout))
