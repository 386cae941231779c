"""What is kept of a file as it came: its faults, and what it needed from a person when all else was done."""

from collections.abc import Mapping
from typing import Any

from horismos.checking import Severity
from jobs import models

__all__ = ["note_faults", "note_first_state"]

FAULTS = (Severity.STOP, Severity.LOOK)
OWN = ("file.proof",)
"""What a check asks of the shop, and no file can be at fault for."""


def note_faults(job: models.Job, report: Mapping[str, Any] | None) -> None:
    """Keep what the first check of a customer's file found, in the caller's transaction; another file adds to it."""
    if report is None or job.again_of_id is not None:
        return
    found = {(f["id"], f["severity"]) for f in report["findings"] if f["severity"] in FAULTS and f["id"] not in OWN}
    models.Fault.objects.bulk_create(
        [models.Fault(job=job, check_id=id, severity=severity) for id, severity in sorted(found)],
        ignore_conflicts=True,
    )


def note_first_state(job_id: int) -> None:
    """Keep what a job needs from a person once it has come in, in the caller's transaction; the first time only."""
    jobs = models.Job.objects.filter(pk=job_id, first_state="").exclude(state=models.JobState.COMING)
    state = jobs.values_list("state", flat=True).first()
    if state is not None:
        jobs.update(first_state=state)
