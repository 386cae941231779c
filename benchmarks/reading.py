"""Reading a page of 300,000 curve segments against PDFium drawing it at 72 dpi, in one run.

Each side runs in a process of its own, so that the peak memory is its own. Prints ratios: machines
are noisy, seconds are for the curious.
"""

import json
import random
import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

SEGMENTS = (3_000, 30_000, 300_000)
RUNS = 3
CURVES_A_PATH = 30


def make(path: Path, segments: int) -> None:
    """A page of filled outlines of 30 curves each, as a traced picture has them."""
    import pikepdf

    rng = random.Random(1)
    parts = []
    for _ in range(segments // CURVES_A_PATH):
        x, y = rng.uniform(100, 1900), rng.uniform(100, 1900)
        parts.append(f"{rng.random():.3f} {rng.random():.3f} 0 0 k {x:.3f} {y:.3f} m")
        for _ in range(CURVES_A_PATH):
            near = [(x, y)[i % 2] + rng.uniform(-30, 30) for i in range(6)]
            parts.append(" ".join(f"{v:.3f}" for v in near) + " c")
            x, y = near[4], near[5]
        parts.append("h f")
    with pikepdf.new() as pdf:
        pdf.add_blank_page(page_size=(2000, 2000))
        pdf.pages[0].Contents = pdf.make_stream("\n".join(parts).encode())
        pdf.save(path)


def _read(path: Path) -> None:
    from horismos.artwork import read

    assert read(path).pages[0].objects


def _draw(path: Path) -> None:
    import pypdfium2

    pypdfium2.PdfDocument(path)[0].render(scale=1)


def child(side: str, path: Path) -> None:
    """Run one side a few times and print its best time and its peak memory."""
    work = {"read": _read, "draw": _draw}[side]
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        work(path)
        times.append(time.perf_counter() - start)
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(json.dumps({"s": min(times), "mb": peak}))


def main() -> None:
    """Print a row a size."""
    print(f"{'segments':>9} {'read s':>8} {'PDFium s':>9} {'ratio':>6} {'read MB':>8} {'PDFium MB':>10} {'ratio':>6}")
    with tempfile.TemporaryDirectory() as folder:
        for segments in SEGMENTS:
            path = Path(folder) / "page.pdf"
            make(path, segments)
            ours, theirs = (
                json.loads(subprocess.check_output([sys.executable, __file__, side, str(path)]))
                for side in ("read", "draw")
            )
            print(
                f"{segments:>9} {ours['s']:8.3f} {theirs['s']:9.3f} {ours['s'] / theirs['s']:6.2f} "
                f"{ours['mb']:8.0f} {theirs['mb']:10.0f} {ours['mb'] / theirs['mb']:6.2f}"
            )


if __name__ == "__main__":
    if len(sys.argv) > 2:
        child(sys.argv[1], Path(sys.argv[2]))
    else:
        main()
