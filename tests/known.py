"""What ships with the product, under names for tests."""

from horismos.destinations import SHIPPED

__all__ = ["HOUSE", "ISO", "SMALL", "TABLE"]

HOUSE, ISO, SMALL, TABLE = (SHIPPED[id] for id in ("house", "iso", "small", "table"))
