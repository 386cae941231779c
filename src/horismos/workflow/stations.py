"""The stations that a job goes through: one list, by which its state is told, shown and counted."""

from enum import StrEnum

__all__ = ["COUNTED", "Station", "stations_done"]


class Station(StrEnum):
    """A station of a job, in the order in which it goes through them."""

    CHECK = "check"
    LINES = "lines"
    STACK = "stack"
    SHEET = "sheet"
    CUT = "cut"
    RELEASE = "release"

    @property
    def words(self) -> str:
        """What it is called."""
        return self.value.capitalize()

    @property
    def is_counted(self) -> bool:
        """Whether each job goes through it; only some are made of fabric."""
        return self is not Station.STACK


COUNTED = tuple(station for station in Station if station.is_counted)


def stations_done(stops: int | None, fits: bool, released: bool) -> int:
    """How many of the counted stations are done; ``stops`` None: the job has not been looked at.

    >>> stations_done(None, True, False), stations_done(2, True, False), stations_done(0, False, False)
    (0, 1, 2)
    >>> stations_done(0, True, False), stations_done(0, True, True)
    (4, 5)
    """
    if stops is None:
        return 0
    if released:
        return len(COUNTED)
    left = Station.LINES if stops else Station.RELEASE if fits else Station.SHEET
    return COUNTED.index(left)
