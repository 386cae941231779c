"""A ring with a dot in its middle, twice as wide as the ring's line."""

import math

from horismos.machines import MarkStyle
from horismos.paths import Contour, circle
from horismos.sheet.mark_kinds.register import Mark, MarkKind, Probe, all_of_it, register

LEAST_ARM = 8.0
"""[ours] in weights: so much of the ground is seen between ring and dot that a camera tells them apart."""


def _strokes(mark: Mark) -> tuple[Contour, ...]:
    return (circle(mark.x_mm, mark.y_mm, (mark.arm_mm - mark.weight_mm) / 2),)


def _fills(mark: Mark) -> tuple[Contour, ...]:
    return (circle(mark.x_mm, mark.y_mm, mark.weight_mm),)


def _reach(style: MarkStyle, between: bool) -> tuple[float, float]:
    return style.arm_mm / 2, style.arm_mm


def _probes(arm: float, weight: float) -> tuple[Probe, ...]:
    """Dark in the middle, and light half way to the ring."""
    between = (weight + arm / 2 - weight) / 2
    ways = [(between, 0.0), (-between, 0.0), (0.0, between), (0.0, -between)]
    return Probe(0.0, 0.0, True), *(Probe(right, down, False) for right, down in ways)


register(MarkKind(
    id="ring", words="rings with a dot", size_words="across", strokes=_strokes, fills=_fills, box=all_of_it,
    inked=lambda mark: (all_of_it(mark),), reach=_reach, area=lambda arm, weight: math.pi * weight * (arm - weight),
    least_arm=LEAST_ARM, probes=_probes
))
