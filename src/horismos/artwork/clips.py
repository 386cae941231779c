"""The clips of a page as contours (ISO 32000-1, 8.5.4), for drawing inside them elsewhere."""

from horismos.artwork.model import Page
from horismos.artwork.pathdata import contours_of
from horismos.paths.contour import Contour, rectangle

__all__ = ["clip_paths"]


def clip_paths(page: Page, index: int) -> list[tuple[list[Contour], bool]]:
    """The paths in mm that a clip is made of, the outermost last, each with whether it clips even-odd."""
    out = []
    while index >= 0:
        clip = page.clips[index]
        if clip.box is not None:
            contours = [rectangle(*clip.box).transformed(clip.ctm)]
        else:
            contours = contours_of(page.streams[clip.stream].data[clip.start : clip.end], clip.ctm)
        out.append((contours, clip.even_odd))
        index = clip.outer
    return out
