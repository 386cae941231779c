"""What a rehearsal has shown: pieces that come out spoilt though every line and edge is as it should be."""

from collections.abc import Iterator

from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet

MOST_PERCENT = 1.0
"""[ours] one piece in a hundred is made again without a word."""


@rule(
    "edge.rehearsed", "look", Facet.GEOMETRY, Facet.ART, Facet.NAMES, limit=MOST_PERCENT, unit="%", scope="file",
)
def rehearsed(c: Context) -> Iterator[Hit]:
    """So many pieces were spoilt when printing, loading and cutting were rehearsed; nothing where nobody has."""
    found = c.rehearsed
    if found is None or found.spoilt_percent <= c.limit:
        return
    kinds = {
        "bare media at the edge": found.bare, "art trimmed": found.trimmed, "cut when loose": found.loose,
        "out of their ties too soon": found.broken,
    }
    listed = ", ".join(f"{count} {words}" for words, count in kinds.items() if count)
    missed = f"In {found.missed} of {found.loads} loads a mark was not found." if found.missed else ""
    spoilt = found.spoilt
    yield Hit(
        f"Rehearsed {found.loads} times: {spoilt} of {found.pieces} pieces spoilt ({listed})." if listed else missed,
        measured=round(found.spoilt_percent, 2), count=spoilt, detail=missed if listed else "",
    )
