"""How the files of a package are called: all of a sheet begin alike, which may itself end as anything does."""

from collections.abc import Iterable

__all__ = ["TICKET", "base_of", "cut_file", "cut_file_among"]

TICKET = "-ticket.json"


def base_of(names: Iterable[str]) -> str | None:
    """How the names of a sheet's files begin, as its ticket tells; None where there is no ticket among them.

    >>> base_of(["sail-back-cut.plt", "sail-back-ticket.json"])
    'sail-back'
    """
    return next((name.removesuffix(TICKET) for name in sorted(names) if name.endswith(TICKET)), None)


def cut_file(base: str, back: bool) -> str:
    """The name of a cut file without its ending."""
    return f"{base}-back-cut" if back else f"{base}-cut"


def cut_file_among(names: Iterable[str], suffix: str, back: bool) -> str | None:
    """The cut file of a side with such an ending, or None.

    >>> cut_file_among(["sail-back-cut.plt", "sail-back-ticket.json"], "plt", back=False)
    'sail-back-cut.plt'
    >>> cut_file_among(["sail-back-cut.plt", "sail-back-ticket.json"], "plt", back=True)
    """
    known = set(names)
    base = base_of(known)
    wanted = None if base is None else f"{cut_file(base, back)}.{suffix}"
    return wanted if wanted in known else None
