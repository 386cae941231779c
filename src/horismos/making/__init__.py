"""Lines from art: what should be cut is found, and lines are made of it that a blade can follow."""

from horismos.making.made import Made, MadeLine
from horismos.making.make import make
from horismos.making.spec import LineWanted, Make, Source

__all__ = ["LineWanted", "Made", "MadeLine", "Make", "Source", "make"]
