"""The files of a job's stack of fabric."""

from jobs import models
from jobs.store.files import keep, size_of
from jobs.store.stacks import stack_key, with_fabrics

from horismos.errors import NotReady
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["stack"]


@carries_out(models.WorkKind.STACK)
def stack(task: Task) -> Result:
    """Write the files of a job's stack of fabric."""
    job = task.job()
    key = stack_key(job.row)
    if key != task.arguments["key"]:
        raise NotReady("The stack was changed after its files were asked for.", "Look at it and write it again.")
    found: StepResult = task.run_step(
        "stack:written", job.pool_key, job.case, with_fabrics(job.row.stack), what="Writing the stack"
    )
    files = [{**{k: v for k, v in one.items() if k != "data"}, "sha256": keep(one["data"])} for one in found["files"]]
    files = [{**one, "bytes": size_of(one["sha256"])} for one in files]
    facts = {k: v for k, v in found.items() if k != "files"}
    with task.commit() as now:
        if stack_key(now.row) != key:
            raise NotReady("The stack was changed while it was written.", "Look at it and write it again.")
        models.StackPackage.objects.get_or_create(
            job=now.row, key=key,
            defaults={"revision": job.revision, "stack": job.row.stack, "files": files, "facts": facts},
        )
    return None
