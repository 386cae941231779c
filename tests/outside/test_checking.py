"""The measures of the check against shapes known exactly, Ghostscript's own ink coverage, and FOGRA39L."""

import math
import re
import subprocess
from pathlib import Path

import numpy as np
import pytest
import shapely
from shapely.affinity import rotate, scale, skew, translate

from horismos.artwork import read, read_bytes
from horismos.artwork.extent import bounds_of
from horismos.checking import CheckInputs, CheckSheet, check, check_whole
from horismos.checking.measuring.landing import land
from horismos.colour import lab_of_cmyk
from horismos.misregistration import Misregistration
from horismos.orders import Order
from horismos.rendering import plates
from horismos.rendering.edges import EdgeProfile
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import Drawing, line_in, write

pytestmark = breadth(0.12)

DATA = Path(__file__).parents[1] / "data"
MIDDLE = (50.0, 50.0)


def _path(polygon: shapely.Polygon) -> str:
    rings = [polygon.exterior, *polygon.interiors]
    return " ".join(
        " ".join(f"{x:.5f} {y:.5f} {'l' if i else 'm'}" for i, (x, y) in enumerate(ring.coords[:-1])) + " h"
        for ring in rings
    )


def _star(points: int, outer: float, inner: float) -> shapely.Polygon:
    angle = np.arange(2 * points) * math.pi / points + 0.1
    radius = np.where(np.arange(2 * points) % 2, inner, outer)
    return shapely.Polygon(np.column_stack([50 + radius * np.cos(angle), 50 + radius * np.sin(angle)]))


CUTS = {
    "circle": shapely.Point(MIDDLE).buffer(33, quad_segs=200),
    "square": rotate(shapely.box(26, 26, 74, 74), 17),
    "star": _star(5, 34, 20),
    "ring": shapely.Point(MIDDLE).buffer(33, quad_segs=200).difference(shapely.Point(MIDDLE).buffer(12, quad_segs=200)),
}


def _profiles(printed: shapely.Polygon, cut: shapely.Polygon) -> tuple[EdgeProfile, ...]:
    content = f"0.2 0.9 0.1 0 k {_path(printed)} f* " + line_in(_path(cut))
    artwork = read_bytes(write(Drawing(content, trim=(0, 0, 100, 100), bleed=(0, 0, 100, 100))))
    measured = check_whole(artwork, CheckInputs(Order(bleed_mm=6.5, tolerance_mm=0.2), HOUSE, CheckSheet())).edges
    assert measured is not None
    return measured.colour


def _exact(profile: EdgeProfile, printed: shapely.Polygon, outwards: bool, reach: float) -> np.ndarray:
    """How far along its normal each sample is from where the art changes, by shapely."""
    side = 1.0 if outwards else -1.0
    rays = shapely.linestrings(np.stack([profile.points, profile.points + side * reach * profile.normals], axis=1))
    edge = shapely.intersection(rays, printed.boundary)
    near = shapely.distance(edge, shapely.points(profile.points))
    return np.where(np.isnan(near), reach, near)


@pytest.mark.parametrize("bleed", [0.3, 0.7, 1.5, 3.0, 6.0])
@pytest.mark.parametrize("shape", CUTS)
def test_bleed_is_as_the_shapes_say_along_the_whole_cut(shape: str, bleed: float) -> None:
    cut = CUTS[shape]
    printed = cut.buffer(bleed, join_style="mitre", mitre_limit=20)
    profiles = _profiles(printed, cut)
    assert sum(p.length_mm for p in profiles) == pytest.approx(cut.length, rel=0.002)
    assert len(profiles) == (2 if shape == "ring" else 1)
    for p in profiles:
        assert p.weight.max() <= 0.5
        exact = _exact(p, printed, True, p.reach_mm)
        assert p.coloured.all()
        off = np.abs(p.outside - exact)
        assert off[p.weight > 0].max() <= 0.05
        # Rays into the tips of a star graze the edge almost along it.
        assert off.max() <= 0.07
        assert p.stands.min() == pytest.approx(bleed, abs=0.05)


@pytest.mark.parametrize("border", [0.3, 1.5, 3.0])
@pytest.mark.parametrize("shape", CUTS)
def test_a_blank_border_is_as_the_shapes_say(shape: str, border: float) -> None:
    cut = CUTS[shape]
    printed = cut.buffer(-border, join_style="mitre", mitre_limit=20)
    for p in _profiles(printed, cut):
        exact = _exact(p, printed, False, p.reach_mm)
        assert not p.coloured.any()
        off = np.abs(p.inside - exact)[p.weight > 0]
        assert np.percentile(off, 97) <= 0.05


def test_at_a_corner_the_art_is_looked_at_in_all_directions() -> None:
    cut = shapely.box(26, 26, 74, 74)
    # 3 mm on the sides, but the corners of the art are cut off: 1.5 mm are left on the diagonal.
    disc = shapely.Point(MIDDLE).buffer(24 * math.sqrt(2) + 1.5, quad_segs=200)
    printed = cut.buffer(3, join_style="mitre").intersection(disc)
    (profile,) = _profiles(printed, cut)
    assert profile.stands.min() == pytest.approx(1.5, abs=0.05)


@pytest.mark.parametrize("offset", [
    Misregistration(dx=1.2), Misregistration(dx=-0.8, dy=0.9), Misregistration(turn=1.5),
    Misregistration(stretch_x=2.5), Misregistration(skew=1.2),
])
@pytest.mark.parametrize("shape", ["circle", "square", "star"])
def test_slivers_of_a_cut_that_lands_off_have_the_area_that_the_shapes_say(shape: str, offset: Misregistration) -> None:
    cut = CUTS[shape]
    printed = cut.buffer(0.4, join_style="mitre", mitre_limit=20)
    profiles = _profiles(printed, cut)
    points = np.concatenate([p.points for p in profiles])
    x, y = (points.min(axis=0) + points.max(axis=0)) / 2
    moved = scale(cut, 1 + offset.stretch_x / 100, 1 + offset.stretch_y / 100, origin=(x, y))
    moved = skew(moved, offset.skew, origin=(x, y))
    moved = translate(rotate(moved, offset.turn, origin=(x, y)), offset.dx, offset.dy)
    exact = moved.difference(printed).area
    found = land(profiles, offset).area_mm2
    assert found == pytest.approx(exact, rel=0.13, abs=0.35)


def _patches(patches: list[tuple[float, float, float, float]]) -> Drawing:
    content = " ".join(
        f"{c} {m} {y} {k} k {10 + 20 * (i % 4)} {10 + 20 * (i // 4)} 20 20 re f"
        for i, (c, m, y, k) in enumerate(patches)
    )
    return Drawing(content)


PATCHES = [(1, 0, 0, 0), (0.5, 0.5, 0, 0), (0.2, 0.4, 0.6, 0.8), (1, 1, 1, 0), (0, 0, 0, 1), (0.9, 0.8, 0.7, 0.6),
           (0.05, 0, 0.05, 0), (0.7, 0.7, 0.7, 0.69)]


def test_plates_hold_the_tints_of_patches() -> None:
    """One step of 255 is all that may be lost."""
    made = plates(write(_patches(PATCHES)), 72)
    by_ink = {p.ink: p.tint for p in made}
    for i, patch in enumerate(PATCHES):
        column, row = round((20 + 20 * (i % 4)) * 72 / 25.4), round((100 - 20 - 20 * (i // 4)) * 72 / 25.4)
        read_off = [by_ink[ink][row, column] / 255 for ink in ("Cyan", "Magenta", "Yellow", "Black")]
        assert read_off == pytest.approx(patch, abs=1.01 / 255)


@pytest.mark.parametrize("limit", [280.0, 278.0, 301.0])
def test_ink_load_finds_the_patches_above_the_limit_and_their_area(limit: float) -> None:
    sheet = CheckSheet(limits={"ink.load": limit})
    found = [f for f in check(read_bytes(write(_patches(PATCHES))), sheet=sheet).findings if f.id == "ink.load"]
    # By hand: 300 %, 300 % and 279 % are the heaviest patches, 4 cm² each.
    heavy = [sum(p) * 100 for p in PATCHES if sum(p) * 100 > limit]
    if not heavy:
        assert not found
        return
    assert found[0].measured == pytest.approx(max(heavy), abs=0.8)
    area = float(re.search(r"on ([\d.]+) cm²", found[0].message).group(1))  # type: ignore[union-attr]
    assert area == pytest.approx(4 * len(heavy), rel=0.03)


def test_plates_cover_as_much_as_ghostscripts_own_device_says(tmp_path: Path) -> None:
    """Ghostscript's `ink_cov` gives the mean amount of each ink in %, by a way of its own."""
    path = tmp_path / "patches.pdf"
    path.write_bytes(write(_patches(PATCHES)))
    said = subprocess.run(
        ["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-r72", "-sDEVICE=ink_cov", "-o", "-", path],
        check=True, capture_output=True, text=True,
    ).stdout
    covers = [float(v) for v in said.split()[:4]]
    ours = {p.ink: 100 * p.coverage for p in plates(path.read_bytes(), 72)}
    assert [ours[ink] for ink in ("Cyan", "Magenta", "Yellow", "Black")] == pytest.approx(covers, abs=0.15)


def test_the_press_profile_gives_the_lab_of_fogra39l() -> None:
    """1617 patches, Lab under D50/2°: mean ΔE*ab at most 0.6, none above 1.7."""
    text = (DATA / "FOGRA39L.ti3").read_text()
    rows = text.split("BEGIN_DATA\n")[1].split("END_DATA")[0].splitlines()
    values = np.array([[float(v) for v in row.split()[1:]] for row in rows if row.strip()])
    assert values.shape == (1617, 10)
    apart = np.sqrt(((lab_of_cmyk(values[:, :4]) - values[:, 7:]) ** 2).sum(axis=1))
    assert apart.mean() <= 0.6 and apart.max() <= 1.7


DRAWINGS = sorted([*DATA.glob("*.svg"), *(DATA / "clean").glob("*.svg")])


def _round_hull(boxes: list[tuple[float, float, float, float]], far: float) -> str:
    """The convex hull of boxes, moved outwards, with arcs at its corners, each a cubic curve."""
    hull = shapely.MultiPoint([(x, y) for b in boxes for x in b[::2] for y in b[1::2]]).convex_hull.simplify(0.5)
    ring = np.array(shapely.geometry.polygon.orient(hull).exterior.coords)[:-1]
    along = np.roll(ring, -1, axis=0) - ring
    angle = np.arctan2(along[:, 1], along[:, 0]) - math.pi / 2
    parts = []
    for i, point in enumerate(ring):
        first, turn = angle[i - 1], (angle[i] - angle[i - 1]) % (2 * math.pi)
        k = 4 / 3 * math.tan(turn / 4) * far

        def at(a: float, point: np.ndarray = point) -> np.ndarray:
            return point + far * np.array([math.cos(a), math.sin(a)])

        p, q = at(first), at(first + turn)
        c1 = p + k * np.array([-math.sin(first), math.cos(first)])
        c2 = q - k * np.array([-math.sin(first + turn), math.cos(first + turn)])
        parts.append(f"{p[0]:.4f} {p[1]:.4f} {'l' if parts else 'm'} {c1[0]:.4f} {c1[1]:.4f} {c2[0]:.4f} {c2[1]:.4f} "
                     f"{q[0]:.4f} {q[1]:.4f} c")
    return " ".join(parts) + " h "


@pytest.mark.parametrize("svg", DRAWINGS, ids=lambda path: path.stem)
def test_a_real_drawing_with_correct_lines_has_no_stop_and_no_false_look(svg: Path, tmp_path: Path) -> None:
    import pikepdf

    drawn = tmp_path / "drawn.pdf"
    subprocess.run(["rsvg-convert", "-f", "pdf", "-o", drawn, svg], check=True)
    page = read(drawn).pages[0]
    boxes = [box for o in page.objects if (box := bounds_of(page, o))]
    size = 80 / max(page.size_mm)
    printed = [tuple(20 + v * size for v in box) for box in boxes]
    lines = line_in(_round_hull(printed, 3.0)) + line_in(_round_hull(printed, 6.0), "T")  # type: ignore[arg-type]
    side = 130.0
    data = write(Drawing(lines, size=(side, side), inks={"K": "Kiss Cut", "T": "Through Cut"},
                         trim=(2, 2, 128, 128), bleed=(1, 1, 129, 129)))
    whole = tmp_path / "whole.pdf"
    whole.write_bytes(data)
    scale_to = 72 / 25.4
    with pikepdf.open(whole, allow_overwriting_input=True) as target, pikepdf.open(drawn) as source:
        w, h = page.size_mm
        place = pikepdf.Rectangle(*(v * scale_to for v in (20, 20, 20 + w * size, 20 + h * size)))
        target.pages[0].add_underlay(source.pages[0], place)
        target.save(whole)
    findings = check(read(whole), Order(roles=None, holes=0)).findings
    assert not [f.message for f in findings if f.severity == "stop"]
    judged = {f.id for f in findings if f.id.startswith(("line.", "ink."))}
    assert judged <= {"ink.rgb"}, [f.message for f in findings]
