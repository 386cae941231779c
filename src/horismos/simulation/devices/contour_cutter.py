"""A contour cutter that takes HP-GL."""

from horismos.formats.hpgl import read_hpgl
from horismos.simulation.devices.register import DeviceKind, register

register(DeviceKind(
    "contour-cutter", "the simulated cutter", "hpgl", lambda data: len(read_hpgl(data, (0.0, 0.0))),
))
