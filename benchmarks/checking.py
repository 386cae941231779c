"""The full check against Ghostscript making plates of the same page at 72 dpi, in one run; and its memory.

Wanted: the page of 300,000 curve segments in at most 1.0 times Ghostscript's time, the page with an image of
16,000 × 8,000 CMYK pixels in 1.5 times and under 700 MB with child processes, 6,400 separate cuts in 4 s, and all
measures of a line of 200,000 nodes in 2.5 times a shapely buffer of it. Beside each stands what it was before this
was asked for. Each side runs in a process of its own. Prints ratios: machines are noisy, seconds are for the curious.
"""

import json
import subprocess
import sys
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.reading import PAGES, make

RUNS = 3
NODES = 200_000
CHECKED = {"300,000 segments": (1.0, 1.11), "16,000 × 8,000 CMYK": (1.5, 4.1)}
"""Pages, with the ratio that is wanted and the one of before."""
CUTS = 80
"""So many circles in a row, and so many rows, each a cut of its own."""


def with_cut(fill: Any) -> Any:
    """The same page with a kiss cut round most of it, so that its edge is measured too."""

    def make_page(pdf: Any, page: Any, count: int) -> None:
        from pikepdf import Array, Dictionary, Name

        fill(pdf, page, count)
        tint = Dictionary(FunctionType=2, Domain=[0, 1], C0=[0, 0, 0, 0], C1=[0, 1, 0, 0], N=1)
        space = Array([Name.Separation, Name("/Kiss Cut"), Name.DeviceCMYK, tint])
        resources = page.get("/Resources", Dictionary())
        resources.ColorSpace = Dictionary(Cut=space)
        page.Resources = resources
        line = pdf.make_stream(b"q /Cut CS 1 SCN 0.25 w 200 200 1600 1600 re S Q")
        page.Contents = Array([page.Contents, line])

    return make_page


def _check(path: Path) -> None:
    from horismos.artwork import read
    from horismos.checking import check

    check(read(path))


def _plates(path: Path) -> None:
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run(
            ["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=tiffsep", "-r72", "-sCompression=lzw",
             "-sOutputFile=plate.tif", path.resolve()], cwd=folder, check=True,
        )


def many_cuts() -> bytes:
    """A page of circles, each cut by itself, over colour."""
    from tests.shapes import Drawing, circle, line_in, write

    places = [(5 + 11 * (i % CUTS), 5 + 11 * (i // CUTS)) for i in range(CUTS * CUTS)]
    side = 11 * CUTS + 10
    content = f"1 0 0 0 k 0 0 {side} {side} re f " + line_in(" ".join(circle(x, y, 4) for x, y in places))
    return write(Drawing(content, size=(side, side), trim=(5, 5, side - 5, side - 5), bleed=(2, 2, side - 2, side - 2)))


def _line() -> Any:
    from horismos.paths import contour_from_points

    angle = np.linspace(0, 2 * np.pi, NODES, endpoint=False)
    radius = 500 + 3 * np.sin(900 * angle)
    return contour_from_points(np.stack([radius * np.cos(angle), radius * np.sin(angle)], axis=1), closed=True)


def geometry(path: Path) -> None:
    """Every measure of the line checks on one contour; ``path`` is not used."""
    from horismos.paths import length
    from horismos.paths.chords import chords_of
    from horismos.paths.crossings import DOUBLED_WITHIN_MM, crossings, doubled
    from horismos.paths.curvature import corners, nodes, tight_turns
    from horismos.paths.nearness import near, ribbons

    contour = _line()
    begun = time.perf_counter()
    chords = chords_of([contour], 0.005)
    pairs = chords.pairs(DOUBLED_WITHIN_MM)
    twice = doubled(chords, pairs)
    crossings(chords, pairs, twice)
    near(chords, [0], 2.0)
    ribbons([contour], 2.0)
    tight_turns(contour, 0.5)
    corners(contour, 120)
    nodes(contour, length(contour), 0.05)
    print(json.dumps(time.perf_counter() - begun))


def buffered(path: Path) -> None:
    """shapely's buffer of the same contour; ``path`` is not used."""
    import shapely

    from horismos.paths import flatten

    polygon = shapely.Polygon(flatten(_line()))
    begun = time.perf_counter()
    shapely.buffer(polygon, 2.0)
    print(json.dumps(time.perf_counter() - begun))


def _memory_mb(pid: int) -> float:
    """What a process and its children hold, in MB, by the kernel's own account of shares."""
    total = 0.0
    for folder in Path("/proc").glob("[0-9]*"):
        try:
            parent = int((folder / "stat").read_text().rsplit(")", 1)[1].split()[1])
            if parent == pid:
                total += _memory_mb(int(folder.name))
        except (OSError, ValueError):
            continue
    try:
        for line in (Path("/proc") / str(pid) / "smaps_rollup").read_text().splitlines():
            if line.startswith("Pss:"):
                total += int(line.split()[1]) / 1024
    except OSError:
        pass
    return total


def run(side: str, path: Path, module: str = "benchmarks.checking") -> tuple[float, float, str]:
    """Seconds, peak MB with children, and what was printed, of one side of a module in a process of its own."""
    begun = time.perf_counter()
    child = subprocess.Popen([sys.executable, "-m", module, side, str(path)], stdout=subprocess.PIPE)
    peak, over = [0.0], threading.Event()

    def watch() -> None:
        while not over.wait(0.05):
            peak[0] = max(peak[0], _memory_mb(child.pid))

    watcher = threading.Thread(target=watch)
    watcher.start()
    said, _ = child.communicate()
    over.set()
    watcher.join()
    if child.returncode:
        raise SystemExit(f"{side} failed")
    return time.perf_counter() - begun, peak[0], said.decode()


def main() -> None:
    """Run all sides and print the ratios."""
    with tempfile.TemporaryDirectory() as folder:
        for name, (wanted, before) in CHECKED.items():
            path = Path(folder) / "page.pdf"
            fill, count = PAGES[name]
            make(path, with_cut(fill), count)
            checked = min((run("check", path) for _ in range(RUNS)), key=lambda r: r[0])
            peer = min((run("plates", path) for _ in range(RUNS)), key=lambda r: r[0])
            print(
                f"{name}: check {checked[0] / peer[0]:.2f} × Ghostscript's plates at 72 dpi "
                f"({checked[0]:.1f} s to {peer[0]:.1f} s), wanted {wanted}, before {before}; "
                f"peak {checked[1]:.0f} MB with children"
            )
        cuts = Path(folder) / "cuts.pdf"
        cuts.write_bytes(many_cuts())
        seconds = min(run("check", cuts)[0] for _ in range(RUNS))
        print(f"{CUTS * CUTS:,} separate cuts: check {seconds:.1f} s, wanted 4, before 25")
        ours = min(float(run("geometry", Path())[2]) for _ in range(RUNS))
        theirs = min(float(run("buffered", Path())[2]) for _ in range(RUNS))
        print(f"{NODES:,} nodes: all line measures {ours:.2f} s, {ours / theirs:.1f} × a shapely buffer, "
              "wanted 2.5, before 3.8")


if __name__ == "__main__":
    if len(sys.argv) == 3:
        {"check": _check, "plates": _plates, "geometry": geometry, "buffered": buffered}[sys.argv[1]](Path(sys.argv[2]))
    else:
        main()
