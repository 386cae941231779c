"""Taking in and looking, in a browser: what is asked, what is shown, what is measured on the stage."""

import io
import re
from pathlib import Path

import ezdxf
import numpy as np
from PIL import Image
from playwright.sync_api import Locator, Page, expect

from tests.breadth import breadth
from tests.running import wait_until
from tests.shapes import Drawing, circle, line_in, write

pytestmark = breadth(0.12, "journeys")


def stage_of(page: Page) -> tuple[Locator, dict[str, float]]:
    expect(page.locator('[role="status"]')).to_have_count(0)
    stage = page.locator("[data-stage]")
    box = stage.bounding_box()
    assert box
    return stage, box  # type: ignore[return-value]


def seen(page: Page, x: float, y: float) -> tuple[int, int, int]:
    """The colour on screen at a place of the window."""
    shot = Image.open(io.BytesIO(page.screenshot())).convert("RGB")
    return shot.getpixel((x, y))  # type: ignore[return-value]


def test_files_are_taken_refused_known_and_asked_about(page: Page, tmp_path: Path) -> None:
    seal = tmp_path / "round seal.pdf"
    seal.write_bytes(write(Drawing("0 0.4 0 0 k 5 5 90 90 re f " + line_in(circle(50, 50, 30)))))
    photo, letter = tmp_path / "photo.png", tmp_path / "letter.docx"
    Image.fromarray(np.full((40, 60, 3), 120, np.uint8)).save(photo)
    letter.write_bytes(b"PK\x03\x04 and so on")
    page.get_by_test_id("files").set_input_files([seal, photo, letter])
    expect(page.locator('[data-arrival="refused"]')).to_contain_text("This is an archive or an office document")
    expect(page.get_by_text("round seal", exact=True)).to_be_visible()
    page.get_by_test_id("files").set_input_files(seal)
    known = page.locator('[data-arrival="known"]')
    expect(known).to_contain_text("here already")
    known.get_by_role("button", name="Put away").click()

    page.get_by_text("photo", exact=True).click()
    expect(page.locator('[data-question="size"]')).to_contain_text("60 × 40 px")
    expect(page.get_by_role("button", name="Go on with this")).to_be_disabled()
    page.get_by_label("Width, mm").fill("90")
    page.get_by_role("button", name="Go on with this").click()
    expect(page.get_by_text("90 × 60 mm", exact=False).first).to_be_visible()


def test_a_pasted_picture_and_a_bound_drawing_become_jobs(page: Page, tmp_path: Path) -> None:
    expect(page.get_by_role("listitem").first).to_be_visible()
    page.evaluate("""() => { const data = new DataTransfer();
        data.items.add(new File([new Blob(['%PDF-1.4 broken'])], 'pasted.pdf'));
        window.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data })); }""")
    expect(page.get_by_text("pasted", exact=True)).to_be_visible()
    document = ezdxf.new(units=0)
    document.modelspace().add_circle((0, 0), 3, dxfattribs={"layer": "RIM"})
    out = io.StringIO()
    document.write(out)
    plan = tmp_path / "plan.dxf"
    plan.write_text(out.getvalue())
    page.get_by_role("navigation", name="places").get_by_role("link", name="Desk").click()
    page.get_by_test_id("files").set_input_files(plan)
    page.get_by_text("plan", exact=True).click()
    expect(page.locator('[data-question="binding"]')).to_be_visible()
    expect(page.locator('[role="status"]')).to_have_count(0)
    # by key: on a busy machine a press is held so long that it counts as choosing what comes to lie under it
    page.get_by_label("One unit is one").press("Enter")
    page.get_by_role("option", name="cm: the drawing is 60 × 60 mm").click()
    page.locator('[data-question="binding"] [role="combobox"]').press("Enter")
    page.get_by_role("option", name="kiss cut").click()
    page.get_by_role("button", name="Go on with this").click()
    expect(page.locator('[data-role="kiss-cut"]').first).to_be_attached()
    expect(page.get_by_text("60 × 60 mm", exact=False).first).to_be_visible()


def test_inks_load_and_section_say_what_was_measured(page: Page) -> None:
    page.get_by_text("Tern door stickers").click()
    _, box = stage_of(page)
    page.get_by_role("button", name="Inks", exact=True).click()
    cyan = page.locator('[data-ink="Cyan"]')
    # The blue ground is 75 % cyan, 25 % magenta, 15 % yellow as it was drawn.
    page.mouse.move(box["x"] + 380, box["y"] + 250)
    expect(cyan).to_contain_text("75 %")
    expect(page.get_by_test_id("load-here")).to_have_text("115 %")
    cyan.get_by_title("this ink alone").click()
    expect(page).to_have_url(re.compile("inks=0"))
    page.mouse.move(5, 5)
    expect(page.locator("[data-stage] image").first).to_be_visible()
    place = box["x"] + 380, box["y"] + 250

    def is_grey() -> bool:
        page.wait_for_timeout(300)
        grey = seen(page, *place)
        return max(grey) - min(grey) <= 2 and abs(grey[0] - 64) <= 3

    assert wait_until(is_grey)
    page.reload()
    expect(page.locator('[data-ink="Magenta"] input')).not_to_be_checked()
    page.get_by_role("button", name="Ink load").click()
    expect(page.get_by_text("Highest load")).to_contain_text("255 %")

    page.get_by_role("button", name="Colour", exact=True).click()
    page.get_by_role("button", name="Cut open").click()
    page.mouse.move(box["x"] + 120, box["y"] + 330)
    page.mouse.down()
    page.mouse.move(box["x"] + 820, box["y"] + 330, steps=4)
    page.mouse.up()
    strip = page.get_by_test_id("section")
    expect(strip.locator('[data-cut="through-cut"]')).to_have_count(2)
    expect(strip.locator('[data-cut="kiss-cut"]')).to_have_count(2)
    expect(strip.locator("[data-stratum]")).to_have_count(3)
    # The kiss cut stops at the liner, the through cut does not.
    deep = {role: strip.locator(f'[data-cut="{role}"]').first.bounding_box() for role in ("through-cut", "kiss-cut")}
    liner = strip.locator('[data-stratum="liner"]').bounding_box()
    assert liner and deep["kiss-cut"] and deep["through-cut"]
    half = liner["y"] + liner["height"] / 2
    assert deep["kiss-cut"]["y"] + deep["kiss-cut"]["height"] < half
    assert deep["through-cut"]["y"] + deep["through-cut"]["height"] > half


def test_the_tape_snaps_to_a_line_and_keys_do_all_of_it(page: Page) -> None:
    page.get_by_text("Tern door stickers").click()
    stage, box = stage_of(page)
    expect(page.locator('[data-role="kiss-cut"]').first).to_be_attached()
    page.get_by_role("button", name="Tape").click()
    # The kiss cut is a circle of 45 mm about 51, 51 mm: across its middle it is 90 mm.
    zoom = page.get_by_role("button", name="zoom")
    before = zoom.inner_text()
    from_left, middle = box["x"] + 222, box["y"] + 314
    page.mouse.move(from_left, middle)
    page.mouse.down()
    page.mouse.move(box["x"] + 699, middle, steps=5)
    page.mouse.up()
    said = page.get_by_test_id("laid").text_content() or ""
    found = re.search(r"([\d.]+) mm", said)
    assert found and abs(float(found[1]) - 90) < 0.6, said
    stage.focus()
    page.keyboard.press("u")
    expect(page.get_by_test_id("laid")).to_contain_text("3.5")
    page.keyboard.press("u")
    page.keyboard.press("Escape")
    page.keyboard.press("+")
    expect(zoom).not_to_have_text(before)
    page.keyboard.press("0")
    expect(zoom).to_have_text("100 %")
    page.keyboard.press("f")
    expect(zoom).to_have_text(before)
    page.keyboard.press("t")
    page.keyboard.press("Enter")
    for _ in range(2):
        page.keyboard.press("ArrowLeft")
    page.keyboard.press("Enter")
    expect(page.get_by_test_id("laid")).to_contain_text("mm")
    page.keyboard.press("4")
    expect(page.get_by_role("region", name="Layers")).to_contain_text("The file has no layers")


def test_before_and_after_are_parted_by_a_divider(page: Page) -> None:
    page.get_by_text("Seed packet seals").click()
    page.get_by_role("button", name="Close the kiss cut").click()
    expect(page.get_by_text("revision 2")).to_be_visible()
    page.get_by_role("button", name="Compare").click()
    divider = page.get_by_role("slider", name="divider between before and after")
    expect(divider).to_have_attribute("aria-valuenow", "50")
    divider.press("ArrowLeft")
    expect(divider).to_have_attribute("aria-valuenow", "48")
    pictures = page.locator("[data-stage] image")
    expect(pictures.first).to_be_attached()
    asked = {re.search(r"revision=(\d)", i.get_attribute("href") or "")[1] for i in pictures.all()}  # type: ignore[index]
    assert asked == {"1", "2"}
