"""The check on screen: cards and stage, decisions, the cut that lands off, letter and report, check sheets."""

import re
from pathlib import Path

import pypdfium2
from playwright.sync_api import Page, expect

from tests.breadth import breadth
from tests.browser.seen import places_on

pytestmark = breadth(0.12, "journeys")


def _open(page: Page, name: str) -> None:
    page.get_by_role("link", name="Desk").click()
    page.get_by_role("link", name=re.compile(name)).first.click()
    expect(page.get_by_role("status")).to_have_count(0)
    expect(page.locator("[data-finding]").first).to_be_visible()


def _text(path: Path) -> str:
    return "\n".join(p.get_textpage().get_text_bounded() for p in pypdfium2.PdfDocument(path))


def test_choosing_a_card_moves_the_stage_to_the_place_and_keys_go_on(page: Page) -> None:
    _open(page, "Wader trail")
    zoom = page.get_by_role("button", name=re.compile("zoom"))
    before = zoom.inner_text()
    card = page.locator('[data-finding="edge.bleed"]')
    expect(card).to_contain_text("1.19 mm, limit 3 mm")
    expect(card.locator("img")).to_have_js_property("complete", True)
    card.get_by_role("button").first.click()
    expect(page.get_by_test_id("place").first).to_be_visible()
    expect(zoom).not_to_have_text(before)
    expect(page.get_by_test_id("place")).to_have_count(1)
    page.keyboard.press("p")
    expect(card.get_by_role("button", pressed=True)).to_have_count(0)
    page.keyboard.press("n")
    expect(card.get_by_role("button", pressed=True)).to_have_count(1)
    # Filters: stops alone.
    page.get_by_role("button", name="Stops").click()
    expect(page.locator('[data-finding="ink.rgb"]')).to_have_count(0)
    expect(page.locator("[data-finding]")).to_have_count(3)


def test_a_look_is_accepted_with_a_reason_and_can_be_asked_again(page: Page) -> None:
    _open(page, "Wader trail")
    card = page.locator('[data-finding="ink.rgb"]')
    card.get_by_role("button").first.click()
    card.get_by_label("Why is this all right?").fill("The customer has seen a proof.")
    card.get_by_role("button", name="Accept").click()
    expect(card).to_contain_text("accepted by demo")
    expect(page.get_by_role("region", name="Decided")).to_contain_text("The customer has seen a proof.")
    card.get_by_role("button", name="Ask again").click()
    expect(card).not_to_contain_text("accepted by demo")


def test_the_cut_is_moved_and_slivers_show(page: Page) -> None:
    _open(page, "Wader trail")
    page.get_by_role("button", name="Edge", exact=True).click()
    expect(page.get_by_test_id("stands")).to_have_text("1.19 mm")
    expect(page.locator('[data-edge="short"]')).to_have_count(1)
    slider = page.get_by_role("slider", name="cut to the right, mm")
    slider.focus()
    for _ in range(20):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_test_id("slivers")).to_have_text("Nothing shows.")
    for _ in range(14):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_test_id("slivers")).to_contain_text("bare media")
    expect(page.locator('[data-sliver="bare media"]').first).to_be_attached()
    # By mouse too, and the artwork stays where it is.
    matrix = page.locator("[data-stage] svg g").first
    before = matrix.get_attribute("transform")
    at = page.locator(".MuiSlider-root", has=page.get_by_label("cut up, mm")).bounding_box()
    assert at
    page.mouse.move(at["x"] + at["width"] / 2, at["y"] + at["height"] / 2)
    page.mouse.down()
    page.mouse.move(at["x"] + at["width"] * 0.8, at["y"] + at["height"] / 2, steps=4)
    page.mouse.up()
    expect(page.get_by_label("cut up, mm")).not_to_have_value("0")
    assert matrix.get_attribute("transform") == before
    page.get_by_role("button", name="Go there").click()
    page.get_by_role("button", name="Back").click()
    expect(page.locator("[data-sliver]")).to_have_count(0)


def test_the_letter_and_the_report_hold_what_was_chosen(page: Page, tmp_path: Path) -> None:
    _open(page, "Wader trail")
    page.get_by_role("button", name="Letter…").click()
    letter = page.get_by_label("the letter", exact=True)
    expect(letter).to_have_value(re.compile("Should be: Kiss Cut"))
    page.get_by_role("checkbox", name=re.compile("Kis Cut")).uncheck()
    expect(letter).not_to_have_value(re.compile("Should be: Kiss Cut"))
    expect(letter).to_have_value(re.compile("Too little bleed"))
    with page.expect_download() as kept:
        page.get_by_role("link", name="Letter with pictures, PDF").click()
    kept.value.save_as(tmp_path / "letter.pdf")
    told = _text(tmp_path / "letter.pdf")
    assert "Too little bleed" in told and "Through·Cut" in told and "Kiss·Cut" not in told
    page.get_by_role("button", name="Close").click()
    with page.expect_download() as kept:
        page.get_by_role("link", name="Report, PDF").click()
    kept.value.save_as(tmp_path / "report.pdf")
    told = _text(tmp_path / "report.pdf")
    assert "Preflight: Wader trail" in told and "edge.bleed" in told and "ink.near-name" in told


def test_a_check_sheet_shows_its_effect_on_a_job_before_it_is_kept(page: Page) -> None:
    _open(page, "Wader trail")
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("navigation", name="shelf").get_by_role("link", name="Check sheets").click()
    sheets = page.get_by_role("region", name="check sheets")
    sheets.get_by_label("limit of edge.bleed").fill("1")
    sheets.get_by_label("Try on job").click()
    page.get_by_role("option", name="Wader trail").click()
    sheets.get_by_role("button", name="Show the effect").click()
    effect = page.get_by_test_id("effect")
    expect(effect).to_contain_text("goes · stop")
    expect(effect).to_contain_text("3 mm is needed")
    sheets.get_by_label("limit of edge.bleed").fill("-2")
    expect(sheets.get_by_role("alert")).to_contain_text("edge.bleed")


def test_the_revisions_to_compare_are_chosen_by_mouse(page: Page) -> None:
    _open(page, "Wader trail")
    page.get_by_role("button", name="Compare", exact=True).click()
    page.get_by_label("Left: before").click()
    expect(page.get_by_role("option", name=re.compile("as it came"))).to_be_visible()
    page.keyboard.press("Escape")


def test_pressing_a_line_on_the_stage_chooses_its_cards(page: Page) -> None:
    _open(page, "Wader trail")
    expect(page.locator("[data-finding]")).to_have_count(8)
    on_screen = places_on(page)
    # The kiss cut is a circle of 150 mm about 155, 155.
    page.mouse.click(*on_screen(5, 155))
    expect(page.get_by_label("of which line or ink")).to_have_text("kiss cut")
    expect(page.locator("[data-finding]")).to_have_count(2)
    expect(page.locator('[data-finding="ink.near-name"]')).to_contain_text("Kis Cut")
    expect(page.locator('[data-finding="line.knocks-out"]')).to_contain_text("kiss cut")
    # Pressing beside all lines shows all again.
    page.mouse.click(*on_screen(250, 290))
    expect(page.locator("[data-finding]")).to_have_count(8)
