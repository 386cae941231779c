"""What a pool and its children say to each other: a length, and so many bytes.

A child is told what to do by pickle, since it trusts who started it; files come with that open, since it may see
nothing of the disk. What it answers is read as MessagePack, which holds plain values and bytes and nothing that could
be run.
"""

import io
import os
import pickle
import select
import socket
import stat
import struct
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import msgpack

__all__ = [
    "Closed", "call_received", "exactly", "hand", "named", "plain", "receive", "receive_within", "send", "takes_names",
    "values",
]

HEAD = struct.Struct(">Q")
MOST_BYTES = 3_000_000_000
CHUNK = 1 << 20
HANDED_AT_ONCE = 200
"""Descriptors in one message; the kernel takes 253."""
CREDENTIALS = struct.Struct("3i")


class Closed(Exception):
    """The other side has ended."""


def plain(value: Any) -> bytes:
    """A value made of dictionaries, lists, text, numbers and bytes, to be sent."""
    packed: bytes = msgpack.packb(value, use_bin_type=True, unicode_errors="surrogatepass")
    return packed


def values(data: bytes) -> Any:
    """The value that was sent. Raises ValueError for what is none."""
    try:
        return msgpack.unpackb(data, raw=False, strict_map_key=False, unicode_errors="surrogatepass")
    except msgpack.UnpackException as error:
        raise ValueError(str(error)) from None


def send(to: socket.socket, data: bytes) -> None:
    """Send a message. Raises Closed."""
    try:
        to.sendall(HEAD.pack(len(data)))
        to.sendall(data)
    except OSError:
        raise Closed from None


def receive(of: socket.socket) -> bytes:
    """The next message. Raises Closed where the other side has ended."""
    (size,) = HEAD.unpack(exactly(of, HEAD.size))
    if size > MOST_BYTES:
        raise Closed
    return bytes(exactly(of, size))


def receive_within(of: socket.socket, seconds: float) -> bytes | None:
    """The next message, or None where none begins within so many seconds."""
    ready, _, _ = select.select([of], [], [], max(seconds, 0.0))
    return receive(of) if ready else None


def exactly(of: socket.socket, size: int) -> bytearray:
    """So many bytes. Raises Closed where the other side ends before, or takes too long."""
    out = bytearray()
    while len(out) < size:
        try:
            part = of.recv(min(CHUNK, size - len(out)))
        except OSError:
            raise Closed from None
        if not part:
            raise Closed
        out += part
    return out


# -- files that come open ---------------------------------------------------------------------------------


class _Handing(pickle.Pickler):
    """Each path that leads to a file is opened, and the descriptor's number stands for it."""

    def __init__(self, out: io.BytesIO) -> None:
        super().__init__(out)
        self.opened: dict[Path, int] = {}
        self.order: dict[Path, int] = {}

    def persistent_id(self, value: object) -> int | None:
        """Which descriptor stands for a value; None where none does."""
        if not isinstance(value, Path):
            return None
        if value not in self.opened:
            try:
                descriptor = os.open(value, os.O_RDONLY | os.O_CLOEXEC | os.O_NONBLOCK)
            except OSError:  # it is said where it is read
                return None
            if not stat.S_ISREG(os.fstat(descriptor).st_mode):
                os.close(descriptor)
                return None
            self.order[value], self.opened[value] = len(self.opened), descriptor
        return self.order[value]


class _Handed(pickle.Unpickler):
    """The same on the other side: a path to what came open."""

    def __init__(self, data: bytes, opened: Sequence[int]) -> None:
        super().__init__(io.BytesIO(data))
        self._opened = opened

    def persistent_load(self, number: int) -> Path:
        """The path."""
        return Path(f"/proc/self/fd/{self._opened[number]}")


def hand(to: socket.socket, call: object) -> int:
    """Send a call, the files of its paths with it; gives how many bytes these have. Raises Closed."""
    out = io.BytesIO()
    handing = _Handing(out)
    try:
        handing.dump(call)
        size = sum(os.fstat(descriptor).st_size for descriptor in handing.opened.values())
        opened = list(handing.opened.values())
        to.sendall(HEAD.pack(len(opened)))
        for i in range(0, len(opened), HANDED_AT_ONCE):
            socket.send_fds(to, [b"f"], opened[i : i + HANDED_AT_ONCE])
    except OSError:
        raise Closed from None
    finally:
        for descriptor in handing.opened.values():
            os.close(descriptor)
    send(to, out.getvalue())
    return size


@contextmanager
def call_received(of: socket.socket) -> Iterator[Any]:
    """The next call; its files are open until it is done with. Raises Closed."""
    (count,) = HEAD.unpack(exactly(of, HEAD.size))
    opened: list[int] = []
    try:
        while len(opened) < count:
            _, some, _, _ = socket.recv_fds(of, 1, HANDED_AT_ONCE)
            if not some:
                raise Closed
            opened += some
        yield _Handed(bytes(receive(of)), opened).load()
    except OSError:
        raise Closed from None
    finally:
        for descriptor in opened:
            os.close(descriptor)


# -- who is at the other side --------------------------------------------------------------------------------


def takes_names(link: socket.socket) -> None:
    """From now on what comes over a link tells the number of the process that sent it (unix(7), SO_PASSCRED)."""
    link.setsockopt(socket.SOL_SOCKET, socket.SO_PASSCRED, 1)


def named(link: socket.socket) -> int:
    """The number of the process that sends the first byte, as this process knows it; it may itself have another.

    Raises Closed.
    """
    try:
        _, said, _, _ = link.recvmsg(1, socket.CMSG_SPACE(CREDENTIALS.size))
    except OSError:
        raise Closed from None
    for level, kind, data in said:
        if level == socket.SOL_SOCKET and kind == socket.SCM_CREDENTIALS:
            return int(CREDENTIALS.unpack(data[: CREDENTIALS.size])[0])
    raise Closed
