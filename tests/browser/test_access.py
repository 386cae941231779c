"""Every main view by axe-core: no serious finding.

Source: the rules of axe-core, which are those of WCAG 2.2 at the levels A and AA.
"""

import re
from collections.abc import Callable
from pathlib import Path

import pytest
from playwright.sync_api import FilePayload, Page, expect

from tests.breadth import breadth
from tests.shapes import Drawing, circle, line_in, write

AXE = Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js"
RUN = """async () => (await axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'] })).violations
    .filter((found) => ['serious', 'critical'].includes(found.impact))
    .map((found) => [found.id, found.help, ...found.nodes.map((n) => `${n.target} ${n.failureSummary}`)].join('; '))"""


def job(page: Page, station: str) -> None:
    page.get_by_role("link", name="Wader trail").first.click()
    expect(page.locator("[data-finding]").first).to_be_visible()
    if station != "Check":
        at = page.get_by_role("navigation", name="stations").get_by_role("link", name=station)
        at.click()
        expect(at).to_have_attribute("aria-current", "step")
    expect(page.locator("[data-stage]")).to_be_visible()


def way(name: str) -> Callable[[Page], None]:
    def go(page: Page) -> None:
        job(page, "Check")
        page.get_by_role("button", name=name, exact=True).click()

    return go


def card(page: Page) -> None:
    job(page, "Check")
    page.locator('[data-finding="ink.rgb"]').get_by_role("button").first.click()
    expect(page.get_by_label("Why is this all right?")).to_be_visible()


def opened(button: str, shows: str) -> Callable[[Page], None]:
    def go(page: Page) -> None:
        job(page, "Check")
        page.get_by_role("button", name=button).click()
        expect(page.get_by_label(shows, exact=True)).to_be_visible()

    return go


def place(name: str, waits_for: str) -> Callable[[Page], None]:
    def go(page: Page) -> None:
        page.get_by_role("link", name=name).click()
        expect(page.locator(waits_for).first).to_be_visible()

    return go


def on_the_shelf(name: str) -> Callable[[Page], None]:
    def go(page: Page) -> None:
        page.get_by_role("link", name="Shelf").click()
        page.get_by_role("navigation", name="shelf").get_by_role("link", name=name).click()
        expect(page.locator('[aria-label="shelf"] [aria-current]')).to_have_text(name)
        expect(page.get_by_role("heading").first).to_be_visible()
        expect(page.get_by_role("progressbar")).to_have_count(0)

    return go


def of_the_shelf(kind: str, name: str) -> Callable[[Page], None]:
    def go(page: Page) -> None:
        on_the_shelf(kind)(page)
        page.get_by_role("link", name=name, exact=True).first.click()
        expect(page.get_by_role("region", name="versions")).to_be_visible()

    return go


def to_the_cutter(page: Page, name: str) -> None:
    """A job of this name goes from a customer's file to the cutter's side of the Bench, printed and dry."""
    lines = line_in(circle(50, 50, 30)) + line_in(circle(50, 50, 33), "T")
    inks = {"K": "Kiss Cut", "T": "Through Cut"}
    rounds = write(Drawing(f"% {name}\n1 0 0 0 k {circle(50, 50, 36)} f " + lines, inks=inks))
    page.get_by_test_id("files").set_input_files(
        FilePayload(name=f"{name}.pdf", mimeType="application/pdf", buffer=rounds)
    )
    page.get_by_role("navigation", name="stations").get_by_role("link", name="Release").click()
    page.get_by_role("button", name=re.compile("^Release")).click()
    page.get_by_role("link", name="Go to the bench").first.click()
    page.get_by_role("button", name="Print it").click()
    expect(page.locator("[data-plate]").first).to_be_visible()
    page.get_by_role("button", name="Cutter", exact=True).click()
    page.get_by_role("button", name="Wait until it is dry").click()


def released(page: Page) -> None:
    to_the_cutter(page, "tested")
    page.get_by_role("button", name="Load it", exact=True).click()
    expect(page.get_by_role("button", name="Cut it")).to_be_visible()
    page.get_by_role("button", name="Cut the figure of the kiss cut").click()
    expect(page.get_by_role("button", name="The kiss cut was right", exact=True)).to_be_visible()


def stands(page: Page) -> None:
    to_the_cutter(page, "stood at")
    page.get_by_role("button", name="Load it", exact=True).click()
    page.get_by_role("button", name="Cut it").click()
    page.get_by_role("button", name="Begin the cut").click()
    expect(page.get_by_text("The machine stands.")).to_be_visible()


def shared(page: Page) -> None:
    job(page, "Sheet")
    page.get_by_role("button", name="Share a sheet with other jobs").click()
    expect(page.get_by_role("button", name="Release the sheet")).to_be_visible()
    expect(page.get_by_test_id("copy").first).to_be_attached()


def by_hand(page: Page) -> None:
    shared(page)
    page.get_by_role("button", name="Place copies by hand").click()
    page.locator('[data-copy="0"]').press("Enter")
    expect(page.get_by_text("1 copy chosen.")).to_be_visible()


def stacked(part: str) -> Callable[[Page], None]:
    def go(page: Page) -> None:
        job(page, "Check")
        page.goto(page.url.split("?")[0].rstrip("/").removesuffix("/check") + "/stack")
        page.get_by_role("button", name="Two layers").click()
        expect(page.locator("[data-fabric]")).to_have_count(2)
        page.get_by_role("group", name="part of the stack").get_by_role("button", name=part).click()

    return go


def stack_at_the_machines(page: Page) -> None:
    stacked("Layers")(page)
    page.get_by_role("button", name="Write the files").click()
    page.get_by_role("link", name="Go to the bench with the stack").click()
    page.get_by_role("button", name=re.compile("It is laid")).click()
    expect(page.locator("[data-outcome]")).to_be_visible()


def out(page: Page) -> None:
    page.context.clear_cookies()
    page.reload()
    expect(page.get_by_label("Password")).to_be_visible()


SHELF_PAGES = (
    "Destinations", "Printers", "Cutters", "Mark settings", "Materials", "Rolls and sheets", "Fabrics", "Threads",
    "Check sheets", "Recipes", "Line presets", "Tool settings", "Holders", "Perforations", "Customers", "Letters",
    "Name patterns", "Shop, and moving it", "People", "Log", "What runs",
)
SHELF_THINGS = (
    ("Cutters", "Flat table cutter"), ("Materials", "White film, roll 610 mm"),
    ("Destinations", "House table and roll"),
    ("Line presets", "Kiss cut on the edge"), ("Perforations", "Holds firmly"), ("Threads", "Moss"),
)


VIEWS: dict[str, Callable[[Page], None]] = {
    "shared sheet": shared, "copies by hand": by_hand,
    **{f"a stack, {part}": stacked(part) for part in ("Layers", "Cut", "Sew")}, "a stack cut": stack_at_the_machines,
    "desk": lambda page: expect(page.get_by_role("link", name="Wader trail").first).to_be_visible(),
    **{s: (lambda page, s=s: job(page, s)) for s in ("Check", "Lines", "Sheet", "Cut", "Release")},
    **{f"{w} on the stage": way(w) for w in ("Inks", "Ink load", "Edge", "Compare")},
    "a card with a decision": card,
    "the order": opened("Order…", "Quantity"), "the letter": opened("Letter…", "the letter"),
    "shelf": place("Shelf", '[aria-label="shelf"] [aria-current]'), **{
        f"shelf, {name}": on_the_shelf(name) for name in SHELF_PAGES
    }, **{f"shelf, a {kind}": of_the_shelf(kind, name) for kind, name in SHELF_THINGS},
    "bench, empty or not": place("Bench", "main p"),
    "bench with a release": released, "the machine stands": stands,
    "logged out": out,
}  # fmt: skip


@breadth(0.25)
@pytest.mark.parametrize("view", VIEWS)
def test_no_view_has_a_serious_finding(page: Page, view: str) -> None:
    VIEWS[view](page)
    page.evaluate(AXE.read_text())  # not as a script of the page: its policy takes none
    assert page.evaluate(RUN) == []
