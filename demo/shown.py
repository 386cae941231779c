"""Draws what the demo shop has already made: signs and labels that are clean."""

import io
from collections.abc import Callable

from reportlab.lib.colors import CMYKColor
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from demo.draw import TERN, WADER, curve, lettered, line, page

__all__ = ["hide_number", "opening_hours", "ring_label", "rockpool_label"]

BOLD = "Next-Bold"
SAND, TEAL = CMYKColor(0.03, 0.12, 0.3, 0), CMYKColor(0.8, 0.3, 0.4, 0.3)
PALE, RUST = CMYKColor(0.02, 0.02, 0.06, 0), CMYKColor(0.1, 0.6, 0.8, 0.1)


def _drawn(title: str, width: float, height: float, draw: Callable[[Canvas], None]) -> bytes:
    """A page of one piece with 3 mm of bleed."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=((width + 6) * mm, (height + 6) * mm), invariant=1)
    canvas.setTitle(title)
    page(canvas, width, height, 3)
    draw(canvas)
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def _cut(canvas: Canvas, name: str, draw: Callable[[], None]) -> None:
    line(canvas, name, (0, 1, 0, 0) if name == "Kiss Cut" else (1, 0, 0, 0), True, 0.25, draw)


def opening_hours() -> bytes:
    """A sign of rounded corners, cut through."""

    def draw(canvas: Canvas) -> None:
        canvas.setFillColor(TEAL)
        canvas.rect(-3 * mm, -3 * mm, 406 * mm, 256 * mm, stroke=0, fill=1)
        canvas.setFillColor(PALE)
        curve(canvas, TERN, 342 * mm, 185 * mm, 1.2)
        lettered(canvas, "Autumn opening", BOLD, 92, 155 * mm, 170 * mm)
        lettered(canvas, "9 to dusk, every day", BOLD, 64, 170 * mm, 70 * mm)
        canvas.setFillColor(SAND)
        canvas.rect(30 * mm, 135 * mm, 200 * mm, 3 * mm, stroke=0, fill=1)
        _cut(canvas, "Through Cut", lambda: canvas.roundRect(0, 0, 400 * mm, 250 * mm, 18 * mm))

    return _drawn("Autumn opening hours", 400, 250, draw)


def hide_number(number: str = "3") -> bytes:
    """A round plate with the number of a hide, kiss cut."""

    def draw(canvas: Canvas) -> None:
        middle = 60 * mm
        canvas.setFillColor(SAND)
        canvas.circle(middle, middle, 63 * mm, stroke=0, fill=1)
        canvas.setFillColor(TEAL)
        canvas.circle(middle, middle, 50 * mm, stroke=0, fill=1)
        canvas.setFillColor(PALE)
        lettered(canvas, number, BOLD, 210, middle, 36 * mm)
        _cut(canvas, "Kiss Cut", lambda: canvas.circle(middle, middle, 60 * mm))

    return _drawn("Hide numbers", 120, 120, draw)


def ring_label() -> bytes:
    """A small label for a ringing box, kiss cut."""

    def draw(canvas: Canvas) -> None:
        canvas.setFillColor(PALE)
        canvas.rect(-3 * mm, -3 * mm, 76 * mm, 36 * mm, stroke=0, fill=1)
        canvas.setFillColor(RUST)
        canvas.rect(-3 * mm, -3 * mm, 25 * mm, 36 * mm, stroke=0, fill=1)
        canvas.setFillColor(PALE)
        curve(canvas, WADER, 11 * mm, 14 * mm, 0.13)
        canvas.setFillColor(TEAL)
        lettered(canvas, "Ring box", BOLD, 26, 46 * mm, 12 * mm)
        _cut(canvas, "Kiss Cut", lambda: canvas.roundRect(0, 0, 70 * mm, 30 * mm, 5 * mm))

    return _drawn("Ring box labels", 70, 30, draw)


def rockpool_label(rays: int) -> bytes:
    """A label of the rockpool: a star of so many arms, kiss cut round."""

    def draw(canvas: Canvas) -> None:
        middle = 25 * mm
        canvas.setFillColor(TEAL if rays % 2 else SAND)
        canvas.circle(middle, middle, 28 * mm, stroke=0, fill=1)
        canvas.setFillColor(RUST)
        for ray in range(rays):
            canvas.saveState()
            canvas.translate(middle, middle)
            canvas.rotate(360 * ray / rays)
            canvas.ellipse(-4 * mm, -2 * mm, 4 * mm, 19 * mm, stroke=0, fill=1)
            canvas.restoreState()
        _cut(canvas, "Kiss Cut", lambda: canvas.circle(middle, middle, 25 * mm))

    return _drawn("Rockpool labels", 50, 50, draw)
