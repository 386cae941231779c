"""People on screen: another password, what somebody without a right is told, and a change that came too late."""

import os
import re
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.breadth import breadth

pytestmark = breadth(0.12, "journeys")

ROOT = Path(__file__).resolve().parents[2]
FIRST, SECOND = "a spell of dry weather", "a longer spell of weather"


def log_in(page: Page, address: str, name: str, password: str) -> None:
    page.goto(address)
    page.get_by_label("Name").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Log in").click()


@pytest.fixture()
def somebody(chromium: Browser, demo: tuple[str, Path]) -> Iterator[Callable[[str], Page]]:
    """Makes a person without rights on the command line, and logs that person in."""
    address, var = demo
    contexts = []

    def come(name: str) -> Page:
        subprocess.run(
            [sys.executable, ROOT / "server" / "manage.py", "user", "add", name], input=FIRST + "\n", text=True,
            check=True, env={**os.environ, "HORISMOS_VAR": str(var)}, stdout=subprocess.DEVNULL,
        )
        contexts.append(chromium.new_context(viewport={"width": 1280, "height": 800}, reduced_motion="reduce"))
        page = contexts[-1].new_page()
        page.set_default_timeout(60_000)
        log_in(page, address, name, FIRST)
        page.get_by_role("heading", name="Desk").wait_for()
        return page

    yield come
    for context in contexts:
        context.close()


def test_somebody_takes_another_password(
    somebody: Callable[[str], Page], chromium: Browser, demo: tuple[str, Path]
) -> None:
    page = somebody("ida")
    page.get_by_role("button", name="ida").click()
    dialog = page.get_by_role("dialog")
    change = dialog.get_by_role("button", name="Change it")
    expect(change).to_be_disabled()
    dialog.get_by_label("Present password").fill("not this one")
    dialog.get_by_label("New password", exact=True).fill("too short")
    dialog.get_by_label("New password once more").fill("too shorx")
    expect(dialog).to_contain_text("The two differ.")
    dialog.get_by_label("New password once more").fill("too short")
    change.click()
    expect(dialog.get_by_role("alert")).to_contain_text("not your present password")
    dialog.get_by_label("Present password").fill(FIRST)
    change.click()
    expect(dialog.get_by_role("alert")).to_contain_text("too short")
    for label in ("New password", "New password once more"):
        dialog.get_by_label(label, exact=True).fill(SECOND)
    page.keyboard.press("Enter")
    expect(dialog.get_by_role("alert")).to_contain_text("Your password is changed")
    dialog.get_by_role("button", name="Close").click()
    page.get_by_role("button", name="Log out").click()
    page.get_by_label("Name").wait_for()
    log_in(page, demo[0], "ida", FIRST)
    expect(page.get_by_role("alert")).to_contain_text("do not fit together")
    page.get_by_label("Password").fill(SECOND)
    page.get_by_role("button", name="Log in").click()
    page.get_by_role("heading", name="Desk").wait_for()


def test_who_may_not_change_the_shelf_may_try_and_is_told(somebody: Callable[[str], Page]) -> None:
    page = somebody("juno")
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("navigation", name="shelf").get_by_role("link", name="Check sheets").click()
    sheets = page.get_by_role("region", name="check sheets")
    expect(sheets.get_by_role("alert")).to_contain_text("You may try limits on a job, but not keep them")
    row = page.locator('[data-check="edge.bleed"]')
    row.get_by_role("textbox").first.fill("1")
    expect(sheets.get_by_role("button", name=re.compile("Keep as version"))).to_be_disabled()
    sheets.get_by_label("Try on job").click()
    page.get_by_role("option", name="Wader trail").click()
    sheets.get_by_role("button", name="Show the effect").click()
    expect(page.get_by_text("Colour ends 1.2 mm outside the cut").first).to_be_visible()


def test_a_change_that_came_too_late_says_who_was_first(page: Page, somebody: Callable[[str], Page]) -> None:
    other = somebody("kaia")
    for each in (page, other):
        each.get_by_role("link", name="Desk").click()
        each.get_by_role("link", name=re.compile("Young warden badges")).first.click()
        each.get_by_role("button", name="Order…").first.click()
    other.get_by_label("Quantity").fill("130")
    other.get_by_role("button", name="Keep the order").click()
    expect(other.get_by_label("Quantity")).to_have_count(0)
    page.get_by_label("Quantity").fill("140")
    page.get_by_role("button", name="Keep the order").click()
    form = page.get_by_role("form", name="order")
    expect(form).to_contain_text("“Young warden badges” was changed after you had looked")
    expect(form).to_contain_text("(kaia: Changed the order’s quantity from 120 to 130)")
    expect(form).to_contain_text("Look at it as it is now, then make your change again.")
    expect(page.get_by_label("Quantity")).to_have_value("140")
    expect(page.get_by_text(re.compile("130 of 58"))).to_be_visible()
    page.get_by_role("button", name="Keep the order").click()
    expect(page.get_by_text(re.compile("140 of 58"))).to_be_visible()
