"""Stacks of fabric against what is not ours: areas by shapely, cut files by ezdxf, stitch files by pyembroidery."""

import json
import re
from collections.abc import Callable
from itertools import chain
from pathlib import Path
from typing import Any

import ezdxf.path
import numpy as np
import pyembroidery as emb
import pytest
import shapely
import shapely.affinity
from ezdxf.addons.hpgl2 import api as hpgl

from horismos.cli import main
from tests.breadth import breadth
from tests.shapes import circle, line_in

pytestmark = breadth(0.2)

Pdf = Callable[..., Path]
UNIT = 0.025
THREAD_MM = 0.4
WAYS = ("round", "mitre")
L_SHAPE = [(20, 20), (80, 20), (80, 35), (38, 35), (38, 85), (20, 85)]
STAR = [
    (50 + r * np.cos(a), 50 + r * np.sin(a))
    for r, a in zip([38, 20] * 7, np.arange(14) * np.pi / 7, strict=True)
]
THIN = [(15, 40), (85, 40), (85, 42), (15, 42)]
NOTCH = [(20, 20), (80, 20), (80, 80), (52, 80), (50, 45), (48, 80), (38, 80), (34, 76), (30, 80), (20, 80)]
SHAPES = {"L": L_SHAPE, "star": STAR, "thin": THIN}
SATIN = {"kind": "satin", "width_mm": 3, "spacing_mm": 0.4, "inset_mm": 1.5, "underlay": "none"}
FORMATS = ["dst", "exp", "pes", "jef", "vp3", "xxx"]


def drawn(points: list[tuple[float, float]]) -> str:
    """A closed polygon as PDF operators."""
    return " ".join(f"{x:.6f} {y:.6f} {'l' if i else 'm'}" for i, (x, y) in enumerate(points)) + " h "


def stacked(tmp_path: Path, file: Path, stack: dict[str, Any], capsys: pytest.CaptureFixture[str]) -> dict[str, Any]:
    """What the command tells of a stack; its files lie in the folder “out”."""
    wanted = tmp_path / "stack.json"
    wanted.write_text(json.dumps(stack))
    code = main(["stack", str(file), "--make", str(wanted), "--out", str(tmp_path / "out"), "--json"])
    said = capsys.readouterr()
    assert code == 0, said.err
    told: dict[str, Any] = json.loads(said.out)
    return told


def cut_area(file: Path) -> shapely.Geometry:
    """What the blade goes round an odd number of times, in mm from the zero.

    Source: ezdxf's HP-GL/2 reader, which moves the drawing to its corner; the corner is that of the coordinates behind
    PD in the file itself.
    """
    data = file.read_bytes()
    down = [np.array(v.split(","), int).reshape(-1, 2) for v in re.findall(r"PD([-0-9,]+);", data.decode("ascii"))]
    ups = [np.array(v.split(","), int) for v in re.findall(r"PU([-0-9,]+);P?D", data.decode("ascii"))]
    corner = np.vstack([*down, *(u.reshape(1, 2) for u in ups)]).min(axis=0)
    area: shapely.Geometry = shapely.Polygon()
    for entity in hpgl.to_dxf(b"\x1b%1B" + data, rotation=0).modelspace().query("LWPOLYLINE"):
        points = np.array([tuple(v) for v in ezdxf.path.make_path(entity).flattening(0.5)])[:, :2]
        if len(points) > 3:
            around = shapely.make_valid(shapely.Polygon((points + corner) * UNIT))
            area = shapely.symmetric_difference(area, around)
    return area


def apart(one: shapely.Geometry, other: shapely.Geometry) -> float:
    """How far two outlines lie from each other at most, measured at least every tenth of a mm."""
    a, b = (shapely.segmentize(shapely.boundary(g), 0.1) for g in (one, other))
    return float(shapely.hausdorff_distance(a, b))


def sewn(file: Path) -> list[list[np.ndarray]]:
    """Seams by colour, in mm, as pyembroidery reads them: a list a thread, of needle points (n, 2) without a jump."""
    out: list[list[np.ndarray]] = [[]]
    points: list[tuple[float, float]] = []
    for x, y, command in [*emb.read(str(file)).stitches, (0, 0, emb.END)]:
        what = command & emb.COMMAND_MASK
        if what == emb.STITCH:
            points.append((x / 10, -y / 10))
            continue
        if points:
            out[-1].append(np.array(points))
            points = []
        if what in (emb.COLOR_CHANGE, emb.STOP):
            out.append([])
    return out


def threads(seams: list[np.ndarray], area: shapely.Geometry) -> shapely.Geometry:
    """What threads cover of an area about whose middle they were sewn."""
    middle = np.array(shapely.box(*area.bounds).centroid.coords[0])
    return shapely.union_all([shapely.LineString(seam + middle).buffer(THREAD_MM / 2) for seam in seams])


@pytest.mark.parametrize("join", WAYS)
@pytest.mark.parametrize("shape", SHAPES)
def test_layers_are_shapelys_buffers_and_each_lies_in_the_one_below(
    pdf: Pdf, tmp_path: Path, capsys: pytest.CaptureFixture[str], shape: str, join: str
) -> None:
    """Source: shapely's buffer (GEOS), with its own arcs of 200 chords a quarter and its own limit of a mitre."""
    offsets = [0.5, 2, 3.5]
    layers = [{"name": f"layer {i}", "fabric": "twill", "offset_mm": by, "join": join} for i, by in enumerate(offsets)]
    told = stacked(tmp_path, pdf(line_in(drawn(SHAPES[shape])), trim=None, bleed=None), {"layers": layers}, capsys)
    names = [f["name"] for f in sorted(told["files"], key=lambda f: f["layer"])]
    cut = [cut_area(tmp_path / "out" / name) for name in names]
    meant = shapely.Polygon(SHAPES[shape])
    made = []
    for by in offsets:
        meant = shapely.buffer(meant, by, quad_segs=200, join_style=join)
        made.append(meant)
    x, y, *_ = made[-1].bounds
    assert cut[-1].bounds[:2] == pytest.approx((0, 0), abs=UNIT)
    for told_of, is_cut, should in zip(told["layers"], cut, made, strict=True):
        assert apart(is_cut, shapely.affinity.translate(should, -x, -y)) < 0.05
        assert told_of["area_mm2"] == pytest.approx(should.area, rel=2e-4)
        assert told_of["cut_mm"] == pytest.approx(should.length, rel=2e-3)
    for upper, lower, by in zip(cut, cut[1:], offsets[1:], strict=False):
        assert shapely.contains(shapely.buffer(lower, -(by - 0.05), quad_segs=64), upper)
    assert told["worst_off_mm"] <= 0.018


@pytest.mark.parametrize("join", WAYS)
@pytest.mark.parametrize("shape", [*SHAPES, "ring"])
def test_satin_covers_the_edge_and_goes_nowhere_else(
    pdf: Pdf, tmp_path: Path, capsys: pytest.CaptureFixture[str], shape: str, join: str
) -> None:
    """Source: threads as lines 0.4 mm wide, in the DST file as pyembroidery reads it, beside shapely's bands."""
    if shape == "ring":
        path = circle(50, 50, 25) + circle(50, 50, 9)
        area = shapely.Point(50, 50).buffer(25, quad_segs=200) - shapely.Point(50, 50).buffer(9, quad_segs=200)
    else:
        path, area = drawn(SHAPES[shape]), shapely.Polygon(SHAPES[shape])
    stack = {"layers": [{"name": "one", "join": join, "stitches": [SATIN]}]}
    told = stacked(tmp_path, pdf(line_in(path), trim=None, bleed=None), stack, capsys)
    seams = sewn(tmp_path / "out" / "stitches.dst")[0]
    thread = threads(seams, area)
    outer = shapely.buffer(area, 1.5, quad_segs=200, join_style=join)
    band = shapely.difference(outer, shapely.buffer(area, -1.5, quad_segs=200))
    assert shapely.intersection(thread, band).area / band.area >= 0.995
    reach = shapely.distance(shapely.points(shapely.get_coordinates(shapely.segmentize(thread, 0.05))), band)
    assert reach.max() <= 0.3
    lengths = np.concatenate([np.hypot(*np.diff(seam, axis=0).T) for seam in seams])
    steps = np.concatenate([np.abs(np.diff(seam, axis=0)) for seam in seams])
    assert lengths.min() >= 0.3 and steps.max() <= 12.1
    assert told["stitches"]["longest_mm"] == pytest.approx(lengths.max(), abs=0.01)
    assert told["stitches"]["thread_mm"] == pytest.approx(lengths.sum(), rel=1e-4)
    assert told["stitches"]["count"] == sum(map(len, seams))


@pytest.mark.parametrize(("width", "inset"), [(3, 1.5), (2, 0.5), (2, 0), (1.5, 3)])
def test_satin_stays_in_its_band_in_a_notch(
    pdf: Pdf, tmp_path: Path, capsys: pytest.CaptureFixture[str], width: float, inset: float
) -> None:
    """Edges that nearly meet: no stitch goes through the one on the other side. Source: as above."""
    stack = {"layers": [{"name": "one", "stitches": [{**SATIN, "width_mm": width, "inset_mm": inset}]}]}
    stacked(tmp_path, pdf(line_in(drawn(NOTCH)), trim=None, bleed=None), stack, capsys)
    area = shapely.Polygon(NOTCH)
    thread = threads(sewn(tmp_path / "out" / "stitches.dst")[0], area)
    outer = shapely.buffer(area, width - inset, quad_segs=64)
    band = shapely.difference(outer, shapely.buffer(area, -inset, quad_segs=64))
    assert shapely.intersection(thread, band).area / band.area >= 0.995
    assert shapely.difference(thread, shapely.buffer(band, 0.3)).area < 1e-6


def test_spacing_keeps_on_curves(pdf: Pdf, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Stitches on the longer side lie as far apart as was said, on average over 20 of them, within a tenth.

    Source: arithmetic; a file's unit of 0.1 mm moves single needle points by half of that.
    """
    path = circle(50, 50, 12)
    stack = {"layers": [{"name": "one", "stitches": [SATIN]}]}
    stacked(tmp_path, pdf(line_in(path), trim=None, bleed=None), stack, capsys)
    (whole,) = sewn(tmp_path / "out" / "stitches.dst")[0]
    seam = whole[2:-2]  # without the locks
    radii = np.hypot(*seam.T)
    outer = seam[radii > 13]
    assert np.abs(radii[radii > 13] - 13.5).max() < 0.1
    angles = np.unwrap(np.arctan2(outer[:, 1], outer[:, 0]))
    gaps = np.abs(angles[20:-20] - angles[:-40]) * 13.5 / 20
    assert np.abs(gaps / 0.4 - 1).max() < 0.1


def test_all_formats_hold_what_was_meant(pdf: Pdf, tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    """Needle points, colours, stops and trims are the same in every format, as pyembroidery's readers find them."""
    kinds = [{"kind": "placement"}, {"kind": "tack-down"}, {"kind": "zigzag"}, {**SATIN, "underlay": "zigzag"}]
    letters = line_in(drawn(L_SHAPE) + circle(65, 70, 12))
    layers = [{"name": n, "offset_mm": i * 2, "stitches": kinds} for i, n in enumerate(["top", "middle", "bottom"])]
    told = stacked(tmp_path, pdf(letters, trim=None, bleed=None), {"layers": layers, "formats": FORMATS}, capsys)
    figures, files = told["stitches"], [f["name"] for f in told["files"] if f["format"] in FORMATS]
    assert [f.rsplit(".")[1] for f in files] == FORMATS
    first = sewn(tmp_path / "out" / files[0])
    assert figures["stops"] == len(first) - 1 == 5  # behind each placement, and before each further layer
    assert figures["colours"] == 3
    for name in files:
        found = sewn(tmp_path / "out" / name)
        assert [len(seams) for seams in found] == [len(seams) for seams in first]
        assert sum(len(seams) for seams in found) - 1 == figures["trims"]
        for one, other in zip(chain(*found), chain(*first), strict=True):
            assert np.abs(one - other).max() <= 0.05
    dst = emb.read(str(tmp_path / "out" / "stitches.dst"))
    commands = [command & emb.COMMAND_MASK for *_, command in dst.stitches]
    assert commands.count(emb.TRIM) == figures["trims"]
    assert commands.count(emb.COLOR_CHANGE) == figures["stops"]
    pes = emb.read(str(tmp_path / "out" / "stitches.pes"))
    assert len({thread.color for thread in pes.threadlist}) == figures["colours"]


@pytest.mark.parametrize("drawing", ["loach"])
def test_drawings_by_others_become_stacks(
    drawings: dict[str, Path], tmp_path: Path, capsys: pytest.CaptureFixture[str], drawing: str
) -> None:
    """Real artwork: from the outline of the art to files, each layer in the one below, nothing longer than it may."""
    layers = [
        {"name": "top", "fabric": "twill", "offset_mm": 1, "stitches": [{"kind": "tack-down"}, {"kind": "satin"}]},
        {"name": "bottom", "fabric": "felt", "offset_mm": 4, "inner": "close", "stitches": [{"kind": "satin"}]},
    ]
    told = stacked(tmp_path, drawings[drawing], {"layers": layers}, capsys)
    cut = {f["layer"]: cut_area(tmp_path / "out" / f["name"]) for f in told["files"] if f["layer"] is not None}
    assert shapely.contains(shapely.buffer(cut[1], -3.95), cut[0])
    assert sum(len(part.interiors) for part in shapely.get_parts(cut[1])) == 0
    steps = np.concatenate([np.abs(np.diff(s, axis=0)) for seams in sewn(tmp_path / "out" / "stitches.dst")
                            for s in seams])
    lengths = np.hypot(*steps.T)
    assert steps.max() <= 12.1 and lengths.min() >= 0.3
