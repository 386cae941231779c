"""The register of kinds of work: what carries each out."""

from collections.abc import Callable
from importlib import import_module
from typing import TypeVar

from jobs import models

from worker.task import Result, Task

__all__ = ["carries_out", "registered"]

Carrier = Callable[[Task], Result]
C = TypeVar("C", bound=Carrier)
_KINDS: dict[models.WorkKind, Carrier] = {}


def carries_out(kind: models.WorkKind) -> Callable[[C], C]:
    """Register what carries a kind of work out. Raises ValueError where there is one already."""

    def register(carrier: C) -> C:
        if kind in _KINDS:
            raise ValueError(f"Two carry out {kind}.")
        _KINDS[kind] = carrier
        return carrier

    return register


def registered() -> dict[models.WorkKind, Carrier]:
    """What carries each kind of work out. Raises LookupError, which names the kinds that nothing does."""
    import_module("worker.kinds")
    missing = set(models.WorkKind) - set(_KINDS)
    if missing:
        raise LookupError(f"Nothing carries out {', '.join(sorted(missing))}.")
    return dict(_KINDS)
