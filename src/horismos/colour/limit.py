"""Less ink for the same look: CMYK whose tints come to no more than a limit, as near as can be in Lab on the press.

Black takes the place of the three colours below it, as far as it has to. Each colour is solved for by itself: the
smallest difference in Lab under the limit, by Levenberg's damped Gauss-Newton steps, each brought back under it.
"""

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from horismos.colour.press import lab_of_cmyk

__all__ = ["limited", "limited_pixels"]

LEVELS = 17
"""[ours] steps of each ink in the tables; between them it runs straight."""
ROUNDS = 16
CHANGE_COSTS = 6.0
"""[ours] in ΔE² for a tint that changes by all of it: of two ways that look alike the smaller change is taken."""
AT_ONCE = 65_536
STEP = 1 / 255
Floats = NDArray[np.float64]


def _corners() -> NDArray[np.int64]:
    return np.indices((2, 2, 2, 2)).reshape(4, 16).T


@lru_cache(1)
def _lab_table() -> Floats:
    """Lab of the press at each step of the four inks, shape (LEVELS⁴, 3)."""
    axis = np.linspace(0, 100, LEVELS)
    return lab_of_cmyk(np.stack(np.meshgrid(axis, axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 4))


def _cells(cmyk: Floats) -> tuple[NDArray[np.int64], Floats]:
    """The places in a table of the 16 corners round each colour, shape (n, 16), and how far it lies in, (n, 4)."""
    at = cmyk * (LEVELS - 1)
    low = np.clip(at.astype(np.int64), 0, LEVELS - 2)
    steps = LEVELS ** np.arange(3, -1, -1)
    return (low @ steps)[:, None] + _corners() @ steps, at - low


def _between(table: Floats, cmyk: Floats) -> Floats:
    """The values of a table at colours, shape (n, values)."""
    places, share = _cells(cmyk)
    weights = np.ones(places.shape)
    for axis, corner in enumerate(_corners().T):
        weights *= np.where(corner, share[:, axis : axis + 1], 1 - share[:, axis : axis + 1])
    out: Floats = np.einsum("nk,nkv->nv", weights, table[places])
    return out


def _lab_and_slopes(cmyk: Floats) -> tuple[Floats, Floats]:
    """Lab, shape (n, 3), and its change with each ink, shape (n, 3, 4)."""
    places, share = _cells(cmyk)
    corners = _corners()
    values = _lab_table()[places]
    each = np.where(corners[None], share[:, None, :], 1 - share[:, None, :])
    slopes = np.empty((len(cmyk), 3, 4))
    for axis in range(4):
        others = np.prod(np.delete(each, axis, axis=2), axis=2)
        signs = np.where(corners[:, axis], 1.0, -1.0) * (LEVELS - 1)
        slopes[:, :, axis] = np.einsum("nk,nkv->nv", others * signs, values)
    return np.einsum("nk,nkv->nv", np.prod(each, axis=2), values), slopes


def _under(cmyk: Floats, most: float) -> Floats:
    """The nearest colours, shape (n, 4), whose tints lie between 0 and 1 and come to at most ``most``."""
    out: Floats = np.clip(cmyk, 0, 1)
    over = out.sum(axis=1) > most
    if over.any():
        given = cmyk[over]
        low, high = np.zeros(len(given)), given.max(axis=1)
        for _ in range(30):
            middle = (low + high) / 2
            more = np.clip(given - middle[:, None], 0, 1).sum(axis=1) > most
            low, high = np.where(more, middle, low), np.where(more, high, middle)
        out[over] = np.clip(given - high[:, None], 0, 1)
    return out


def limited(cmyk: Floats, limit_percent: float) -> Floats:
    """Colours, shape (n, 4), each tint 0 to 1, with those above a limit in % brought under it, looking as alike
    as can be on the press profile; the others as they are.
    """
    out: Floats = np.array(cmyk, dtype=float)
    most = limit_percent / 100
    over = out.sum(axis=1) > most + 1e-9
    if over.any():
        out[over] = _solved(out[over], most)
    return out


def _solved(given: Floats, most: float) -> Floats:
    wanted = _lab_and_slopes(given)[0]
    grey = given[:, :3].min(axis=1)
    start = given.copy()
    start[:, :3] -= np.minimum(grey, np.maximum(given.sum(axis=1) - most, 0) / 2)[:, None]
    start[:, 3] = np.minimum(start[:, 3] + (given.sum(axis=1) - most) / 2, 1)
    best = _under(start, most)
    damping = np.full(len(given), 100.0)
    lab, slopes = _lab_and_slopes(best)
    cost = _cost(lab, wanted, best, given)
    for _ in range(ROUNDS):
        normal = np.einsum("nva,nvb->nab", slopes, slopes) + (CHANGE_COSTS + damping)[:, None, None] * np.eye(4)
        push = np.einsum("nva,nv->na", slopes, wanted - lab) + CHANGE_COSTS * (given - best)
        tried = _under(best + np.linalg.solve(normal, push[..., None])[..., 0], most)
        new_lab, new_slopes = _lab_and_slopes(tried)
        new_cost = _cost(new_lab, wanted, tried, given)
        better = new_cost < cost
        best[better], lab[better], slopes[better] = tried[better], new_lab[better], new_slopes[better]
        cost = np.where(better, new_cost, cost)
        damping = np.clip(np.where(better, damping / 3, damping * 4), 1.0, 1e7)
    return best


def _cost(lab: Floats, wanted: Floats, cmyk: Floats, given: Floats) -> Floats:
    out: Floats = ((lab - wanted) ** 2).sum(axis=1) + CHANGE_COSTS * ((cmyk - given) ** 2).sum(axis=1)
    return out


@lru_cache(4)
def _table(limit_percent: float) -> Floats:
    """The limited colour at each step of the four inks, shape (LEVELS⁴, 4)."""
    axis = np.linspace(0, 1, LEVELS)
    return limited(np.stack(np.meshgrid(axis, axis, axis, axis, indexing="ij"), axis=-1).reshape(-1, 4), limit_percent)


def limited_pixels(pixels: NDArray[np.uint8], limit_percent: float) -> NDArray[np.uint8]:
    """The same for a picture, shape (…, 4), 0 none to 255 full: through a table, rounded down so that the limit holds.

    >>> limited_pixels(np.array([[255, 255, 255, 255], [9, 9, 9, 9]], np.uint8), 280.0).sum(axis=1).tolist()[1]
    36
    """
    out = pixels.reshape(-1, 4).copy()
    over = np.flatnonzero(out.sum(axis=1, dtype=np.uint16) > limit_percent * 2.55)
    for start in range(0, len(over), AT_ONCE):
        part = over[start : start + AT_ONCE]
        colours, back = np.unique(np.ascontiguousarray(out[part]).view(np.uint32).ravel(), return_inverse=True)
        unlike: Floats = colours.view(np.uint8).reshape(-1, 4).astype(float) * STEP
        made = np.floor(_between(_table(limit_percent), unlike) * 255 + 1e-6).astype(np.uint8)
        out[part] = made[back]
    return out.reshape(pixels.shape)
