"""What the checks of one page share: its lines, its art, the order. Each made once, when asked."""

from collections.abc import Callable, Collection, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from functools import cached_property
from threading import Event

from horismos.artwork.extent import art_box
from horismos.artwork.glyphs import text_box
from horismos.artwork.lines import Line, inks_of_page, line_objects, lines_by_role, outer_cut
from horismos.artwork.model import Artwork, Ink, Page, PaintedObject, PathObject, TextObject
from horismos.artwork.paints import is_additive, most_load, paints_of
from horismos.artwork.sorting import art_without, ink_alone, inks_for, painted_in
from horismos.artwork.views import page_whole
from horismos.checking.engine.terms import CheckInputs
from horismos.checking.measuring.edge_map import EdgeMap, measure_map, reach_of
from horismos.checking.measuring.outlines import LineShape
from horismos.errors import HorismosError
from horismos.orders import Edge
from horismos.paths import Contour, bounds, rectangle, union_bounds
from horismos.paths.box import Bounds
from horismos.rendering.load import DEFAULT_LIMIT
from horismos.rendering.page_process import PageProcess
from horismos.rendering.plates import PlateSet, fitting_ppi, plates
from horismos.rendering.raster import RasterView, is_heavy
from horismos.roles import InkRole, LineRole

__all__ = ["Context"]

HEAVY_BYTES = 3_000_000
"""[ours] of content: drawing any part of such a page takes half a second and more."""
USES_PLATES = "ink.load"


class Context:
    """One page under check."""

    def __init__(self, artwork: Artwork, page: Page, terms: CheckInputs, art: bytes | None = None) -> None:
        self.artwork = artwork
        self.page = page
        self.order = terms.order
        self.rehearsed = terms.rehearsed
        self.signed = terms.signed
        self.destination = terms.destination
        self.sheet = terms.sheet
        self.material = terms.material
        self.edge = terms.edge
        self.said_before = terms.known
        self.limit = 0.0
        self.more: Mapping[str, float] = {}
        self._art = art
        self._running = ""
        self._limits: dict[str, float] = {}
        self._views: dict[str, PageProcess | RasterView] = {}
        self._worker: ThreadPoolExecutor | None = None
        self._plates: Future[PlateSet] | None = None
        self._stop = Event()

    # -- the running check -------------------------------------------------------------------------

    def under(self, check_id: str, limit: float, more: Mapping[str, float]) -> "Context":
        """The context with the limits that the running check goes by."""
        self._limits.pop(check_id, None)
        self._running, self.limit, self.more = check_id, limit, more
        return self

    def override_limit(self, limit: float) -> float:
        """Go by another limit than the check sheet's, such as the order's own word."""
        self.limit = self._limits[self._running] = limit
        return limit

    def limit_of(self, check_id: str, limit: float) -> float:
        """The limit that the check went by in the end."""
        return self._limits.get(check_id, limit)

    # -- lines and art -----------------------------------------------------------------------------

    @cached_property
    def lines(self) -> list[Line]:
        """All lines of the page."""
        return line_objects(self.artwork, self.page, self.destination)

    @cached_property
    def roles(self) -> dict[LineRole, list[Line]]:
        """The lines by role."""
        return lines_by_role(self.lines)

    @cached_property
    def shape(self) -> LineShape:
        """The geometry of the lines."""
        return LineShape(self.roles)

    @cached_property
    def art_objects(self) -> list[PaintedObject]:
        """What is painted and is no line."""
        taken = {line.index for line in self.lines if line.takes_all}
        return [o for i, o in enumerate(self.page.objects) if i not in taken]

    @cached_property
    def printed(self) -> list[PaintedObject]:
        """The art that comes out on paper."""
        return [o for o in self.art_objects if o.state.prints and o.state.visible]

    @cached_property
    def counted(self) -> list[PaintedObject]:
        """What is printed in inks that it names. What RGB comes to is up to the conversion of the RIP."""
        return [o for o in self.printed if not is_additive(o)]

    def may_exceed(self, load: float) -> bool:
        """Whether the inks could come to more than so many per cent anywhere; if not, no plate need be made."""
        return not self.printed or most_load(self.counted) > load

    @cached_property
    def outer_cut(self) -> Bounds | None:
        """The box in mm of the lines that bound a whole piece; None where there are none."""
        return outer_cut(self.page, self.lines)

    @cached_property
    def art_box(self) -> Bounds | None:
        """The box in mm of what is printed on the page; None where that is nothing."""
        return art_box(self.page, self.lines)

    @property
    def finished_sizes(self) -> list[tuple[float, float]]:
        """What the finished size may be, in mm: that of the outer cut, where there is one, and that of the trim box."""
        if self.outer_cut is None:
            return [self.page.size_mm]
        in_by = 2 * self.page.pulled_in_mm  # a margin for a cut that lands off; the order still means the whole piece
        x0, y0, x1, y1 = self.outer_cut
        return [(x1 - x0 + in_by, y1 - y0 + in_by), self.page.size_mm]

    @cached_property
    def inks(self) -> list[Ink]:
        """The inks that the page names."""
        return inks_of_page(self.artwork, self.page, self.destination)

    @cached_property
    def special(self) -> dict[InkRole, tuple[tuple[str, ...], tuple[int, ...]]]:
        """White and varnish where the page has them: the names of their inks, and the objects in them."""
        out = {}
        for role in InkRole:
            names = inks_for(self.page, role, self.destination)
            if names:
                out[role] = names, painted_in(self.page, names)
        return out

    # -- pixels ------------------------------------------------------------------------------------

    @property
    def view(self) -> PageProcess | RasterView:
        """The colour of the art, without white and varnish, to be looked at."""
        special = {i for _, members in self.special.values() for i in members}
        if self._art is not None and not special:
            return self._view("colour", lambda: self._art or b"")
        return self._view("colour", lambda: art_without(self.artwork, self.page, self.lines, special))

    @property
    def heavy(self) -> bool:
        """Whether each part of the page takes long to draw."""
        return is_heavy(self.page) or sum(len(s.data) for s in self.page.streams) > HEAVY_BYTES

    def view_of(self, role: InkRole) -> PageProcess | RasterView:
        """White or varnish alone, drawn black."""
        names, members = self.special[role]
        return self._view(role.value, lambda: ink_alone(self.artwork, self.page, members, names))

    def _view(self, name: str, made: Callable[[], bytes]) -> PageProcess | RasterView:
        if name not in self._views:
            data = made()
            self._views[name] = (
                RasterView(data, self.page, self._stop.is_set) if is_heavy(self.page)
                else PageProcess.of_art(data, self.page)
            )
        return self._views[name]

    def begin(self, checks: Collection[str], keeps_plates: bool) -> None:
        """Begin what takes long and can be done beside the rest: the plates, in Ghostscript, where they are wanted."""
        limit = self.sheet.limits.get(USES_PLATES, DEFAULT_LIMIT)
        if USES_PLATES in checks and (keeps_plates or self.may_exceed(limit)):
            self._worker = ThreadPoolExecutor(1)
            self._plates = self._worker.submit(self._make_plates)

    def _make_plates(self) -> PlateSet:
        box = self.page.boxes.media
        ppi = fitting_ppi(box)
        made = plates(page_whole(self.artwork, self.page), ppi, None, self._stop.is_set, self.page.ink_names)
        return PlateSet(tuple(made), ppi, box)

    @property
    def plates(self) -> PlateSet:
        """One plate per ink. Raises what making them raised."""
        return self._plates.result() if self._plates is not None else self._make_plates()

    def plates_without(self, leaves: Callable[[PaintedObject], bool]) -> PlateSet:
        """The plates of the art without some of its objects, as large as the others."""
        out = [i for i, obj in enumerate(self.page.objects) if leaves(obj)]
        data = art_without(self.artwork, self.page, self.lines, out)
        left = {ink for o in self.counted for paint, _ in paints_of(o) for ink, _ in paint.inks}
        made = plates(data, self.plates.ppi, None, self._stop.is_set, left)
        return PlateSet(tuple(made), self.plates.ppi, self.plates.box)

    def await_plates(self) -> None:
        """Wait until the plates that were begun are made, or cannot be."""
        if self._plates is not None:
            self._plates.exception()

    @property
    def made_plates(self) -> PlateSet | None:
        """The plates, where a check wanted them and they could be made."""
        done = self._plates is not None and self._plates.done() and self._plates.exception() is None
        return self._plates.result() if done and self._plates is not None else None

    @property
    def plates_error(self) -> HorismosError | None:
        """Why the plates could not be made, where that was tried."""
        error = self._plates.exception() if self._plates is not None and self._plates.done() else None
        return error if isinstance(error, HorismosError) else None

    @cached_property
    def edges(self) -> EdgeMap:
        """The printed edge along every contour that bounds a piece; measured once for a page, however often asked."""
        faces = self.faces()
        key = ("edges", *sorted(self.destination.names.items()), reach_of(self.edge), faces is self.shape.faces)
        if key not in self.page.kept:
            views = {"colour": self.view, **{role.value: self.view_of(role) for role in self.special}}
            self.page.kept[key] = measure_map(views, faces, self.edge, self.heavy)
        found: EdgeMap = self.page.kept[key]
        return found

    @property
    def measured_edges(self) -> EdgeMap | None:
        """The same, where a check wanted it."""
        return self.__dict__.get("edges")

    def close(self) -> None:
        """Give back what is open; what still runs is stopped."""
        self._stop.set()
        for view in self._views.values():
            view.close()
        self._views = {}
        if self._worker is not None:
            self._worker.shutdown(wait=True)

    # -- places ------------------------------------------------------------------------------------

    def place(self, obj: PaintedObject) -> Bounds:
        """The bounds in mm of a painted object; those of the page where it has none of its own."""
        if isinstance(obj, PathObject):
            found = union_bounds(bounds(contour) for contour in self.page.contours(obj))
            return found or self.page.boxes.media
        if isinstance(obj, TextObject):
            return text_box(obj)
        return getattr(obj, "bounds", self.page.boxes.media)

    def places(self, lines: list[Line]) -> list[Bounds]:
        """The bounds of lines, in mm."""
        return [union_bounds(map(bounds, line.contours)) or self.place(line.object) for line in lines]

    def faces(self) -> list[Contour]:
        """The contours that bound what the customer sees; the trim where none is drawn and colour runs over."""
        drawn = any(isinstance(line.object, PathObject) for line in self.lines)
        if self.shape.faces or drawn or self.order.edge is not Edge.BLEED:
            return self.shape.faces
        return [rectangle(*self.page.boxes.trim)]
