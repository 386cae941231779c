"""What a pile of plain files costs: processor time a file, and how busy two workers keep two cores.

Sixty files are written, as many kinds of small faults among them as are mended by themselves, and sorted by one worker
and by two. Wanted: at most 1.0 s of processor time a file (median), and 85 % of two cores with two workers. Beside them
stands what Ghostscript takes to make plates of the same files at 72 dpi, one after the other, in the same run.
"""

import json
import os
import resource
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from tests.running import ROOT
from tests.shapes import Drawing, circle, line_in, write

COUNT = 60
GROUND = "1 0 0 0 k 5 5 90 90 re f\n"
SHOP = {"order": {"roles": ["kiss-cut"]}, "customers": {}}


def plain(number: int) -> bytes:
    """A sticker, each a little otherwise: clean, a name that is nearly right, a wide line, one that knocks out."""
    ring = circle(50, 50, 40 - number / 100)
    lines = [
        line_in(ring), line_in(ring), line_in(ring, width=0.5), line_in(ring).replace("/Over gs ", ""),
    ]
    inks = {"K": "Kiss-Cut"} if number % 4 == 1 else {"K": "Kiss Cut"}
    return write(Drawing(GROUND + lines[number % 4], inks=inks))


def sorted_by(workers: int, folder: Path, out: Path, shop: Path) -> tuple[float, float, list[float]]:
    """Seconds of the clock, of processor time in all, and of each file."""
    before, began = resource.getrusage(resource.RUSAGE_CHILDREN), time.perf_counter()
    command = [sys.executable, "-m", "horismos", "pile", str(folder), "--shop", str(shop), "--out", str(out)]
    done = subprocess.run([*command, "--workers", str(workers), "--json"], cwd=ROOT, capture_output=True, check=False)
    took, after = time.perf_counter() - began, resource.getrusage(resource.RUSAGE_CHILDREN)
    said = json.loads(done.stdout)
    assert said["states"]["ready"] == COUNT, said["states"]
    used = after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime
    return took, used, [one["seconds"] for one in said["files"]]


def plates_alone(folder: Path) -> float:
    """Seconds that Ghostscript takes for the plates of all files, one after the other."""
    options = ["-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=tiffsep", "-r72", "-sOutputFile=p.tif"]
    began = time.perf_counter()
    with tempfile.TemporaryDirectory() as here:
        for path in sorted(folder.iterdir()):
            subprocess.run(["gs", *options, str(path)], cwd=here, check=True, stdout=subprocess.DEVNULL)
    return time.perf_counter() - began


def main() -> None:
    """Print the table."""
    with tempfile.TemporaryDirectory() as name:
        here = Path(name)
        folder, shop = here / "in", here / "shop.json"
        folder.mkdir()
        shop.write_text(json.dumps(SHOP))
        for number in range(COUNT):
            (folder / f"sticker-{number:02}.pdf").write_bytes(plain(number))
        peer = plates_alone(folder)
        print(f"plates by Ghostscript alone: {peer / COUNT:.2f} s a file")
        for workers in (1, 2):
            took, used, each = sorted_by(workers, folder, here / f"out{workers}", shop)
            busy = used / took / min(workers, os.cpu_count() or 1)
            print(
                f"{workers} worker{'s' if workers > 1 else ''}: {took:.1f} s in all, {used / COUNT:.2f} s of processor "
                f"time a file ({used / peer:.1f} times the plates), median {statistics.median(each):.2f} s from begin "
                f"to end, {100 * busy:.0f} % of {workers} core{'s' if workers > 1 else ''}"
            )


if __name__ == "__main__":
    main()
