"""The children that handle customers' files for this process, and the steps that they carry out."""

import atexit
import os
from collections.abc import Callable
from typing import Any

from django.conf import settings

from horismos.sandbox.pool import Call, Fault, Pool
from horismos.workflow.steps import BESIDE, STEPS
from jobs.store.files import fetch

__all__ = ["DRAWING_S", "LOOKING_S", "POOL", "Fault", "run_step"]

POOL = Pool(
    [*STEPS, *BESIDE], most=max(2, min(6, os.cpu_count() or 2)), scratch=settings.SCRATCH if settings.JAIL else None,
)
atexit.register(POOL.close)
Tell = Callable[..., None]

LOOKING_S = 240.0
DRAWING_S = 30.0
"""[ours] what one step may take: reading and checking a page, and drawing a part of one."""


def run_step(
    step: str, *arguments: Any, key: str, seconds: float = DRAWING_S, tell: Tell = lambda share, what, *so_far: None,
    cancelled: Callable[[], bool] = lambda: False, what: str = "Drawing the page", kept: bool = False,
) -> Any:
    """What a step (``job:look``) gives for a file; ``key`` is the same for all steps on one customer's file.

    Steps with a key whose child is ``kept`` follow each other in it, and find what it has found already.

    Raises what the step raises, LimitExceeded where it takes too long, Cancelled, or Fault.
    """
    fetch(arguments)
    call = Call(
        f"horismos.workflow.steps.{step}", arguments, key, seconds, kept,
        (f"{what} took longer than {seconds:.0f} s, and was stopped.", "Ask for a simpler file."),
    )
    return POOL.run(call, tell, cancelled)
