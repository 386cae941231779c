"""What a page has painted and used so far: the one book that all runs through its streams write in.

It keeps count and knows no operator; ``run`` reads them, ``interpret`` decides what is run.
"""

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterable
from typing import Any, NamedTuple

from horismos.artwork import limits
from horismos.artwork.fonts import UsedFont
from horismos.artwork.layers import EVERYWHERE, Membership
from horismos.artwork.model import Clip, ContentStream, Damage, Group, Paint, PaintedObject, Repair
from horismos.artwork.resources import Form, ResourceCache
from horismos.artwork.spaces import Space
from horismos.artwork.state import GraphicsState
from horismos.errors import LimitExceeded

__all__ = ["Budget", "ColourOperator", "PageInventory"]


class ColourOperator(NamedTuple):
    """An operator that sets a colour: bytes ``start`` to ``end`` of a stream run, and what it sets.

    ``chooses`` says that it chooses a space, whose first colour is the paint. ``space`` is the space as the file
    has it, and ``name`` what the run's resources call it; empty for a device space or one chosen in another run.
    """

    stream: int
    start: int
    end: int
    stroking: bool
    paint: Paint
    chooses: bool
    name: str
    space: Any


class Budget:
    """What one page may ask of the reader, counted over all that it draws."""

    def __init__(self) -> None:
        self.content_bytes = 0
        self.stream_runs = 0
        self.objects = 0


class PageInventory(ABC):
    """The lists of one page, or of the content of a pattern or a glyph."""

    def __init__(
        self, cache: ResourceCache, read_stream: Callable[[Any], bytes], budget: Budget | None = None,
    ) -> None:
        self.cache = cache
        self.read_stream = read_stream
        self.objects: list[PaintedObject] = []
        self.streams: list[ContentStream] = []
        self.clips: list[Clip] = []
        self.groups: list[Group] = []
        self.ink_names: dict[str, None] = {}
        self.fonts: dict[str, UsedFont] = {}
        self.repairs: dict[Repair, None] = {}
        self.layers: Membership = EVERYWHERE
        self.outer_layers: list[Membership] = []
        self.open_forms: list[tuple[int, ...]] = []
        self.budget = budget or Budget()
        self.lenient = 0
        self.unrestored = 0
        self.colours: list[ColourOperator] | None = None
        self.text_ends: list[tuple[int, int]] = []
        self.set_by: list[tuple[int, int]] = []
        self.states: dict[int, Callable[[], GraphicsState]] = {}
        self.coloured_glyph = True
        self._noted: set[Paint] = set()
        self.device_paints: dict[tuple[Any, ...], Paint] = {}

    def repaired(self, words: str, lost: bool = False) -> None:
        """Note what had to be read leniently, once; ``lost`` where part of the page is not there for it."""
        self.repairs.setdefault(Repair(words, Damage.CONTENT, lost))

    def add(self, obj: PaintedObject) -> None:
        """Note a painted object."""
        self.budget.objects += 1
        if self.budget.objects > limits.MAX_OBJECTS:
            raise LimitExceeded("The page paints more objects than a page may.")
        self.objects.append(obj)
        if self.colours is not None:
            by = self.states[obj.stream]().set_by
            self.set_by.append((by.get(True, -1), by.get(False, -1)))

    def note_inks(self, paint: Paint) -> None:
        """Note the inks that a paint names, where it lays any down."""
        if paint in self._noted:
            return
        self._noted.add(paint)
        self._note(ink for ink, tint in paint.inks if tint > 0 or paint.family in ("Separation", "DeviceN"))

    def note_space(self, space: Space) -> None:
        """Note every ink that something in a colour space can name."""
        self._note(space.all_inks)

    def _note(self, inks: Iterable[str]) -> None:
        self.ink_names.update(dict.fromkeys(inks))
        if len(self.ink_names) > limits.MAX_INKS:
            raise LimitExceeded(
                f"The page names more than {limits.MAX_INKS} inks.", "Ask for the file with its colours joined.",
            )

    def note_font(self, font: UsedFont) -> None:
        """Note a font in use; one of the same name that is not embedded counts."""
        known = self.fonts.get(font.name)
        if known is None or (known.embedded and not font.embedded):
            self.fonts[font.name] = font

    # -- layers and marked content (ISO 32000-1, 8.11 and 14.6) ----------------------------------

    def push_layers(self, member: Membership) -> None:
        """Enter optional or marked content inside what is open."""
        self.outer_layers.append(self.layers)
        if member is not EVERYWHERE:
            self.layers = member.inside(self.layers)

    def pop_layers(self) -> None:
        """Leave the innermost marked content."""
        if self.outer_layers:
            self.layers = self.outer_layers.pop()
        else:
            self.repaired("Marked content ends that never began.")

    # -- content within content, for whoever decides what is run -----------------------------------

    @abstractmethod
    def draw_form(
        self, form: Form, gs: GraphicsState, inherited: Any, parent: int, place: tuple[int, int]
    ) -> None:
        """Draw a form XObject (ISO 32000-1, 8.10): matrix, clip to its BBox, group, content."""

    @abstractmethod
    def tiling(self, pattern: Any) -> Paint:
        """The inks that a coloured tiling pattern lays down, with their highest tints (8.7.3)."""

    @abstractmethod
    def run_glyphs(self, font: UsedFont, operand: bytes) -> None:
        """Run those glyph procedures of a Type 3 font that a string needs, each once (9.6.5)."""
