"""Simulated RIP and cutter: stand-ins for the machines that a package goes to."""

from horismos.simulation.cutter import Move, Playback, play
from horismos.simulation.rip import RipPlate, RipResult, rip

__all__ = ["Move", "Playback", "RipPlate", "RipResult", "play", "rip"]
