"""The register of mark kinds, and the ring with a dot: what it is, what it takes, and what is not taken for it."""

import pickle

import numpy as np
import pytest

from horismos.alignment.seeing import Sighting, Unseen, look_for
from horismos.errors import BadValue
from horismos.machines import MarkStyle
from horismos.paths import bounds
from horismos.sheet.mark_kinds import Mark, MarkKind, kind_of, registered
from horismos.sheet.marks import READ as MARKS

STYLE = MarkStyle(10.0, 12.0, 1.0)
PER_MM = 12.0


def drawn(ring: bool = True, dot: bool = True, off: float = 0.0) -> np.ndarray:  # type: ignore[type-arg]
    """A picture of 40 mm with a ring of 12 mm and a dot, at 12 pixels a mm, the dot so far off the middle in mm."""
    y, x = np.mgrid[:480, :480] / PER_MM
    from_middle, from_dot = np.hypot(x - 21, y - 18), np.hypot(x - 21 - off, y - 18)
    ink = (ring & (from_middle <= 6) & (from_middle >= 5)) | (dot & (from_dot <= 1))
    return np.where(ink, 40, 225).astype(np.float32)


def looked(bright: np.ndarray) -> Sighting | Unseen:  # type: ignore[type-arg]
    return look_for(bright, kind_of("ring"), 12 * PER_MM, PER_MM, (0, 0))


def test_a_ring_with_a_dot_is_found_and_nothing_that_only_looks_like_one() -> None:
    found = looked(drawn())
    assert isinstance(found, Sighting)
    assert (found.column / PER_MM, found.row / PER_MM) == pytest.approx((21, 18), abs=0.05)
    for other in (drawn(dot=False), drawn(ring=False), drawn(off=2.5)):
        assert looked(other) is Unseen.ABSENT


@pytest.mark.parametrize("kind", registered().values(), ids=registered())
def test_the_ink_of_a_kind_lies_in_its_bounds_and_within_its_reach(kind: MarkKind) -> None:
    mark = Mark(1, 50.0, 40.0, kind.opens, kind.opens, 12.0, 1.0, kind)
    assert mark.strokes or mark.fills
    x0, y0, x1, y1 = mark.box
    for contour in (*mark.strokes, *mark.fills):
        a, b, c, d = bounds(contour)
        assert x0 - 1e-9 <= a <= c <= x1 + 1e-9 and y0 - 1e-9 <= b <= d <= y1 + 1e-9
    place, furthest = kind.reach(STYLE, False)
    assert 0 <= place <= furthest
    for a, b, c, d in mark.inked:
        assert x0 - 1e-9 <= a < c <= x1 + 1e-9 and y0 - 1e-9 <= b < d <= y1 + 1e-9


@pytest.mark.parametrize("kind", registered().values(), ids=registered())
def test_a_kind_goes_between_processes_by_its_id_and_is_read_and_told_by_it(kind: MarkKind) -> None:
    assert pickle.loads(pickle.dumps(kind)) is kind
    plan = MARKS("Marks", {"kind": kind.id})
    assert plan.kind is kind and plan.to_json()["kind"] == kind.id and kind.words


def test_a_kind_that_there_is_not_and_one_too_small_are_refused_by_name() -> None:
    with pytest.raises(BadValue, match="“star”"):
        MARKS("Marks", {"kind": "star"})
    with pytest.raises(BadValue, match="rings with a dot"):
        MARKS("Marks", {"kind": "ring", "arm_mm": 7, "weight_mm": 1}).style(STYLE)
