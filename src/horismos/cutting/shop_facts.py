"""What a shop knows beside the work itself: who tested a setting, and where the media is kept."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from horismos.roles import LineRole

__all__ = ["ShopFacts", "Tested"]


@dataclass(frozen=True)
class Tested:
    """Who saw a test cut with a setting come out right, and when, in words."""

    who: str
    when: str


@dataclass(frozen=True)
class ShopFacts:
    """The test cuts of the shop's settings by role, and where the media is kept; it goes onto the ticket."""

    tested: Mapping[LineRole, Tested] = field(default_factory=dict)
    kept_at: str = ""
