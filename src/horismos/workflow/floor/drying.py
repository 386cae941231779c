"""How long a print dries: by what its hot folder or its media says, and by how much ink lies on its heaviest place."""

from datetime import timedelta

__all__ = ["USUAL_INK_PERCENT", "drying"]

USUAL_INK_PERCENT = 200.0
"""[ours] up to so much ink, all inks together, the hours that a hot folder or a media states hold."""


def drying(hours: float, ink_percent: float) -> timedelta:
    """How long a print dries whose heaviest place carries so much ink, all inks together.

    That more ink dries longer is common practice; that it does in proportion is [ours].
    """
    return timedelta(hours=hours * max(1.0, ink_percent / USUAL_INK_PERCENT))
