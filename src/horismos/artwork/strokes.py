"""The outlines of live strokes, with caps, joins and dashes as drawn."""

from horismos.artwork.model import Page, PathObject
from horismos.paths.contour import Contour
from horismos.paths.matrix import inverse, multiply, scale, size_of
from horismos.paths.weld import expanded

__all__ = ["stroke_outline"]


def stroke_outline(page: Page, obj: PathObject) -> list[Contour]:
    """The outline in mm of what a path strokes; none where its width is nothing.

    A pen is round in user space (ISO 32000-1, 8.4.3.2): the outline is made there, at the size that it has on the
    page. Raises CannotWrite where it cannot be made.
    """
    state = obj.state
    size = size_of(state.ctm)
    if not size or not state.line_width:
        return []
    there, back = multiply(inverse(state.ctm), scale(size)), multiply(scale(1 / size), state.ctm)
    outline = expanded(
        [contour.transformed(there) for contour in page.contours(obj)], state.line_width * size, state.line_cap,
        state.line_join, state.miter_limit, [v * size for v in state.dash[0]], state.dash[1] * size,
    )
    return [contour.transformed(back) for contour in outline]
