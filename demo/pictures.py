"""Takes the pictures of docs/screenshots from a demo that has just been started: demo/pictures.py [ADDRESS]."""

import re
import sys
from pathlib import Path

from playwright.sync_api import FilePayload, Page, expect, sync_playwright

from demo import NAME, PASSWORD, draw

FOLDER = Path(__file__).resolve().parents[1] / "docs" / "screenshots"
PLOT: FilePayload = {
    "name": "gate sign.plt",
    "mimeType": "application/octet-stream",
    "buffer": b"IN;SP1;PU800,800;PD4800,800,4800,3200,800,3200,800,800;SP2;PU1200,2000;CI300;PU3600,2000;CI300;",
}


ARRIVING = {
    "Autumn wader trail": draw.wader_trail, "Autumn tern stickers": draw.tern_stickers,
    "Autumn seed seals": draw.seed_seals, "Autumn tide clock": draw.tide_clock,
    "Autumn boardwalk": draw.boardwalk_panel,
}
"""What comes in, and who draws it."""


def _log_in(page: Page, address: str) -> None:
    page.goto(address)
    page.get_by_label("Name").fill(NAME)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Log in").click()
    expect(page.get_by_text("Rockpool labels").first).to_be_visible()
    page.get_by_role("link", name="Bench").click()
    expect(page.get_by_text(re.compile("^stack 1,"))).to_be_visible()
    page.get_by_role("link", name="Desk").click()
    expect(page.get_by_role("status")).to_have_count(0)


def _open(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="places").get_by_role("link", name="Desk").click()
    page.get_by_role("link", name=name).first.click()
    expect(page.locator("[data-stage] image").first).to_be_visible()
    expect(page.get_by_role("status")).to_have_count(0)

expect.set_options(timeout=90_000)  # the worker may have other jobs to do first


def _shot(page: Page, name: str) -> None:
    page.mouse.move(1279, 799)
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(900)  # pictures fade in
    page.screenshot(path=FOLDER / f"{name}.png")


def _check(page: Page) -> None:
    _open(page, "Wader trail")
    page.locator('[data-finding="edge.bleed"]').get_by_role("button").first.click()
    _shot(page, "check")
    page.get_by_role("button", name="Edge", exact=True).click()
    page.get_by_role("button", name="Fit").click()
    slider = page.get_by_role("slider", name="cut to the right, mm")
    for _ in range(34):
        slider.press("ArrowRight")
    expect(page.get_by_test_id("slivers")).to_contain_text("bare media")
    _shot(page, "edge-map")
    page.get_by_role("button", name="Back").click()
    page.get_by_role("button", name="Colour", exact=True).click()
    for station in ("Sheet", "Cut"):
        page.get_by_role("navigation", name="stations").get_by_role("link", name=station).click()
        _shot(page, station.lower())


def _making(page: Page) -> None:
    _open(page, "Young warden badges")
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Lines").click()
    page.get_by_role("button", name="Make lines").click()
    docket = page.get_by_role("region", name="making lines")
    expect(page.get_by_test_id("made").first).to_contain_text("contour")
    docket.get_by_role("button", name="Add a line…").click()
    page.get_by_role("menuitem", name="A perforation", exact=True).click()
    expect(docket.locator('[data-line="perforation"]')).to_contain_text("holding")
    expect(docket.get_by_text("Checking…")).to_have_count(0)
    expect(page.get_by_test_id("section").get_by_text("perforation").first).to_be_visible()
    _shot(page, "making")
    docket.get_by_role("button", name="Leave it").click()


def _releasing(page: Page) -> None:
    _open(page, "Tern door stickers")
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Release").click()
    page.get_by_role("button", name="Rehearse 200 loads", exact=True).click()
    expect(page.get_by_role("img", name="the worst piece")).to_be_visible(timeout=120_000)
    page.get_by_role("button", name="Release 24 copies").click()
    expect(page.locator("[data-release]")).to_be_attached()
    page.get_by_role("heading", name="Rehearsal").scroll_into_view_if_needed()
    _shot(page, "release")
    page.get_by_role("link", name="Go to the bench").click()
    page.get_by_role("button", name="Print it").click()
    expect(page.locator("[data-plate]").first).to_be_visible()
    page.get_by_role("button", name="Cutter", exact=True).click()
    page.get_by_role("button", name="Wait until it is dry").click()
    page.get_by_role("button", name="Load it", exact=True).click()
    expect(page.get_by_role("button", name="Cut it")).to_be_visible()
    page.wait_for_load_state("networkidle")
    _shot(page, "bed")
    page.set_viewport_size({"width": 768, "height": 1024})
    page.get_by_role("link", name="On the tablet").click()
    expect(page.get_by_role("heading", name="Put in the tools")).to_be_visible()
    page.get_by_role("button", name="Cut the test figure").first.click()
    expect(page.get_by_role("button", name="Too shallow")).to_be_visible()
    _shot(page, "tablet")
    page.go_back()
    page.set_viewport_size({"width": 1280, "height": 800})
    page.get_by_role("button", name="Cut it").click()
    page.get_by_role("button", name="Begin the cut").click()
    expect(page.get_by_text("The machine stands.")).to_be_visible()


def _sharing(page: Page) -> None:
    _open(page, "Tern door stickers")
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Sheet").click()
    page.get_by_role("button", name="Share a sheet with other jobs").click()
    page.get_by_role("tab", name="Would fit").click()
    page.get_by_role("button", name="put Young warden badges on the sheet").click()
    page.get_by_role("tab", name="Jobs").click()
    expect(page.get_by_test_id("copy")).to_have_count(24 + 120)
    page.get_by_role("button", name="Show where").click()
    _shot(page, "shared-sheet")
    page.get_by_role("button", name="Take the sheet apart").click()
    expect(page.get_by_role("heading", name="Desk")).to_be_visible()


def _mending(page: Page) -> None:
    _open(page, "Tide clock")
    card = page.locator('[data-finding="white.choke"]')
    card.get_by_role("button").first.click()
    card.get_by_role("button", name="Look first").click()
    ahead = page.get_by_role("region", name="looking ahead")
    expect(ahead.get_by_role("button", name="Do it")).to_be_visible()
    _shot(page, "preview")
    ahead.get_by_role("button", name="Do it").click()
    expect(page.get_by_text("revision 2")).to_be_visible()
    expect(page.get_by_role("status")).to_have_count(0)
    page.get_by_role("button", name="History…").click()
    page.locator('[data-revision="1"]').get_by_role("button", name="Go to this one").click()
    expect(page.locator('[data-revision="1"][aria-current]')).to_be_visible()
    page.get_by_role("button", name="Close").click()


def _stacking(page: Page) -> None:
    _open(page, "Volunteer tabards")
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Lines").click()
    page.get_by_role("link", name="The stack of fabric").click()
    expect(page.locator("[data-fabric]")).to_have_count(3)
    page.get_by_role("button", name="Cut open").click()
    box = page.locator("[data-stage]").bounding_box()
    assert box
    page.mouse.move(box["x"] + 150, box["y"] + 452)
    page.mouse.down()
    page.mouse.move(box["x"] + 420, box["y"] + 470, steps=4)
    page.mouse.up()
    expect(page.get_by_test_id("section").locator("[data-cut]").first).to_be_attached()
    _shot(page, "stack")
    page.get_by_role("button", name="Fold").click()
    page.locator("[data-stage]").focus()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Sew", exact=True).click()
    page.get_by_role("button", name=re.compile("Lay “face”")).click()
    page.locator("[data-stage]").focus()
    page.keyboard.press("f")
    slider = page.get_by_role("slider", name="stitch")
    slider.focus()
    for _ in range(8):
        slider.press("PageUp")
    page.get_by_role("button", name="Layers", exact=True).click()


def _rest(page: Page) -> None:
    page.goto("/shelf/material/film-1370")
    page.get_by_label("Price, a m²").fill("6.8")
    page.get_by_label("What is changed, and why").fill("A new supplier")
    page.get_by_role("button", name=re.compile("Keep it as version")).click()
    expect(page.locator("[data-version='3']")).to_be_visible()
    page.get_by_role("region", name="versions").scroll_into_view_if_needed()
    _shot(page, "shelf")
    page.get_by_role("link", name="Desk").click()
    page.get_by_test_id("files").set_input_files(PLOT)
    page.get_by_text("gate sign", exact=True).click()
    expect(page.locator("[data-question]").first).to_be_visible()
    _shot(page, "taking-in")


def _pile(page: Page) -> None:
    """A morning's files, mended by themselves as far as no person is needed."""
    page.goto("/shelf/shop")
    page.get_by_label("What comes in is mended by itself").check()
    page.get_by_role("button", name="Keep it").click()
    expect(page.get_by_text("Kept.")).to_be_visible()
    page.goto("/")
    page.get_by_label("For which customer").fill("Saltmarsh Trust")
    files: list[FilePayload] = [
        {"name": f"{name}.pdf", "mimeType": "application/pdf", "buffer": made() + b"\n%%autumn\n"}
        for name, made in ARRIVING.items()
    ]
    page.get_by_test_id("files").set_input_files(files)
    for name in ARRIVING:
        expect(page.get_by_role("listitem").filter(has_text=name).filter(has_text="new")).to_be_visible()
    expect(page.get_by_role("progressbar")).to_have_count(0)
    expect(page.get_by_text("Done by itself").first).to_be_visible()
    _shot(page, "pile")


def _customers(page: Page) -> None:
    """What many ask at once, a corrected file over the old one, a proof, the customer and the figures."""
    page.get_by_role("navigation", name="what several files ask alike").get_by_role("link").first.click()
    expect(page.locator("[data-tile]").first).to_be_visible()
    _shot(page, "alike")
    _open(page, "Tern door stickers")
    corrected = draw.tern_stickers(corrected=True)
    page.get_by_label("another file").set_input_files(
        {"name": "tern-door-stickers 2.pdf", "mimeType": "application/pdf", "buffer": corrected}
    )
    over = page.get_by_test_id("corrected")
    expect(over.locator('[data-change="art"]')).to_be_visible()
    expect(page.get_by_role("status")).to_have_count(0)
    over.get_by_role("button", name="Lay both over each other").click()
    over.locator('[data-change="art"]').click()
    _shot(page, "corrected")
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Release").click()
    proof = page.get_by_test_id("proof")
    proof.get_by_role("button", name="Send a proof").click()
    expect(proof.get_by_text("no answer yet")).to_be_visible()
    page.get_by_role("navigation", name="places").get_by_role("link", name="Customers").click()
    page.get_by_role("link", name="Saltmarsh Trust").click()
    expect(page.get_by_role("region", name="Letters").get_by_text("no answer yet")).to_be_visible()
    _shot(page, "customer")
    page.get_by_role("navigation", name="places").get_by_role("link", name="Figures").click()
    expect(page.get_by_role("link", name="Saltmarsh Trust", exact=True)).to_be_visible()
    _shot(page, "figures")


def main() -> int:
    """Take all of them; what was changed on the way is put back, apart from one release and one new job."""
    address = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8040/"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        page = browser.new_page(base_url=address, viewport={"width": 1280, "height": 800}, reduced_motion="reduce")
        _log_in(page, address)
        _shot(page, "desk")
        for part in (_check, _making, _mending, _stacking, _sharing, _releasing, _rest, _pile, _customers):
            part(page)
        browser.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
