"""Runs a page's content (ISO 32000-1, annex A) and notes every painted object.

Notes where each object stands in its stream, so that it can be taken out or changed there. Path
points are not parsed here; images are not decoded.
"""

from collections.abc import Callable
from typing import Any

from horismos.artwork import limits
from horismos.artwork.extent import Extent
from horismos.artwork.fonts import Glyph, UsedFont
from horismos.artwork.model import Clip, ContentStream, Group, Paint
from horismos.artwork.operators import run_stream
from horismos.artwork.page_inventory import Budget, PageInventory
from horismos.artwork.paints import paints_of, together
from horismos.artwork.resources import Form, ResourceCache, Resources
from horismos.artwork.run import Run
from horismos.artwork.scan import shown_strings
from horismos.artwork.state import GraphicsState
from horismos.errors import LimitExceeded
from horismos.paths import union_bounds
from horismos.paths.matrix import IDENTITY, Matrix, multiply

__all__ = ["ContentInterpreter"]


class ContentInterpreter(PageInventory):
    """Runs one page, or the content of a pattern or a glyph. After ``run`` its lists hold what it
    paints and uses.
    """

    def __init__(
        self, cache: ResourceCache, read_stream: Callable[[Any], bytes], budget: Budget | None = None,
        depth: int = 0,
    ) -> None:
        super().__init__(cache, read_stream, budget)
        self._depth = depth

    # -- running ------------------------------------------------------------------------------

    def run(self, data: bytes, resources: Any, ctm: Matrix) -> None:
        """Run a page's content. Raises LimitExceeded where it asks for too much."""
        self._run_stream(data, resources, (0, 0), GraphicsState(ctm), -1, (0, 0))
        if self.outer_layers:
            self.repaired("Marked content was left open at the end of the page.")

    def _run_stream(
        self, data: bytes, resources: Any, form: tuple[int, int], gs: GraphicsState, parent: int,
        place: tuple[int, int],
    ) -> None:
        budget = self.budget
        budget.content_bytes += len(data)
        budget.stream_runs += 1
        if budget.content_bytes > limits.MAX_CONTENT_BYTES:
            raise LimitExceeded("The page's content is larger than a page may be.")
        if budget.stream_runs > limits.MAX_STREAM_RUNS:
            raise LimitExceeded("The page draws more forms than a page may.")
        self.streams.append(ContentStream(data, form, parent, place))
        run_stream(Run(self, len(self.streams) - 1, Resources(resources, self.cache), gs))

    # -- content within content -------------------------------------------------------------------

    def draw_form(
        self, form: Form, gs: GraphicsState, inherited: Any, parent: int, place: tuple[int, int]
    ) -> None:
        """Draw a form XObject (ISO 32000-1, 8.10): matrix, clip to its BBox, group, content."""
        if form.number in self.open_forms:
            self.repaired("A form draws itself; the inner one was left out.")
            return
        if len(self.open_forms) >= limits.MAX_FORM_DEPTH:
            raise LimitExceeded("Forms are nested too deeply.")
        inner = gs.saved()
        if form.matrix is not None:
            inner.ctm = multiply(form.matrix, gs.ctm)
            inner.changed()
        if form.box is not None:
            self.clips.append(Clip(inner.clip, -1, 0, 0, False, inner.ctm, form.box))
            inner.clip = len(self.clips) - 1
            inner.changed()
        if form.group is not None:
            blended = Group(inner.group, *form.group, inner.alpha_fill, inner.blend, inner.soft_mask)
            self.groups.append(blended)
            inner.enter_group(len(self.groups) - 1)
        self.open_forms.append(form.number)
        depth, layers = len(self.outer_layers), self.layers
        resources = form.resources if form.resources is not None else inherited
        self._run_stream(form.data, resources, form.number, inner, parent, place)
        if len(self.outer_layers) != depth:
            del self.outer_layers[depth:]
            self.layers = layers
        self.open_forms.pop()

    def _within(self) -> "ContentInterpreter | None":
        """An interpreter for content that is not painted where it stands, under the same limits."""
        if self._depth >= limits.MAX_PATTERN_DEPTH:
            self.repaired("Patterns or glyphs draw each other too deeply; the innermost were left out.")
            return None
        return ContentInterpreter(self.cache, self.read_stream, self.budget, self._depth + 1)

    def tiling(self, pattern: Any) -> Paint:
        """The inks that a coloured tiling pattern lays down, with their highest tints (8.7.3)."""
        number = tuple(pattern.objgen)
        if number not in self.cache.patterns:
            self.cache.patterns[number] = Paint("Pattern", ())  # what one that draws itself lays down
            inner = self._within()
            if inner is None:
                return Paint("Pattern", ())
            inner.run(self.read_stream(pattern), pattern.get("/Resources"), IDENTITY)
            self.repairs.update(inner.repairs)
            self.fonts.update(inner.fonts)
            self.cache.patterns[number] = together("Pattern", inner.objects)
        return self.cache.patterns[number]

    def run_glyphs(self, font: UsedFont, operand: bytes) -> None:
        """Run those glyph procedures of a Type 3 font that a string needs, each once (9.6.5)."""
        for part in shown_strings(operand):
            for code in part if isinstance(part, bytes) else b"":
                if code not in font.glyphs:
                    font.glyphs[code] = Glyph(None)
                    font.glyphs[code] = self._run_glyph(font, code)
        for paint in font.paints:
            self.note_inks(paint)

    def _run_glyph(self, font: UsedFont, code: int) -> Glyph:
        name = font.encoding.get(code)
        procedure = font.procedures.get("/" + name) if name else None
        inner = self._within() if procedure is not None else None
        if inner is None:
            return Glyph(None)
        inner.run(self.read_stream(procedure), font.resources, IDENTITY)
        self.repairs.update(inner.repairs)
        if inner.coloured_glyph:
            font.paints.update(dict.fromkeys(p for o in inner.objects for p, _ in paints_of(o)))
        extent = Extent(inner)
        boxes = [box for box in map(extent.of, inner.objects) if box]
        return Glyph(union_bounds(boxes))
