"""Nesting beside its engine: our layouts in 10 s, sparrow's own (by the package spyrrow) in ten times as long.

Peer: spyrrow 0.9. The same outlines, gap and turns; the length that each comes to, as a ratio. Also how soon the first
layout that can be used is there, and how much rows and columns would take. Published sets for packing of irregular
pieces into a strip are not part of any package that we know of; these are outlines of our own and letters of a font.

    python -m benchmarks.nesting [SECONDS] [SET …]
"""

import json
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
import shapely
from shapely import affinity

from horismos.sheet.nest import STRIP, nested
from horismos.sheet.rows import Packed, UsableArea, in_rows
from horismos.sheet.turning import Turn

WIDTH_MM, GAP_MM = 560.0, 3.0
Outlines = list[shapely.Polygon]
Point = tuple[float, float]
FONT = Path(__file__).resolve().parents[1] / "src" / "horismos" / "reporting" / "fonts"


def star(points: int, outer: float, inner: float) -> shapely.Polygon:
    """A star about nothing."""
    angle = np.arange(2 * points) * np.pi / points
    radius = np.where(np.arange(2 * points) % 2, inner, outer)
    return shapely.Polygon(radius[:, None] * np.column_stack([np.sin(angle), np.cos(angle)]))


def blobs(count: int, seed: int, least: float = 12, most: float = 45) -> Outlines:
    """Rounded shapes with bays."""
    chance, out = np.random.default_rng(seed), []
    for _ in range(count):
        turn = np.linspace(0, 2 * np.pi, 72, endpoint=False)
        waves = sum(chance.uniform(-0.25, 0.25) * np.sin(k * turn + chance.uniform(0, 6)) for k in (2, 3, 4, 5))
        radius = chance.uniform(least, most) * np.maximum(1 + waves, 0.25)
        out.append(shapely.Polygon(radius[:, None] * np.column_stack([np.cos(turn), np.sin(turn)])).buffer(0))
    return out


def letters(words: str, size: float) -> Outlines:
    """The outer outlines of letters of the font that ships with the product."""
    from fontTools.pens.recordingPen import DecomposingRecordingPen
    from fontTools.ttLib import TTFont

    font = TTFont(next(FONT.glob("*Bold*.ttf")))
    glyphs, cmap, scale = font.getGlyphSet(), font.getBestCmap(), size / font["head"].unitsPerEm
    out = []
    for letter in words:
        pen = DecomposingRecordingPen(glyphs)
        glyphs[cmap[ord(letter)]].draw(pen)
        rings, ring = [], []
        for name, points in pen.value:
            if name in ("moveTo", "lineTo"):
                ring += points
            elif points:
                ring += _bent(ring[-1], points)
            if name in ("closePath", "endPath") and len(ring) > 2:
                rings.append(shapely.Polygon(np.array(ring) * scale).buffer(0))
                ring = []
        out.append(shapely.Polygon(max(rings, key=lambda one: one.area).exterior))
    return out


def _bent(begin: Point, points: tuple[Point, ...]) -> list[Point]:
    """A quadratic spline with implied points, as chords."""
    out, at, controls = [], np.array(begin, float), [np.array(p, float) for p in points]
    for i, control in enumerate(controls[:-1]):
        end = controls[-1] if i == len(controls) - 2 else (control + controls[i + 1]) / 2
        for t in (0.25, 0.5, 0.75, 1.0):
            out.append(tuple((1 - t) ** 2 * at + 2 * t * (1 - t) * control + t * t * end))
        at = end
    return out


def mixed() -> Outlines:
    """Three hundred of all kinds."""
    some = blobs(120, 9, 6, 24) + [star(5, 20, 8)] * 60 + [shapely.box(0, 0, 90, 6)] * 60
    return some + [affinity.scale(one, 0.5, 0.5) for one in letters("HORISMOSSHEETS", 60)] * 4 + blobs(4, 3)


SETS: dict[str, Callable[[], Outlines]] = {
    "discs": lambda: [shapely.Point(0, 0).buffer(r, quad_segs=12) for r in (30, 22, 14) for _ in range(25)],
    "stars": lambda: [star(5, 38, 15)] * 50, "thin stars": lambda: [star(7, 40, 9)] * 40,
    "letters": lambda: letters("THEQUICKBROWNFOXJUMPSOVERTHELAZYDOG", 90) * 2,
    "long thin": lambda: [shapely.box(0, 0, 60 + 5 * i, 4 + i % 5) for i in range(60)],
    "blobs": lambda: blobs(80, 1), "large blobs": lambda: blobs(30, 2, 40, 110),
    "hooks": lambda: [shapely.box(0, 0, 60, 60).difference(shapely.box(15, 15, 60, 60))] * 48,
    "a hundred": lambda: blobs(100, 4, 10, 40), "mixed, 300": mixed,
}


def peer(outlines: Outlines, seconds: int) -> float:
    """The length that the engine alone reaches, as the program that we run it by tells it."""
    items = [{"shape": [[y, -x] for x, y in one.exterior.coords[:-1]], "demand": 1, "turns": None} for one in outlines]
    given = {"height": WIDTH_MM, "gap": GAP_MM, "seconds": seconds, "items": items}
    done = subprocess.run(
        [sys.executable, "-I", str(STRIP)], input=json.dumps(given), capture_output=True, text=True, check=True
    )
    return min(float(json.loads(line)["width"]) for line in done.stdout.splitlines())


def main(seconds: int, names: list[str]) -> None:
    """Print a line a set."""
    room = UsableArea(WIDTH_MM, None, GAP_MM)
    for name in names or SETS:
        outlines = SETS[name]()
        boxes, turns, counts = [one.bounds for one in outlines], [Turn.FREE] * len(outlines), [1] * len(outlines)
        began = time.perf_counter()
        rows = in_rows(boxes, [turn.ways for turn in turns], counts, room)
        heard = [time.perf_counter() - began]
        found = nested(outlines, turns, counts, room, seconds, _hearing(heard, began))
        took = time.perf_counter() - began
        ours = min(rows.length_mm, found.length_mm if found else rows.length_mm)
        theirs = peer(outlines, 10 * seconds)
        print(
            f"{name:12} {len(outlines):4} pieces: {ours:7.1f} mm in {took:5.1f} s, {ours / theirs:.3f} x of "
            f"{theirs:.1f} mm in {10 * seconds} s; rows {rows.length_mm:.1f} mm in {heard[0]:.3f} s; "
            f"first nested after {heard[min(1, len(heard) - 1)]:.1f} s", flush=True,
        )


def _hearing(heard: list[float], began: float) -> Callable[[Packed], None]:
    return lambda packed: heard.append(time.perf_counter() - began)


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10, sys.argv[2:])
