"""Page boxes (ISO 32000-1, 14.11.2) and the matrix from user space to mm on the finished page."""

from typing import Any

from horismos.artwork.model import Boxes
from horismos.errors import CannotRead
from horismos.paths.box import Bounds, placed
from horismos.paths.matrix import Matrix
from horismos.units import MM_PER_POINT

__all__ = ["boxes_of", "inherited"]

KEYS = {"media": "/MediaBox", "crop": "/CropBox", "bleed": "/BleedBox", "trim": "/TrimBox"}
FALLS_BACK_TO = {"crop": "media", "bleed": "crop", "trim": "crop"}
MAX_PARENTS = 50


def inherited(page: Any, key: str) -> Any:
    """A page attribute, looked for up the page tree (ISO 32000-1, 7.7.3.4), or None."""
    node = page
    for _ in range(MAX_PARENTS):
        if key in node:
            return node[key]
        node = node.get("/Parent")
        if node is None:
            return None
    return None


def _rectangle(obj: Any) -> Bounds | None:
    try:
        x0, y0, x1, y1 = (float(v) for v in obj)
    except (TypeError, ValueError):
        return None
    box = (min(x0, x1), min(y0, y1), max(x0, x1), max(y0, y1))
    return box if box[2] > box[0] and box[3] > box[1] else None


def boxes_of(page: Any) -> tuple[Boxes, int, float, Matrix, list[str]]:
    """Boxes in mm, the turn in degrees, the user unit, the matrix to mm, and what was mended.

    A crop box is cut to the media box, as the standard says. Raises CannotRead for a page
    without a usable media box.
    """
    notes: list[str] = []
    raw: dict[str, Bounds] = {}
    stated = set()
    for name, key in KEYS.items():
        obj = inherited(page, key)
        box = _rectangle(obj) if obj is not None else None
        if obj is not None and box is None:
            notes.append(f"The {name} box is not a rectangle and was passed over.")
        if box is not None:
            stated.add(name)
        elif name == "media":
            raise CannotRead("The page has no media box.", "Ask for the file to be written again.")
        raw[name] = box if box is not None else raw[FALLS_BACK_TO[name]]
    media, crop = raw["media"], raw["crop"]
    cut = (*map(max, crop[:2], media[:2]), *map(min, crop[2:], media[2:]))
    if cut != crop:
        if cut[2] <= cut[0] or cut[3] <= cut[1]:
            notes.append("The crop box lies outside the media box and was passed over.")
            cut = media
        for name in ("bleed", "trim"):
            if name not in stated:
                raw[name] = (cut[0], cut[1], cut[2], cut[3])
        raw["crop"] = (cut[0], cut[1], cut[2], cut[3])

    unit = inherited(page, "/UserUnit")
    user_unit = float(unit) if unit is not None and float(unit) > 0 else 1.0
    turn = inherited(page, "/Rotate")
    rotate = int(turn) % 360 if turn is not None else 0
    if rotate % 90:
        notes.append(f"The page is turned by {rotate}°, which is no right angle; taken as 0°.")
        rotate = 0
    k = MM_PER_POINT * user_unit
    turned: Matrix = {
        0: (k, 0.0, 0.0, k, 0.0, 0.0),
        90: (0.0, -k, k, 0.0, 0.0, 0.0),
        180: (-k, 0.0, 0.0, -k, 0.0, 0.0),
        270: (0.0, k, -k, 0.0, 0.0, 0.0),
    }[rotate]
    x0, y0, _, _ = placed(raw["trim"], turned)
    matrix: Matrix = (*turned[:4], -x0, -y0)
    mm = {name: placed(box, matrix) for name, box in raw.items()}
    boxes = Boxes(mm["media"], mm["crop"], mm["bleed"], mm["trim"], frozenset(stated), raw)
    return boxes, rotate, user_unit, matrix, notes
