"""Checks of pages: how many, their boxes, their size."""

from collections.abc import Iterator

from horismos.artwork.kinds import Kind
from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet
from horismos.paths.box import Bounds
from horismos.units import PLAIN_RATIOS

NESTED_WITHIN_MM = 0.01
SIZE_SHARE = 0.002
"""[ours] 0.2 %: a long panel may differ by more than half a millimetre."""


@rule("page.count", "look", Facet.BOXES, limit=1, unit="pages", scope="file")
def count(c: Context) -> Iterator[Hit]:
    """More pages than the one piece that was ordered."""
    pages = len(c.artwork.pages)
    if pages > c.limit:
        yield Hit(f"The file has {pages} pages; one piece was ordered.", pages, pages)


@rule("page.boxes", "look", Facet.BOXES, limit=NESTED_WITHIN_MM, unit="mm")
def boxes(c: Context) -> Iterator[Hit]:
    """Trim, bleed and media boxes missing, or not inside each other (ISO 32000-1, 14.11.2).

    Only a PDF can state them: a file that was made into one is not reproached with what it could not say.
    """
    b = c.page.boxes
    missing = [name for name in ("trim", "bleed") if name not in b.stated and c.artwork.made_from is Kind.PDF]
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
        yield Hit(f"{'; '.join(over)}.", max(over.values()), len(over), [b.trim])
    if missing:
        names = " and ".join(missing)
        verb = "boxes are" if len(missing) > 1 else "box is"
        yield Hit(f"The {names} {verb} missing; the page's edge stands in.", None, len(missing), subject="missing")


def _sticks_out(inner: Bounds, outer: Bounds) -> float:
    return max(outer[0] - inner[0], outer[1] - inner[1], inner[2] - outer[2], inner[3] - outer[3])


@rule("page.size", "stop", Facet.BOXES, Facet.GEOMETRY, Facet.NAMES, limit=0.5, unit="mm", scope="piece")
def size(c: Context) -> Iterator[Hit]:
    """The finished size differs from the order: neither the trim box nor the outer cut fits."""
    order = c.order
    if order.width_mm is None and order.height_mm is None:
        return
    names = ["The outer cut", "The page"][-len(c.finished_sizes) :]
    candidates = list(zip(c.finished_sizes, names, strict=True))
    wanted = (order.width_mm, order.height_mm)
    off = [(_off(found, wanted), found, what) for found, what in candidates]
    longest = max(w for w in wanted if w is not None)
    if any(difference <= max(c.limit, SIZE_SHARE * longest) for difference, _, _ in off):
        return
    difference, found, what = min(off)
    asked = " × ".join("any" if w is None else f"{w:g}" for w in wanted)
    hint = _hint(found, wanted)
    yield Hit(
        f"{what} measures {found[0]:.1f} × {found[1]:.1f} mm; {asked} mm was ordered.{hint}",
        difference,
        where=[c.outer_cut or c.page.boxes.trim],
    )


def _off(found: tuple[float, float], wanted: tuple[float | None, float | None]) -> float:
    return max(abs(f - w) for f, w in zip(found, wanted, strict=True) if w is not None)


def _hint(found: tuple[float, float], wanted: tuple[float | None, float | None]) -> str:
    if None not in wanted and _off((found[1], found[0]), wanted) <= 0.5:
        return " It fits when turned by a quarter."
    ratios = [w / f for f, w in zip(found, wanted, strict=True) if w is not None and f > 0]
    for plain in PLAIN_RATIOS:
        for ratio, words in ((plain, f"1:{plain:g}"), (1 / plain, f"{plain:g}:1")):
            if ratios and all(abs(r / ratio - 1) <= SIZE_SHARE for r in ratios):
                return f" The file is drawn at {words}."
    return ""
