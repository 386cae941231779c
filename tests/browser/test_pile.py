"""The morning's pile: sixty files of three customers, sorted by themselves, and asked about once for all of a kind."""

import sqlite3
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from urllib.parse import quote

import pytest
from playwright.sync_api import FilePayload, Page, expect

from tests.breadth import WHOLE, breadth
from tests.running import wait_until
from tests.shapes import Drawing, circle, line_in, write

pytestmark = breadth(0.12, "journeys")
CUSTOMERS = ("Marram Mill", "Ferry Works", "Dune Press")
KISS = line_in(circle(50, 50, 40))
MOST_PRESSES = 40
PILE = range(60) if WHOLE else [i for i in range(24) if i % 2 or i % 8 == 0]
"""Each of six faults twice in a quick run beside three plain files, five times in a whole one beside thirty."""


def _colour(i: int) -> str:
    return f"{0.1 + 0.012 * i:.3f} {0.3 + 0.01 * i:.3f} {0.8 - 0.01 * i:.3f} 0"


def _file(i: int) -> tuple[str, bytes]:
    """One of the pile, every other one with one of six faults."""
    ground = f"{_colour(i)} k 5 5 90 90 re f 0 0.2 0.8 0 k {circle(40, 45, 8 + i % 9)} f\n"
    kind = ("name", "colours", "ink", "border", "no line", "pages")[i // 2 % 6] if i % 2 else "plain"
    if kind == "name":
        drawing = Drawing(ground + KISS, inks={"K": "Kiss-Cut"})
    elif kind == "colours":
        drawing = Drawing(f"0.2 0.4 0.{i:02d} rg 5 5 90 90 re f\n" + KISS)
    elif kind == "ink":
        glow = "/S cs 0.8 scn 30 60 20 10 re f\n"
        drawing = Drawing(ground + glow + KISS, inks={"K": "Kiss Cut", "S": "Harbour Glow"})
    elif kind == "border":
        drawing = Drawing(f"{_colour(i)} k 11 11 78 78 re f\n" + line_in("10 10 80 80 re "))
    elif kind == "no line":
        drawing = Drawing(ground)
    elif kind == "pages":
        drawing = Drawing(ground + KISS, pages=2)
    else:
        drawing = Drawing(ground + KISS)
    return f"{kind} {i:02d}.pdf", write(drawing)


@pytest.fixture()
def sorting(page: Page, demo: tuple[str, Path]) -> Iterator[Page]:
    """The Desk of a shop in which what comes in is mended by itself; afterwards the pile lies behind all other jobs."""
    assert wait_until(lambda: _rests(page), 240)
    _sorts(page, True)
    database = sqlite3.connect(demo[1] / "horismos.sqlite3", timeout=60)
    (before,) = database.execute("SELECT max(id) FROM jobs_job").fetchone()
    yield page
    _sorts(page, False)
    with database:
        database.execute("UPDATE jobs_job SET created = '2026-01-05 08:00:00' WHERE id > ?", (before,))
    database.close()


def _sorts(page: Page, whether: bool) -> None:
    done = page.evaluate(
        """async (sorts) => (await fetch('/api/shop', { method: 'PATCH', body: JSON.stringify({ sorts }), headers: {
        'Content-Type': 'application/json',
        'X-CSRFToken': document.cookie.split('csrftoken=')[1].split(';')[0] } })).ok""", whether,
    )
    assert done


def _counts(page: Page, customer: str = "") -> Counter[str]:
    asked = f"fetch('/api/jobs/counts?search={quote(customer)}').then((r) => r.json())"
    return Counter(page.evaluate(asked))


def _ours(page: Page) -> Counter[str]:
    """How many files of the three customers lie where."""
    return sum((_counts(page, customer) for customer in CUSTOMERS), Counter())


def _rests(page: Page) -> bool:
    running: bool = page.evaluate(
        "fetch('/api/works').then((r) => r.json()).then((all) => all.length > 0)"
    )
    return not running and _counts(page)["coming"] == 0


def test_sixty_files_are_decided_on_in_forty_presses(sorting: Page) -> None:
    page, presses = sorting, 0
    files = [_file(i) for i in PILE]
    safe = sum(name.startswith(("plain", "name")) for name, _ in files)
    for number, customer in enumerate(CUSTOMERS):
        page.get_by_label("For which customer").fill(customer)
        page.get_by_test_id("files").set_input_files([
            FilePayload(name=name, mimeType="application/pdf", buffer=data) for name, data in files[number::3]
        ])
        presses += 2  # the customer's name, and the drop
    expect(page.locator('[data-arrival="waiting"], [data-arrival="sending"]')).to_have_count(0)
    assert wait_until(lambda: _rests(page), 240)
    came = _ours(page)
    assert came["all"] == len(files) and came["ready"] >= safe, ("what is safe needed nobody", came)
    groups = page.get_by_role("navigation", name="what several files ask alike")
    groups.get_by_role("link").first.click()
    presses += 1
    for _ in range(14):
        page.wait_for_timeout(600)
        if not groups.get_by_role("button").count():
            break
        asked = page.locator("main section")
        expect(asked.get_by_role("checkbox").first).to_be_checked()
        expect(asked.locator("[aria-busy]").first).to_have_attribute("aria-busy", "false")
        first = asked.locator("button.MuiButton-contained:enabled")
        if first.count():
            first.first.click()
            presses += 1
        else:
            page.get_by_label("Why all of these may stand").fill("as agreed with them")
            asked.get_by_role("button", name="Accept").click()
            presses += 2
        expect(asked.locator('[aria-busy="true"]')).to_have_count(0)
        page.wait_for_timeout(600)
        assert wait_until(lambda: _rests(page), 120)
    after = _ours(page)
    assert after["ready"] == after["all"] >= len(files), after
    assert presses <= MOST_PRESSES, presses


def test_a_corrected_file_is_laid_over_the_old_one_and_its_proof_is_signed(page: Page) -> None:
    def seal(radius: float, more: str = "") -> bytes:
        return write(Drawing(f"1 0.2 0 0 k 5 5 90 90 re f\n{more}" + line_in(circle(50, 50, radius))))

    def payload(name: str, data: bytes) -> FilePayload:
        return FilePayload(name=name, mimeType="application/pdf", buffer=data)

    page.get_by_label("For which customer").fill("Ferry Works")
    page.get_by_test_id("files").set_input_files(payload("harbour seal.pdf", seal(40)))
    expect(page.locator("[data-stage] image").first).to_be_visible()
    assert wait_until(lambda: _rests(page), 60)
    page.get_by_role("navigation", name="places").get_by_role("link", name="Desk").click()
    page.get_by_test_id("files").set_input_files(
        payload("harbour-seal_v2.pdf", seal(39.5, "0 0.9 0.9 0 k 62 62 9 9 re f\n"))
    )
    page.get_by_role("button", name="lay harbour-seal_v2 over the job that it looks like").click()
    over = page.get_by_test_id("corrected")
    expect(over.locator("[data-change]")).to_have_count(3)
    expect(over.locator('[data-change="lines"]')).to_contain_text("1 moved, by up to 0.50 mm")
    over.locator('[data-change="art"]').click()
    expect(page.get_by_test_id("place")).to_have_count(1)
    over.get_by_role("button", name="Lay both over each other").click()
    expect(page.get_by_role("slider")).to_be_visible()
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Release").click()
    proof = page.get_by_test_id("proof")
    proof.get_by_label("Goes to").fill("art@ferry.example")
    proof.get_by_role("button", name="Send a proof").click()
    proof.get_by_label("Signed by").fill("R. Marram")
    proof.get_by_role("button", name="Approved").click()
    expect(proof.get_by_text("Signed by R. Marram")).to_be_visible()
    page.get_by_role("navigation", name="places").get_by_role("link", name="Customers").click()
    page.get_by_role("link", name="Ferry Works").click()
    expect(page.get_by_text("approved by R. Marram")).to_be_visible()
