"""What server and front end both compute comes to the same: by one file of cases, which both read.

The front end's half is web/src/stage/vectors.test.ts. Whether outlines are near is what shapely measures between them.
"""

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
from shapely.affinity import affine_transform

from horismos.misregistration import Misregistration
from horismos.sheet.placing import nearness

CASES: dict[str, Any] = json.loads((Path(__file__).parents[1] / "data" / "vectors" / "sheet.json").read_text())


@pytest.mark.parametrize("case", CASES["landing"], ids=lambda case: str(case["off"]))
def test_a_cut_lands_where_the_cases_say(case: dict[str, Any]) -> None:
    landed = Misregistration(**case["off"]).landed(np.array(case["points"]), np.array(case["middle"]))
    assert landed == pytest.approx(np.array(case["landed"]), abs=1e-8)


def test_copies_are_too_near_as_the_cases_say() -> None:
    said = set()
    for case in CASES["near"]:
        a, b, c, d, e, f = case["matrix"]
        one, other = shapely.Polygon(case["a"]), affine_transform(shapely.Polygon(case["b"]), [a, c, b, d, e, f])
        found = nearness(one, other, case["gap"])
        assert (found is not None) is case["near"], case
        if found is not None:
            assert found[0] == pytest.approx(shapely.distance(one, other), abs=0.001)
        said.add(case["near"])
    assert said == {True, False}
