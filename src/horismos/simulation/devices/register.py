"""The register of simulated devices. A device is one file in this room: what it takes, and what it makes of it."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from importlib import import_module
from pathlib import Path
from types import MappingProxyType

from horismos.errors import NotFound

__all__ = ["DeviceKind", "device_for", "register", "registered"]


@dataclass(frozen=True)
class DeviceKind:
    """A device: the cut format that it takes, by its id, and how many strokes it makes of a file in it.

    ``strokes`` raises CannotRead for what the device cannot follow.
    """

    id: str
    words: str
    takes: str
    strokes: Callable[[bytes], int]


_devices: dict[str, DeviceKind] = {}


def register(made: DeviceKind) -> None:
    """Take a device into the register."""
    _devices[made.id] = made


@cache
def registered() -> Mapping[str, DeviceKind]:
    """All devices by their ids."""
    for path in sorted(Path(__file__).parent.glob("[a-z]*.py")):
        import_module(f"{__package__}.{path.stem}")
    return MappingProxyType(dict(sorted(_devices.items())))


def device_for(format: str) -> DeviceKind:
    """The device that takes a cut format. Raises NotFound."""
    found = next((one for one in registered().values() if one.takes == format), None)
    if found is None:
        takes = ", ".join(one.takes for one in registered().values())
        raise NotFound(
            f"No simulated device takes “{format}” over a socket.", f"They take {takes}; hand it over on a stick.",
        )
    return found
