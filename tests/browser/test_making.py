"""Lines made on screen: from a picture without a line to a kiss cut and a perforation; pointed, dragged, drawn."""

import math
import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Locator, Page, expect

from tests.breadth import breadth
from tests.browser.seen import places_on

pytestmark = breadth(0.12, "journeys")


def _open(page: Page, name: str) -> Locator:
    """The Lines station of a job, with lines being made; gives the docket."""
    page.get_by_role("link", name="Desk").click()
    page.get_by_role("link", name=re.compile(name)).first.click()
    expect(page.get_by_role("status")).to_have_count(0)
    page.get_by_role("link", name=re.compile("^Lines")).click()
    page.get_by_role("button", name=re.compile("^(Make lines|Change the lines)")).click()
    expect(page.get_by_test_id("made").first).to_contain_text("contour")
    return page.get_by_role("region", name="making lines")


def _of_art(page: Page, docket: Locator, role: str = "kiss cut") -> None:
    """Of a file that has lines: its art is the source again, and the first line is of this role."""
    docket.get_by_role("combobox", name="source").click()
    page.get_by_role("option", name="whatever tells it best").click()
    docket.get_by_role("combobox", name="role").first.click()
    page.get_by_role("option", name=role, exact=True).click()
    expect(docket.locator('[data-line="kiss-cut"]').get_by_test_id("made")).to_contain_text("contour")


def _checked(docket: Locator) -> None:
    expect(docket.get_by_text("Checking…")).to_have_count(0)


@pytest.fixture()
def undone(page: Page) -> Iterator[Page]:
    """The same page; what was made is undone afterwards."""
    yield page
    page.get_by_role("button", name="Undo the last mend").click()
    expect(page.get_by_text("The file has no lines.")).to_be_visible()


def test_a_picture_becomes_a_kiss_cut_with_a_border_and_a_perforation_outside_it(undone: Page) -> None:
    """From the open job in five presses: Lines, Make lines, Add a line, A perforation, Make 2 lines."""
    page = undone
    docket = _open(page, "Young warden")
    expect(docket).to_contain_text("The picture has clear parts")
    expect(docket.get_by_label("offset, mm")).to_have_value("2")
    docket.get_by_role("button", name="Add a line…").click()
    page.get_by_role("menuitem", name="A perforation", exact=True).click()
    perforation = docket.locator('[data-line="perforation"]')
    expect(perforation).to_contain_text(re.compile(r"\d+ ties, holding \d+\s%"))
    _checked(docket)
    expect(page.get_by_test_id("section").get_by_text("perforation").first).to_be_visible()
    docket.get_by_role("button", name="Make 2 lines").click()
    expect(page.get_by_role("status")).to_have_count(0)
    shown = page.get_by_role("complementary", name="Inks and lines")
    expect(shown).to_contain_text("perforation")
    expect(shown).to_contain_text("kiss cut")
    # What they were made of is still there to be changed.
    page.get_by_role("button", name="Change the lines that were made").click()
    expect(docket.locator('[data-line="perforation"]').get_by_label("offset, mm")).to_have_value("5")
    docket.get_by_role("button", name="Leave it").click()


def test_an_offset_is_dragged_mm_and_findings_follow_and_undo_takes_it_back(page: Page) -> None:
    docket = _open(page, "Young warden")
    grip = page.locator('[aria-label="drag the kiss cut"] circle').first
    expect(page.get_by_test_id("offset")).to_have_text("2 mm")
    box = grip.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(1, 12):
        page.mouse.move(x - 2 * step, y)
    # While the hand drags, the mm stand beside it.
    expect(page.get_by_test_id("offset")).not_to_have_text("2 mm")
    page.mouse.up()
    _checked(docket)
    expect(docket.locator("[data-live]").filter(has_text="border").first).to_be_visible()
    page.keyboard.press("Control+z")
    expect(page.get_by_test_id("offset")).to_have_text("2 mm")
    _checked(docket)
    expect(docket.locator('[data-live="edge.border"]')).to_have_count(0)


def test_an_inner_contour_is_dropped_by_pressing_it_and_comes_back_by_pressing_again(page: Page) -> None:
    docket = _open(page, "Volunteer tabards")
    expect(docket).to_contain_text("2 inner contours found, 2 cut")
    # In the middle of the O of the word.
    place = places_on(page)(36.6, 40)
    page.mouse.click(*place)
    expect(docket).to_contain_text("2 inner contours found, 1 cut")
    expect(page.locator('[data-inner="not cut"]')).to_have_count(1)
    page.mouse.click(*place)
    expect(docket).to_contain_text("2 inner contours found, 2 cut")


def test_an_area_of_the_art_becomes_a_hole_where_it_is_pointed_at(page: Page) -> None:
    docket = _open(page, "Seed packet")
    _of_art(page, docket)
    made = docket.locator('[data-line="kiss-cut"]').get_by_test_id("made")
    expect(made).to_contain_text("6 contours")
    at = places_on(page)
    docket.get_by_role("button", name="Cut out an area…").click()
    page.mouse.click(*at(19.5, 71))
    expect(made).to_contain_text("7 contours")
    page.get_by_role("button", name="Done").click()
    docket.get_by_role("button", name="Undo").click()
    expect(made).to_contain_text("6 contours")


def test_nodes_are_moved_by_hand_and_by_keys_and_taken_back(page: Page) -> None:
    docket = _open(page, "Seed packet")
    _of_art(page, docket)
    made = docket.locator('[data-line="kiss-cut"]').get_by_test_id("made")
    docket.get_by_role("button", name="Nodes by hand").first.click()
    page.get_by_role("button", name="node 1", exact=True).first.click()
    bar = page.get_by_role("group", name="the node")
    expect(bar.get_by_test_id("node")).to_contain_text("node 1 of")
    before = bar.get_by_test_id("node").inner_text()
    number, x, y = re.findall(r"node (\d+) of \d+: ([\d.]+), ([\d.]+)", before)[0]
    # the press has left the focus on the stage; none of the presses waits for what the one before comes to
    for _ in range(3):
        page.keyboard.press("ArrowUp")
    expect(bar.get_by_test_id("node")).to_contain_text(f"node {number} of")
    expect(bar.get_by_test_id("node")).to_contain_text(f"{x}, {float(y) + 0.3:.2f}")
    bar.get_by_role("button", name="the next node").click()
    bar.get_by_role("button", name="Add after it").click()
    expect(made).to_contain_text("4 changes by hand")
    expect(docket).not_to_contain_text("found no node")
    for _ in range(4):
        docket.get_by_role("button", name="Undo").click()
    expect(made).not_to_contain_text("by hand")
    expect(bar.get_by_test_id("node")).to_contain_text("node 2 of")
    bar.get_by_role("button", name="the node before").click()
    expect(bar.get_by_test_id("node")).to_have_text(before)


def test_a_picture_gets_a_line_that_was_only_drawn_with_curves_pulled_and_a_back_cut_beside_it(undone: Page) -> None:
    """Thirteen places, two of them pulled into curves, on a job whose proposed line is taken out first."""
    page = undone
    docket = _open(page, "Young warden")
    docket.get_by_role("button", name="take the kiss cut out").click()
    expect(docket).to_contain_text("No line yet")
    docket.get_by_role("button", name="Draw a line…").click()
    at = places_on(page)
    pen = page.get_by_role("group", name="the pen")
    before = page.locator("[data-stage] svg g").first.get_attribute("transform")
    for i in range(13):
        x, y = 20 + 24 * math.cos(i * math.tau / 13), 20 + 24 * math.sin(i * math.tau / 13)
        page.mouse.move(*at(x, y))
        page.mouse.down()
        if i in (4, 8):
            page.mouse.move(*at(x + 4 * math.cos(i * math.tau / 13 + 1.57), y + 4 * math.sin(i * math.tau / 13 + 1.57)))
        page.mouse.up()
    expect(pen.get_by_test_id("pen")).to_contain_text("13 placed")
    assert page.locator("[data-stage] svg g").first.get_attribute("transform") == before, "the stage lies still"
    pen.get_by_role("button", name="Close it").click()
    made = docket.get_by_test_id("made")
    expect(made).to_contain_text("13 nodes")
    docket.get_by_role("button", name="Add a line…").click()
    page.get_by_role("menuitem", name="A back cut", exact=True).click()
    expect(docket).to_contain_text("along the kiss cut")
    docket.get_by_role("button", name="Make 2 lines").click()
    expect(page.get_by_role("status")).to_have_count(0)
    expect(page.get_by_role("complementary", name="Inks and lines")).to_contain_text("back cut")
    expect(page.get_by_role("button", name="Undo the last mend")).to_be_enabled()
    job = page.request.get(re.sub(r"/jobs/(\d+).*", r"/api/jobs/\1", page.url)).json()
    assert job["seen"]["made"]["lines"][0]["drawn"].count("C") >= 4


def test_a_line_is_drawn_with_the_pen_and_a_perforation_stacked_on_the_kiss_cut(page: Page) -> None:
    docket = _open(page, "Seed packet")
    _of_art(page, docket)
    docket.get_by_role("button", name="Add a line…").click()
    page.get_by_role("menuitem", name=re.compile("A perforation on the kiss cut itself")).click()
    lengths = docket.get_by_test_id("made")
    expect(lengths).to_have_count(2)
    expect(lengths.nth(1)).to_contain_text("contour")
    first, third = (re.search(r"([\d.]+) mm", lengths.nth(i).inner_text()) for i in (0, 1))
    assert first and third and first[1] == third[1], "on one path"
    docket.get_by_role("button", name="Draw a line…").click()
    at = places_on(page)
    for place in ((-6, -6), (60, -8), (70, 20)):
        page.mouse.click(*at(*place))
    pen = page.get_by_role("group", name="the pen")
    expect(pen.get_by_test_id("pen")).to_contain_text("3 placed")
    pen.get_by_role("button", name="Close it").click()
    expect(docket.get_by_text("as drawn,")).to_be_visible()
    expect(docket.get_by_test_id("made")).to_have_count(3)
    docket.get_by_role("button", name="Leave it").click()
