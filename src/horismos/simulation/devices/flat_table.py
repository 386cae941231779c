"""A flat table that takes ISO 6983 code."""

from horismos.formats.gcode import read_gcode
from horismos.simulation.devices.register import DeviceKind, register

register(DeviceKind("flat-table", "the simulated flat table", "gcode", lambda data: len(read_gcode(data))))
