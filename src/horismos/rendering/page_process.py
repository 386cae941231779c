"""A page drawn in a process of its own, so that there is an end to it.

PDFium cannot be stopped in the middle of a page: a pattern of a million tiles keeps it for hours. So what must not
hang forks, and the fork draws; when it takes too long it is ended, and whoever asked goes on without the picture.
"""

import contextlib
import json
import mmap
import os
import select
import signal
import struct
from types import TracebackType
from typing import Self

import numpy as np

from horismos.artwork.model import Boxes, Page
from horismos.errors import CannotRead, HorismosError, LimitExceeded, by_code
from horismos.paths.box import Bounds
from horismos.rendering.composite import MAX_PIXELS, PageView, Pixels
from horismos.sandbox.limits import die_with_parent

__all__ = ["PageProcess"]

DRAWING_S = 20.0
"""[ours] for one picture of a page."""
HEAD = struct.Struct(">I")


class PageProcess:
    """One page of a PDF, to be asked as a PageView. Raises LimitExceeded where a picture takes too long."""

    def __init__(self, data: bytes, boxes: Boxes, user_unit: float = 1.0, seconds: float = DRAWING_S) -> None:
        self.boxes = boxes
        self._seconds = seconds
        self._shared = mmap.mmap(-1, MAX_PIXELS * 3)
        asked_out, asked_in = os.pipe()
        told_out, told_in = os.pipe()
        parent = os.getpid()
        self._number = os.fork()
        if self._number == 0:
            with contextlib.suppress(BaseException):
                die_with_parent(parent)
                _close_all_but(asked_out, told_in)
                _draw(data, boxes, user_unit, self._shared, asked_out, told_in)
            os._exit(0)
        os.close(asked_out)
        os.close(told_in)
        self._ask, self._told = asked_in, told_out

    @classmethod
    def of_art(cls, art: bytes, page: Page) -> "PageProcess":
        """The view of the art alone of a page."""
        return cls(art, page.boxes, page.user_unit)

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None,
    ) -> None:
        self.close()

    def render(self, area: Bounds, ppi: float) -> Pixels:
        """As PageView.render. Raises LimitExceeded also where it takes too long, or where it did before."""
        if not self._number:
            raise self._too_long()
        _send(self._ask, json.dumps([[*map(float, area)], ppi]).encode())
        ready, _, _ = select.select([self._told], [], [], self._seconds)
        if not ready:
            self.close()
            raise self._too_long()
        answer = _receive(self._told)
        if answer is None:
            self.close()
            raise CannotRead("The page made its renderer end.", "Ask for the file to be written again.")
        told = json.loads(answer)
        if "error" in told:
            raise by_code(told["error"], told["message"], told["next_step"])
        height, width = int(told["height"]), int(told["width"])
        drawn = np.frombuffer(self._shared, np.uint8, height * width * 3)
        return drawn.reshape(height, width, 3).copy()

    def _too_long(self) -> LimitExceeded:
        return LimitExceeded(f"Drawing the page takes longer than {self._seconds:.0f} s.", "Ask for a simpler file.")

    def overview(self, most_pixels: int = 1_000_000) -> tuple[Pixels, float]:
        """As PageView.overview."""
        ppi = PageView.overview_ppi(self.boxes, most_pixels)
        return self.render(self.boxes.media, ppi), ppi

    def close(self) -> None:
        """End the process."""
        if self._number:
            with contextlib.suppress(ProcessLookupError):
                os.kill(self._number, signal.SIGKILL)
            os.waitpid(self._number, 0)
            os.close(self._ask)
            os.close(self._told)
            self._number = 0


def _close_all_but(*kept: int) -> None:
    """Close what was open when the process was forked: another thread may be waiting for its end."""
    at = 3
    for number in sorted(kept):
        os.closerange(at, number)
        at = number + 1
    os.closerange(at, os.sysconf("SC_OPEN_MAX"))


def _draw(data: bytes, boxes: Boxes, user_unit: float, shared: mmap.mmap, asked: int, told: int) -> None:
    """The other side: draw what is asked for until nobody asks any more."""
    view: PageView | None = None
    said: dict[str, int | str]
    while (message := _receive(asked)) is not None:
        try:
            view = view or PageView(data, boxes, user_unit)
            area, ppi = json.loads(message)
            pixels = view.render(tuple(area), ppi)
            shared.seek(0)
            shared.write(pixels.tobytes())
            said = {"height": pixels.shape[0], "width": pixels.shape[1]}
        except HorismosError as error:
            said = {"error": error.code, "message": error.message, "next_step": error.next_step}
        _send(told, json.dumps(said).encode())


def _send(to: int, data: bytes) -> None:
    with contextlib.suppress(BrokenPipeError):
        os.write(to, HEAD.pack(len(data)) + data)


def _receive(of: int) -> bytes | None:
    head = os.read(of, HEAD.size)
    return os.read(of, HEAD.unpack(head)[0]) if len(head) == HEAD.size else None
