"""At the cutter, in a browser: marks are jogged to by keys, holders changed, the sheet turned over, jobs rehearsed."""

import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Locator, Page, expect

from horismos.workflow.bench import POINTER_OFF_MM
from tests.breadth import breadth
from tests.known import HOUSE
from tests.running import wait_until
from tests.shapes import Drawing, circle, line_in, write

pytestmark = breadth(0.12, "journeys")

Call = Callable[..., Any]
STEPS_MM = (0.02, 0.1, 0.5, 2, 10, 50)
DISC = f"1 0 0 0 k {circle(50, 50, 36)} f " + line_in(circle(50, 50, 30), "K")
ROUND = DISC + line_in(circle(50, 50, 33), "T")
FROM_BEHIND = f"1 0 0 0 k {circle(50, 50, 36)} f " + line_in(circle(50, 50, 30), "T") + line_in(
    circle(50, 50, 31.3), "B"
)


@pytest.fixture()
def call(page: Page) -> Call:
    """The API, asked by whoever is logged in: for what a test is not about."""

    def ask(method: str, address: str, **body: Any) -> Any:
        tokens = {one["name"]: one["value"] for one in page.context.cookies()}
        answer = page.request.fetch(
            f"{page.url.split('/', 3)[0]}//{page.url.split('/', 3)[2]}{address}", method=method,
            data=body if method != "GET" else None, headers={"X-CSRFToken": tokens["csrftoken"]},
        )
        assert answer.ok, answer.text()
        return answer.json()

    return ask


def taken_in(page: Page, call: Call, folder: Path, name: str, content: str, **change: Any) -> Any:
    """A job made of a drawing, as it stands when it was looked at."""
    inks = {"K": "Kiss Cut", "T": "Through Cut", "B": "Back Cut"}
    path = folder / f"{name}.pdf"
    # two of one content would be one file
    drawing = Drawing(f"% {name}\n{content}", inks={k: v for k, v in inks.items() if f"/{k} CS" in content})
    path.write_bytes(write(drawing))
    page.get_by_role("navigation", name="places").get_by_role("link", name="Desk").click()
    page.get_by_test_id("files").set_input_files(path)
    page.get_by_text(name, exact=True).wait_for()
    (job,) = [one for one in call("GET", "/api/jobs?limit=200") if one["name"] == name]
    return rested(call, job["id"], **change)


def rested(call: Call, job: int, **change: Any) -> Any:
    seen: dict[str, Any] = {}

    def rests() -> bool:
        seen.update(call("GET", f"/api/jobs/{job}"))
        return bool(seen["current"])

    assert wait_until(rests, 90)
    if change:
        call("PATCH", f"/api/jobs/{job}", version=seen["version"], **change)
        assert wait_until(rests, 90)
    return seen


def released(page: Page, call: Call, job: Any) -> None:
    """Release it, print it, let it dry, and stand before the cutter."""
    asked = {"version": job["version"], "revision": job["revision"], "found": job["found"]}
    call("POST", f"/api/jobs/{job['id']}/release", **asked)
    assert wait_until(lambda: bool(call("GET", f"/api/jobs/{job['id']}")["releases"]), 90)
    number = call("GET", f"/api/jobs/{job['id']}")["releases"][0]["id"]
    page.goto(f"{page.url.split('/', 3)[0]}//{page.url.split('/', 3)[2]}/bench?release={number}")
    page.get_by_role("button", name="Print it").click()
    expect(page.locator("[data-plate]").first).to_be_visible()
    page.get_by_role("button", name="Cutter", exact=True).click()
    page.get_by_role("button", name="Wait until it is dry").click()


def release_of(page: Page) -> int:
    found = re.search(r"release=(\d+)", page.url)
    assert found
    return int(found[1])


def jogged(page: Page, to: tuple[float, float]) -> None:
    """Bring the carriage to a place by its keys: the largest steps first, each chosen by [ and ]."""
    text = page.get_by_test_id("carriage").inner_text()
    at = [float(part) for part in text.split(",")]
    index = STEPS_MM.index(float(page.get_by_test_id("step").inner_text().split(" ")[0]))
    left = [to[0] - at[0], to[1] - at[1]]
    for wanted in reversed(range(len(STEPS_MM))):
        step = STEPS_MM[wanted]
        counts = [round(mm / step) if wanted == 0 else int(mm / step) for mm in left]
        if not any(counts):
            continue
        while index != wanted:
            page.keyboard.press("]" if wanted > index else "[")
            index += 1 if wanted > index else -1
        for axis, keys in enumerate((("ArrowRight", "ArrowLeft"), ("ArrowUp", "ArrowDown"))):
            for _ in range(abs(counts[axis])):
                page.keyboard.press(keys[0] if counts[axis] > 0 else keys[1])
            left[axis] -= counts[axis] * step


def truly(call: Call, release: int, number: int) -> tuple[float, float]:
    """Where the carriage stands when the pointer shines on a mark: as a person sees it in the magnified view."""
    bed = call("GET", f"/api/bench/{release}/bed")
    a, b, c, d, e, f = bed["aligned"]["matrix"]
    (x, y) = next(mark["meant"] for mark in bed["aligned"]["marks"] if mark["number"] == number)
    px, py = HOUSE.cutter.pointer_mm
    return a * x + c * y + e - px - POINTER_OFF_MM[0], b * x + d * y + f - py - POINTER_OFF_MM[1]


def played_to_the_stop(page: Page, name: str = "Begin the cut") -> Locator:
    page.get_by_role("button", name=name).click()
    halt = page.get_by_role("alert").filter(has_text="The machine stands")
    expect(halt).to_be_visible()
    return halt


def test_what_the_camera_cannot_see_under_gloss_is_jogged_to_by_keys(
    page: Page, call: Call, tmp_path: Path
) -> None:
    layout = {"marks": {"count": 3}}
    job = taken_in(page, call, tmp_path, "glossy rounds", ROUND, material="gloss-1370", order={"quantity": 3}, **layout)
    released(page, call, job)
    page.get_by_role("button", name="Load it", exact=True).click()
    expect(page.get_by_test_id("trouble")).to_contain_text("the laminate mirrors the lamp")
    expect(page.locator("[data-mark]")).to_have_count(3)
    number = release_of(page)
    # the pointer is calibrated first: on the cross that the blade has cut
    page.get_by_role("button", name="Cut a cross and calibrate").click()
    cross = call("GET", f"/api/bench/{number}/bed")["cross"]
    px, py = HOUSE.cutter.pointer_mm
    jogged(page, (cross[0] - px - POINTER_OFF_MM[0], cross[1] - py - POINTER_OFF_MM[1]))
    page.get_by_role("button", name="The pointer is in the middle").click()
    expect(page.get_by_text("Calibrated by demo today.")).to_be_visible()
    for mark in (1, 2, 3):
        page.get_by_role("button", name=f"Jog to mark {mark}").click()
        jogged(page, truly(call, number, mark))
        page.get_by_role("button", name=f"Mark {mark} is here").click()
        expect(page.locator(f'[data-mark="{mark}"]')).to_contain_text("taken by hand")
    expect(page.get_by_test_id("trouble")).to_have_count(0)
    bed = call("GET", f"/api/bench/{number}/bed")
    assert bed["aligned"]["fit"]["worst_mm"] < 0.05
    meant = call("GET", f"/api/bench/{number}/play")
    assert meant["landed"]
    page.get_by_role("button", name="Cut it").click()
    halt = played_to_the_stop(page)
    expect(halt).to_contain_text("Put tool 3 into the holder")
    halt.get_by_role("button", name="Set a new origin").click()
    expect(page.get_by_role("dialog")).to_contain_text("the pieces are spoilt")
    page.get_by_role("button", name="Keep the old one").click()
    halt.get_by_role("button", name="It is done, go on").click()
    expect(page.get_by_text("It is cut. Weed the first piece")).to_be_visible()
    expect(page.get_by_test_id("strokes")).to_have_text(re.compile(r"^(\d+) of \1$"))


def test_a_back_cut_is_made_on_the_sheet_turned_over(page: Page, call: Call, tmp_path: Path) -> None:
    job = taken_in(page, call, tmp_path, "peeled rounds", FROM_BEHIND, material="film-610", order={"quantity": 3})
    released(page, call, job)
    page.get_by_role("button", name="Face down, for the back cut").click()
    expect(page.get_by_role("img", name=re.compile("Turn the sheet over sideways"))).to_be_visible()
    page.get_by_role("button", name="Turn it over sideways and load it").click()
    expect(page.get_by_text("The front has not been cut yet")).to_be_visible()
    page.get_by_role("button", name="Face up").click()
    page.get_by_role("button", name="Load it", exact=True).click()
    page.get_by_role("button", name="Cut it").click()
    page.get_by_role("button", name="Begin the cut").click()
    page.get_by_role("slider", name="time").focus()
    page.keyboard.press("End")
    expect(page.get_by_text("turn it over sideways, and load it face down")).to_be_visible()
    page.get_by_role("button", name="Face down, for the back cut").click()
    page.get_by_role("button", name="Turn it over sideways and load it").click()
    expect(page.locator("[data-mark]")).to_have_count(3)
    expect(page.get_by_text("found", exact=False).first).to_be_visible()
    page.get_by_role("button", name="I have looked: it is this sheet").click()  # its back has no code
    page.get_by_role("button", name="Cut it").click()
    page.get_by_role("button", name="Begin the cut").click()
    page.get_by_role("slider", name="time").focus()
    page.keyboard.press("End")
    expect(page.locator('[data-cut="back-cut"] path').first).to_have_attribute("d", re.compile("^M"))
    expect(page.get_by_text("It is cut.")).to_be_visible()


def test_a_job_is_rehearsed_before_it_is_released(page: Page, call: Call, tmp_path: Path) -> None:
    job = taken_in(page, call, tmp_path, "rehearsed rounds", DISC, order={"quantity": 4})
    page.goto(f"{page.url.split('/', 3)[0]}//{page.url.split('/', 3)[2]}/jobs/{job['id']}/release")
    page.get_by_role("button", name="Rehearse 200 loads", exact=True).click()
    rehearsal = page.get_by_test_id("rehearsal")
    expect(rehearsal).to_contain_text(re.compile("800 pieces cut in 200 loads"))
    expect(rehearsal.get_by_role("img", name=re.compile("the worst piece"))).to_be_visible()
    expect(rehearsal).to_contain_text("No piece spoilt")


def test_what_a_test_cut_shows_corrects_the_shops_setting(page: Page, call: Call, tmp_path: Path) -> None:
    """On the sheet that lies before the cutter; on the Shelf it is typed, and seen who tested it."""
    job = taken_in(page, call, tmp_path, "tested rounds", DISC, order={"quantity": 2})
    released(page, call, job)
    page.get_by_role("button", name="Load it", exact=True).click()
    page.get_by_role("button", name="Cut the figure of the kiss cut").click()
    page.get_by_role("button", name="The kiss cut was too shallow").click()
    expect(page.get_by_text("Kept on the Shelf.")).to_be_visible()
    page.get_by_role("link", name="Shelf").click()
    page.get_by_role("navigation", name="shelf").get_by_role("link", name="Tool settings").click()
    kiss = page.locator('[data-tool="kiss-cut"]')
    expect(kiss.get_by_label("Force, gf for kiss-cut")).to_have_value("100")
    expect(kiss).to_contain_text("not tested as it is now")
    kiss.get_by_label("Force, gf for kiss-cut").fill("90")
    kiss.get_by_label("Force, gf for kiss-cut").press("Tab")
    kiss.get_by_role("button", name=re.compile("Keep")).click()
    expect(kiss).to_contain_text("2 versions")
