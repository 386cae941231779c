"""Simulated devices at the end of a socket, one file each."""

from horismos.simulation.devices.register import DeviceKind, device_for, registered

__all__ = ["DeviceKind", "device_for", "registered"]
