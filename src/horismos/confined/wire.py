"""What a pool and its children say to each other: a length, and so many bytes.

A child is told what to do by pickle, since it trusts who started it. What it answers is read as MessagePack,
which holds plain values and bytes and nothing that could be run.
"""

import select
import socket
import struct
from typing import Any

import msgpack

__all__ = ["Closed", "exactly", "plain", "receive", "receive_within", "send", "values"]

HEAD = struct.Struct(">Q")
MOST_BYTES = 3_000_000_000
CHUNK = 1 << 20


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
