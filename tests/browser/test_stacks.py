"""Job 6, the whole way: a stack of three fabrics, test-cut, written, cut on one zero, sewn."""

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.breadth import breadth

pytestmark = breadth(0.12, "journeys")

MOST_PRESSES = 10


class Presses:
    """Presses of buttons and links, counted."""

    def __init__(self) -> None:
        self.count = 0

    def press(self, what: Locator) -> None:
        what.click()
        self.count += 1


@pytest.fixture()
def presses() -> Iterator[Presses]:
    yield Presses()


def _shown(page: Page) -> None:
    expect(page.locator("[data-fabric]")).to_have_count(3)
    expect(page.get_by_label("making the stack")).to_have_count(0)


def test_a_word_in_three_fabrics_is_written_in_ten_presses_then_cut_and_sewn(page: Page, presses: Presses) -> None:
    presses.press(page.get_by_role("link", name="Volunteer tabards").first)
    expect(page.locator("[data-finding]").first).to_be_visible()
    presses.press(page.get_by_role("navigation", name="stations").get_by_role("link", name="Lines"))
    presses.press(page.get_by_role("link", name="Stack of fabric"))
    presses.press(page.get_by_role("button", name="Three layers"))
    _shown(page)
    presses.press(page.get_by_role("button", name="Write the files"))
    bench = page.get_by_role("link", name="Go to the bench with the stack")
    expect(bench).to_be_visible()
    expect(page.get_by_role("link", name="stitches.dst")).to_be_visible()
    assert presses.count <= MOST_PRESSES
    tape = page.get_by_role("navigation", name="stations").get_by_role("link", name="Stack")
    expect(tape).to_contain_text("written")

    bench.click()
    for name in ("ground", "border"):
        page.get_by_role("button", name=f"It is laid: cut “{name}”").click()
        expect(page.locator(f'[data-outcome="{name}"]')).to_contain_text("not cut through")
    page.get_by_role("button", name="Set a new origin…").click()
    expect(page.get_by_text("the stack is spoilt")).to_be_visible()
    page.get_by_label("To the right, mm").fill("6")
    page.get_by_role("button", name="Set it all the same").click()
    expect(page.get_by_text(re.compile("cut 6, 0 mm beside"))).to_be_visible()
    page.get_by_role("button", name="Return to the old origin").click()
    page.get_by_role("button", name="It is laid: cut “face”").click()
    expect(page.locator('[data-outcome="face"]')).to_contain_text(re.compile(r"2\.9\d mm inside|3\.0\d mm inside"))
    expect(page.get_by_text("All layers are cut")).to_be_visible()

    page.get_by_role("button", name="Sewing machine").click()
    expect(page.get_by_text("comes first; lay nothing yet")).to_be_visible()
    for words in ("on its line", "Lay “border”", "Lay “face”"):
        page.get_by_label("time").focus()
        page.get_by_role("button", name=re.compile("Sew it|Go on")).click()
        halted = page.get_by_role("alert").filter(has_text="The machine stands.")
        expect(halted).to_contain_text(words)
        halted.get_by_role("button", name="It is laid, go on").click()
        expect(halted).to_have_count(0)
        page.get_by_role("button", name="Stop").click()
    page.get_by_label("time").press("End")
    expect(page.get_by_text("Sewn to its end.")).to_be_visible()


def test_layers_are_changed_test_cut_cut_open_and_played(page: Page) -> None:
    page.get_by_role("link", name="Tern door stickers").first.click()
    expect(page.locator("[data-stage]")).to_be_visible()
    page.goto(page.url.split("?")[0].rstrip("/").removesuffix("/check") + "/stack")
    page.get_by_role("button", name="Three layers").click()
    _shown(page)
    docket = page.get_by_role("complementary", name="Stack of fabric")
    face = docket.locator('[data-layer="face"]')
    face.get_by_label("width of the satin of face, mm").fill("3")
    face.get_by_label("width of the satin of face, mm").press("Enter")
    face.get_by_label("offset of face, mm").press("ArrowUp")
    _shown(page)
    docket.get_by_role("button", name="Undo").click()
    docket.get_by_role("button", name="Undo").click()
    expect(face.get_by_label("width of the satin of face, mm")).to_have_value("2")
    face.get_by_label("Take face out").click()
    expect(page.locator("[data-fabric]")).to_have_count(2)
    docket.get_by_role("button", name="Undo").click()
    _shown(page)

    docket.get_by_role("button", name="Cut", exact=True).click()
    job = docket.locator('[data-cut-job="border"]')
    job.get_by_role("button", name="Test cut", exact=True).click()
    expect(job.get_by_role("status")).to_contain_text("hangs on")
    job.get_by_role("button", name="border: hangs on").click()
    expect(job.get_by_role("status")).to_contain_text("what lies below is whole")
    job.get_by_role("button", name="border: right", exact=True).click()
    expect(docket.get_by_text("Not test-cut yet")).to_contain_text("face, ground")

    page.locator("[data-stage]").focus()
    page.keyboard.press("c")
    box = page.locator("[data-stage]").bounding_box()
    assert box
    y = box["y"] + box["height"] / 2
    page.mouse.move(box["x"] + 40, y)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] - 40, y, steps=4)
    page.mouse.up()
    section = page.get_by_test_id("section")
    expect(section.locator('[data-cut="face"]')).to_have_count(2)
    expect(section.locator('[data-cut="ground"]')).to_have_count(2)
    page.keyboard.press("Escape")

    docket.get_by_role("button", name="Sew", exact=True).click()
    docket.get_by_label("stitch").press("Home")
    expect(page.get_by_test_id("stitch")).to_contain_text("Stitch 0 of")
    expect(page.locator("[data-fabric]")).to_have_count(0)
    docket.get_by_role("button", name=re.compile("Lay “border”")).click()
    expect(page.get_by_test_id("stitch")).to_contain_text("satin of ground")
    expect(page.get_by_test_id("needle")).to_be_attached()
    docket.get_by_role("button", name="Play the stitches").click()
    expect(page.get_by_test_id("stitch")).to_contain_text("of border")
    docket.get_by_role("button", name="Pause").click()
    docket.get_by_role("button", name="Show all").click()
    _shown(page)
    docket.get_by_role("button", name="Layers", exact=True).click()
    docket.get_by_role("button", name="Take the stack away").click()
    expect(docket.get_by_role("button", name="Three layers")).to_be_visible()
