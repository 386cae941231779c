"""What we note on a page of a file, under our name in its page-piece dictionary (ISO 32000-1, 14.5)."""

from typing import Any

from pikepdf import Dictionary, String

__all__ = ["MADE", "PULLED_IN", "SPREAD", "made_of", "note", "pulled_in", "spread"]

PULLED_IN = "/PulledIn"
"""How far the cuts of a page were moved inwards, in its units."""
SPREAD = "/Spread"
"""How far flat art of a page was spread under the cuts that it ends on, in its units."""
MADE = "/Made"
"""What lines of a page were made of, and their patterns, as JSON."""
ANY_DATE = "D:19700101000000Z"
"""[standard] 14.5 asks for a date; always the same one, so that the same mend gives the same file."""
MOST_NOTED = 10_000.0
MOST_MADE = 4_000_000


def pulled_in(page: Any) -> float:
    """How far the cuts were moved inwards, in units of the page; 0 where nothing is noted."""
    return _length(page, PULLED_IN)


def spread(page: Any) -> float:
    """How far flat art was spread under the cuts, in units of the page; 0 where nothing is noted."""
    return _length(page, SPREAD)


def _length(page: Any, key: str) -> float:
    try:
        noted = float(page["/PieceInfo"]["/Horismos"]["/Private"][key])
    except (KeyError, TypeError, ValueError, AttributeError):
        return 0.0
    return noted if 0 <= noted < MOST_NOTED else 0.0


def made_of(page: Any) -> str:
    """What lines of the page were made of, as it was noted; empty where nothing is."""
    try:
        noted = str(page["/PieceInfo"]["/Horismos"]["/Private"][MADE])
    except (KeyError, TypeError, ValueError, AttributeError):
        return ""
    return noted if len(noted) < MOST_MADE else ""


def note(page: Any, key: str, value: object) -> None:
    """Note something on an open page, beside what is noted already; None takes the note away."""
    if "/PieceInfo" not in page:
        page.PieceInfo = Dictionary()
    own = page.PieceInfo.get("/Horismos")
    private: Any = Dictionary(own["/Private"]) if own is not None and "/Private" in own else Dictionary()
    if value is None:
        if key in private:
            del private[key]
    else:
        private[key] = String(value) if isinstance(value, str) else value
    page.PieceInfo["/Horismos"] = Dictionary(LastModified=String(ANY_DATE), Private=private)
