"""What was done with a customer's files before, as far as it answers what is found on another one."""

from collections.abc import Iterable, Sequence

from horismos.mending.engine.registry import Step, registered, step_from
from horismos.mending.engine.settings import SettingKind

__all__ = ["as_before"]


def as_before(offered: Iterable[Sequence[Step]], done: Sequence[Step]) -> tuple[Step, ...]:
    """Of the mends that are offered for each finding, those of a sort that was done before, each once, in their order.

    ``done`` is what was done, the latest first. A step is the one that is offered here, with its own places, names
    and lengths; only what a customer wants the same way each time is as it was before. Where several of a sort are
    offered and none is for the role or the choice that was made before, nobody knows which is meant, and none is.
    """
    found: dict[Step, None] = {}
    for choices in offered:
        answer = next((a for a in (_like(before, choices) for before in done) if a is not None), None)
        if answer is not None:
            found[answer] = None
    order = list(registered())
    return tuple(sorted(found, key=lambda step: order.index(step.mend)))


def _like(before: Step, choices: Sequence[Step]) -> Step | None:
    alike = [one for one in choices if one.mend == before.mend and _roles(one) == _roles(before)]
    if len(alike) > 1:
        alike = [one for one in alike if _chosen(one) == _chosen(before)]
    if not alike:
        return None
    wanted = registered()[before.mend].settings
    own = dict(alike[0].settings) | {s.name: before[s.name] for s in wanted if s.habit}
    return step_from({"mend": before.mend, **{name: value for name, value in own.items() if value not in ("", ())}})


def _of_kind(step: Step, *kinds: SettingKind) -> dict[str, object]:
    return {s.name: step[s.name] for s in registered()[step.mend].settings if s.kind in kinds}


def _roles(step: Step) -> dict[str, object]:
    return _of_kind(step, SettingKind.ROLE)


def _chosen(step: Step) -> dict[str, object]:
    return _of_kind(step, SettingKind.CHOICE, SettingKind.NAME, SettingKind.COLOUR)
