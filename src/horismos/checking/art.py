"""Checks of text and transparency in the art."""

from collections.abc import Iterator

from horismos.artwork.model import ImageObject, TextObject
from horismos.checking.check import rule
from horismos.checking.context import Context
from horismos.checking.findings import MOST_PLACES, Hit


@rule("text.live", "look", unit="texts")
def live_text(c: Context) -> Iterator[Hit]:
    """Text that is not outlined."""
    texts = [o for o in c.art_objects if isinstance(o, TextObject) and o.rendering_mode != 3]
    if texts:
        fonts = ", ".join(sorted({t.font for t in texts}))
        yield Hit(
            f"{len(texts)} live text{'s' if len(texts) != 1 else ''} in {fonts}. "
            "It can change its shape where the font differs; outlines cannot.",
            len(texts), len(texts), [t.bounds for t in texts[:MOST_PLACES]],
        )


@rule("art.transparency", "look")
def transparency(c: Context) -> Iterator[Hit]:
    """Live transparency in the art."""
    found = [
        o for o in c.art_objects
        if o.state.transparent or (isinstance(o, ImageObject) and o.masked)
    ]
    if found:
        ways = sorted(
            {
                "soft mask" if o.state.soft_mask or (isinstance(o, ImageObject) and o.masked)
                else "blending" if o.state.blend not in ("Normal", "Compatible")
                else "opacity"
                for o in found
            }
        )
        yield Hit(
            f"{len(found)} objects are see-through. Some RIPs flatten them and lose what is below.",
            len(found), len(found), [c.place(o) for o in found[:MOST_PLACES]],
            detail=f"By {', '.join(ways)}.",
        )
