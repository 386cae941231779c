"""How a piece of work speaks with people, and asks children about files."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from jobs import models
from jobs.store.cases import pool_key
from jobs.store.children import LOOKING_S, run_step

__all__ = ["Result", "StepResult", "TaskContext"]

Result = dict[str, Any] | None
StepResult = dict[str, Any]


@dataclass(frozen=True)
class TaskContext:
    """How a piece of work speaks with people: it tells how far it is, and hears whether it is to stop."""

    tell: Callable[[float, str], None]
    cancelled: Callable[[], bool]

    def part(self, begin: float, end: float) -> "TaskContext":
        """The same for a part of the work, from one share of the whole to another."""
        return replace(self, tell=lambda share, what: self.tell(begin + share * (end - begin), what))

    def run_step(
        self, step: str, job: models.Job, *arguments: Any, what: str = "Looking at the file", apart: str = ""
    ) -> Any:
        """What a child finds in a job's files; ``apart`` names what another child is to find at the same time."""
        return self.run_step_of(f"job:{step}", job, *arguments, what=what, apart=apart)

    def run_step_of(
        self, step: str, job: models.Job, *arguments: Any, what: str = "Looking at the file", apart: str = ""
    ) -> Any:
        """The same of any step, with the part of the house that it is one of."""
        return run_step(
            step, *arguments, key=pool_key(job) + apart, seconds=LOOKING_S, tell=self.tell,
            cancelled=self.cancelled, what=what,
        )
