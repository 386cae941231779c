"""The cut against what is not ours: the blade by an integrator, files by other readers, forces of the trade."""

import contextlib
import io
import json
import math
import re
import subprocess
from collections.abc import Callable
from pathlib import Path

import ezdxf
import ezdxf.path
import numpy as np
import pypdfium2
import pytest
import resvg_py
import shapely
from ezdxf.addons.hpgl2 import api as hpgl
from PIL import Image
from scipy.integrate import solve_ivp

from horismos.cli import main
from horismos.cutting import DEFAULT_TOOLS, Blade, Tool
from horismos.cutting.blade import holder_path
from horismos.cutting.perforate import cuts_and_ties
from horismos.cutting.strokes import Prepared
from horismos.formats.hpgl import read_hpgl
from horismos.paths import Contour, contour_from_points
from horismos.release.reading_back import svg_polylines
from horismos.roles import CUT_ORDER, LineRole
from tests.breadth import breadth
from tests.shapes import circle, line_in

pytestmark = breadth(1.0, "cutting")

Pdf = Callable[..., Path]
OFFSETS = (0.25, 0.4, 0.6, 0.9)
MM = 72 / 25.4


def integrated(holder: np.ndarray, offset: float, angle: float) -> np.ndarray:
    """The tip behind a holder: the angle of the blade integrated by scipy's Runge-Kutta, chord by chord.

    Source: the motion of a trailer whose hitch is drawn along, d(angle)/ds = sin(way - angle) / offset (textbook
    kinematics of a tractrix); nothing of it is the product's.
    """
    out = [holder[0] - offset * np.array([math.cos(angle), math.sin(angle)])]
    for a, b in zip(holder, holder[1:], strict=False):
        long = math.dist(a, b)
        if not long:
            continue
        way = math.atan2(b[1] - a[1], b[0] - a[0])
        s = np.linspace(0, long, max(3, int(long / 0.05)))
        found = solve_ivp(
            lambda _, y, way=way: np.sin(way - y) / offset, (0, long), [angle], t_eval=s, rtol=1e-8, atol=1e-10
        ).y[0]
        at = np.array(a) + s[:, None] * np.array([math.cos(way), math.sin(way)])
        out += list(at - offset * np.column_stack([np.cos(found), np.sin(found)]))
        angle = float(found[-1])
    return np.array(out)


def corners(seed: int) -> np.ndarray:
    """A closed random polygon with corners of all kinds, 10 to 40 mm wide."""
    rng = np.random.default_rng(seed)
    at = np.sort(rng.uniform(0, 2 * math.pi, rng.integers(3, 9)))
    return np.column_stack([np.cos(at), np.sin(at)]) * rng.uniform(3, 20, len(at))[:, None] + 50


@pytest.mark.parametrize("offset", OFFSETS)
@pytest.mark.parametrize("seed", range(4))
def test_the_tip_of_a_drag_blade_cuts_the_line_corners_included(offset: float, seed: int) -> None:
    contour = contour_from_points(corners(seed), closed=True)
    tool = Tool(
        role=LineRole.KISS_CUT, number=1, force_gf=90, speed_mm_s=400, blade=Blade.DRAG, offset_mm=offset,
        overcut_mm=0.5
    )
    (stroke,) = Prepared(contour, tool).strokes(0)
    way = stroke.holder[0] - stroke.tip[0]
    tip = integrated(stroke.holder, offset, math.atan2(way[1], way[0]))
    line = shapely.LineString(np.vstack([contour.segments[:, 0], contour.end]))
    assert shapely.distance(shapely.points(tip), line).max() < 0.01
    cut = shapely.LineString(tip)
    along = shapely.points(shapely.get_coordinates(shapely.segmentize(line, 0.2)))
    assert shapely.distance(along, cut).max() < 0.01


@pytest.mark.parametrize("offset", OFFSETS)
def test_in_plotter_units_the_tip_still_cuts_within_three_hundredths(offset: float, tmp_path: Path, pdf: Pdf) -> None:
    """Whether the blade keeps its direction in the air, or lies the way that the holder goes at first."""
    tools = {"kiss-cut": {"blade": "drag", "offset_mm": offset, "overcut_mm": 1.0}}
    path = pdf(f"1 0 0 0 k 5 5 90 90 re f {line_in(circle(50, 50, 20))} {line_in('30 30 m 70 34 l 50 60 l h')}")
    (file, text) = planned(tmp_path, path, tools, quantity=2)
    strokes = [stroke.points for stroke in read_hpgl(text)]
    meant = _curves(tmp_path, path)
    first = strokes[0][1] - strokes[0][0]
    angle = math.atan2(first[1], first[0])
    for points in strokes:
        tip = integrated(points, offset, angle)
        assert shapely.distance(shapely.points(tip), meant).max() < 0.03
        angle = math.atan2(*(points[-1] - tip[-1])[::-1])
    assert file["worst_off_mm"] < 0.03


def _curves(folder: Path, art: Path) -> shapely.MultiLineString:
    """The lines themselves, as fine units have them: half a hundredth lies in it."""
    plan = folder / "fine.json"
    items = [{"file": str(art), "quantity": 2}]
    plan.write_text(json.dumps({"material": "film-610", "items": items, "destination": "house"}))
    with contextlib.redirect_stdout(io.StringIO()):
        assert main(["plan", str(plan), "--out", str(folder / "fine"), "--format", "svg", "--json"]) == 0
    layers = svg_polylines(next((folder / "fine").glob("*.svg")).read_bytes(), (0.0, 0.0))
    return shapely.MultiLineString([line for lines in layers.values() for line in lines])


def planned(
    folder: Path, art: Path, tools: dict[str, object], quantity: int = 1, kind: str = "hpgl"
) -> tuple[dict[str, object], bytes]:
    """What `plan` says and the first file that it writes."""
    plan = folder / f"plan-{len(list(folder.iterdir()))}.json"
    items = [{"file": str(art), "quantity": quantity}]
    plan.write_text(json.dumps({"material": "film-610", "items": items, "tools": tools}))
    out = folder / f"out-{plan.stem}"
    told = io.StringIO()
    with contextlib.redirect_stdout(told):
        assert main(["plan", str(plan), "--out", str(out), "--format", kind, "--json"]) == 0
    answer = json.loads(told.getvalue())
    return answer, (out / answer["files"][0]["name"]).read_bytes()


@pytest.fixture(scope="module")
def swan(drawings: dict[str, Path], tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A drawing by another hand with its outlines as lines."""
    fixed = tmp_path_factory.mktemp("swan") / "swan.pdf"
    make = fixed.with_suffix(".json")
    lines = [{"role": "kiss-cut", "offset_mm": 2}, {"role": "through-cut", "offset_mm": 5}]
    make.write_text(json.dumps({"lines": lines}))
    assert main(["lines", str(drawings["swan"]), "--make", str(make), "--out", str(fixed)]) in (0, 1)
    return fixed


def test_ezdxf_reads_the_dxf_as_it_was_meant(swan: Path, tmp_path: Path) -> None:
    """Source: ezdxf, read as a drawing; the cut is that which the HP-GL holds."""
    _, data = planned(tmp_path, swan, {}, kind="dxf")
    _, plotted = planned(tmp_path, swan, {})
    drawing = ezdxf.read(io.StringIO(data.decode()))
    assert drawing.header["$INSUNITS"] == 4, "millimetres"
    theirs = {layer: [] for layer in ("Kiss Cut", "Through Cut")}
    for entity in drawing.modelspace():
        theirs[entity.dxf.layer].append(shapely.LineString(entity.get_points("xy")))
    ours = read_hpgl(plotted)
    for number, layer in enumerate(theirs):
        lines = shapely.MultiLineString([s.points for s in ours if s.operation == number])
        assert shapely.hausdorff_distance(shapely.MultiLineString(theirs[layer]), lines) < 0.02
    assert [len(of) for of in theirs.values()] == [sum(s.operation == n for s in ours) for n in (0, 1)]


def test_resvg_and_pdfium_draw_the_same_lines(swan: Path, tmp_path: Path) -> None:
    """Source: resvg's picture of the SVG and PDFium's of the PDF, laid over each other at 150 ppi."""
    _, svg = planned(tmp_path, swan, {}, kind="svg")
    _, data = planned(tmp_path, swan, {}, kind="pdf")
    bold = svg.replace(b'stroke-width="0.1"', b'stroke-width="0.6"')
    drawn = Image.open(io.BytesIO(bytes(resvg_py.svg_to_bytes(svg_string=bold.decode(), dpi=150))))
    theirs = np.asarray(drawn)[..., 3] > 128
    page = pypdfium2.PdfDocument(data)[0]
    bitmap = page.render(scale=150 / 72).to_numpy()
    seen = bitmap[: theirs.shape[0], : theirs.shape[1]].min(axis=2) < 200
    assert seen.sum() > 1000
    rows, columns = np.nonzero(seen)
    some = zip(rows[::37], columns[::37], strict=True)
    inside = [theirs[max(r - 2, 0) : r + 3, max(c - 2, 0) : c + 3].any() for r, c in some]
    assert np.mean(inside) > 0.999


def test_ezdxf_reads_the_blades_path_out_of_the_hpgl(swan: Path, tmp_path: Path) -> None:
    """Source: ezdxf's HP-GL/2 reader; its corner is that of the drawing."""
    tools = {"kiss-cut": {"blade": "drag", "offset_mm": 0.5, "overcut_mm": 1.0}}
    _, data = planned(tmp_path, swan, tools)
    drawing = hpgl.to_dxf(b"\x1b%1B" + data, rotation=0)
    theirs = [
        np.array([tuple(v) for v in ezdxf.path.make_path(e).flattening(0.5)])[:, :2] * 0.025
        for e in drawing.modelspace()
    ]
    theirs = [line for line in theirs if len(line) > 5]
    ours = [stroke.points for stroke in read_hpgl(data)]
    corner = np.concatenate(ours).min(axis=0)
    assert len(theirs) == len(ours)
    off = [
        shapely.hausdorff_distance(shapely.LineString(a), shapely.LineString(b - corner))
        for a, b in zip(theirs, ours, strict=True)
    ]
    assert max(off) <= 0.026


def test_hp2xx_draws_every_line(swan: Path, tmp_path: Path) -> None:
    """Source: hp2xx's drawing as EPS, line by line, in mm to two decimals; it draws at the size that it is told."""
    _, data = planned(tmp_path, swan, {})
    plt = tmp_path / "cut.plt"
    plt.write_bytes(data)
    ours = [stroke.points for stroke in read_hpgl(data)]
    every = np.concatenate(ours)
    low, size = every.min(axis=0), np.ptp(every, axis=0)
    call = ["hp2xx", "-q", "-t", "-m", "eps", "-f", tmp_path / "cut.eps", plt]
    subprocess.run(call, check=True, capture_output=True)
    lines: list[list[tuple[float, float]]] = []
    for x, y, what in re.findall(r"(-?[\d.]+)\s+(-?[\d.]+)\s+([MD])\b", (tmp_path / "cut.eps").read_text(
        errors="replace"
    ), re.M):
        if what == "M":
            lines.append([])
        lines[-1].append((float(x), float(y)))
    drawn = [np.array(line) for line in lines if len(line) > 1]
    theirs = np.concatenate(drawn)
    assert np.ptp(theirs, axis=0) == pytest.approx(size, abs=0.03), "at its true size"
    # two lines of it are one where the pen was not lifted between them: all of ours, and nothing else, is drawn
    shift = low - theirs.min(axis=0)
    paper = shapely.MultiLineString([line + shift for line in drawn])
    meant = shapely.MultiLineString(ours)
    assert shapely.distance(shapely.points(every), paper).max() < 0.02
    assert shapely.distance(shapely.points(theirs + shift), meant).max() < 0.02
    assert paper.length == pytest.approx(meant.length, rel=1e-3)


def test_ties_hold_on_a_thousand_random_contours() -> None:
    """[ours] no tie within 1 mm of a corner below 60 degrees; ties as long as wanted, cuts too but beside corners."""
    tool = DEFAULT_TOOLS[LineRole.PERFORATION]
    assert tool.tie_mm is not None
    looked = 0
    for seed in range(1000):
        polygon = corners(seed)
        contour = contour_from_points(polygon, closed=True)
        if length_of(contour) < 40:
            continue
        looked += 1
        cuts, ties = cuts_and_ties(contour, tool, 0.002)
        assert len(cuts) == len(ties) > 0
        long = np.array([np.hypot(*np.diff(tie, axis=0).T).sum() for tie in ties])
        assert np.abs(long - tool.tie_mm).max() <= 0.05 * tool.tie_mm
        sides = np.roll(polygon, -1, axis=0) - polygon
        before = -np.roll(sides, 1, axis=0)
        inner = np.degrees(np.arccos(np.clip(
            (sides * before).sum(axis=1) / np.hypot(*sides.T) / np.hypot(*before.T), -1, 1
        )))
        sharp = shapely.MultiPoint(polygon[inner < 60])
        if not sharp.is_empty:
            assert shapely.distance(shapely.MultiLineString(ties), sharp) >= 1.0 - 1e-3
        pieces = np.array([np.hypot(*np.diff(cut, axis=0).T).sum() for cut in cuts])
        plain = np.array([
            shapely.distance(shapely.LineString(cut), shapely.MultiPoint(polygon)) > 1.6 for cut in cuts
        ])
        usual = np.median(pieces)
        assert (np.abs(pieces[plain] - usual) <= 0.05 * usual).mean() > 0.9 or plain.sum() < 8
    assert looked > 600


def length_of(contour: Contour) -> float:
    return float(shapely.LineString(np.vstack([contour.segments[:, 0], contour.end])).length)


def test_forces_and_order_are_those_of_the_trade() -> None:
    """Common practice, no source: kiss about 90 gf, perforation or through about 200 gf on a 100 µm film; kiss first,
    then perforation, then through."""
    assert 80 <= (DEFAULT_TOOLS[LineRole.KISS_CUT].force_gf or 0) <= 100
    assert all(190 <= (DEFAULT_TOOLS[r].force_gf or 0) <= 210 for r in (LineRole.PERFORATION, LineRole.THROUGH_CUT))
    order = [CUT_ORDER.index(r) for r in (LineRole.KISS_CUT, LineRole.PERFORATION, LineRole.THROUGH_CUT)]
    assert order == sorted(order)


def test_a_straight_holder_path_runs_ahead_of_its_tip_by_the_offset() -> None:
    """Common practice, no source: the holder is steered so that the trailing tip follows the line."""
    assert holder_path(np.array([[0.0, 0.0], [0.0, 5.0]]), 0.3).tolist() == [[0.0, 0.3], [0.0, 5.3]]
