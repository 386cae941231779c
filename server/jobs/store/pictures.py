"""Pictures of pages: views of a revision, made once and kept, and the pages that are open."""

import atexit
import hashlib
from collections import OrderedDict
from collections.abc import Callable
from pathlib import Path

from django.conf import settings

from horismos.artwork import Artwork, Page, art_alone, line_objects
from horismos.artwork.kinds import Kind
from horismos.artwork.read import read_boxes
from horismos.artwork.views import layer_alone, page_whole
from horismos.errors import NotFound
from horismos.intake import kind_of
from horismos.paths.box import Bounds
from horismos.rendering import PageView
from horismos.rendering.composite import ENGINE, Pixels
from jobs import models
from jobs.store.cases import artwork_by_content, destination_of
from jobs.store.files import write_whole

__all__ = ["keep_view", "kept_view", "page_picture", "picture_of"]

OPEN_PAGES = 6
SMALL_PIXELS = 40_000
_open: OrderedDict[str, PageView] = OrderedDict()


@atexit.register
def _close() -> None:
    with ENGINE:
        while _open:
            _open.popitem()[1].close()


def _path(job: models.Job, revision: models.Revision, view: str) -> Path:
    key = hashlib.sha256(f"2 {revision.sha256} {job.page} {job.destination_id} {view}".encode()).hexdigest()
    return Path(settings.VAR) / "views" / f"{key}.pdf"


def keep_view(job: models.Job, revision: models.Revision, view: str, data: bytes) -> str:
    """Keep a view that was made already; gives the hash of its content."""
    path = _path(job, revision, view)
    if not path.exists():
        write_whole(path, data)
    return hashlib.sha256(data).hexdigest()


def kept_view(job: models.Job, revision: models.Revision, view: str) -> Path:
    """The PDF of a view of a revision: ``art``, ``whole``, ``layer-N`` or ``layer-none``.

    Raises NotFound for a view that there is none.
    """
    path = _path(job, revision, view)
    if not path.exists():
        artwork = artwork_by_content(revision.sha256)
        page = artwork.pages[min(job.page, len(artwork.pages)) - 1]
        write_whole(path, _made(job, artwork, page, view))
    return path


def _made(job: models.Job, artwork: Artwork, page: Page, view: str) -> bytes:
    if view == "whole":
        return page_whole(artwork, page)
    if view == "art":
        return art_alone(artwork, page, line_objects(artwork, page, destination_of(job)))
    what, _, number = view.partition("-")
    if what == "layer" and number == "none":
        return layer_alone(artwork, page, None)
    if what == "layer" and number.isdigit() and int(number) < len(artwork.layers):
        return layer_alone(artwork, page, int(number))
    raise NotFound(f"There is no view “{view}”.")


def picture_of(path: Path, area: Bounds, ppi: float) -> Pixels:
    """A part of a kept view. Pages stay open, since opening a heavy one takes longer than a tile."""

    def opened() -> PageView:
        data = path.read_bytes()
        boxes, user_unit = read_boxes(data)
        return PageView(data, boxes, user_unit)

    return _rendered(str(path), opened, area, ppi)


def _rendered(key: str, opened: Callable[[], PageView], area: Bounds, ppi: float) -> Pixels:
    with ENGINE:
        view = _open.get(key)
        if view is None:
            view = _open[key] = opened()
        _open.move_to_end(key)
        while len(_open) > OPEN_PAGES:
            _open.popitem(last=False)[1].close()
        return view.render(area, ppi)


def page_picture(path: Path, number: int) -> Pixels:
    """One page of a customer's PDF, small. Raises NotFound where there is no such page."""
    data = path.read_bytes()
    if kind_of(data) is not Kind.PDF or number < 1:
        raise NotFound("That is no page of a PDF.")
    try:
        boxes, user_unit = read_boxes(data, number)
    except IndexError:
        raise NotFound(f"The file has no page {number}.") from None
    with PageView(data, boxes, user_unit, number) as view:
        return view.overview(SMALL_PIXELS)[0]
