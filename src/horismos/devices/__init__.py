"""Simulated RIP and cutter: stand-ins for the machines that a package goes to."""

from horismos.devices.cutter import Move, Playback, play
from horismos.devices.rip import RipPlate, RipResult, rip

__all__ = ["Move", "Playback", "RipPlate", "RipResult", "play", "rip"]
