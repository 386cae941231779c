"""The sheet in a browser: marks chosen in a sentence, the map of how far off cuts land, the way round it is printed."""

import re
from pathlib import Path

from playwright.sync_api import Page, expect

from tests.breadth import breadth
from tests.shapes import Drawing, line_in, write

pytestmark = breadth(0.12, "journeys")


def to_sheet(page: Page, name: str) -> None:
    page.get_by_role("link", name=name).first.click()
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Sheet").click()
    expect(page.get_by_test_id("copy").first).to_be_attached()


def say(page: Page, what: str, words: str) -> None:
    page.get_by_role("group", name="marks").get_by_label(what, exact=True).locator("xpath=..").get_by_role(
        "combobox"
    ).click()
    page.get_by_role("option", name=words).click()


def test_marks_along_the_sides_bring_cuts_nearer_and_the_map_shows_where(page: Page) -> None:
    to_sheet(page, "Young warden badges")
    words = page.get_by_role("group", name="how far off cuts may land")
    expect(page.get_by_test_id("mark")).to_have_count(4)
    expect(page.get_by_test_id("code")).to_be_attached()
    expect(page.get_by_test_id("bar")).to_be_attached()
    before = float(re.search(r"within ([\d.]+) mm", words.inner_text()).group(1))  # type: ignore[union-attr]
    say(page, "how many marks", "along both sides, every")
    page.get_by_label("marks every, mm").fill("150")
    page.get_by_label("marks every, mm").press("Enter")
    expect(page.get_by_test_id("mark")).not_to_have_count(4)
    expect(words).to_contain_text("within")
    after = float(re.search(r"within ([\d.]+) mm", words.inner_text()).group(1))  # type: ignore[union-attr]
    assert after <= before + 0.05
    page.get_by_role("button", name="Show where").click()
    expect(page.get_by_test_id("misplacement").locator("rect").first).to_be_attached()
    page.get_by_role("button", name="Hide where").click()
    expect(page.get_by_test_id("misplacement")).to_have_count(0)
    page.reload()
    expect(page.get_by_label("marks every, mm")).to_have_value("150")
    say(page, "how many marks", "at four corners")
    expect(page.get_by_test_id("mark")).to_have_count(4)


def test_crosses_without_a_code_for_behind_glass(page: Page) -> None:
    to_sheet(page, "Tern door stickers")
    say(page, "kind of marks", "crosses")
    say(page, "code", "No code")
    say(page, "printed", "the other way round")
    expect(page.get_by_text("the other way round", exact=True)).to_be_visible()
    expect(page.get_by_test_id("code")).to_have_count(0)
    say(page, "kind of marks", "brackets opening inwards")
    say(page, "code", "A code names the sheet")
    say(page, "printed", "as it is seen")
    expect(page.get_by_test_id("code")).to_be_attached()
    expect(page.get_by_text("the other way round", exact=True)).to_have_count(0)


def test_copies_are_nested_by_their_outline_and_laid_in_rows_again(page: Page, tmp_path: Path) -> None:
    hook = tmp_path / "corner guard.pdf"
    path = "10 10 m 90 10 l 90 25 l 25 25 l 25 90 l 10 90 l h "
    hook.write_bytes(write(Drawing(f"0 1 0 0 k {path} f " + line_in(path), trim=None, bleed=None)))
    page.get_by_test_id("files").set_input_files(hook)
    page.get_by_text("corner guard", exact=True).click()
    page.get_by_role("button", name="Order…").click()
    page.get_by_label("Quantity").fill("30")
    page.get_by_role("button", name="Keep the order").click()
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Sheet").click()
    expect(page.get_by_test_id("copy")).to_have_count(30)
    nesting = page.get_by_role("group", name="nesting")
    nesting.get_by_label("seconds of nesting, s").fill("3")
    nesting.get_by_label("seconds of nesting, s").press("Enter")
    nesting.get_by_role("button", name="Nest").click()
    expect(page.get_by_text("30, nested")).to_be_visible()
    expect(page.get_by_text("In rows and columns it would be")).to_be_visible()
    expect(page.get_by_test_id("copy")).to_have_count(30)
    page.reload()
    expect(page.get_by_text("30, nested")).to_be_visible()
    page.get_by_role("button", name="Back to rows and columns").click()
    expect(page.get_by_text("30, nested")).to_have_count(0)
    expect(page.get_by_label("Columns")).to_be_visible()
