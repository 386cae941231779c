"""Checks of pages: how many, their boxes, their size."""

from collections.abc import Iterator

from horismos.artwork.extent import art_boxes
from horismos.artwork.kinds import FileKind
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import MOST_PLACES, Hit
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet
from horismos.paths.box import Bounds, common
from horismos.units import PLAIN_RATIOS
from horismos.words import are, plural

Ways = list[tuple[str, dict[str, object]]]
"""Mends with the settings that were worked out for them."""
NESTED_WITHIN_MM = 0.01
PROPORTION = 0.005
"""[ours] proportions that differ by no more are the same: 0.5 %."""
LEAST_RATIO, MOST_RATIO = 0.01, 100.0
SIZE_SHARE = 0.002
"""[ours] 0.2 %: a long panel may differ by more than half a millimetre."""


@rule("page.count", "look", Facet.BOXES, limit=1, unit="pages", scope="file")
def count(c: Context) -> Iterator[Hit]:
    """More pages than the one piece that was ordered."""
    pages = len(c.artwork.pages)
    if pages > c.limit:
        yield Hit(f"The file has {pages} pages; one piece was ordered.", measured=pages, count=pages)


@rule("page.boxes", "look", Facet.BOXES, limit=NESTED_WITHIN_MM, unit="mm")
def boxes(c: Context) -> Iterator[Hit]:
    """Trim, bleed and media boxes missing, or not inside each other (ISO 32000-1, 14.11.2).

    Only a PDF can state them: a file that was made into one is not reproached with what it could not say.
    """
    b = c.page.boxes
    missing = [name for name in ("trim", "bleed") if name not in b.stated and c.artwork.made_from is FileKind.PDF]
    over = {
        f"The {inner} box reaches {_sticks_out(x, y):.2f} mm out of the {outer} box": _sticks_out(x, y)
        for inner, x, outer, y in (
            ("trim", b.trim, "bleed", b.bleed),
            ("bleed", b.bleed, "media", b.media),
            ("trim", b.trim, "media", b.media),
        )
        if _sticks_out(x, y) > c.limit
    }
    if over:
        yield Hit(f"{'; '.join(over)}.", measured=max(over.values()), count=len(over), where=[b.trim])
    if missing:
        names = " and ".join(missing)
        verb = "boxes are" if len(missing) > 1 else "box is"
        yield Hit(
            f"The {names} {verb} missing; the page's edge stands in.", measured=None, count=len(missing),
            subject="missing"
        )


def _sticks_out(inner: Bounds, outer: Bounds) -> float:
    return max(outer[0] - inner[0], outer[1] - inner[1], inner[2] - outer[2], inner[3] - outer[3])


@rule("page.beyond", "look", Facet.BOXES, Facet.ART, Facet.NAMES, limit=0.5, unit="mm")
def beyond(c: Context) -> Iterator[Hit]:
    """Art that the page's edge cuts off, or that lies beyond it; what fills the page may run over its edge."""
    media, trim = c.page.boxes.media, c.page.boxes.trim
    boxes = art_boxes(c.page, c.lines)
    inside = [box for box in boxes if common(box, media) is not None]
    # what lies wholly outside is a leftover, unless there is nothing else
    found = [b for b in inside or boxes if _sticks_out(b, media) > c.limit and _sticks_out(trim, b) > 0]
    if not found:
        return
    found.sort(key=lambda box: -_sticks_out(box, media))
    far = _sticks_out(found[0], media)
    all_of_it = "" if inside else "All of the art lies beyond the page. "
    yield Hit(
        f"{all_of_it}{plural(len(found), 'object')} of the art {are(len(found), 'goes', 'go')} up to {far:.1f} mm "
        "beyond the page's edge. That is cut off, and nothing of it is printed.",
        measured=far, count=len(found), where=[common(box, media) or trim for box in found[:MOST_PLACES]],
        proposes=[("fit-page", {"to": "all"})],
    )


@rule("page.size", "stop", Facet.BOXES, Facet.GEOMETRY, Facet.NAMES, Facet.ART, limit=0.5, unit="mm", scope="piece")
def size(c: Context) -> Iterator[Hit]:
    """The finished size differs from the order: neither the trim box nor the outer cut fits."""
    order = c.order
    if order.width_mm is None and order.height_mm is None:
        return
    names = ["The outer cut", "The page"][-len(c.finished_sizes) :]
    candidates = list(zip(c.finished_sizes, names, strict=True))
    wanted = (order.width_mm, order.height_mm)
    longest = max(w for w in wanted if w is not None)
    within = max(c.limit, SIZE_SHARE * longest)
    if any(_off(found, wanted) <= within for found, _ in candidates):
        return
    found, what = next((one for one in candidates if _hint(one[0], wanted)[0]), candidates[0])
    asked = " × ".join("any" if w is None else f"{w:g}" for w in wanted)
    words, ways = _hint(found, wanted)
    if not words and c.art_box is not None and _off(_size(c.art_box), wanted) <= within:
        words, ways = " The art on it has the size that was ordered.", [("fit-page", {"to": "art"})]
    if not words:
        words, ways = _scaled(found, wanted, within)
    yield Hit(
        f"{what} measures {found[0]:.1f} × {found[1]:.1f} mm; {asked} mm was ordered.{words}",
        measured=_off(found, wanted), where=[c.outer_cut if c.outer_cut and what == names[0] else c.page.boxes.trim],
        proposes=ways
    )


def _size(box: Bounds) -> tuple[float, float]:
    return box[2] - box[0], box[3] - box[1]


def _off(found: tuple[float, float], wanted: tuple[float | None, float | None]) -> float:
    return max(abs(f - w) for f, w in zip(found, wanted, strict=True) if w is not None)


def _scaled(
    found: tuple[float, float], wanted: tuple[float | None, float | None], within_mm: float
) -> tuple[str, Ways]:
    """How scaling brings it to the order: at once, or by one side where the proportions differ; words and steps."""
    ratios = [w / f if w is not None and f > 0 else None for f, w in zip(found, wanted, strict=True)]
    known = [r for r in ratios if r is not None]
    if not known or not all(LEAST_RATIO <= r <= MOST_RATIO for r in known):
        return "", []
    apart = max(known) / min(known) - 1
    if apart <= PROPORTION:
        longer = max((w, r) for w, r in zip(wanted, ratios, strict=True) if w is not None and r is not None)[1]
        return "", [("scale", {"to": "order", "ratio": round(longer, 9)})]
    turned = [w / f for f, w in zip(found[::-1], wanted, strict=True) if w is not None and f > 0]
    if len(turned) == 2 and max(turned) / min(turned) - 1 <= PROPORTION:
        return " It has these proportions when turned by a quarter.", [("turn", {"degrees": "90"})]
    sides = zip(("order-width", "order-height"), ratios, found, wanted, strict=True)
    ways: Ways = [
        ("scale", {"to": to, "ratio": round(r, 9)}) for to, r, f, w in sides
        if r is not None and w is not None and abs(f - w) > within_mm
    ]
    return f" The proportions differ by {apart * 100:.1f} %: which side holds?", ways


def _hint(found: tuple[float, float], wanted: tuple[float | None, float | None]) -> tuple[str, Ways]:
    """What a size that is off by a plain ratio or by a quarter turn was meant as, and the mend for it."""
    if None not in wanted and _off((found[1], found[0]), wanted) <= 0.5:
        return " It fits when turned by a quarter.", [("turn", {"degrees": "90"})]
    ratios = [w / f for f, w in zip(found, wanted, strict=True) if w is not None and f > 0]
    for plain in PLAIN_RATIOS:
        for ratio, words in ((plain, f"1:{plain:g}"), (1 / plain, f"{plain:g}:1")):
            if ratios and all(abs(r / ratio - 1) <= SIZE_SHARE for r in ratios):
                return f" The file is drawn at {words}.", [("scale", {"ratio": float(ratio)})]
    return "", []
