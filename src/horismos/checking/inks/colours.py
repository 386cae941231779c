"""What objects are told by that are painted alike: a spot ink, or a flat colour."""

from horismos.artwork.model import PROCESS_INKS, Paint
from horismos.checking.engine.findings import Candidate

__all__ = ["colour_of"]


def colour_of(paint: Paint) -> Candidate | None:
    """A paint as what is chosen by it: a spot ink, or a flat colour."""
    used = [ink for ink, tint in paint.inks if tint > 0]
    if len(used) == 1 and used[0] not in PROCESS_INKS and used[0] != "All":
        return Candidate("ink", used[0], ())
    if paint.family == "Pattern":
        return None
    if paint.additive:
        rgb = len(paint.values) == 3 and paint.family != "Lab"
        return Candidate("colour", tuple(round(v, 4) for v in paint.values), ()) if rgb else None
    tints = dict(paint.inks)
    if set(tints) <= set(PROCESS_INKS) and tints:
        return Candidate("colour", tuple(round(tints.get(ink, 0.0), 4) for ink in PROCESS_INKS), ())
    return None
