"""A shop's own on the screen: the guide of a new shop, things by keyboard, and two people at one job."""

import os
import re
import socket
import subprocess
import sys
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.browser.test_access import AXE, RUN
from tests.browser.test_people import somebody  # noqa: F401
from tests.running import wait_until
from tests.shapes import Drawing, circle, line_in, write

ROOT = Path(__file__).resolve().parents[2]
SECRET = "a longer spell of weather"
MOST_PRESSES = 60
CLEAN = Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)), inks={"K": "Half Cut"})


@pytest.fixture()
def empty(tmp_path: Path) -> Iterator[str]:
    """A shop that has just been started for the first time: the link that it says."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    said = tmp_path / "said"
    with said.open("wb") as out:
        child = subprocess.Popen(
            [sys.executable, ROOT / "server" / "manage.py", "serve", "--port", str(port), "--workers", "1"],
            env={**os.environ, "HORISMOS_VAR": str(tmp_path / "var")}, stdout=out,
        )
    link = re.compile(r"http://\S+/join/\S+")
    assert wait_until(lambda: link.search(said.read_text()) is not None, 300)
    found = link.search(said.read_text())
    assert found is not None
    yield found[0]
    child.terminate()
    child.wait(120)


class Presses:
    """Counts what a person does: presses of the mouse, and fields that are typed into."""

    def __init__(self) -> None:
        self.count = 0

    def press(self, what: Locator) -> None:
        self.count += 1
        what.click()

    def write(self, where: Locator, text: str) -> None:
        self.count += 1
        where.fill(text)

    def choose(self, where: Locator, file: Path) -> None:
        self.count += 2  # the button, and the file in the dialog
        where.set_input_files(file)


def no_finding(page: Page) -> None:
    page.evaluate(AXE.read_text())
    assert page.evaluate(RUN) == []


def test_a_new_shop_is_led_from_nothing_to_its_first_released_job(
    chromium: Browser, empty: str, tmp_path: Path
) -> None:
    file = tmp_path / "worked.pdf"
    file.write_bytes(write(CLEAN))
    page, by = chromium.new_page(viewport={"width": 1280, "height": 800}, reduced_motion="reduce"), Presses()
    page.set_default_timeout(90_000)
    button = lambda name: page.get_by_role("button", name=name)  # noqa: E731
    page.goto(empty)
    by.write(page.get_by_label("Your name"), "ada")
    by.write(page.get_by_label("Password", exact=True), SECRET)
    by.write(page.get_by_label("Password once more"), SECRET)
    no_finding(page)
    by.press(button("Come in"))
    by.write(page.get_by_label("Name of the shop"), "Harbour Print")
    by.write(page.get_by_label("Currency"), "EUR")
    no_finding(page)
    by.press(button("Go on"))
    printer = page.get_by_role("form", name="a printer of your own")
    by.write(printer.get_by_label("Your printer is called"), "Wide roll printer")
    by.write(printer.get_by_label("Width"), "1400")
    no_finding(page)
    by.press(button("Put this printer on the Shelf"))
    expect(page.get_by_text("✓ Wide roll printer")).to_be_visible()
    cutter = page.get_by_role("form", name="a cutter of your own")
    by.write(cutter.get_by_label("Your cutter is called"), "Roll cutter")
    by.press(button("Put this cutter on the Shelf"))
    expect(page.get_by_text("✓ Roll cutter")).to_be_visible()
    by.press(button("Go on"))
    by.choose(page.get_by_label("file that worked"), file)
    spot = page.locator('[data-spot="Half Cut"]')
    by.press(spot.get_by_role("combobox"))
    by.press(page.get_by_role("option", name="kiss cut"))
    expect(page.get_by_label("kiss cut", exact=True)).to_have_value("Half Cut")
    by.write(page.get_by_label("What people call it"), "Roll line")
    no_finding(page)
    by.press(button("Put this destination on the Shelf"))
    by.press(button("Go on"))
    by.write(page.get_by_label("Your film is called"), "Matt white")
    no_finding(page)
    by.press(button("Put this film on the Shelf"))
    by.press(button("Go on"))
    by.press(button("Go on"))  # nobody else yet
    by.choose(page.get_by_label("file as proof"), file)
    page.wait_for_url(re.compile("/jobs/"))
    by.press(page.get_by_role("link", name=re.compile("^Release")))
    release = page.get_by_role("button", name=re.compile("^Release"))
    expect(release).to_be_enabled()
    by.press(release)
    on_the_bench = lambda: page.evaluate("() => fetch('/api/bench').then(r => r.json())")  # noqa: E731
    assert wait_until(lambda: len(on_the_bench()) == 1, 120) and by.count <= MOST_PRESSES, by.count
    job = page.evaluate("() => fetch('/api/jobs/1').then(r => r.json())")
    assert (job["material"], job["destination"], job["released"]) == ("Matt white", "roll-line", True)
    page.close()


def test_a_thing_is_changed_by_keyboard_alone_and_what_is_wrong_is_said_where_it_stands(page: Page) -> None:
    page.goto(page.url.rstrip("/") + "/shelf/printer/small-rip")
    margin = page.get_by_label("Margin, mm")
    margin.focus()
    page.keyboard.press("Control+a")
    page.keyboard.type("2000")
    expect(page.get_by_text("Give 0 mm to 1000 mm.")).to_be_visible()
    page.keyboard.press("Enter")
    expect(margin).to_be_focused()
    expect(margin).to_have_value("2000")
    page.keyboard.press("Control+a")
    page.keyboard.type("6")
    page.keyboard.press("Enter")
    versions = page.get_by_role("region", name="versions")
    expect(versions.locator("[data-version='2']")).to_contain_text("margin: 4 mm → 6 mm")
    expect(page.get_by_role("button", name="Keep it as version 3")).to_be_disabled()


def test_two_at_one_job_see_each_other_and_what_the_other_changes(
    page: Page, somebody: Callable[[str], Page]  # noqa: F811
) -> None:
    other = somebody("lena")
    for each in (page, other):
        each.get_by_role("link", name=re.compile("Boardwalk panels")).first.click()
        each.get_by_role("button", name="Order…").first.wait_for()
    expect(page.get_by_text("lena is here too")).to_be_visible()
    expect(other.get_by_text("demo is here too")).to_be_visible()
    other.get_by_role("button", name="Order…").first.click()
    other.get_by_label("Quantity").fill("7")
    other.get_by_role("button", name="Keep the order").click()
    expect(other.get_by_text(re.compile("7 of 2400"))).to_be_visible()
    expect(page.get_by_text(re.compile("7 of 2400"))).to_be_visible()
