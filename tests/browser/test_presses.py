"""Good files of each kind from drop to package: how many presses that takes at most.

A press is a click; a figure that is typed and a choice from a list count as often as one clicks for them, a drop as
one.
"""

import io
import re
from collections.abc import Callable

import pytest
from PIL import Image, ImageDraw
from playwright.sync_api import Locator, Page, expect

from tests.breadth import breadth
from tests.shapes import Drawing, circle, line_in, write

Job = Callable[["Hand"], None]


class Hand:
    """A hand at the screen that counts what it presses."""

    def __init__(self, page: Page) -> None:
        self.page, self.count = page, 0

    def press(self, what: str | Locator) -> None:
        """Press a button by its name, or something else."""
        (self.page.get_by_role("button", name=what, exact=True) if isinstance(what, str) else what).first.click()
        self.count += 1

    def drop(self, name: str, data: bytes) -> None:
        """Drop one file: it opens itself."""
        kind = "application/octet-stream"
        self.page.get_by_test_id("files").set_input_files({"name": name, "mimeType": kind, "buffer": data})
        self.count += 1

    def station(self, name: str) -> None:
        """Go to a station of the tape."""
        self.press(self.page.get_by_role("navigation", name="stations").get_by_role("link", name=name))

    def rests(self) -> None:
        """Wait until the art is there and nothing works on it."""
        expect(self.page.locator("[data-stage] image").first).to_be_visible()
        self.settles()

    def settles(self) -> None:
        """Wait until nothing works on it any more."""
        expect(self.page.get_by_role("status")).to_have_count(0)

    def type(self, label: str, text: str) -> None:
        """Click a field and type into it."""
        self.page.get_by_label(label).first.fill(text)
        self.page.keyboard.press("Enter")
        self.count += 1

    def made(self) -> None:
        """Make the line that is shown."""
        expect(self.page.get_by_test_id("made").first).to_be_visible()
        self.press(self.page.get_by_role("button", name=re.compile(r"^Make \d+ line")))
        expect(self.page.get_by_role("region", name="making lines")).to_have_count(0)
        self.rests()

    def released(self) -> None:
        """Write the package."""
        self.station("Release")
        self.press(self.page.get_by_role("button", name=re.compile(r"^Release \d")))
        expect(self.page.locator("[data-release]")).to_be_attached()


def disc(cyan: float, lines: str = "", **more: object) -> bytes:
    ground = f"{cyan} 0.1 0 0 k {circle(50, 50, 44)} f "
    return write(Drawing(ground + (lines or line_in(circle(50, 50, 40))), **more))  # type: ignore[arg-type]


def picture(mode: str, ground: object, holes: bool) -> bytes:
    out, image = io.BytesIO(), Image.new(mode, (900, 700), ground)  # type: ignore[arg-type]
    draw = ImageDraw.Draw(image)
    draw.ellipse((100, 100, 800, 600), fill=(20, 140, 90, 255)[: len(mode)])
    if holes:
        for x in (300, 500):
            draw.ellipse((x, 280, x + 120, 400), fill=ground)  # type: ignore[arg-type]
    image.save(out, "PNG", dpi=(200, 200))
    return out.getvalue()


def finished(hand: Hand) -> None:
    hand.drop("finished.pdf", disc(0.91))
    hand.rests()
    hand.released()


def clear_picture(hand: Hand) -> None:
    hand.drop("clear.png", picture("RGBA", (0, 0, 0, 0), holes=False))
    hand.rests()
    hand.press(hand.page.locator('[data-finding="line.none"]').get_by_role("link", name="Make lines"))
    hand.made()
    hand.released()


def logo_on_white(hand: Hand) -> None:
    hand.drop("logo.png", picture("RGB", (255, 255, 255), holes=True))
    hand.rests()
    hand.press(hand.page.locator('[data-finding="line.none"]').get_by_role("link", name="Make lines"))
    expect(hand.page.get_by_test_id("made").first).to_be_visible()
    hand.press(hand.page.get_by_role("combobox", name="ground is"))
    hand.press(hand.page.get_by_role("option", name="anywhere"))
    expect(hand.page.get_by_text("2 inner contours found, 2 cut")).to_be_visible()
    hand.made()
    hand.released()


def outline_only_cut(hand: Hand) -> None:
    path = "M20 20h360v110h-360zM60 50h60v50h-60z"
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 400 150"><path d="{path}" fill-rule="evenodd"/></svg>'
    hand.drop("sign.svg", svg.encode())
    hand.type("Width", "60 cm")  # Enter answers
    hand.rests()
    hand.press("Cut only")
    hand.made()
    hand.released()


def front_with_back_cut(hand: Hand) -> None:
    square = "0.1 0.7 0 0 k 5 5 90 90 re f "
    lines = line_in("10 10 80 80 re", "T") + line_in("10 48 m 90 48 l", "B")
    hand.drop("back.pdf", write(Drawing(square + lines, inks={"T": "Through Cut", "B": "Back Cut"})))
    hand.rests()
    hand.released()


def three_on_a4(hand: Hand) -> None:
    hand.drop("three.pdf", disc(0.87))
    hand.rests()
    hand.station("Sheet")
    hand.type("copies ordered", "3")
    expect(hand.page.get_by_text("3 in 3 columns, 1 row")).to_be_visible()
    hand.press("Small printer and cutter")
    hand.settles()
    hand.press(hand.page.get_by_role("combobox", name="What is loaded"))
    hand.press(hand.page.get_by_role("option", name="A4"))
    expect(hand.page.get_by_text("210 mm × 297 mm")).to_be_visible()
    hand.settles()
    hand.released()


@breadth(0.5)
@pytest.mark.parametrize(("job", "most"), [
    (finished, 4), (clear_picture, 7), (logo_on_white, 9), (outline_only_cut, 7), (front_with_back_cut, 8),
    (three_on_a4, 8),
])
def test_a_good_file_goes_from_drop_to_package_in_few_presses(page: Page, job: Job, most: int) -> None:
    hand = Hand(page)
    job(hand)
    assert hand.count <= most
