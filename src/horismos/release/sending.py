"""Sends a cut file straight to a device, over a socket."""

import socket

from horismos.errors import CannotWrite

__all__ = ["address_of", "send"]

CONNECTS_S, SENDS_S = 5.0, 60.0
"""[ours] how long a device may take to answer, and to take what its buffer has no room for."""
PORT = 9100
"""[practice] the port at which printers and cutters commonly take raw data."""


def address_of(text: str) -> tuple[str, int]:
    """Host and port as somebody writes them; without a port the common one. Raises CannotWrite.

    >>> address_of("cutter.local:4000"), address_of("10.0.0.7")
    (('cutter.local', 4000), ('10.0.0.7', 9100))
    """
    host, _, port = text.strip().partition(":")
    if not host or (port and not (port.isdecimal() and 0 < int(port) < 65536)):
        raise CannotWrite(f"“{text}” is no address of a device.", "Write it as host:port.")
    return host, int(port or PORT)


def send(data: bytes, address: tuple[str, int]) -> int:
    """Send a file whole, and say how many bytes went. Raises CannotWrite where the device does not take it."""
    try:
        with socket.create_connection(address, CONNECTS_S) as goes:
            goes.settimeout(SENDS_S)
            goes.sendall(data)
            goes.shutdown(socket.SHUT_WR)
    except OSError as error:
        raise CannotWrite(
            f"The device at {address[0]}:{address[1]} did not take the file ({error.strerror or error}).",
            "See that it is switched on and waits for a file; then send it again.",
        ) from error
    return len(data)
