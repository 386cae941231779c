"""Draws text and strokes as outlines: what is drawn stays, whatever becomes of the fonts and of the size."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import pikepdf
from pikepdf import Dictionary

from horismos.artwork.edit import Edit, edit_page, unused_names
from horismos.artwork.fontless import without_idle_fonts
from horismos.artwork.glyphs import has_outlines, text_bounds, text_contours
from horismos.artwork.lines import Line
from horismos.artwork.model import Page, PathObject, TextObject
from horismos.artwork.outline_text import outlined
from horismos.artwork.parting import clip_operator
from horismos.artwork.pathdata import path_operators
from horismos.artwork.recolour import as_fill, colours_at
from horismos.artwork.strokes import FINE_MM, covers_alike, stroke_area, stroke_outline
from horismos.comparing.difference import MOST_PIXELS, Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, Places, places_of, register
from horismos.mending.engine.settings import ROLE
from horismos.mending.lines.paint import InkNames, units_per_mm
from horismos.paths.areas import area_of
from horismos.paths.box import Bounds, grow
from horismos.paths.matrix import size_of
from horismos.rendering.composite import PageView
from horismos.units import HAIRLINE_MM, MM_PER_INCH
from horismos.words import plural

TOUCHES = frozenset([Facet.ART, Facet.LOOK, Facet.NAMES])
"""Of names only those go that nothing but spaces was set in."""
MOST_MEAN_DELTA_E = 1.0
"""[ours] what is drawn may differ by the smoothing of letters; more means that it is another drawing."""
SEEN_PX = 3.0
"""[ours] pixels that a stroke is wide at least for its picture to be compared."""
UNSEEN, CLIPS = 3, 4
"""[standard] ISO 32000-1, table 106: the rendering mode that paints nothing; from where on text adds to the clip."""


def _texts(before: MendContext, page: Page, of_lines: bool) -> tuple[list[int], int]:
    """The texts of the art, or of lines, by index, that can be outlined, and how many cannot."""
    lines = {line.index: line for line in before.lines if line.page is page}
    found: list[int] = []
    left = 0
    for i, obj in enumerate(page.objects):
        line = lines.get(i)
        if not isinstance(obj, TextObject) or (line is not None) is not of_lines or obj.rendering_mode == UNSEEN:
            continue
        if line is not None and before.step.role not in (None, line.role):
            continue
        if obj.rendering_mode < CLIPS and has_outlines(obj):
            found.append(i)
        else:
            left += 1
    return found, left


def _all_texts(before: MendContext, of_lines: bool) -> tuple[dict[int, list[int]], int]:
    def find() -> tuple[dict[int, list[int]], int]:
        pages = {page.number: _texts(before, page, of_lines) for page in before.artwork.pages}
        return {number: texts for number, (texts, _) in pages.items()}, sum(left for _, left in pages.values())

    found, left = before.cached("texts", find)
    if not any(found.values()):
        why = " The outlines of its fonts are not in the file." if left else ""
        raise NothingToDo(f"No live text can be outlined.{why}")
    return found, left


def _say_texts(before: MendContext, of_lines: bool = False) -> MendSummary:
    found, left = _all_texts(before, of_lines)
    count = sum(map(len, found.values()))
    stays = f" Not outlined, since the file lacks the outlines: {plural(left, 'text')}." if left else ""
    return MendSummary(
        f"Draws {plural(count, 'text')} as the outlines of {'its' if count == 1 else 'their'} letters. What is drawn "
        f"stays; the words can no longer be changed.{stays}", {"texts": count, "left": left},
        lambda: _round_texts(before, found),
    )


def _round_texts(before: MendContext, found: Mapping[int, Sequence[int]]) -> Places:
    """Where the texts stand, with as much round them as an overhanging letter or a stroke may need."""
    out: dict[int, list[Bounds]] = {}
    for page in before.artwork.pages:
        for i in found[page.number]:
            obj = page.objects[i]
            box = text_bounds(obj) if isinstance(obj, TextObject) else None
            if box and isinstance(obj, TextObject):
                out.setdefault(page.number, []).append(grow(box, obj.size_mm / 4))
    return out


def _do_texts(before: MendContext, pdf: pikepdf.Pdf, of_lines: bool = False) -> None:
    for page in before.artwork.pages:
        texts = {
            i: contours for i in _all_texts(before, of_lines)[0][page.number]
            if isinstance(obj := page.objects[i], TextObject) and (contours := text_contours(obj)) is not None
        }
        if not texts:
            continue
        if of_lines:
            names = InkNames(before, pdf)
            own = {line.index: line for line in before.lines if line.page is page}
            stroked = {i: _stroke_of(names, own[i]) for i in texts}
            edit_page(pdf, page, outlined(pdf, page, texts, stroked), names.resources)
        else:
            edit_page(pdf, page, outlined(pdf, page, texts), {})
    without_idle_fonts(pdf)


def _stroke_of(names: InkNames, line: Line) -> bytes:
    """What a line's letters are stroked by: a hairline in its ink, overprinting as lines do."""
    over = names.overprint(True, True)
    width = HAIRLINE_MM * units_per_mm(line.object)
    return f"/{over} gs /{names.of(line)} CS {line.tint:g} SCN {width:.6f} w [] 0 d".encode()


def _looks_alike(before: MendContext, difference: Difference) -> None:
    if difference.art_mean_delta_e > MOST_MEAN_DELTA_E:
        raise CannotWrite(
            f"The outlines look otherwise, by ΔE {difference.art_mean_delta_e:.1f} on the whole.",
            "Nothing was changed; ask for an outlined file.",
        )


register(Mend(
    id="text-to-outlines", label="Outline the text", answers=("text.live",), touches=TOUCHES, settings=(),
    say=_say_texts, do=_do_texts, prove=_looks_alike, safe=False, order=120, removes=True
))
register(Mend(
    id="line-text-to-outlines", label="Outline the text of the {role}", answers=("line.text",),
    touches=frozenset([Facet.GEOMETRY, Facet.PAINT, Facet.LAYERS, Facet.ART]), settings=(ROLE,),
    say=lambda before: _say_texts(before, True), do=lambda before, pdf: _do_texts(before, pdf, True),
    prove=_looks_alike, safe=False, order=9, reveals=True, removes=True
))


# -- strokes ---------------------------------------------------------------------------------------


def _strokes(before: MendContext, page: Page) -> list[int]:
    """The stroked paths of the art, by index."""
    lines = {line.index for line in before.lines if line.page is page}
    return [
        i for i, o in enumerate(page.objects)
        if isinstance(o, PathObject) and o.strokes and i not in lines and o.state.line_width > 0
        and "Pattern" not in o.state.stroke.family
    ]


def _say_strokes(before: MendContext) -> MendSummary:
    found = {page.number: _strokes(before, page) for page in before.artwork.pages}
    count = sum(map(len, found.values()))
    if not count:
        raise NothingToDo("No stroke of the art is live.")
    return MendSummary(
        f"Draws {plural(count, 'stroke')} of the art as filled outlines, with {'its' if count == 1 else 'their'} caps, "
        "joins and dashes. What is drawn stays.", {"strokes": count}, lambda: places_of(before, found),
    )


def _do_strokes(before: MendContext, pdf: pikepdf.Pdf) -> None:
    for page in before.artwork.pages:
        strokes = _strokes(before, page)
        if not strokes:
            continue
        _, colours = colours_at(pdf, page, strokes)
        states = _States(before)
        edits: dict[int, list[Edit]] = {}
        for i in strokes:
            obj = page.objects[i]
            assert isinstance(obj, PathObject)
            edits.setdefault(obj.stream, []).append(_expanded(page, obj, states.of(obj) + as_fill(colours[i][0])))
        edit_page(pdf, page, edits, states.resources)


class _States:
    """Graphics states in which a fill is printed as the stroke was: overprinting or not, as clear."""

    def __init__(self, before: MendContext) -> None:
        self.resources: dict[tuple[str, str], Any] = {}
        self._names = unused_names(before.artwork.pages, "HzStroke")
        self._known: dict[tuple[bool, float], str] = {}

    def of(self, obj: PathObject) -> bytes:
        """The operator that sets it; nothing where strokes and fills are alike already."""
        state = obj.state
        if state.overprint_stroke == state.overprint_fill and state.alpha_stroke == state.alpha_fill:
            return b""
        key = state.overprint_stroke, state.alpha_stroke
        if key not in self._known:
            self._known[key] = next(self._names)
            made = Dictionary(op=key[0], OP=key[0], ca=key[1])
            self.resources[("/ExtGState", self._known[key])] = made
        return f"/{self._known[key]} gs ".encode()


def _expanded(page: Page, obj: PathObject, head: bytes) -> Edit:
    """A stroked path as a filled one; its own fill, if it has one, stays below it."""
    data = page.streams[obj.stream].data
    path = data[obj.start : obj.path_end]
    state = obj.state
    outline = stroke_outline(page, obj)
    fill = path + b" h" * obj.closes + (b" f* " if obj.operator.endswith("*") else b" f ") if obj.fills else b" "
    drawn = path_operators(outline, state.ctm)
    text = fill + (b" q " + head + b"\n" + drawn + b" f Q " if outline else b"")
    clip = clip_operator(data[obj.path_end : obj.end])
    text += path + clip + b" n " if clip else b""
    return Edit(obj.start, obj.end, text)


def _covers_alike(before: MendContext, difference: Difference) -> None:
    """The outlines in the new file cover what the strokes covered: each reckoned by another library than drew them.

    A renderer draws a stroke that is thinner than a pixel of the comparison as wide as one, and a fill as pale as it
    is: only where all strokes are some pixels wide can the pictures be compared as well.
    """
    wide = True
    for page, later in zip(before.artwork.pages, difference.later.pages, strict=True):
        for obj, outline in _outlines_in(page, later, set(_strokes(before, page))):
            width = obj.state.line_width * size_of(obj.state.ctm)
            wide &= width * PageView.overview_ppi(page.boxes, MOST_PIXELS) / MM_PER_INCH >= SEEN_PX
            made, meant = area_of(later.contours(outline), FINE_MM), stroke_area(page, obj)
            if meant is not None and not covers_alike(made, meant, width):
                raise CannotWrite(
                    f"A stroke covers {meant.area:.2f} mm², and its outline would {made.area:.2f}.",
                    "Nothing was changed; ask for an outlined file.",
                )
    if wide:
        _looks_alike(before, difference)


def _outlines_in(page: Page, later: Page, strokes: set[int]) -> Iterator[tuple[PathObject, PathObject]]:
    """Each path that was stroked, with what it is outlined by on the later page: behind its own fill, if it has one.

    Raises CannotWrite where that is not there.
    """
    at = 0
    for i, obj in enumerate(page.objects):
        if i not in strokes:
            at += 1
            continue
        assert isinstance(obj, PathObject)
        at += obj.fills
        if not stroke_outline(page, obj):
            continue
        outline = later.objects[at] if at < len(later.objects) else None
        if not isinstance(outline, PathObject) or outline.strokes or not outline.fills:
            raise CannotWrite("A stroke would be lost.", "Nothing was changed; ask for an outlined file.")
        yield obj, outline
        at += 1


register(Mend(
    id="strokes-to-outlines", label="Outline the strokes", answers=("stroke.live",), touches=TOUCHES, settings=(),
    say=_say_strokes, do=_do_strokes, prove=_covers_alike, safe=False, order=121
))
