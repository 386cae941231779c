"""Sheets that jobs share in a browser: filled, nested while one looks, moved by hand, released; media, cut only."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.breadth import breadth
from tests.browser.test_sheets import say, to_sheet
from tests.shapes import Drawing, circle, line_in, write

pytestmark = breadth(0.12, "journeys")


def hook(wide: float = 15) -> bytes:
    """Two of these lie in each other."""
    path = f"10 10 m 90 10 l 90 {10 + wide} l {10 + wide} {10 + wide} l {10 + wide} 90 l 10 90 l h "
    return write(Drawing(f"0 1 0 0 k 0 1 0 0 K 8 w {path} B " + line_in(path), trim=None, bleed=None))


def take_in(page: Page, folder: Path, name: str, data: bytes, quantity: int) -> None:
    path = folder / f"{name}.pdf"
    path.write_bytes(data)
    page.get_by_role("navigation", name="places").get_by_role("link", name="Desk").click()
    page.get_by_test_id("files").set_input_files(path)
    page.get_by_text(name, exact=True).click()
    page.get_by_role("button", name="Order…").click()
    page.get_by_label("Quantity").fill(str(quantity))
    page.get_by_role("button", name="Keep the order").click()
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Sheet").click()
    expect(page.get_by_test_id("copy")).to_have_count(quantity)


def chosen(page: Page, field: str, words: str) -> None:
    page.get_by_label(field, exact=True).locator("xpath=..").get_by_role("combobox").click()
    page.get_by_role("option", name=words).first.click()


def test_jobs_share_a_roll_are_nested_moved_by_hand_and_released(page: Page, tmp_path: Path) -> None:
    rounded = write(Drawing(f"1 0 0 0 k {circle(50, 50, 34)} f " + line_in(circle(50, 50, 30)), trim=None, bleed=None))
    take_in(page, tmp_path, "quay plates", rounded, 5)
    small = write(Drawing(f"0 0 1 0 k {circle(50, 50, 24)} f " + line_in(circle(50, 50, 20)), trim=None, bleed=None))
    take_in(page, tmp_path, "buoy rings", small, 24)
    take_in(page, tmp_path, "harbour hooks", hook(), 14)
    page.get_by_role("button", name="Share a sheet with other jobs").click()
    expect(page.get_by_role("heading", name=re.compile("^Shared sheet"))).to_be_visible()
    expect(page.get_by_test_id("copy")).to_have_count(14)
    page.get_by_role("tab", name="Would fit").click()
    page.get_by_role("button", name="put quay plates on the sheet").click()
    page.get_by_role("button", name="put buoy rings on the sheet").click()
    page.get_by_role("tab", name="Jobs").click()
    expect(page.get_by_test_id("copy")).to_have_count(14 + 5 + 24)
    rings = page.get_by_label("copies of buoy rings")
    rings.fill("6")
    rings.press("Enter")
    expect(page.get_by_test_id("copy")).to_have_count(25)
    # marks every 500 mm, then nested while one looks on
    say(page, "how many marks", "along both sides, every")
    expect(page.get_by_label("marks every, mm")).to_have_value("500")
    page.get_by_label("gap between cuts, mm").fill("4")
    page.get_by_label("gap between cuts, mm").press("Enter")
    page.get_by_label("seconds of nesting, s").fill("2")
    page.get_by_label("seconds of nesting, s").press("Enter")
    page.get_by_role("button", name="Nest", exact=True).click()
    expect(page.get_by_text("25, nested")).to_be_visible()
    expect(page.get_by_test_id("clash")).to_have_count(0)
    # one piece by hand: by keys onto another, which is said, then back, then beside the rest
    page.get_by_role("button", name="Place copies by hand").click()
    piece = page.locator('[data-copy="0"]')
    piece.focus()
    piece.press("Enter")
    expect(piece).to_have_attribute("aria-pressed", "true")
    before = piece.get_attribute("d")
    piece.press("ArrowRight")
    expect(piece).not_to_have_attribute("d", before or "")
    page.get_by_role("button", name="Step back").click()
    expect(piece).to_have_attribute("d", before or "")
    page.locator("[data-stage]").press("a")
    for side in ("left edges in a line", "lower edges in a line"):
        page.get_by_role("button", name=side).click()
    expect(page.get_by_text("25 copies lie too near to each other")).to_be_visible()
    for _ in range(2):
        page.get_by_role("button", name="Step back").click()
    expect(page.get_by_text("too near to each other")).to_have_count(0)
    page.locator("[data-stage]").press("Escape")
    plate = page.locator('[aria-label*="quay plates"]').first
    before, box = plate.get_attribute("d"), plate.bounding_box()
    assert box
    middle = box["x"] + box["width"] / 2
    page.mouse.move(middle, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(middle, box["y"] - 40, steps=5)
    page.mouse.move(middle, 130, steps=8)
    page.mouse.up()
    expect(plate).not_to_have_attribute("d", before or "")
    page.get_by_role("button", name="Keep them so").click()
    expect(page.get_by_role("button", name="Place copies by hand")).to_be_visible()
    page.reload()
    expect(page.get_by_test_id("copy")).to_have_count(25)
    expect(page.get_by_text("Cuts land within")).to_be_visible()
    page.get_by_role("button", name="Show where").click()
    expect(page.get_by_test_id("misplacement")).to_be_attached()
    if page.get_by_test_id("clash").count():  # where the hand let it fall
        page.get_by_role("button", name="Back to rows and columns").click()
        expect(page.get_by_test_id("clash")).to_have_count(0)
    expect(page.get_by_role("button", name="Release the sheet")).to_be_enabled()
    page.get_by_role("button", name="Release the sheet").click()
    expect(page.get_by_text("Just this was released.")).to_be_visible()
    page.get_by_role("link", name="It lies on the Bench.").click()
    page.get_by_role("button", name="Cutter", exact=True).click()
    expect(page.get_by_text("It is not printed yet.")).to_be_visible()
    page.get_by_role("navigation", name="places").get_by_role("link", name="Desk").click()
    expect(page.get_by_role("region", name="sheets that jobs share")).to_contain_text("released")


def test_what_is_loaded_is_chosen_and_a_sheet_is_cut_only(page: Page, tmp_path: Path) -> None:
    take_in(page, tmp_path, "bare arrows", hook(22), 4)
    page.get_by_label("What is loaded").click()
    page.get_by_role("option", name="any other size").click()
    for field, value in (("media width, mm", "420"), ("media length, mm", "600")):
        page.get_by_label(field).fill(value)
        page.get_by_label(field).press("Enter")
    chosen(page, "makes", "cut only")
    page.get_by_label("weeding frame, mm").fill("6")
    page.get_by_label("weeding frame, mm").press("Enter")
    expect(page.get_by_text("420 mm × 600 mm")).to_be_visible()
    expect(page.get_by_test_id("frame")).to_be_attached()
    expect(page.get_by_test_id("mark")).to_have_count(0)
    expect(page.get_by_test_id("roller")).to_have_count(2)
    chosen(page, "how the sheet is loaded", "long edge first")
    expect(page.get_by_text("600 mm × 420 mm")).to_be_visible()
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Release").click()
    page.get_by_role("button", name="Release 4 copies").click()
    expect(page.get_by_text("bare-arrows-cut.plt")).to_be_visible()
    expect(page.get_by_text("bare-arrows-print.pdf")).to_have_count(0)
    page.get_by_role("link", name="Go to the bench").first.click()
    machine = page.get_by_role("group", name="machine")
    expect(machine.get_by_role("button", name="RIP")).to_be_disabled()
    expect(machine.get_by_role("button", name="Cutter")).to_have_attribute("aria-pressed", "true")
    expect(page.get_by_role("button", name="Load it")).to_be_visible()


def test_the_tide_clock_is_printed_for_behind_glass_since_its_order_says_so(page: Page) -> None:
    to_sheet(page, "Tide clock")
    expect(page.get_by_text("the other way round", exact=True)).to_be_visible()
    expect(page.get_by_text("colour, white, varnish", exact=True)).to_be_visible()


def test_the_boardwalk_panels_come_at_their_true_size(page: Page) -> None:
    to_sheet(page, "Boardwalk panels")
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Check").click()
    page.get_by_role("button", name="Scale by 10").first.click()
    expect(page.get_by_role("button", name="Scale by 10")).to_have_count(0)
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Sheet").click()
    expect(page.get_by_text("2 in 1 column, 2 rows")).to_be_visible()
    used = page.get_by_text("1370 mm ×").inner_text()
    assert 2 * 2400 < int(used.split("×")[1].split()[0]) < 5400
