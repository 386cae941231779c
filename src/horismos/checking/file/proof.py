"""Whether the customer has signed a proof of just this artwork, where a check sheet asks for that."""

from collections.abc import Iterator

from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet


@rule("file.proof", "off", *Facet, scope="file")
def proof(c: Context) -> Iterator[Hit]:
    """The customer has not signed a proof of the artwork as it stands; nothing where nobody keeps proofs."""
    if c.signed is False:
        yield Hit("The customer has not signed a proof of the artwork as it stands.", measured=None)
