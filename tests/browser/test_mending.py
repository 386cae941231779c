"""Mending on screen: from stop to clean, looked at first, pointed at, undone and compared, by a recipe over jobs."""

import re

from playwright.sync_api import Locator, Page, expect

from tests.breadth import breadth
from tests.browser.seen import places_on

pytestmark = breadth(0.12, "journeys")


def _open(page: Page, name: str) -> None:
    page.get_by_role("link", name="Desk").click()
    page.get_by_role("link", name=re.compile(name)).first.click()
    expect(page.get_by_role("status")).to_have_count(0)
    expect(page.locator("[data-stage] image").first).to_be_visible()


def _revision(page: Page) -> int:
    """The number of the revision that counts; other tests may have made some before."""
    said = page.get_by_text(re.compile(r"· revision \d+$")).first
    return int(said.inner_text().rsplit(" ", 1)[1])


def _mend(page: Page, button: Locator) -> int:
    """Press a button that mends, and wait; the number of the revision that it made."""
    before = _revision(page)
    button.click()
    expect(page.get_by_text(re.compile(rf"· revision {before}$"))).to_have_count(0)
    expect(page.get_by_role("status")).to_have_count(0)
    return _revision(page)


def _back_to(page: Page, revision: int) -> None:
    """Leave a job as it was: the demo is shared."""
    page.get_by_role("button", name="History…").click()
    page.locator(f'[data-revision="{revision}"]').get_by_role("button", name="Go to this one").click()
    expect(page.locator(f'[data-revision="{revision}"][aria-current]')).to_be_visible()
    page.get_by_role("button", name="Close").click()
    expect(page.get_by_role("status")).to_have_count(0)


def test_the_first_job_goes_from_stop_to_clean_in_one_press_and_two_decisions(page: Page) -> None:
    _open(page, "Wader trail")
    expect(page.get_by_role("heading", name="This cannot be released yet")).to_be_visible()
    _mend(page, page.get_by_role("button", name=re.compile("Mend all that is safe")))
    expect(page.locator("[data-finding]").filter(has=page.locator("img"))).to_have_count(3)
    _mend(page, page.locator('[data-finding="edge.bleed"]').get_by_role("button", name="Extend the bleed to 3 mm"))
    last = _mend(page, page.locator('[data-finding="ink.rgb"]').get_by_role("button", name="Convert to CMYK"))
    expect(page.get_by_role("heading", name="Clean")).to_be_visible()
    # Undone, compared, and a branch of its own.
    assert _mend(page, page.get_by_role("button", name="Undo the last mend")) == last - 1
    page.get_by_role("button", name="History…").click()
    page.locator('[data-revision="1"]').get_by_role("button", name="Compare with…").click()
    page.locator(f'[data-revision="{last}"]').get_by_role("button", name=f"Compare 1 with {last}").click()
    expect(page.get_by_label("Left: before")).to_contain_text("1. ")
    expect(page.get_by_label("Right: after")).to_contain_text(f"{last}. Converts 1 picture")
    divider = page.get_by_role("slider", name="divider between before and after")
    divider.press("ArrowRight")
    expect(divider).to_have_attribute("aria-valuenow", "52")
    _back_to(page, 1)


def test_a_mend_is_looked_at_before_it_is_done_and_can_be_left(page: Page) -> None:
    _open(page, "Tide clock")
    card = page.locator('[data-finding="white.choke"]')
    card.get_by_role("button").first.click()
    card.get_by_role("button", name="Settings…").click()
    card.get_by_label("How far under the colour, mm").fill("9")
    expect(card.get_by_text("out of its range")).to_be_visible()
    expect(card.get_by_role("button", name="Look first")).to_be_disabled()
    card.get_by_label("How far under the colour, mm").fill("0,4")
    card.get_by_role("button", name="Look first").click()
    ahead = page.get_by_role("region", name="looking ahead")
    expect(ahead).to_contain_text("Pulls 1 white shape in to 0.4 mm")
    expect(ahead).to_contain_text("lines moved 0.000 mm")
    expect(page.get_by_text("Right: as it would be")).to_be_visible()
    assert _revision(page) == 1
    ahead.get_by_role("button", name="Leave it").click()
    expect(ahead).to_have_count(0)
    card.get_by_role("button", name="Look first").click()
    _mend(page, ahead.get_by_role("button", name="Do it"))
    expect(page.locator('[data-finding="white.choke"]')).to_have_count(0)
    _back_to(page, 1)


def test_a_colour_that_is_pointed_at_becomes_the_kiss_cut(page: Page) -> None:
    _open(page, "Volunteer tabards")
    missing = page.locator('[data-finding="line.missing"]')
    expect(missing).to_contain_text("It may be the green (CMYK 80, 0, 100, 0 %)")
    page.get_by_role("button", name="Point", exact=True).click()
    # the left edge of the L of the word, on which the green hairline lies
    page.mouse.click(*places_on(page)(50.05, 40))
    expect(page.get_by_test_id("pointed").first).to_be_attached()
    expect(page.get_by_text("2 objects in the green (CMYK 80, 0, 100, 0 %)")).to_be_visible()
    panel = page.get_by_role("region", name="What lies here")
    _mend(page, panel.get_by_role("button", name="Make the green (CMYK 80, 0, 100, 0 %) the kiss cut"))
    expect(missing).to_have_count(0)
    # By keyboard: the bird above the word, in the middle of the stage when that is moved on once.
    page.locator("[data-stage]").focus()
    page.keyboard.press("ArrowUp")
    page.keyboard.press("Enter")
    expect(panel).to_contain_text("Shape in turquoise")
    _back_to(page, 1)


def test_a_recipe_runs_over_three_jobs_and_says_what_became_of_each(page: Page) -> None:
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("navigation", name="shelf").get_by_role("link", name="Recipes").click()
    recipes = page.get_by_role("region", name="recipes")
    recipes.get_by_role("button", name="Write one…").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("textbox", name="Name").fill("Tidy lines")
    for step in ("Hairline", "Overprint", "Sort layers"):
        dialog.get_by_role("combobox", name="Add a step").fill(step)
        page.get_by_role("option", name=step, exact=True).click()
    expect(dialog.get_by_role("list", name="steps").get_by_role("listitem")).to_have_count(3)
    dialog.get_by_role("button", name="Keep it on the Shelf").click()
    row = page.locator('[data-recipe="Tidy lines"]')
    row.get_by_role("button", name="Run…").click()
    for name in ("Wader trail", "Seed packet seals", "Boardwalk panels"):
        page.get_by_role("checkbox", name=re.compile(name)).check()
    page.get_by_role("button", name="Run it over 3 jobs").click()
    outcomes = page.locator("[data-outcome]")
    expect(outcomes).to_have_count(3)
    expect(outcomes.filter(has_text=re.compile("Done"))).to_have_count(3)
    page.get_by_role("button", name="Close").click()
    row.get_by_role("button", name=re.compile("take “Tidy lines” off")).click()
    expect(page.get_by_text("No recipe yet.")).to_be_visible()
    for name in ("Wader trail", "Seed packet seals", "Boardwalk panels"):
        _open(page, name)
        _back_to(page, 1)
