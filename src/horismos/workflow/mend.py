"""Carries out a mend on a job's artwork."""

from dataclasses import replace

from horismos.mending import Mended, Step
from horismos.mending import mend as mend_artwork
from horismos.workflow.case import Case, Progress

__all__ = ["mend"]


def mend(case: Case, step: Step, progress: Progress = lambda share, what: None) -> tuple[Case, Mended]:
    """The case with its artwork mended, and what was done; where the file came from stays known."""
    done = mend_artwork(case.artwork, step, case.destination, progress)
    after = replace(done.artwork, taken_in=case.artwork.taken_in, made_from=case.artwork.made_from)
    return replace(case, artwork=after), replace(done, artwork=after)
