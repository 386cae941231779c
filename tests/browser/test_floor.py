"""Between print and finished piece, in a browser: queues, a cut that waits, a laminate, a swapped sheet, a turned one.

The tablet is 768 by 1024 pixels. That a finger needs 44 of them is WCAG 2.2, 2.5.5 [standard].
"""

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

from playwright.sync_api import Page, expect

from tests.breadth import breadth
from tests.browser.test_access import AXE, RUN
from tests.browser.test_cutting import call, rested, taken_in  # noqa: F401  a fixture and its makers
from tests.running import wait_until
from tests.shapes import circle, line_in

pytestmark = breadth(0.3, "on the floor, in a browser")

Call = Callable[..., Any]


def rounds(name: str) -> str:
    """A drawing for a job: for each name another one, since the same file is the same job."""
    inner = 25 + sum(map(ord, name)) % 97 / 20
    return f"1 0 0 0 k {circle(50, 50, 36)} f " + line_in(circle(50, 50, inner), "K") + line_in(
        circle(50, 50, inner + 3), "T"
    )


FINGER_PX = 44


def released(page: Page, call: Call, folder: Path, name: str, **change: Any) -> int:  # noqa: F811
    """A job that was released; the number of its package."""
    change.setdefault("order", {"quantity": 6})
    job = taken_in(page, call, folder, name, rounds(name), **change)
    call("POST", f"/api/jobs/{job['id']}/release", version=job["version"], revision=job["revision"], found=job["found"])
    assert wait_until(lambda: bool(call("GET", f"/api/jobs/{job['id']}")["releases"]), 90)
    return int(call("GET", f"/api/jobs/{job['id']}")["releases"][0]["id"])


def at(page: Page, path: str) -> None:
    page.goto("/".join(page.url.split("/", 3)[:3]) + path)


def print_of(call: Call, release: int, **report: Any) -> None:  # noqa: F811
    call("POST", f"/api/bench/{release}/rip", report=report)
    assert wait_until(lambda: made(call, release)["rip_state"] == "done", 90)


def made(call: Call, release: int) -> Any:  # noqa: F811
    return next(one for one in call("GET", "/api/bench") if one["id"] == release)


def test_a_queue_is_ordered_by_key_and_what_is_held_is_not_printed(page: Page, call: Call, tmp_path: Path) -> None:  # noqa: F811
    first, second = (released(page, call, tmp_path, name) for name in ("first in line", "second in line"))
    at(page, f"/bench?release={first}")
    rip = page.get_by_role("region", name="At the RIP")
    expect(rip.get_by_role("button", name=re.compile("^first in line"))).to_be_visible()

    def order() -> list[int]:
        return [one["release_id"] for one in call("GET", "/api/queues")["rip"] if one["release_id"] in (first, second)]

    assert order() == [first, second]
    rip.get_by_role("button", name="Move second in line in its queue").focus()
    for key in ("Space", "ArrowUp", "Space"):
        page.keyboard.press(key)
        page.wait_for_timeout(300)
    assert wait_until(lambda: order() == [second, first], 20)
    page.get_by_role("button", name="Hold").click()
    expect(rip.get_by_role("button", name=re.compile("^first in line"))).to_contain_text("held")
    expect(page.get_by_role("button", name="Print it")).to_be_disabled()
    page.get_by_role("button", name="Let it go").click()
    expect(page.get_by_role("button", name="Print it")).to_be_enabled()
    page.get_by_role("button", name="Cancel the print").click()
    again = page.get_by_role("button", name="Print it again")
    for _ in range(2):
        again.click()
        page.get_by_role("button", name="Print it", exact=True).click()
        expect(page.get_by_role("heading", name="It is being printed.")).to_be_visible()
        expect(page.locator("[data-plate]").first).to_be_visible(timeout=60_000)
    assert made(call, first)["rip_state"] == "done" and made(call, second)["rip_state"] == "waiting"


def test_a_wet_print_waits_or_is_cut_for_a_reason_and_a_laminate_comes_first(
    page: Page, call: Call, tmp_path: Path  # noqa: F811
) -> None:
    release = released(page, call, tmp_path, "laminated rounds", order={"quantity": 2, "laminate": "matt"})
    print_of(call, release)
    at(page, f"/bench?release={release}")
    page.get_by_role("button", name="Cutter", exact=True).click()
    expect(page.get_by_test_id("left")).to_have_text(re.compile(r"^1[12]:\d\d:\d\d$"))
    page.get_by_label("Why it need not dry").fill("cured under a lamp")
    page.get_by_role("button", name="Do not wait").click()
    page.get_by_role("button", name="It is laminated").click()
    expect(page.get_by_role("button", name="Load it")).to_be_visible()
    job = call("GET", f"/api/jobs/{made(call, release)['job_id']}")
    said = [entry["what"] for entry in job["log"]]
    assert "Laminated" in said and "Not waited for until it is dry: cured under a lamp" in said


def test_a_sheet_of_another_job_is_known_by_its_code(page: Page, call: Call, tmp_path: Path) -> None:  # noqa: F811
    """A hand takes another job's print; the camera sees what truly lies there."""
    meant, other = (
        released(page, call, tmp_path, name, order={"quantity": count})
        for name, count in (("meant to be cut", 6), ("another one", 4))
    )
    for release in (meant, other):
        print_of(call, release)
        call("POST", f"/api/bench/{release}/dry")
    at(page, f"/bench?release={meant}")
    page.get_by_role("button", name="Cutter", exact=True).click()
    page.get_by_label("Which sheet the hand takes (simulated)").click()
    page.get_by_role("option", name="another one").click()
    page.get_by_role("button", name="Load it").click()
    expect(page.get_by_text(re.compile("This sheet is S1-.*: “another one”. Is that to be cut now?"))).to_be_visible()
    expect(page.get_by_role("button", name="Cut it")).to_have_count(0)
    page.get_by_role("button", name="Yes, load “another one”").click()
    expect(page.get_by_text(re.compile("The code says S1-.*: it is this sheet"))).to_be_visible()
    assert made(call, meant)["sheet"]["stage"] == "printed" and made(call, other)["sheet"]["stage"] == "loaded"


def test_a_rip_that_turned_and_scaled_is_followed_to_the_last_piece_on_the_tablet(
    page: Page, call: Call, tmp_path: Path  # noqa: F811
) -> None:
    release = released(page, call, tmp_path, "turned rounds")
    at(page, f"/bench?release={release}")
    page.get_by_role("button", name="What the RIP does to the sheet").click()
    page.get_by_label("Turned anticlockwise").click()
    page.get_by_role("option", name="180°").click()
    page.get_by_label("Scale across, %").fill("99")
    page.get_by_label("Scale along, %").fill("99")
    page.get_by_role("button", name="Print it").click()
    expect(page.get_by_test_id("reported")).to_contain_text("scaled to 99 %, turned by 180° anticlockwise")
    call("POST", f"/api/bench/{release}/dry")
    code = made(call, release)["code"]
    page.set_viewport_size({"width": 768, "height": 1024})
    at(page, "/cutter")
    page.get_by_label("The code, as S1-ABCDEFGHIJ").fill(code.lower())
    page.keyboard.press("Enter")
    expect(page.get_by_text("This edge goes in first")).to_be_visible()
    looked_at(page)
    page.get_by_role("button", name="It is loaded").click()
    expect(page.get_by_role("heading", name="Put in the tools")).to_be_visible()
    page.locator('[data-tool="kiss-cut"]').get_by_role("button", name="Cut the test figure").click()
    page.get_by_role("button", name="Too shallow").click()
    expect(page.get_by_text("The kiss cut is corrected. Cut the figure again.")).to_be_visible()
    looked_at(page)
    page.get_by_role("button", name="The tools are in").click()
    expect(page.get_by_text("4 marks found.")).to_be_visible()
    looked_at(page)
    page.get_by_role("button", name="Found the marks").click()
    page.get_by_role("button", name="Begin the cut").click()
    expect(page.get_by_role("heading", name="It is being cut.")).to_be_visible()
    looked_at(page)
    page.get_by_role("button", name="It is cut").click()
    page.get_by_role("button", name="piece 2", exact=True).click()
    page.get_by_role("button", name="piece 5", exact=True).focus()
    page.keyboard.press("Enter")
    looked_at(page)
    page.get_by_role("button", name="Order 2 again").click()
    expect(page.get_by_text("2 pieces ordered again")).to_be_visible()
    said = [one["what"] for one in call("GET", f"/api/jobs/{made(call, release)['job_id']}")["log"]]
    assert "The cutter has found the marks" in said and "Spoilt: 2, 5" in said
    (again,) = [one for one in call("GET", "/api/jobs?limit=200") if one["name"] == "turned rounds" and
                one["order"]["quantity"] == 2]
    assert again["id"] != made(call, release)["job_id"]
    page.set_viewport_size({"width": 1280, "height": 800})


def looked_at(page: Page) -> None:
    """Nothing that axe finds serious, and nothing to press that is smaller than a finger needs."""
    page.evaluate(AXE.read_text())
    assert page.evaluate(RUN) == []
    small = page.evaluate(
        """(least) => [...document.querySelectorAll('button, a, input, [role=slider]')].map((one) => {
            const { width, height } = one.getBoundingClientRect();
            const by = one.closest('.MuiFormControl-root')?.getBoundingClientRect();
            const thumb = one.closest('.MuiSlider-thumb')?.getBoundingClientRect();
            const box = by ?? thumb ?? { width, height };
            return [one.innerText || one.ariaLabel || one.type, Math.min(box.width, box.height)];
        }).filter(([, side]) => side > 0 && side < least)""", FINGER_PX,
    )
    assert small == [], small
