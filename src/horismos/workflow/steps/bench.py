"""Steps of the bench: the camera looks for marks, a person looks where the pointer shines."""

from collections import OrderedDict
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np

from horismos.rendering.png import png_of
from horismos.simulation.camera import Camera, Picture
from horismos.workflow.bench import EYE_GLARE, BedState, camera_of, scanned
from horismos.workflow.steps.stored import Content

__all__ = ["scan", "under"]

OPEN_SHEETS = 3
CROSS_MM, CROSS_WIDE_MM = 8.0, 0.2
"""[ours] the cross that is cut to calibrate the pointer by."""
_open: OrderedDict[str, Camera] = OrderedDict()
Tell = Callable[[float, str], None]


def scan(content: Content, before: BedState, first: tuple[float, float] | None, tell: Tell) -> dict[str, Any]:
    """What the camera has found: the marks with their pictures as PNG, and what the code says."""
    tell(0.05, "looking at the sheet")
    found = scanned(before, content.read(), first, tell)
    return {
        "code": found.code,
        "seen": [
            {
                "number": one.number, "place": one.place, "how": one.how, "why": one.why,
                "png": _png(one.picture) if one.picture else None,
                "spot": one.picture.pixel_of(*one.place) if one.picture and one.place else None,
            }
            for one in found.seen
        ],
    }


def under(
    content: Content, before: BedState, key: str, at: tuple[float, float], side_mm: float,
    cross: tuple[float, float] | None, tell: Tell,
) -> bytes:
    """What a person sees of a square round a place before the cutter, as PNG; ``key`` says which loading it is.

    ``cross`` is where a cross was cut to calibrate the pointer by.
    """
    if key not in _open:
        _open[key] = camera_of(before, content.read(), EYE_GLARE)
        while len(_open) > OPEN_SHEETS:
            _open.popitem(last=False)
    _open.move_to_end(key)
    picture = _open[key].looks(at, side_mm, np.random.default_rng(before.laying.seed))
    return _png(picture if cross is None else _with_cross(picture, cross))


def _with_cross(picture: Picture, cross: tuple[float, float]) -> Picture:
    """The same with a cross cut through what lies there."""
    column, row = picture.pixel_of(*cross)
    arm, half = CROSS_MM / 2 * picture.per_mm, CROSS_WIDE_MM / 2 * picture.per_mm
    rows, columns = np.indices(picture.bright.shape)
    across, along = np.abs(columns - column), np.abs(rows - row)
    cut = ((across <= arm) & (along <= half)) | ((along <= arm) & (across <= half))
    return replace(picture, bright=np.where(cut, np.float32(40.0), picture.bright))


def _png(picture: Picture) -> bytes:
    grey = np.clip(picture.bright, 0, 255).astype(np.uint8)
    return png_of(np.repeat(grey[..., None], 3, axis=2))
