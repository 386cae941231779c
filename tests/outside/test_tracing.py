"""Outlines of pixels against shapes known exactly, and beside potrace on the same picture made black and white.

potrace: P. Selinger, Potrace: a polygon-based tracing algorithm, 2003; the program of that name, as Debian has it.
"""

import io
import re
import shutil
import subprocess
from pathlib import Path

import numpy as np
import pytest
import shapely
from PIL import Image
from scipy.ndimage import gaussian_filter
from skimage.data import horse
from skimage.measure import find_contours

from horismos.artwork import read_bytes
from horismos.intake import Answers, take_in
from horismos.making import Make, make
from horismos.making.tracing import Field, traced
from horismos.orders import Order
from horismos.paths import Contour, flatten, length
from horismos.paths.levels import level_lines
from tests.breadth import breadth
from tests.drawn import PPI, PX_MM, SHAPES, SIDE_MM, apart, coverage
from tests.known import HOUSE

pytestmark = breadth(0.2)

MOST_PX = 0.35


def ours(alpha: np.ndarray, fit_mm: float = 0.02) -> list[Contour]:
    return traced(Field(alpha, 255.0, (PX_MM, 0, 0, -PX_MM, 0, alpha.shape[0] * PX_MM)), 0.5, fit_mm, 0.0)


def segments_of_potrace(alpha: np.ndarray, folder: Path) -> int:
    """How many segments potrace makes of a picture at half coverage."""
    bits = alpha >= 128
    height, width = bits.shape
    (folder / "a.pbm").write_bytes(b"P4\n%d %d\n" % (width, height) + np.packbits(bits, axis=1).tobytes())
    subprocess.run(["potrace", "-b", "svg", "--flat", "-o", "a.svg", "a.pbm"], cwd=folder, check=True)
    data = " ".join(re.findall(r'<path d="([^"]*)"', (folder / "a.svg").read_text()))
    count, per = 0, {"m": 0, "l": 2, "c": 6, "z": 0}
    for letter, numbers in re.findall(r"([a-zA-Z])([^a-zA-Z]*)", data):
        size = per[letter.lower()]
        count += len(re.findall(r"-?[\d.]+", numbers)) // size if size else 0
    return count


@pytest.mark.parametrize("name", SHAPES)
def test_an_outline_is_right_to_a_third_of_a_pixel_and_has_no_more_segments_than_potrace(
    name: str, tmp_path: Path
) -> None:
    alpha = coverage(SHAPES[name])
    made = ours(alpha)
    height_mm = alpha.shape[0] * PX_MM
    assert abs(height_mm - SIDE_MM) < PX_MM
    off = apart([flatten(c, 0.0005)[:-1] for c in made], SHAPES[name]) * PPI / 25.4
    assert off <= MOST_PX
    assert all(c.closed and shapely.LinearRing(flatten(c, 0.001)).is_simple for c in made)
    if shutil.which("potrace"):
        assert sum(len(c.segments) for c in made) <= segments_of_potrace(alpha, tmp_path)


def test_a_picture_without_anti_aliasing_gives_a_clean_outline_too() -> None:
    shape = SHAPES["blob"]
    made = ours(np.where(coverage(shape) >= 128, 255, 0).astype(np.uint8), 0.05)
    assert apart([flatten(c, 0.001)[:-1] for c in made], shape) < 1.0 * PX_MM
    assert sum(c.node_count for c in made) <= 20


def test_a_real_silhouette_is_one_clean_line_with_few_nodes() -> None:
    """The horse of scikit-image's data (after A. Ortiz, public domain), which has no anti-aliasing."""
    alpha = np.where(horse(), 0, 255).astype(np.uint8)
    (line,) = ours(alpha, 0.05)
    assert line.closed and shapely.LinearRing(flatten(line, 0.005)).is_simple
    assert line.node_count / length(line) <= 0.5
    rows, columns = max(find_contours(alpha, 127.5), key=len).T
    raw = shapely.LineString(np.column_stack([columns + 0.5, alpha.shape[0] - rows - 0.5]) * PX_MM)
    apart_mm = shapely.hausdorff_distance(shapely.LineString(flatten(line, 0.005)), raw, densify=0.1)
    assert apart_mm < 0.05 + 5 * PX_MM, "the fit, the stairs, and tips a pixel wide that are smoothed over with them"
    assert line.node_count < 100, "stairs are not followed"


@pytest.mark.parametrize("seed", range(4))
def test_level_lines_run_where_scikit_image_finds_contours(seed: int) -> None:
    """W. Lorensen, H. Cline, Marching cubes (1987), in its form for pictures, as scikit-image has it."""
    rough = np.random.default_rng(seed).random((90, 120))
    field = np.zeros((94, 124))
    field[2:-2, 2:-2] = gaussian_filter(rough, 1.0 + seed)  # clear at the frame: there only ours closes its loops
    loops = level_lines(field, 0.5)
    theirs = find_contours(field, 0.5, fully_connected="low")
    assert len(loops) >= 3 and all((loop[0] == loop[-1]).all() for loop in loops)
    assert sum(map(len, loops)) == pytest.approx(sum(map(len, theirs)), rel=0.01)
    edge = shapely.union_all([shapely.LineString(line[:, ::-1] + 0.5) for line in theirs])
    assert shapely.distance(edge, shapely.points(np.vstack(loops))).max() < 1e-6


@pytest.mark.parametrize("shade", [0.0, 0.2, 0.4])
def test_a_photograph_with_noise_and_a_soft_shadow_is_cut_out_along_its_own_edge(shade: float) -> None:
    """A leaf drawn from a formula, textured, its shadow to one side, through JPEG as Pillow writes it."""
    y, x = np.mgrid[:900, :1100] + 0.5
    turn = np.arctan2(y - 450, x - 550)
    edge = 270 + 52 * np.cos(5 * turn) + 14 * np.sin(11 * turn)
    share = np.clip(edge - np.hypot(x - 550, y - 450) + 0.5, 0, 1)[..., None]
    rough = gaussian_filter(np.random.default_rng(5).normal(0, 1, x.shape), 5)[..., None]
    shadow = gaussian_filter((np.hypot(x - 570, y - 480) < edge).astype(float), 20)[..., None]
    ground = np.array([236, 233, 226]) * (1 - shade * shadow)
    leaf = np.array([90, 120, 60]) + np.array([25, 30, 20]) * rough / rough.std()
    packed = io.BytesIO()
    drawn = np.clip(share * leaf + (1 - share) * ground, 0, 255).astype(np.uint8)
    Image.fromarray(drawn).save(packed, "JPEG", quality=82, dpi=(300, 300))
    artwork = read_bytes(take_in(packed.getvalue(), "leaf.jpg", Answers(), Order(), HOUSE).pdf)
    wanted = Make.from_json({"lines": [{"role": "kiss-cut", "fit_mm": 0.05}]})
    (line,) = make(artwork, artwork.pages[0], [], wanted).lines
    around = np.linspace(0, 2 * np.pi, 6000)
    far = 270 + 52 * np.cos(5 * around) + 14 * np.sin(11 * around)
    true = shapely.Polygon(np.column_stack([550 + far * np.cos(around), 900 - 450 - far * np.sin(around)]) * PX_MM)
    assert apart([flatten(line.contour, 0.001)[:-1]], true) < 0.05 + 2 * PX_MM
    assert shapely.LinearRing(flatten(line.contour, 0.005)).is_simple
    assert line.contour.node_count / length(line.contour) <= 0.5
