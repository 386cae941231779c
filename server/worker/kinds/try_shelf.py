"""A draft of a thing of the Shelf, tried on a job."""

from dataclasses import replace
from typing import Any

from jobs import models
from jobs.store.kept import standing_of
from jobs.store.layouts import layout_begun
from jobs.store.shelf import trying
from jobs.store.snapshots import JobSnapshot

from horismos.errors import NotReady
from horismos.sheet import Layout
from horismos.shelf import Kind, ShelfItem, kind_of
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["try_shelf"]


@carries_out(models.WorkKind.TRY_SHELF)
def try_shelf(task: Task) -> Result:
    """Say what would change in a job if a draft lay on the Shelf, and the job went by it."""
    asked, job = task.arguments, task.job()
    if job.analysis is None or not job.analysis.report:
        raise NotReady("The job has not been checked yet.", "Wait for the check.")
    id = str(asked["id"] or "draft")
    item = kind_of(str(asked["kind"])).item(id, asked["title"], asked["data"])
    found: StepResult = task.run_step(
        "job:try_otherwise", job.pool_key, job.case, _otherwise(job, item), dict(job.analysis.report),
    )
    return found


def _otherwise(job: JobSnapshot, item: ShelfItem) -> Any:
    """The case of a job that goes by a draft: a destination or material that it has not is taken for its own."""
    row = models.Job.objects.select_related("destination", "material").get(pk=job.row.pk)
    old = layout_begun(row.destination_id)
    own = {key: value for key, value in row.layout.items() if key not in old or old[key] != value}
    if item.kind is Kind.DESTINATION:
        row.destination = models.ShelfItem(pk=item.id)
    if item.kind is Kind.MATERIAL:
        row.material = models.ShelfItem(pk=item.id)
    with trying(item):
        standing = standing_of(row)
        layout = layout_begun(str(row.destination_id), own)
    changed = replace(
        job, destination=standing.destination, material=standing.material, shop_tools=standing.tools,
        check_sheet=standing.check_sheet,
    )
    return replace(changed.case, layout=Layout.from_json(layout))
