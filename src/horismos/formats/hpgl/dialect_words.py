"""A cutter's own words for tool, speed and force, turned into those of HP-GL, so that its files can be read back."""

import re

from horismos.machines import Dialect

__all__ = ["in_plain_words"]

NUMBER = r"(-?[0-9]+(?:\.[0-9]+)?)"


def in_plain_words(data: bytes, dialect: Dialect) -> bytes:
    """A cut file with ``SP``, ``VS`` in cm/s and ``FS`` where its cutter has other words; its pauses are left out.

    >>> in_plain_words(b"T2;U40;PD1,1;", Dialect(tool="T{number};", speed="U{mm_s:g};"))
    b'SP2;VS4;PD1,1;'
    """
    plain = Dialect()
    text = data.decode("latin-1")
    if dialect.pause:
        text = text.replace(dialect.pause, "")
    for word, usual, canonical, share in (
        (dialect.tool, plain.tool, "SP{:g};", 1.0),
        (dialect.speed, plain.speed, "VS{:g};", 0.1 if "{mm_s" in dialect.speed else 1.0),
        (dialect.force, plain.force, "FS{:g};", 1.0),
    ):
        if word and word != usual:
            text = re.sub(_pattern(word), lambda m, c=canonical, k=share: c.format(float(m[1]) * k), text)  # type: ignore[misc]
    return text.encode("latin-1")


def _pattern(word: str) -> str:
    """What a word looks like with any number in it."""
    begin, _, rest = word.partition("{")
    return f"(?<![A-Za-z]){re.escape(begin)}{NUMBER}{re.escape(rest.partition('}')[2])}"
