"""Says, does and proves one step. The families of mends stand in their own files."""

from collections.abc import Callable
from dataclasses import dataclass

from horismos.artwork.edit import reopened, save
from horismos.artwork.lines import Line, line_objects
from horismos.artwork.model import Artwork
from horismos.artwork.read import read_bytes
from horismos.checking.findings import Report
from horismos.destinations import Destination
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending import close, rename, stroke
from horismos.mending.family import Family
from horismos.mending.proof import Proof, prove
from horismos.steps import Step, StepKind

__all__ = ["FAMILIES", "Mended", "apply_all", "mend", "offered", "say"]

FAMILIES: dict[StepKind, Family] = {
    StepKind.RENAME: rename.RENAME,
    StepKind.HAIRLINE: stroke.HAIRLINE,
    StepKind.OVERPRINT: stroke.OVERPRINT,
    StepKind.CLOSE: close.CLOSE,
}
UNSEEN = 8
"""[ours] of 255: a difference in the art that rounding in a renderer can make."""


@dataclass(frozen=True)
class Mended:
    """The new artwork, what was said beforehand, and the proof."""

    artwork: Artwork
    said: str
    proof: Proof


def _all_lines(artwork: Artwork, destination: Destination) -> list[Line]:
    return [line for page in artwork.pages for line in line_objects(artwork, page, destination)]


def say(artwork: Artwork, step: Step, destination: Destination) -> str:
    """What a step will change, in a sentence. Raises HorismosError where it would change nothing."""
    return FAMILIES[step.kind].say(artwork, _all_lines(artwork, destination), step)


def mend(
    artwork: Artwork,
    step: Step,
    destination: Destination,
    progress: Callable[[float, str], None] = lambda share, what: None,
) -> Mended:
    """Carry out a step on a copy of the artwork's file; the artwork given stays as it is.

    Raises HorismosError where there is nothing to change, CannotWrite where the proof shows that
    the art came out different.
    """
    progress(0.0, step.label)
    lines = _all_lines(artwork, destination)
    family = FAMILIES[step.kind]
    said = family.say(artwork, lines, step)
    with reopened(artwork) as pdf:
        family.do(pdf, artwork, lines, step, destination)
        data = save(pdf)
    after = read_bytes(data)
    progress(0.5, "comparing with before")
    proof = prove(artwork, after, destination)
    if proof.art_difference > UNSEEN:
        raise CannotWrite(
            f"“{step.label}” would change the art by {proof.art_difference} of 255.",
            "Nothing was changed; ask for a new file.",
        )
    return Mended(after, said, proof)


def offered(report: Report) -> list[Step]:
    """The mends that answer a report's findings without a person having to choose.

    A finding that offers several, because two roles are equally near, is left to a person.
    """
    steps: dict[Step, None] = {}
    for finding in report.findings:
        if len(finding.mends) == 1:
            steps.setdefault(finding.mends[0])
    order = list(StepKind)
    return sorted(steps, key=lambda step: order.index(step.kind))


def apply_all(artwork: Artwork, steps: list[Step], destination: Destination) -> list[Mended]:
    """Carry out steps one after the other; what an earlier one has mended already is passed over."""
    done: list[Mended] = []
    for step in steps:
        current = done[-1].artwork if done else artwork
        try:
            done.append(mend(current, step, destination))
        except NothingToDo:
            continue
    return done
