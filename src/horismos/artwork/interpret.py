"""Runs a page's content (ISO 32000-1, annex A) and notes every painted object.

Notes where each object stands in its stream, so that it can be taken out or changed there. Path
points are not parsed here; images are not decoded.
"""

from collections.abc import Callable
from typing import Any

from horismos.artwork import limits
from horismos.artwork.fonts import UsedFont
from horismos.artwork.model import (
    Clip,
    ContentStream,
    Paint,
    PaintedObject,
)
from horismos.artwork.resources import ResourceCache, Resources
from horismos.artwork.run import Run, matrix_of
from horismos.artwork.spaces import Space
from horismos.artwork.state import IDENTITY, GraphicsState, multiply
from horismos.errors import LimitExceeded
from horismos.paths.contour import Matrix

__all__ = ["Interpreter"]

class Interpreter:
    """Runs one page. After ``run`` its lists hold what the page paints and uses."""

    def __init__(self, cache: ResourceCache, read_stream: Callable[[Any], bytes]) -> None:
        self.cache = cache
        self.read_stream = read_stream
        self.objects: list[PaintedObject] = []
        self.streams: list[ContentStream] = []
        self.clips: list[Clip] = []
        self.ink_names: dict[str, None] = {}
        self.fonts: dict[str, UsedFont] = {}
        self.repairs: dict[str, None] = {}
        self._layers: list[tuple[int, ...]] = [()]
        self._marks: list[bool] = []
        self._open_forms: list[tuple[int, ...]] = []
        self._content_bytes = 0
        self.lenient = 0
        self._noted: set[Paint] = set()

    # -- running ------------------------------------------------------------------------------

    def run(self, data: bytes, resources: Any, ctm: Matrix) -> None:
        """Run a page's content. Raises LimitExceeded where it asks for too much."""
        self._run_stream(data, resources, (0, 0), GraphicsState(ctm), -1, (0, 0))
        if len(self._layers) > 1:
            self.repairs.setdefault("Marked content was left open at the end of the page.")

    def _run_stream(
        self, data: bytes, resources: Any, form: tuple[int, int], gs: GraphicsState, parent: int,
        place: tuple[int, int],
    ) -> None:
        self._content_bytes += len(data)
        if self._content_bytes > limits.MAX_CONTENT_BYTES:
            raise LimitExceeded("The page's content is larger than a page may be.")
        if len(self.streams) >= limits.MAX_STREAM_RUNS:
            raise LimitExceeded("The page draws more forms than a page may.")
        self.streams.append(ContentStream(data, form, parent, place))
        Run(self, len(self.streams) - 1, Resources(resources, self.cache), gs).run()

    def add(self, obj: PaintedObject) -> None:
        """Note a painted object."""
        if len(self.objects) >= limits.MAX_OBJECTS:
            raise LimitExceeded("The page paints more objects than a page may.")
        self.objects.append(obj)

    def note_inks(self, paint: Paint) -> None:
        """Note the inks that a paint names, where it lays any down."""
        if paint in self._noted:
            return
        self._noted.add(paint)
        for ink, tint in paint.inks:
            if tint > 0 or paint.family in ("Separation", "DeviceN"):
                self.ink_names.setdefault(ink)

    def note_space(self, space: Space) -> None:
        """Note every ink that something in a colour space can name."""
        for ink in space.all_inks:
            self.ink_names.setdefault(ink)

    # -- layers and marked content (ISO 32000-1, 8.11 and 14.6) ----------------------------------

    @property
    def layers(self) -> tuple[int, ...]:
        """The layers that hold at this point of the content."""
        return self._layers[-1]

    def push_layers(self, layers: tuple[int, ...]) -> None:
        """Enter layers inside the ones that hold."""
        new = tuple(i for i in layers if i not in self.layers)
        self._layers.append(self.layers + new if new else self.layers)

    def pop_layers(self) -> None:
        """Leave the innermost layers."""
        if len(self._layers) > 1:
            self._layers.pop()
        else:
            self.repairs.setdefault("Marked content ends that never began.")

    def layer_depth(self) -> int:
        """How many marked-content sequences are open."""
        return len(self._layers)

    def close_layers(self, depth: int) -> None:
        """Close what a form left open."""
        del self._layers[depth:]

    # -- forms ----------------------------------------------------------------------------------

    def draw_form(
        self, form: Any, gs: GraphicsState, inherited: Any, parent: int, place: tuple[int, int]
    ) -> None:
        """Draw a form XObject (ISO 32000-1, 8.10)."""
        number = (int(form.objgen[0]), int(form.objgen[1]))
        if number in self._open_forms:
            self.repairs.setdefault("A form draws itself; the inner one was left out.")
            return
        if len(self._open_forms) >= limits.MAX_FORM_DEPTH:
            raise LimitExceeded("Forms are nested too deeply.")
        data = self.read_stream(form)
        inner = gs.saved()
        inner.ctm = multiply(matrix_of(form.get("/Matrix", IDENTITY)), gs.ctm)
        inner.changed()
        if "/Group" in form:
            inner.enter_group()
        self._open_forms.append(number)
        depth = self.layer_depth()
        resources = form.get("/Resources", inherited)
        self._run_stream(data, resources, number, inner, parent, place)
        self.close_layers(depth)
        self._open_forms.pop()
