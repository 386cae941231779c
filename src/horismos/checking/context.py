"""What the checks of one page share: its lines, its art, the order. Each made once, when asked."""

from functools import cached_property

from horismos.artwork.lines import Line, line_objects, lines_by_role
from horismos.artwork.model import Artwork, Page, PaintedObject, PathObject, TextObject
from horismos.artwork.parting import art_alone
from horismos.checking.sheet import CheckSheet
from horismos.destinations import Destination
from horismos.orders import Order
from horismos.paths import bounds, union_bounds
from horismos.paths.measure import Bounds
from horismos.rendering import PageView
from horismos.roles import LineRole

__all__ = ["Context"]


class Context:
    """One page under check."""

    def __init__(
        self, artwork: Artwork, page: Page, order: Order, destination: Destination,
        sheet: CheckSheet,
    ) -> None:
        self.artwork = artwork
        self.page = page
        self.order = order
        self.destination = destination
        self.sheet = sheet
        self.limit = 0.0
        self._limits: dict[str, float] = {}
        self._view: PageView | None = None

    def under(self, check_id: str, limit: float) -> "Context":
        """The context with the limit that the running check goes by."""
        self._limits.pop(check_id, None)
        self._running, self.limit = check_id, limit
        return self

    def order_says(self, limit: float) -> float:
        """Go by a limit of the order's instead of the check sheet's."""
        self.limit = self._limits[self._running] = limit
        return limit

    def limit_of(self, check_id: str, limit: float) -> float:
        """The limit that the check went by in the end."""
        return self._limits.get(check_id, limit)

    @cached_property
    def lines(self) -> list[Line]:
        """All lines of the page."""
        return line_objects(self.artwork, self.page, self.destination)

    @cached_property
    def roles(self) -> dict[LineRole, list[Line]]:
        """The lines by role."""
        return lines_by_role(self.lines)

    @cached_property
    def art_objects(self) -> list[PaintedObject]:
        """What is painted and is no line."""
        taken = {line.index for line in self.lines if line.takes_all}
        return [o for i, o in enumerate(self.page.objects) if i not in taken]

    @cached_property
    def art(self) -> bytes:
        """The art alone, as a PDF of one page."""
        return art_alone(self.artwork, self.page, self.lines)

    @property
    def view(self) -> PageView:
        """The art to be looked at."""
        if self._view is None:
            self._view = PageView.of_art(self.art, self.page)
        return self._view

    def close(self) -> None:
        """Give back what is open."""
        if self._view is not None:
            self._view.close()
            self._view = None

    def place(self, obj: PaintedObject) -> Bounds:
        """The bounds in mm of a painted object; those of the page where it has none of its own."""
        if isinstance(obj, PathObject):
            found = union_bounds(bounds(contour) for contour in self.page.contours(obj))
            return found or self.page.boxes.media
        if isinstance(obj, TextObject):
            return obj.bounds
        return getattr(obj, "bounds", self.page.boxes.media)

    def places(self, lines: list[Line]) -> list[Bounds]:
        """The bounds of lines."""
        return [self.place(line.object) for line in lines]
