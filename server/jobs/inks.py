"""The plates of a job: made by the worker, looked at in parts by the stage."""

import io
from collections.abc import Callable, Sequence
from dataclasses import asdict
from typing import Any

import numpy as np

from horismos.artwork import Artwork, line_objects
from horismos.artwork.lines import inks_of_page
from horismos.artwork.model import Page
from horismos.artwork.views import page_whole
from horismos.cutting.section import section
from horismos.destinations import Destination
from horismos.rendering import Plate, blended, heat, ink_load, plates, total
from horismos.rendering.plates import PlateSet, fitting_ppi
from horismos.rendering.swatch import swatches
from horismos.roles import LineRole
from horismos.sheet import MATERIALS
from horismos.units import MM_PER_INCH
from jobs import models
from jobs.files import keep, path_of

__all__ = ["amounts", "make_plates", "plate_picture", "section_shown"]

SECTION_SAMPLES = 300
PROCESS = {"Cyan": "#00a0e3", "Magenta": "#e4007f", "Yellow": "#ffed00", "Black": "#1a1a1a"}
"""[ours] how the process inks are shown where plates are laid over each other."""


def make_plates(
    artwork: Artwork, page: Page, destination: Destination, cancelled: Callable[[], bool], limit: float,
    known: PlateSet | None = None,
) -> dict[str, Any]:
    """Make and keep the plates of a page, or keep those that are known; what the screen needs to know of them."""
    x0, y0, x1, y1 = page.boxes.media
    ppi = known.ppi if known else fitting_ppi(page.boxes.media)
    made = list(known.plates) if known else plates(page_whole(artwork, page), ppi, cancelled=cancelled)
    inks = {ink.name: ink for ink in inks_of_page(artwork, page, destination)}
    cut = {name for name, ink in inks.items() if ink.kind == "line"}
    colours = {**swatches(artwork, [p.ink for p in made]), **PROCESS}
    load = ink_load(made, ppi, cut, limit)
    out = io.BytesIO()
    np.save(out, np.stack([p.tint for p in made]))
    area = (x1 - x0) * (y1 - y0) / 100
    return {
        "sha256": keep(out.getvalue()),
        "ppi": ppi,
        "box": [x0, y0, x1, y1],
        "inks": [
            {
                "name": p.ink, "colour": colours.get(p.ink, "#808080"), "prints": p.ink not in cut,
                "area_cm2": round(p.coverage * area, 3),
            }
            for p in made
        ],
        "load": {
            **asdict(load), "at_mm": [x0 + load.at_mm[0], y1 - load.at_mm[1]],
        },
    }


def _stack(known: dict[str, Any]) -> np.ndarray:
    stack: np.ndarray = np.load(path_of(known["sha256"]), mmap_mode="r")
    return stack


def plate_picture(known: dict[str, Any], which: Sequence[int], mode: str) -> np.ndarray:
    """Plates laid over each other, or the ink load of those that print."""
    stack = _stack(known)
    chosen = [i for i in which if 0 <= i < len(stack)] or list(range(len(stack)))
    if mode == "heat":
        printing = [Plate(known["inks"][i]["name"], stack[i]) for i in chosen if known["inks"][i]["prints"]]
        return heat(total(printing) if printing else np.zeros(stack.shape[1:], np.float32), known["load"]["limit"])
    return blended([stack[i] for i in chosen], [known["inks"][i]["colour"] for i in chosen])


def amounts(known: dict[str, Any], points: Sequence[tuple[float, float]]) -> list[list[int]]:
    """The tints, 0 to 255, of every ink at points in mm; an empty list outside the page."""
    stack = _stack(known)
    x0, _, _, y1 = known["box"]
    per_mm = known["ppi"] / MM_PER_INCH
    out: list[list[int]] = []
    for x, y in points:
        column, row = int((x - x0) * per_mm), int((y1 - y) * per_mm)
        inside = 0 <= column < stack.shape[2] and 0 <= row < stack.shape[1]
        out.append([int(v) for v in stack[:, row, column]] if inside else [])
    return out


def section_shown(
    job: models.Job, artwork: Artwork, page: Page, destination: Destination, known: dict[str, Any],
    start: tuple[float, float], end: tuple[float, float],
) -> dict[str, Any]:
    """The material cut open along a line: strata, crossings and the inks along it."""
    lines: dict[LineRole, list[Any]] = {}
    for line in line_objects(artwork, page, destination):
        if line.role is not None:
            lines.setdefault(line.role, []).extend(line.contours)
    cut = section(MATERIALS[job.material_id], lines, start, end)
    inks: list[dict[str, Any]] = []
    if known:
        steps = np.linspace(0, 1, SECTION_SAMPLES)
        points = [(start[0] + (end[0] - start[0]) * t, start[1] + (end[1] - start[1]) * t) for t in steps]
        read = amounts(known, points)
        for i, ink in enumerate(known["inks"]):
            tints = [row[i] if row else 0 for row in read]
            if ink["prints"] and any(tints):
                inks.append({"name": ink["name"], "colour": ink["colour"], "tints": tints})
    return {
        "length_mm": cut.length_mm,
        "strata": [asdict(s) for s in cut.strata],
        "crossings": [{**asdict(c), "role": c.role.value} for c in cut.crossings],
        "inks": inks,
    }
