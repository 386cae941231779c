"""Checks of layers."""

from collections.abc import Iterator

from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Hit
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet


@rule("layer.mixed", "look", Facet.NAMES, Facet.LAYERS, Facet.ART, unit="layers")
def mixed(c: Context) -> Iterator[Hit]:
    """Art and lines, or two roles, on one layer."""
    kinds: dict[int, set[str]] = {}
    lines = {line.index: line for line in c.lines}
    for index, obj in enumerate(c.page.objects):
        line = lines.get(index)
        for layer in obj.state.layers[-1:]:
            found = kinds.setdefault(layer, set())
            if line is not None:
                found.add(" or ".join(role.words for role in line.roles))
            if line is None or not line.takes_all:
                found.add("art")
    for layer, found in kinds.items():
        if len(found) > 1:
            listed = [*sorted(found - {"art"}), *(["art"] if "art" in found else [])]
            lines_there = [line for line in c.lines if layer in line.object.state.layers]
            yield Hit(
                f"Layer “{c.artwork.layers[layer].name}” holds {' and '.join(listed)}. "
                "They cannot be hidden apart from each other.",
                measured=len(found), count=len(found), where=c.places(lines_there),
                subject=c.artwork.layers[layer].name, limit=1, unit="kinds"
            )


@rule("layer.hidden-art", "look", Facet.LAYERS, Facet.ART)
def hidden_art(c: Context) -> Iterator[Hit]:
    """Art that is hidden or does not print."""
    for words, found in (
        ("is hidden", [o for o in c.art_objects if not o.state.visible]),
        ("shows on screen but does not print", [o for o in c.art_objects if o.state.visible and not o.state.prints]),
    ):
        if found:
            names = sorted({c.artwork.layers[i].name for o in found for i in o.state.layers})
            on = f" on {', '.join(f'“{name}”' for name in names)}" if names else ""
            yield Hit(
                f"{len(found)} object{'s' if len(found) > 1 else ''} of the art{on} {words}.",
                measured=len(found), count=len(found), where=[c.place(o) for o in found[:MOST_PLACES]], subject=words,
            )
