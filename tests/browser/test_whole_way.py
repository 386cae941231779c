"""The whole way in a browser, on a real drawing with lines under near-miss names.

What counts is what was written to disk, not only what the page says.
"""

import json
import re
from pathlib import Path

from playwright.sync_api import Page, expect

from horismos.artwork import line_objects, read_bytes
from horismos.formats.hpgl import read_hpgl
from tests.known import HOUSE


def kept(var: Path, beginning: bytes) -> list[bytes]:
    """The stored files that begin so, oldest first."""
    files = sorted((p for p in (var / "files").glob("*/*")), key=lambda p: p.stat().st_mtime)
    return [data for data in (p.read_bytes() for p in files) if data.startswith(beginning)]


def test_from_a_customers_pdf_to_a_sheet_cut(page: Page, demo: tuple[str, Path], swan_with_lines: Path) -> None:
    var = demo[1]
    page.get_by_test_id("files").set_input_files(swan_with_lines)
    page.get_by_text("swan", exact=True).click()
    expect(page.locator('[data-finding="ink.near-name"]')).to_have_count(2)
    expect(page.get_by_role("heading", name="This cannot be released yet")).to_be_visible()

    page.get_by_role("link", name="Release blocked").click()
    expect(page.get_by_role("button", name=re.compile("^Release"))).to_be_disabled()
    page.get_by_role("link", name="Mend them in Check").click()

    for name in ("Kiss Cut", "Through Cut"):
        page.get_by_role("button", name=f"Rename to {name}").click()
        expect(page.get_by_role("button", name=f"Rename to {name}")).to_have_count(0)
    expect(page.get_by_role("heading", name="No stops")).to_be_visible()

    page.get_by_role("button", name="Order…").click()
    page.get_by_label("Quantity").fill("6")
    page.get_by_label("kiss cut", exact=True).check()
    page.get_by_label("through cut", exact=True).check()
    page.get_by_role("button", name="Keep the order").click()
    page.get_by_role("link", name="Sheet").click()
    expect(page.get_by_test_id("copy")).to_have_count(6)
    expect(page.get_by_test_id("mark")).to_have_count(4)
    page.get_by_role("link", name="Cut", exact=False).click()
    operations = page.locator("[data-operation]")
    expect(operations).to_have_count(2)
    assert operations.first.get_attribute("data-operation") == "kiss-cut"

    page.get_by_role("link", name=re.compile(r"^Release (ready|\d+ looks? open)")).click()
    page.get_by_role("button", name="Release 6 copies").click()
    expect(page.get_by_text("swan-cut.plt")).to_be_visible()

    assert swan_with_lines.read_bytes() in kept(var, b"%PDF-")
    ticket = next(t for t in map(json.loads, kept(var, b"{")) if t.get("job") == "swan")
    assert ticket["worst_off_mm"]["swan-cut.plt"] <= 0.05
    drawn = read_hpgl(kept(var, b"IN;")[-1], tuple(ticket["origin_mm"]))
    assert [d.tool for d in drawn] == [1] * 6 + [3] * 6
    printed = read_bytes(next((var / "hot-folder" / "house").glob("*-swan-print.pdf")).read_bytes())
    inks = {line.ink for line in line_objects(printed, printed.pages[0], HOUSE)}
    assert inks == {"Kiss Cut", "Through Cut"}

    page.get_by_role("link", name="Go to the bench").click()
    page.get_by_role("button", name="Print it").click()
    plates = page.locator("[data-plate]")
    expect(plates).to_have_count(6)
    assert not list((var / "hot-folder" / "house").glob("*-swan-print.pdf"))
    page.get_by_role("button", name="Cutter", exact=True).click()
    page.get_by_role("button", name="Wait until it is dry").click()
    page.get_by_role("button", name="Load it", exact=True).click()
    page.get_by_role("button", name="Cut it").click()
    expect(page.get_by_test_id("strokes")).to_have_text("0 of 12")
    page.get_by_role("slider", name="time").press("End")
    expect(page.get_by_test_id("strokes")).to_have_text("12 of 12")


def test_a_mend_can_be_undone_and_keys_walk_the_findings(page: Page) -> None:
    page.get_by_role("link", name="Wader trail").first.click()
    page.get_by_role("button", name="Rename to Kiss Cut").click()
    expect(page.get_by_role("button", name="Rename to Kiss Cut")).to_have_count(0)
    page.get_by_role("button", name="Undo the last mend").click()
    expect(page.get_by_role("button", name="Rename to Kiss Cut")).to_be_visible()
    page.keyboard.press("n")
    expect(page.get_by_test_id("place").first).to_be_attached()
    expect(page.locator('[data-finding] [aria-pressed="true"]')).to_have_count(1)
