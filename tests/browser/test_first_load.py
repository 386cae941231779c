"""What a browser has to fetch before the Desk stands there."""

import gzip
import re
from pathlib import Path

from playwright.sync_api import Page, expect

DIST = Path(__file__).resolve().parents[2] / "web" / "dist"
MOST_BYTES = 204_800
"""Of scripts, gzipped."""


def first() -> list[str]:
    """The scripts that the page names."""
    return re.findall(r'(?:src|href)="/(assets/[^"]+\.js)"', (DIST / "index.html").read_text())


def test_the_first_load_stays_small() -> None:
    names = first()
    assert names and sum(len(gzip.compress((DIST / name).read_bytes())) for name in names) <= MOST_BYTES


def test_other_places_are_fetched_once_the_desk_stands(page: Page) -> None:
    page.goto(page.url)
    expect(page.get_by_role("heading", name="Desk")).to_be_visible()
    fetched = "() => performance.getEntriesByType('resource').filter(e => e.name.endsWith('.js')).length"
    page.wait_for_function(f"count => ({fetched})() > count", arg=len(first()))
    page.get_by_role("link", name="Bench").click()
    expect(page.get_by_role("progressbar", name="loading")).to_have_count(0)
    page.get_by_role("link", name="Shelf").click()
    expect(page.get_by_role("heading", name="Destinations")).to_be_visible()
