"""The cut follows its print: what a RIP reports is worked out here a second time, from the print PDF and the plot file.

Where a print lies is affine geometry [standard: ISO 32000-1, 8.3.3]. The plot is read by a reader of these lines that
knows PU, PD and SP alone [standard: HP-GL/2]; a unit is 1/40 mm unless the ticket says another. Which mark is the zero,
and what is refused, is as the command's page says.
"""

import json
import math
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely

from horismos.artwork import line_objects, read
from horismos.cli import main
from horismos.destinations import SHIPPED
from horismos.paths import flatten
from tests.breadth import breadth, some
from tests.shapes import Drawing, circle, line_in, write

Said = pytest.CaptureFixture[str]
GROUND = "1 0 0 0 k 8 8 84 84 re f "
KITE = "30 30 m 70 34 l 64 70 l 40 66 l h "
LETTERS = {"K": "kiss-cut", "T": "through-cut", "P": "perforation", "B": "back-cut"}
JOBS = {
    "plain": GROUND + line_in("15 15 70 70 re", "T") + line_in(KITE + circle(45, 45, 8)),
    "perforated": GROUND + line_in("15 15 70 70 re", "P") + line_in(circle(50, 50, 30)) + line_in(circle(50, 45, 11)),
    "from-behind": GROUND + line_in("15 15 70 70 re", "T") + line_in(KITE) + line_in("20 50 m 80 56 l", "B"),
}
UNIT_MM = 0.025
CURVE_MM = 0.003
"""What a curve as drawn here and one as drawn there may differ by: both are chords."""


@pytest.fixture(scope="module")
def package(tmp_path_factory: pytest.TempPathFactory) -> Callable[[str, str], Path]:
    """A job released for a destination, once."""
    made: dict[tuple[str, str], Path] = {}
    folder = tmp_path_factory.mktemp("released")
    order = folder / "order.json"
    order.write_text(json.dumps({"quantity": 5, "width_mm": 80, "height_mm": 80}))

    def of(job: str, destination: str = "house") -> Path:
        if (job, destination) not in made:
            names = {role.value: name for role, name in SHIPPED[destination].names.items()}
            inks = {key: names[role] for key, role in LETTERS.items() if f"/{key} CS" in JOBS[job]}
            file, out = folder / f"{job}.pdf", folder / f"{job}-{destination}"
            file.write_bytes(write(Drawing(JOBS[job], inks=inks)))
            call = ["release", str(file), "--order", str(order), "--out", str(out), "--columns", "2"]
            assert main([*call, "--destination", destination, "--material", "film-610"]) == 0
            made[job, destination] = out
        return made[job, destination]

    return of


def followed(package: Path, report: Any, out: Path, capsys: Said) -> tuple[int, Any]:
    """What the command says, and how it ends."""
    (out.parent / "report.json").write_text(json.dumps(report))
    capsys.readouterr()
    call = ["follow", str(package), "--report", str(out.parent / "report.json"), "--out", str(out), "--json"]
    code = main(call)
    said = capsys.readouterr()
    return code, json.loads(said.out) if said.out else said.err


def lying(report: Any, size: tuple[float, float], repeat: int) -> Callable[[np.ndarray], np.ndarray]:
    """Where places of the sheet lie on the media."""
    scale = report.get("scale", 1)
    across, along = scale if isinstance(scale, list) else (scale, scale)
    wide, long = size[0] * across, size[1] * along
    angle = math.radians(report.get("turn_deg", 0))
    turn = np.array([[math.cos(angle), math.sin(angle)], [-math.sin(angle), math.cos(angle)]])
    corners = np.array([[0, 0], [wide, 0], [wide, long], [0, long]]) @ turn
    low, high = corners.min(axis=0), corners.max(axis=0)

    def of(places: np.ndarray) -> np.ndarray:
        at = places * (across, along)
        if report.get("mirrored"):
            at = at * (-1, 1) + (wide, 0)
        at = at @ turn - low
        at = at + np.array([0, (repeat - 1) * (high[1] - low[1] + report.get("gap_mm", 0))])
        return np.asarray(at + report.get("moved_mm", (0, 0)))

    return of


def plot(data: str, dialect: Any) -> dict[int, list[np.ndarray]]:
    """The strokes of a plot by tool, in mm from its zero."""
    out: dict[int, list[np.ndarray]] = {}
    tool, at = 0, np.zeros(2)
    for word, numbers in re.findall(r"([A-Z]{2})([-0-9.,]*)", data):
        if word == "SP":
            tool = int(numbers)
        elif word in ("PU", "PD") and numbers:
            places = np.array([float(v) for v in numbers.split(",")]).reshape(-1, 2) * dialect["unit_mm"]
            places = places[:, ::-1] if dialect["turned"] else places
            places = places * ((-1 if dialect["right"] else 1), 1)
            if word == "PD":
                out.setdefault(tool, []).append(np.vstack([at, places]))
            at = places[-1]
    return out


def zero(ticket: Any, land: Callable[[np.ndarray], np.ndarray], back: bool) -> np.ndarray:
    places = land(np.array([[m["x_mm"], m["y_mm"]] for m in ticket["marks"]]))
    if back:
        places = np.array([ticket["material"]["width_mm"], 0]) + places * (-1, 1)
    row = places[places[:, 1] < places[:, 1].min() + 0.5]
    return np.asarray(row[row[:, 0].argmax() if ticket["dialect"]["right"] else row[:, 0].argmin()])


def printed(package: Path, destination: str) -> dict[str, list[np.ndarray]]:
    """The lines in the print PDF by role, in mm on the sheet."""
    artwork = read(next(package.glob("*-print.pdf")))
    out: dict[str, list[np.ndarray]] = {}
    for line in line_objects(artwork, artwork.pages[0], SHIPPED[destination]):
        assert line.role is not None
        out.setdefault(line.role.value, []).extend(flatten(c, 0.001) for c in line.contours)
    return out


def off_mm(meant: list[np.ndarray], cut: list[np.ndarray]) -> float:
    """How far cuts and lines lie from each other, both ways, at places every half millimetre (Hausdorff)."""
    a, b = (shapely.multilinestrings([shapely.linestrings(one) for one in lines]) for lines in (meant, cut))
    return max(farthest(a, b), farthest(b, a))


def farthest(lines: shapely.Geometry, others: shapely.Geometry) -> float:
    """How far a place of some lines lies from the nearest of others."""
    shapely.prepare(others)
    places = shapely.points(shapely.get_coordinates(shapely.segmentize(lines, 0.5)))
    near = shapely.STRtree(shapely.get_parts(others)).query_nearest(places, return_distance=True, all_matches=False)
    return float(near[1].max())


REPORTS = [
    {"turn_deg": turn, "mirrored": mirrored, "scale": scale, **more}
    for turn in (0, 90, 180, 270) for mirrored in (False, True) for scale in (1, 0.5, 1.02)
    for more in ({}, {"copies": 3, "gap_mm": 12.5}, {"moved_mm": [4, 31.3]})
]


@breadth(0.25)
@pytest.mark.parametrize("destination", list(SHIPPED))
@pytest.mark.parametrize("job", list(JOBS))
def test_a_cut_lies_where_its_print_lies(
    job: str, destination: str, package: Callable[[str, str], Path], tmp_path: Path, capsys: Said
) -> None:
    released = package(job, destination)
    ticket = json.loads(next(released.glob("*-ticket.json")).read_text())
    lines = printed(released, destination)
    size = ticket["sheet"]["width_mm"], ticket["sheet"]["length_mm"]
    done = 0
    for number, report in enumerate(some(REPORTS, 0.2, f"{job} {destination}")):
        out = tmp_path / str(number)
        code, said = followed(released, report, out, capsys)
        if code:
            assert code == 1 and "media" in said["refused"] and not out.exists()
            continue
        done += 1
        assert [f["repeat"] for f in said["files"]] == sorted(f["repeat"] for f in said["files"])
        for file in said["files"]:
            back = "-back-cut." in file["name"]
            land = lying(report, size, file["repeat"])
            origin = zero(ticket, land, back)
            if report == REPORTS[0]:  # nothing was done
                origin = np.array(ticket["origin_mm"])
            strokes = plot((out / file["name"]).read_text(), ticket["dialect"])
            side = [op for op in ticket["operations"] if (op["side"] == "back") == back and not op["aligning"]]
            assert file["contours"] == sum(op["contours"] for op in side)
            for op in side:
                meant = [land(line) for line in lines[op["role"]]]
                if back:
                    meant = [line * (-1, 1) + np.array([ticket["material"]["width_mm"], 0]) for line in meant]
                cut = [stroke + origin for stroke in strokes[op["tool"]]]
                if any(o["aligning"] and o["tool"] == op["tool"] for o in ticket["operations"]):
                    cut = cut[: op["strokes"]]
                unit = ticket["dialect"]["unit_mm"]
                if op["perforation"]:
                    a, b = (shapely.multilinestrings([shapely.linestrings(o) for o in ls]) for ls in (cut, meant))
                    far = farthest(a, b)
                    ties = [math.dist(a[-1], b[0]) for a, b in zip(cut, cut[1:], strict=False)]
                    short = np.array([tie for tie in ties if tie < 2])
                    assert np.abs(short - op["perforation"]["tie_mm"]).max() < 2 * unit, "ties keep their length"
                else:
                    far = off_mm(meant, cut)
                # rounded to whole units both ways: half a unit along each axis
                assert far <= unit / 2 * math.sqrt(2) + CURVE_MM, (report, file, op["role"], far)
        assert said["worst_off_mm"] <= 0.05 and said["refused"] is None
    assert done


def test_with_nothing_reported_it_is_the_package_s_own_file(
    package: Callable[..., Path], tmp_path: Path, capsys: Said
) -> None:
    released = package("from-behind")
    for report in ({}, {"copies": 1, "scale": 1, "turn_deg": 0, "mirrored": False, "moved_mm": [0, 0]}):
        code, said = followed(released, report, tmp_path / "out", capsys)
        assert code == 0 and said["findings"] == []
        for file in said["files"]:
            assert (tmp_path / "out" / file["name"]).read_bytes() == (released / file["name"]).read_bytes()


def test_other_scales_across_and_along_are_followed_unless_ties_forbid_it(
    package: Callable[..., Path], tmp_path: Path, capsys: Said
) -> None:
    report = {"scale": [0.98, 1.01]}
    code, said = followed(package("plain"), report, tmp_path / "plain", capsys)
    assert code == 0 and said["scale"] == [0.98, 1.01]
    released = package("plain")
    ticket = json.loads(next(released.glob("*-ticket.json")).read_text())
    land = lying(report, (ticket["sheet"]["width_mm"], ticket["sheet"]["length_mm"]), 1)
    strokes = plot((tmp_path / "plain" / said["files"][0]["name"]).read_text(), ticket["dialect"])
    lines = printed(released, "house")
    (kiss,) = [op for op in ticket["operations"] if op["role"] == "kiss-cut"]
    cut = [stroke + zero(ticket, land, False) for stroke in strokes[kiss["tool"]]]
    assert off_mm([land(line) for line in lines["kiss-cut"]], cut) < UNIT_MM / 2 * math.sqrt(2) + CURVE_MM
    code, said = followed(package("perforated"), report, tmp_path / "ties", capsys)
    assert code == 1 and "ties" in said["refused"] and not (tmp_path / "ties").exists()


def test_what_is_off_the_media_is_refused_and_nothing_written(
    package: Callable[..., Path], tmp_path: Path, capsys: Said
) -> None:
    refused: dict[str, dict[str, Any]] = {
        "left": {"moved_mm": [-230, 0]}, "below": {"moved_mm": [0, -500]}, "right": {"scale": 5},
    }
    for name, report in refused.items():
        code, said = followed(package("plain"), report, tmp_path / name, capsys)
        assert code == 1 and said["files"] == [] and "off the media" in said["refused"], name
        assert not (tmp_path / name).exists()


def test_what_cannot_be_meant_is_named(package: Callable[..., Path], tmp_path: Path, capsys: Said) -> None:
    released = package("plain")
    wrong: list[tuple[Any, str]] = [
        ({"copys": 2}, "copys"), ({"copies": 0}, "copies"), ({"copies": 1.5}, "copies"), ({"turn_deg": 45}, "turn_deg"),
        ({"scale": 0}, "scale"), ({"scale": [1, 1, 1]}, "scale"), ({"scale": "big"}, "scale"), ([], "report"),
        ({"gap_mm": -1}, "gap_mm"), ({"mirrored": 1}, "mirrored"), ({"moved_mm": [1]}, "moved_mm"),
        ({"turn_deg": True}, "turn_deg"),
    ]
    for report, word in wrong:
        code, said = followed(released, report, tmp_path / "out", capsys)
        assert code == 2 and word in said, (report, said)
    copy = tmp_path / "copy"
    copy.mkdir()
    for path in released.iterdir():
        (copy / path.name).write_bytes(path.read_bytes())
    cut = next(copy.glob("*-cut.*"))
    data = cut.read_bytes()
    cut.write_bytes(data.replace(b"PD", b"PU", 1))
    code, said = followed(copy, {}, tmp_path / "out", capsys)
    assert code == 2 and cut.name in said and "check sum" in said
    cut.unlink()
    code, said = followed(copy, {}, tmp_path / "out", capsys)
    assert code == 2 and cut.name in said and "missing" in said
    cut.write_bytes(data)
    ticket = next(copy.glob("*-ticket.json"))
    said_there = json.loads(ticket.read_text())
    for change, word in (
        ({"moon": 1}, "moon"), ({"marks": [{}]}, "marks"), ({"placements": "none"}, "placements"),
        ({"origin_mm": [1]}, "origin_mm"), ({"operations": [1]}, "operations"),
    ):
        ticket.write_text(json.dumps({**said_there, **change}))
        code, said = followed(copy, {}, tmp_path / "out", capsys)
        assert code == 2 and word in said and ticket.name in said, (change, said)
    assert main(["follow", str(tmp_path / "nowhere"), "--report", str(tmp_path / "report.json"), "--out", "x"]) == 2
    assert not (tmp_path / "out").exists()


def test_what_the_scale_does_to_size_and_bleed_is_found(
    package: Callable[..., Path], tmp_path: Path, capsys: Said
) -> None:
    code, said = followed(package("plain"), {"scale": 0.97}, tmp_path / "less", capsys)
    assert code == 0 and "page.size" in said["findings"]
    code, said = followed(package("plain"), {"turn_deg": 180, "mirrored": True}, tmp_path / "turned", capsys)
    assert code == 0 and said["findings"] == []
