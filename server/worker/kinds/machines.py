"""The simulated machines at work on what was released: the RIP, and the camera of the cutter."""

from bench import hot_folder
from bench.loadings import before_of, print_of
from django.utils import timezone
from jobs import models
from jobs.store.files import content_of, keep
from jobs.store.snapshots import pool_key

from horismos.destinations import destination_of
from horismos.errors import NotFound
from worker.register import carries_out
from worker.task import Result, StepResult, Task

__all__ = ["rip", "scan"]


@carries_out(models.WorkKind.RIP)
def rip(task: Task) -> Result:
    """The simulated RIP takes a print PDF out of its hot folder."""
    made = models.Release.objects.select_related("job").get(pk=task.arguments["release"])
    kept = next((f for f in made.files if f["name"].endswith("-print.pdf")), None)
    if kept is None:
        raise NotFound("The hot folder holds no such file.", "Release the job again.")
    preset = str(task.arguments["preset"])
    found: StepResult = task.run_step(
        "job:rip", pool_key(made.job), content_of(kept["sha256"]), destination_of(made.ticket), made.ticket, preset,
        made.pk, what="The RIP",
    )
    made.plates = [{**{k: v for k, v in p.items() if k != "png"}, "sha256": keep(p["png"])} for p in found["plates"]]
    made.rip_refused = found["refused"]
    made.rip_state = models.RipState.REFUSED if found["refused"] else models.RipState.DONE
    if not found["refused"]:
        made.preset, made.longer, made.picture = preset, found["longer"], keep(found["picture"])
        made.printed = timezone.now()
    with task.commit():
        made.save(update_fields=[
            "plates", "rip_refused", "rip_state", "preset", "longer", "picture", "printed",
        ])
    hot_folder.clear(made)
    return {"time_s": found["time_s"]}


@carries_out(models.WorkKind.SCAN)
def scan(task: Task) -> Result:
    """The camera of the cutter looks for the marks of a sheet that was laid in, and reads its code."""
    loading = models.Loading.objects.select_related("release__job").get(pk=task.arguments["loading"])
    first = task.arguments.get("first")
    found: StepResult = task.run_step(
        "bench:scan", pool_key(loading.release.job), print_of(loading.release), before_of(loading),
        tuple(first) if first else None, what="The camera",
    )
    seen = [{**{k: v for k, v in one.items() if k != "png"}, "sha256": keep(one["png"])} for one in found["seen"]]
    with task.commit():
        models.Loading.objects.filter(pk=loading.pk).update(seen=seen, code=found["code"])
    return None
