"""Lines from art beside peers: scikit-image's raw contours of a large picture, shapely's buffer of a long contour.

Peers: scikit-image 0.26, skimage.measure.find_contours; shapely 2, buffer. Each in a process of its own, so that
memory is told apart; ratios within one run, since machines differ.
"""

import resource
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

SIDE_PX = 12_000
VERTICES = 100_000
RUNS = 2
OUTLINED_PX = 2_400
PX_MM = 25.4 / 300


def picture(path: Path) -> None:
    """The alpha of a wavy shape, with anti-aliasing."""
    out = np.empty((SIDE_PX, SIDE_PX), np.uint8)
    x = np.arange(SIDE_PX, dtype=np.float32) - SIDE_PX / 2
    for row in range(SIDE_PX):
        y = row - SIDE_PX / 2
        angle = np.arctan2(y, x)
        radius = 0.375 * SIDE_PX + 0.058 * SIDE_PX * np.sin(5 * angle) + 0.0125 * SIDE_PX * np.sin(23 * angle)
        out[row] = np.clip(radius - np.hypot(x, y) + 0.5, 0, 1) * 255
    np.save(path, out)


def ours(path: Path) -> float:
    """How long the clean outline takes, in curves."""
    from horismos.making.tracing import Field, traced

    alpha = np.load(path)
    began = time.perf_counter()
    traced(Field(alpha, 255.0, (PX_MM, 0, 0, -PX_MM, 0, SIDE_PX * PX_MM)), 0.5, 0.02, 1.0)
    return time.perf_counter() - began


def raw(path: Path) -> float:
    """How long the raw contours take, as the peer finds them."""
    from skimage.measure import find_contours

    alpha = np.load(path)
    began = time.perf_counter()
    find_contours(alpha, 127.5)  # type: ignore[no-untyped-call]
    return time.perf_counter() - began


def offsets() -> None:
    """A contour of many vertices, moved by 3 mm, in curves; beside shapely's buffer of the same."""
    import shapely

    from horismos.paths import contour_from_points, flatten
    from horismos.paths.areas import area_of
    from horismos.paths.offset import buffered, curves_round

    angle = np.linspace(0, 2 * np.pi, VERTICES, endpoint=False)
    radius = 300 + 20 * np.sin(40 * angle) + 3 * np.sin(900 * angle)
    contour = contour_from_points(radius[:, None] * np.column_stack([np.cos(angle), np.sin(angle)]), True)
    area = shapely.Polygon(flatten(contour))
    best = [np.inf, np.inf]
    for _ in range(5):
        began = time.perf_counter()
        area.buffer(3, quad_segs=64)
        best[0] = min(best[0], time.perf_counter() - began)
        began = time.perf_counter()
        made = curves_round(buffered(area_of([contour], 0.004), 3, "round", 0.004), 0.02)
        best[1] = min(best[1], time.perf_counter() - began)
    print(f"offset of {VERTICES:,} vertices, {made[0].node_count} nodes: {best[1] / best[0]:.2f} × shapely's buffer, "
          "wanted 2")


def outlines() -> None:
    """Outlines of 2,400 px beside potrace's: nodes, and seconds of the whole way from a clear picture to curves."""
    from horismos.making.tracing import Field, traced

    turn = np.linspace(0, 2 * np.pi, 240, endpoint=False)
    spiky = np.where(np.arange(240) % 2, 0.28, 0.46) * (1 - 0.08 * np.random.default_rng(3).random(240))
    fine = np.linspace(0, 2 * np.pi, 4_000, endpoint=False)
    smooth = 0.35 + 0.06 * np.cos(7 * fine) + 0.03 * np.sin(23 * fine)
    for name, at, reach in (("spiky", turn, spiky), ("smooth", fine, smooth)):
        alpha = _drawn(at, reach * OUTLINED_PX)
        began = time.perf_counter()
        curves = traced(Field(alpha, 255.0, (PX_MM, 0, 0, -PX_MM, 0, OUTLINED_PX * PX_MM)), 0.5, 0.01, 1.0)
        seconds = time.perf_counter() - began
        nodes, peer_s = _potrace(alpha)
        print(f"{name} outline of {OUTLINED_PX:,} px: {sum(c.node_count for c in curves)} nodes, potrace's {nodes}; "
              f"{seconds:.2f} s, {seconds / peer_s:.0f} × potrace; wanted no more nodes, and 1 s")


def _drawn(at: np.ndarray, reach: np.ndarray) -> np.ndarray:
    """How opaque a closed shape is, as a renderer that is not ours draws it."""
    import io

    import resvg_py
    from PIL import Image

    points = OUTLINED_PX / 2 + reach[:, None] * np.column_stack([np.cos(at), np.sin(at)])
    path = "M" + "L".join(f"{x:.3f} {y:.3f}" for x, y in points)
    side = f'width="{OUTLINED_PX}" height="{OUTLINED_PX}"'
    svg = f'<svg xmlns="http://www.w3.org/2000/svg" {side}><path d="{path}Z"/></svg>'
    drawn = resvg_py.svg_to_bytes(svg_string=svg)
    with Image.open(io.BytesIO(bytes(drawn))) as image:
        return np.asarray(image)[:, :, 3]


def _potrace(alpha: np.ndarray) -> tuple[int, float]:
    """Segments that potrace makes of a picture, and its seconds."""
    import re

    from PIL import Image

    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder, "a.pbm")
        Image.fromarray(np.where(alpha > 127, 0, 255).astype(np.uint8)).convert("1").save(path)
        began = time.perf_counter()
        made = subprocess.run(["potrace", "-s", "-o", "-", path], capture_output=True, text=True, check=True).stdout
        seconds = time.perf_counter() - began
    nodes = 0
    for command, numbers in re.findall(r"([clCL])([^a-zA-Z]*)", "".join(re.findall(r' d="([^"]*)"', made))):
        nodes += len(re.findall(r"-?[\d.]+", numbers)) // (6 if command in "cC" else 2)
    return nodes, seconds


def timed(side: str, path: Path) -> tuple[float, float]:
    """Seconds and peak MB of one side in a process of its own, without what starting Python takes."""
    told = subprocess.run(
        [sys.executable, "-m", "benchmarks.making", side, str(path)], check=True, capture_output=True, text=True
    ).stdout.split()
    return float(told[0]), float(told[1])


def main() -> None:
    """Run all sides and print the ratios."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "alpha.npy"
        picture(path)
        peer = min(timed("raw", path) for _ in range(RUNS))
        own = min(timed("ours", path) for _ in range(RUNS))
    print(
        f"outline of {SIDE_PX:,} × {SIDE_PX:,} px: {own[0] / peer[0]:.2f} × scikit-image's raw contours "
        f"({own[0]:.1f} s to {peer[0]:.1f} s), wanted 3; peak {own[1]:.0f} MB to {peer[1]:.0f} MB, wanted 1500",
        flush=True,
    )
    offsets()
    outlines()


if __name__ == "__main__":
    if len(sys.argv) == 3:
        seconds = {"raw": raw, "ours": ours}[sys.argv[1]](Path(sys.argv[2]))
        print(seconds, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000)
    else:
        main()
