"""Where a place of the artwork is on the screen, once the stage has come to rest."""

import re
from collections.abc import Callable

from playwright.sync_api import Page

RESTED_MS = 400


def places_on(page: Page) -> Callable[[float, float], tuple[float, float]]:
    """A function from mm on the artwork to pixels of the window.

    A docket that fills while its job arrives takes room from the stage, which then fits itself anew; so what is read
    is read when it has stayed the same for a while.
    """
    stage = page.locator("[data-stage]")
    matrix = stage.locator("svg g").first
    before, now = "", matrix.get_attribute("transform") or ""
    while now != before:
        page.wait_for_timeout(RESTED_MS)
        before, now = now, matrix.get_attribute("transform") or ""
    k, _, _, _, x, y = (float(v) for v in re.findall(r"-?[\d.e-]+", now))
    box = stage.bounding_box()
    assert box
    return lambda mm_x, mm_y: (box["x"] + x + k * mm_x, box["y"] + y - k * mm_y)
