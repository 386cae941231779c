"""Layouts against others: shapely for gaps and bounds, Ghostscript's picture for marks and clips, zxing for the code,
ten thousand simulated loads for the misplacement."""

import subprocess
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely
import zxingcpp
from PIL import Image
from scipy import ndimage

from horismos.artwork import line_objects, read_bytes
from horismos.machines import Cutter
from horismos.materials import MATERIALS
from horismos.misregistration import Misregistration
from horismos.orders import Order
from horismos.paths import flatten
from horismos.release.printpdf import print_pdf
from horismos.sheet import MarkPlan, Sheet, Turn, piece_of
from horismos.sheet.filling import Item, fill_sheets
from horismos.sheet.mark_kinds import MarkKind, kind_of, registered
from horismos.sheet.marks import marks_on
from horismos.sheet.misplacement import misplaced
from horismos.sheet.spec import LayoutPlan
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import Drawing, line_in, write

pytestmark = breadth(1.0, "layouts")

PPI = 150
FILM = {"width_mm": 610, "length_mm": None}


def blob(chance: np.random.Generator, size: float, bleed: float = 2.0) -> bytes:
    """Art that runs over a cut: a polygon of 5 to 11 corners, some of them reentrant."""
    turns = np.sort(chance.uniform(0, 2 * np.pi, chance.integers(5, 12)))
    turns = np.unique(np.round(turns, 2))
    far = size * chance.uniform(0.35, 1, len(turns))
    at = np.column_stack([np.cos(turns), np.sin(turns)]) * far[:, None] + size + 10
    shape = shapely.make_valid(shapely.Polygon(at))
    shape = max(shapely.get_parts(shape), key=lambda part: part.area)

    def path(polygon: shapely.Polygon) -> str:
        points = np.asarray(polygon.exterior.coords)[:-1]
        return " ".join(f"{x:.3f} {y:.3f} {'l' if i else 'm'}" for i, (x, y) in enumerate(points)) + " h "

    side = 2 * size + 20
    grown = shape.buffer(bleed, join_style="mitre", mitre_limit=2)
    content = f"0 0.5 1 0 k {path(grown)} f " + line_in(path(shape))
    return write(Drawing(content, size=(side, side), trim=None, bleed=None))


def some(count: int, seed: int, kinds: int = 8, turn: str = "free") -> list[Item]:
    chance, out = np.random.default_rng(seed), []
    for k in range(kinds):
        artwork = read_bytes(blob(chance, float(chance.uniform(8, 40))))
        piece = piece_of(artwork, artwork.pages[0], Order(), HOUSE, 2.0, f"piece {k}")
        out.append(Item(piece, count // kinds, Turn(turn)))
    return out


def sheets(items: list[Item], **plan: Any) -> tuple[Sheet, ...]:
    wanted = LayoutPlan.from_json({"material": FILM, "items": [{"file": "x"}], **plan})
    return fill_sheets(items, wanted.material, wanted.destination, wanted.layout).sheets


def cut_shapes(sheet: Sheet) -> np.ndarray:
    return np.array([
        shapely.Polygon(flatten(c.piece.outline[0].transformed(c.matrix), 0.005)) for c in sheet.placements
    ])


@pytest.mark.parametrize(("how", "turn", "gap", "seed"), [
    ("rows", "quarter", 4.0, 1), ("rows", "none", 0.0, 2), ("nest", "free", 4.0, 3), ("nest", "quarter", 1.0, 4),
    ("nest", "half", 6.0, 5),
])
def test_no_two_cuts_are_nearer_than_the_gap_and_none_leaves_the_room(
    how: str, turn: str, gap: float, seed: int
) -> None:
    """200 random pieces; distances by shapely."""
    laid = sheets(some(200, seed, turn=turn), how=how, gap_mm=gap, seconds=1, code=True)
    assert sum(len(sheet.placements) for sheet in laid) == 200
    for sheet in laid:
        shapes = cut_shapes(sheet)
        near, other = shapely.STRtree(shapes).query(shapes, predicate="dwithin", distance=max(gap - 1e-6, 0.0))
        apart = near < other
        common = shapely.area(shapely.intersection(shapes[near[apart]], shapes[other[apart]]))
        assert not apart.any() if gap else common.max(initial=0.0) < 0.01, "a gap of nothing: they may touch"
        box = shapely.bounds(shapes)
        assert box[:, 0].min() >= 25 and box[:, 2].max() <= 585 and box[:, 1].min() >= 100
        ink = [shapely.box(*ink) for mark in sheet.marks for ink in mark.inked]
        assert sheet.code is not None
        art = shapely.union_all(shapes).buffer(min(2.0, gap / 2))
        assert all(shapely.distance(art, part) >= 10 - 0.03 for part in ink)
        assert not art.intersects(shapely.box(*sheet.code.box).buffer(1.9))


def test_nesting_is_never_worse_than_rows_and_columns() -> None:
    for seed in (1, 2):
        items = some(64, seed)
        rows, nested = (sheets(items, how=how, seconds=1)[0].length_mm for how in ("rows", "nest"))
        assert nested < rows


def drawn(sheet: Sheet, folder: Path, ppi: int = PPI) -> np.ndarray:
    """The sheet as Ghostscript draws it, grey, row 0 at the top; lines lie on layers that do not print."""
    (folder / "sheet.pdf").write_bytes(print_pdf(sheet, HOUSE, "sheet").data)
    command = ["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=pnggray", f"-r{ppi}", "-dGraphicsAlphaBits=4"]
    subprocess.run([*command, "-o", "sheet.png", "sheet.pdf"], cwd=folder, check=True, capture_output=True)
    return np.asarray(Image.open(folder / "sheet.png"))


@pytest.mark.parametrize("mirror", [False, True])
@pytest.mark.parametrize("material", [FILM, "clear-1067"])
def test_the_code_is_read_back_from_the_drawn_sheet(tmp_path: Path, mirror: bool, material: Any) -> None:
    """zxing-cpp, an open reader of bar codes, at 150 ppi. The code reads right on the printed side, mirrored or not."""
    (sheet,) = sheets(some(16, 6), code=True, mirror=mirror, material=material)
    picture = drawn(sheet, tmp_path)
    (found,) = zxingcpp.read_barcodes(picture)
    code = sheet.printed.code
    assert code is not None and found.text == code.text
    # module by module, where it was said to lie: not turned over with the rest
    side = (code.box[2] - code.x_mm) / len(code.rows)
    middles = (np.arange(len(code.rows)) + 0.5) * side
    columns = ((code.x_mm + middles) * PPI / 25.4).astype(int)
    rows = picture.shape[0] - 1 - ((code.box[3] - middles) * PPI / 25.4).astype(int)
    assert np.array_equal(picture[np.ix_(rows, columns)] < 128, np.array(code.rows, bool))


@pytest.mark.parametrize("kind", registered().values(), ids=registered())
def test_marks_are_found_where_they_are_said_to_be(tmp_path: Path, kind: MarkKind) -> None:
    """An independent search: the black spots outside the art, by their middle or corner; ISO 32000's user space."""
    (sheet,) = sheets(some(16, 7), marks={"kind": kind.id, "distance_mm": 12})
    picture = drawn(sheet, tmp_path, 300)
    per_mm, dark = 300 / 25.4, picture < 128
    labels, _ = ndimage.label(dark, np.ones((3, 3)))
    black = []
    for i, where in enumerate(ndimage.find_objects(labels), 1):
        inside = labels[where] == i
        if picture[where][inside].mean() < 60:
            black.append((where, ndimage.center_of_mass(255.0 - picture[where])))
    for mark in sheet.marks:
        best = np.inf
        for (rows, columns), (row, column) in black:
            x0, x1 = columns.start / per_mm, columns.stop / per_mm
            y0, y1 = (picture.shape[0] - rows.stop) / per_mm, (picture.shape[0] - rows.start) / per_mm
            if kind.opens:
                x, y = (x0 if mark.along_x > 0 else x1), (y0 if mark.along_y > 0 else y1)
            else:
                x = (columns.start + column + 0.5) / per_mm
                y = (picture.shape[0] - rows.start - row - 0.5) / per_mm
            best = min(best, float(np.hypot(x - mark.x_mm, y - mark.y_mm)))
        # a pixel is 0.085 mm: a corner is known to half of one, a middle much better
        assert best <= (0.065 if kind.opens else 0.05)


def test_what_a_nested_copy_shows_never_enters_the_cut_of_a_neighbour(tmp_path: Path) -> None:
    """Every piece's cut, drawn alone, is what the sheet shows there: Ghostscript's picture against shapely's shapes."""
    (sheet,) = sheets(some(40, 8), how="nest", gap_mm=2, seconds=1)
    picture = drawn(sheet, tmp_path, 100)
    outside = shapely.union_all(cut_shapes(sheet)).buffer(1.0 + 0.3)
    rows, columns = np.nonzero(picture < 250)
    per_mm = 100 / 25.4
    at = shapely.points((columns + 0.5) / per_mm, (picture.shape[0] - rows - 0.5) / per_mm)
    marks = shapely.union_all([shapely.box(*m.box).buffer(0.5) for m in sheet.marks])
    extra = [shapely.box(*sheet.bar).buffer(0.5)] if sheet.bar else []
    allowed = shapely.union_all([outside, marks, *extra])
    shapely.prepare(allowed)
    assert shapely.contains(allowed, at).all(), "half the gap of bleed, and no more"


def test_the_bounds_of_a_turned_copy_are_those_of_its_cuts() -> None:
    """shapely's bounds of the turned outline."""
    (sheet,) = sheets(some(16, 12), how="nest", seconds=1)
    for copy, shape in zip(sheet.placements, cut_shapes(sheet), strict=True):
        assert copy.bounds == pytest.approx(shape.bounds, abs=0.02)


def test_the_lines_in_the_file_lie_where_they_were_laid_out(tmp_path: Path) -> None:
    (sheet,) = sheets(some(24, 9), how="nest", seconds=1)
    artwork = read_bytes(print_pdf(sheet, HOUSE, "sheet").data)
    written = [
        shapely.Polygon(flatten(c, 0.005)) for line in line_objects(artwork, artwork.pages[0], HOUSE)
        for c in line.contours
    ]
    assert len(written) == 24
    tree = shapely.STRtree(written)
    for shape in cut_shapes(sheet):
        nearest = written[tree.nearest(shapely.centroid(shape))]
        assert shapely.hausdorff_distance(nearest, shape) < 0.01


# -- misplacement ------------------------------------------------------------------------------------------------------

LOADS = 10_000


GIVES = Misregistration(stretch_x=0.02, stretch_y=0.06, skew=0.02, bend=0.3)


@pytest.mark.parametrize(("count", "every", "give"), [
    (2, None, GIVES), (3, None, GIVES), (4, None, GIVES), (4, 200.0, GIVES), (4, None, Misregistration()),
])
def test_the_expected_misplacement_is_what_ten_thousand_loads_come_to(
    count: int, every: float | None, give: Misregistration
) -> None:
    """Each load lies askew, gives, is read with a spread, fitted by least squares, and cut; 95 of 100 within 5 %."""
    plan = MarkPlan(kind_of("cross"), None if every else count, every)
    marks = marks_on([(40, 120, 540, 1120)], plan, Cutter().marks)
    assert len(marks) == (12 if every else count)
    material = replaced(give)
    places = np.array([(40, 120), (540, 1120), (290, 620), (60, 1000), (500, 300), (290, 130)], float)
    expected = misplaced(places, marks, material, Cutter()).within_mm
    found = simulated(places, np.array([(m.x_mm, m.y_mm) for m in marks]), give, Cutter().spread_mm)
    assert expected == pytest.approx(found, rel=0.05)


def replaced(give: Misregistration) -> Any:
    from dataclasses import replace

    return replace(MATERIALS["film-610"], gives=give)


def simulated(places: np.ndarray, marks: np.ndarray, give: Misregistration, spread: float) -> np.ndarray:
    """What 95 % of the loads keep within at each place, by doing it: our closed form has no part in it."""
    chance = np.random.default_rng(11)
    middle = marks.mean(axis=0)
    off = np.zeros((LOADS, len(places)))
    rows = np.unique(marks[:, 1])
    chosen = [np.ones(len(marks), bool)] * len(places)
    if len(rows) > 2:
        below = np.clip(np.searchsorted(rows, places[:, 1]) - 1, 0, len(rows) - 2)
        chosen = [np.isin(marks[:, 1], rows[k : k + 2]) for k in below]
    for load in range(LOADS):
        amounts = {k: getattr(give, k) * chance.normal() for k in ("stretch_x", "stretch_y", "skew", "bend")}
        lies = Misregistration(*chance.normal(0, 3, 2), chance.normal(0, 0.5), **amounts)
        seen = lies.landed(marks, middle) + chance.normal(0, spread, marks.shape)
        true = lies.landed(places, middle)
        for i, place in enumerate(places):
            off[load, i] = np.hypot(*(fitted(marks[chosen[i]], seen[chosen[i]], place) - true[i]))
    return np.quantile(off, 0.95, axis=0)


def fitted(meant: np.ndarray, seen: np.ndarray, place: np.ndarray) -> np.ndarray:
    """Where a place is cut: by an affine map through three marks or more, by a similarity through two."""
    if len(meant) == 2:
        a, b = (complex(*p) for p in meant), (complex(*p) for p in seen)
        (a0, a1), (b0, b1) = a, b
        z = b0 + (complex(*place) - a0) * (b1 - b0) / (a1 - a0)
        return np.array([z.real, z.imag])
    middle = meant.mean(axis=0)
    design = np.column_stack([np.ones(len(meant)), meant - middle])
    solved = np.linalg.solve(design.T @ design, design.T @ seen)
    return np.concatenate([[1.0], place - middle]) @ solved
