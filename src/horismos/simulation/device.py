"""A simulated device at the end of a socket: it takes what is sent as fast as it can, and keeps it."""

import socket
from collections.abc import Iterator
from contextlib import contextmanager
from threading import Thread

__all__ = ["Device", "device"]

TAKES_AT_ONCE = 512
"""[ours] the small buffer of the simulated device: who sends faster has to wait."""
PATIENCE_S = 20.0
MOST_BYTES = 200_000_000


class Device:
    """What has come over the socket so far."""

    def __init__(self, address: tuple[str, int]) -> None:
        self.address = address
        self.taken = bytearray()


@contextmanager
def device() -> Iterator[Device]:
    """A device on this machine, on a port that is free; when it is left, all that was sent has been taken."""
    with socket.create_server(("127.0.0.1", 0)) as listens:
        listens.settimeout(PATIENCE_S)
        made = Device(listens.getsockname()[:2])
        thread = Thread(target=_takes, args=(listens, made), daemon=True)
        thread.start()
        yield made
        thread.join(PATIENCE_S)


def _takes(listens: socket.socket, made: Device) -> None:
    try:
        comes, _ = listens.accept()
    except OSError:
        return
    with comes:
        comes.settimeout(PATIENCE_S)
        while len(made.taken) < MOST_BYTES:
            part = comes.recv(TAKES_AT_ONCE)
            if not part:
                return
            made.taken += part
