"""A simulated mail service: what is handed to it lies in a folder as .eml files, and goes nowhere."""

from pathlib import Path

from horismos.errors import CannotWrite
from horismos.words import safe_name

__all__ = ["hand_over"]


def hand_over(outbox: Path, name: str, data: bytes) -> Path:
    """Let the service have a message; the same one twice lies there once. Raises CannotWrite."""
    path = outbox / f"{safe_name(name)}.eml"
    part = path.with_suffix(".part")
    try:
        outbox.mkdir(parents=True, exist_ok=True)
        part.write_bytes(data)
        part.replace(path)
    except OSError as error:
        raise CannotWrite(f"The mail service takes nothing ({error.strerror}).", "Tell who looks after it.") from None
    return path
