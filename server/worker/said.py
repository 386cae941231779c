"""How a piece of work speaks with people, and asks children about files."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

from jobs import models
from jobs.store.apart import LOOKING_S, ask
from jobs.store.cases import pool_key

__all__ = ["Found", "Result", "Said"]

Result = dict[str, Any] | None
Found = dict[str, Any]


@dataclass(frozen=True)
class Said:
    """How a piece of work speaks with people: it tells how far it is, and hears whether it is to stop."""

    tell: Callable[[float, str], None]
    cancelled: Callable[[], bool]

    def part(self, begin: float, end: float) -> "Said":
        """The same for a part of the work, from one share of the whole to another."""
        return replace(self, tell=lambda share, what: self.tell(begin + share * (end - begin), what))

    def ask(
        self, step: str, job: models.Job, *arguments: Any, what: str = "Looking at the file", apart: str = ""
    ) -> Any:
        """What a child finds in a job's files; ``apart`` names what another child is to find at the same time."""
        return self.ask_of(f"way:{step}", job, *arguments, what=what, apart=apart)

    def ask_of(
        self, step: str, job: models.Job, *arguments: Any, what: str = "Looking at the file", apart: str = ""
    ) -> Any:
        """The same of any step, with the part of the house that it is one of."""
        return ask(
            step, *arguments, key=pool_key(job) + apart, seconds=LOOKING_S, tell=self.tell,
            cancelled=self.cancelled, what=what,
        )
