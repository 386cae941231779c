"""Breadth is drawn by lot: of many samples, kills and loads a share is tried each time, and all of them with --all.

A test that asks the same of many says so: ``pytestmark = breadth(0.2)``, or above one test. Tests that go the same
roads in several ways say under which name they are drawn together: ``breadth(0.5, "journeys")``. What is drawn follows
from the code, so that one change always meets the same draw, here and elsewhere, and another change another one;
``HORISMOS_SEED`` gives another. It is printed.
"""

import os
import random
from collections.abc import Sequence
from hashlib import sha256
from pathlib import Path
from typing import TypeVar

import pytest

__all__ = ["SEED", "WHOLE", "breadth", "drawn", "some"]

ROOT = Path(__file__).resolve().parents[1]
CODE = b"".join(path.read_bytes() for path in sorted((ROOT / "src").rglob("*.py")))
SEED = int(os.environ.get("HORISMOS_SEED") or int(sha256(CODE).hexdigest()[:6], 16))
WHOLE = "HORISMOS_SHARE" not in os.environ
"""Whether all is tried: a run of everything by ``./horismos test`` tries a share, whoever names tests tries them."""
QUICK = 0.14
"""What of each share a quick run takes: brought down where that takes longer than ten minutes on two cores."""
One = TypeVar("One")


def breadth(share: float, together: str = "") -> pytest.MarkDecorator:
    """Mark tests of which so much, 0 to 1, is tried in a run that is to be quick; at least one of each.

    Each test is drawn among its own parameters, or among all that are marked ``together`` by one name.
    """
    return pytest.mark.breadth(share, together)


def some(of: Sequence[One], share: float, what: str = "") -> list[One]:
    """A share of what a single test would try, in its order; all of it where the run is whole."""
    if WHOLE:
        return list(of)
    count = max(1, round(len(of) * share * QUICK))
    kept = set(random.Random(f"{SEED} {what}").sample(range(len(of)), min(count, len(of))))
    return [one for i, one in enumerate(of) if i in kept]


def drawn(items: list[pytest.Item]) -> tuple[list[pytest.Item], list[pytest.Item]]:
    """The tests that are tried, and those that were not drawn."""
    families: dict[str, list[pytest.Item]] = {}
    for item in items:
        mark = item.get_closest_marker("breadth")
        if mark is not None:
            families.setdefault(mark.args[1] or item.nodeid.partition("[")[0], []).append(item)
    left: set[pytest.Item] = set()
    for name, family in families.items():
        mark = family[0].get_closest_marker("breadth")
        assert mark is not None
        kept = some(family, float(mark.args[0]), name)
        left |= set(family) - set(kept)
    return [item for item in items if item not in left], [item for item in items if item in left]
