"""Says, does and proves one step, or several one after the other."""

import tempfile
from collections.abc import Callable, Mapping
from dataclasses import dataclass

from horismos.artwork.append import appended
from horismos.artwork.edit import reopened, save, save_large
from horismos.artwork.lines import line_objects
from horismos.artwork.model import Artwork
from horismos.artwork.read import read_bytes
from horismos.checking.engine.findings import Report
from horismos.comparing.difference import LARGE_BYTES, UNSEEN, Difference, compare
from horismos.comparing.facets import Facet
from horismos.destinations import Destination
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, Places, Step, offers, registered
from horismos.orders import Order
from horismos.paths.box import Bounds

__all__ = ["Mended", "done_unproved", "mend", "offered", "say"]

UNMOVED_MM = 0.001
"""[ours] lines stay where they are to this, whatever is done to the art."""
REWRITTEN = frozenset([Facet.FILE])
"""A file that is written anew has lost its damage and its locks; that is no change of the artwork."""


@dataclass(frozen=True)
class Mended:
    """The new artwork, what was said beforehand, and what differs, measured on the two files."""

    artwork: Artwork
    step: Step
    said: str
    changed: Mapping[str, float]
    difference: Difference
    places: Places
    look_at: Mapping[int, Bounds]


def _before(artwork: Artwork, step: Step, destination: Destination, order: Order | None) -> MendContext:
    lines = [line for page in artwork.pages for line in line_objects(artwork, page, destination)]
    return MendContext(artwork, tuple(lines), destination, step, order or Order())


def say(artwork: Artwork, step: Step, destination: Destination, order: Order | None = None) -> str:
    """What a step will change, in a sentence. Raises NothingToDo where it would change nothing."""
    return registered()[step.mend].say(_before(artwork, step, destination, order)).words


def mend(
    artwork: Artwork,
    step: Step,
    destination: Destination,
    progress: Callable[[float, str], None] = lambda share, what: None,
    order: Order | None = None,
) -> Mended:
    """Carry out a step on a copy of the artwork's file; the artwork given stays as it is.

    Raises NothingToDo where there is nothing to change, CannotWrite where the two files differ in something
    that the mend may not touch, not as it said, or where it did not say so.
    """
    progress(0.0, step.label)
    chosen = registered()[step.mend]
    before = _before(artwork, step, destination, order)
    said = chosen.say(before)
    after = read_bytes(_done(chosen, before))
    progress(0.5, "comparing with before")
    places = said.places()
    difference = compare(artwork, after, destination, places, Facet.LOOK not in chosen.touches)
    _as_said(chosen, step, difference)
    chosen.prove(before, difference)
    return Mended(after, step, said.words, said.changed, difference, places, said.look_at())


def done_unproved(artwork: Artwork, step: Step, destination: Destination, order: Order | None = None) -> Artwork:
    """The artwork with a step done, to be looked at only: nothing was proved. Raises NothingToDo."""
    return read_bytes(_done(registered()[step.mend], _before(artwork, step, destination, order)))


def _done(chosen: Mend, before: MendContext) -> bytes:
    """The file with a mend done to it; the open copy is given back before all of it is held again."""
    with tempfile.TemporaryFile() as out:
        with reopened(before.artwork) as pdf:
            chosen.do(before, pdf)
            data = appended(pdf, before.artwork) if chosen.may_append else None
            if data is None and len(before.artwork.data) < LARGE_BYTES:
                data = save(pdf)
            if data is None:
                save_large(pdf, out)
        if data is None:
            out.seek(0)
            data = out.read()
    return data


def _as_said(chosen: Mend, step: Step, difference: Difference) -> None:
    """Raise CannotWrite where two files differ in something that a mend may not touch, or elsewhere.

    Raises NothingToDo where they do not differ at all.
    """
    if not difference.facets:
        raise NothingToDo(
            f"“{step.label}” found nothing that it can change: what is meant is packed in a way not read here."
        )
    beyond = sorted(facet.words for facet in difference.facets - chosen.touches - REWRITTEN)
    if Facet.GEOMETRY not in chosen.touches and difference.lines_moved_mm > UNMOVED_MM:
        beyond.append(f"where lines run, by {difference.lines_moved_mm:.3f} mm")
    if Facet.LOOK in chosen.touches and difference.outside_delta_e > UNSEEN:
        beyond.append(f"what the art looks like elsewhere, by ΔE {difference.outside_delta_e:.1f}")
    if beyond:
        raise CannotWrite(
            f"“{step.label}” would also change {' and '.join(beyond)}.", "Nothing was changed; ask for a new file.",
        )


def offered(report: Report) -> list[Step]:
    """The mends that answer a report's findings and are safe without a person having to choose.

    A finding that offers one mend in several ways, because two roles are equally near, is left to a person, and so
    is one that asks. What a person has chosen before is not asked again.
    """
    steps: dict[Step, None] = {}
    for finding in report.findings:
        found = [] if finding.asks else offers(finding)
        for one in found:
            alone = sum(other.mend == one.mend for other in found) == 1 or len(finding.wanted) == 1
            chosen = registered()[one.mend]
            if (alone and chosen.safe) or chosen.settled(finding, one):
                steps.setdefault(one)
    order = list(registered())
    return sorted(steps, key=lambda step: order.index(step.mend))
