"""Reading heavy pages against PDFium drawing them at 72 dpi, in one run.

Pages of 3,000, 30,000 and 300,000 curve segments, of 20,000 small texts, of 5,000 nested forms, and one
with an image of 16,000 × 8,000 CMYK pixels, which is inspected and not decoded. Each side runs in a
process of its own, so that the peak memory is its own. Prints ratios: machines are noisy, seconds are
for the curious.
"""

import json
import random
import resource
import subprocess
import sys
import tempfile
import time
import zlib
from collections.abc import Callable
from pathlib import Path
from typing import Any

RUNS = 3
CURVES_A_PATH = 30
IMAGE = (16_000, 8_000)


def _curves(segments: int) -> bytes:
    """Filled outlines of 30 curves each, as a traced picture has them."""
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
    return "\n".join(parts).encode()


def curves(pdf: Any, page: Any, segments: int) -> None:
    """A page of paths."""
    page.Contents = pdf.make_stream(_curves(segments))


def texts(pdf: Any, page: Any, count: int) -> None:
    """A page of small text objects, each with its own position, as a drawing program writes labels."""
    from pikepdf import Dictionary, Name

    rng = random.Random(2)
    page.Resources = Dictionary(Font=Dictionary(F=Dictionary(
        Type=Name.Font, Subtype=Name.Type1, BaseFont=Name.Helvetica)))
    page.Contents = pdf.make_stream("\n".join(
        f"BT /F 6 Tf {rng.uniform(0, 1900):.2f} {rng.uniform(0, 1990):.2f} Td (Seat {i}) Tj ET" for i in range(count)
    ).encode())


def bare_forms(pdf: Any, page: Any, count: int) -> None:
    """Forms drawn inside each other, twenty deep, each painting no more than one small square."""
    _forms(pdf, page, count, lambda rng: f"{rng.uniform(0, 1900):.1f} {rng.uniform(0, 1900):.1f} 20 20 re f")


def forms(pdf: Any, page: Any, count: int) -> None:
    """Forms drawn inside each other, twenty deep, each painting a symbol of 24 curves."""

    def symbol(rng: random.Random) -> str:
        x, y = rng.uniform(0, 1900), rng.uniform(0, 1900)
        turns = (" ".join(f"{at + rng.uniform(-20, 20):.2f}" for at in (x, y) * 3) + " c" for _ in range(24))
        return "\n".join([f"{x:.2f} {y:.2f} m", *turns, "f"])

    _forms(pdf, page, count, symbol)


def _forms(pdf: Any, page: Any, count: int, content: Callable[[random.Random], str]) -> None:
    from pikepdf import Array, Dictionary, Name

    rng = random.Random(3)
    drawn = []
    for chain in range(count // 20):
        inner = None
        for _ in range(20):
            body = f"0.1 0.2 0 0 k {content(rng)}"
            form = pdf.make_stream((f"q 1 0 0 1 1 1 cm /I Do Q\n{body}" if inner is not None else body).encode())
            form.Type, form.Subtype, form.BBox = Name.XObject, Name.Form, Array([0, 0, 2000, 2000])
            if inner is not None:
                form.Resources = Dictionary(XObject=Dictionary(I=inner))
            inner = pdf.make_indirect(form)
        drawn.append((f"C{chain}", inner))
    page.Resources = Dictionary(XObject=Dictionary({f"/{name}": form for name, form in drawn}))
    page.Contents = pdf.make_stream("\n".join(f"/{name} Do" for name, _ in drawn).encode())


def image(pdf: Any, page: Any, count: int) -> None:
    """One large CMYK picture, deflated; ``count`` is ignored."""
    from pikepdf import Dictionary, Name

    width, height = IMAGE
    row = bytes(random.Random(4).randrange(256) for _ in range(width * 4))
    packer = zlib.compressobj(1)
    packed = b"".join([*(packer.compress(row) for _ in range(height)), packer.flush()])
    picture = pdf.make_stream(b"")
    picture.write(packed, filter=Name.FlateDecode)
    picture.Type, picture.Subtype, picture.ColorSpace = Name.XObject, Name.Image, Name.DeviceCMYK
    picture.Width, picture.Height, picture.BitsPerComponent = width, height, 8
    page.Resources = Dictionary(XObject=Dictionary(P=picture))
    page.Contents = pdf.make_stream(b"q 1900 0 0 950 50 50 cm /P Do Q")


PAGES: dict[str, tuple[Callable[[Any, Any, int], None], int]] = {
    "3,000 segments": (curves, 3_000),
    "30,000 segments": (curves, 30_000),
    "300,000 segments": (curves, 300_000),
    "20,000 texts": (texts, 20_000),
    "5,000 nested forms": (forms, 5_000),
    "the same, bare": (bare_forms, 5_000),
    "16,000 × 8,000 CMYK": (image, 1),
}


def make(path: Path, fill: Callable[[Any, Any, int], None], count: int) -> None:
    """Write a page of 2,000 × 2,000 units."""
    import pikepdf

    with pikepdf.new() as pdf:
        pdf.add_blank_page(page_size=(2000, 2000))
        fill(pdf, pdf.pages[0].obj, count)
        pdf.save(path)


def _read(path: Path) -> None:
    from horismos.artwork import read

    assert read(path).pages[0].objects


def _draw(path: Path) -> None:
    import pypdfium2

    pypdfium2.PdfDocument(path)[0].render(scale=1)


def _peak_mb() -> float:
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024


def child(side: str, path: Path) -> None:
    """Run one side a few times and print its best time and its peak memory."""
    work = {"read": _read, "draw": _draw}[side]
    times = []
    for _ in range(RUNS):
        start = time.perf_counter()
        work(path)
        times.append(time.perf_counter() - start)
    print(json.dumps({"s": min(times), "mb": _peak_mb()}))


def main() -> None:
    """Print a row a page."""
    print(f"{'page':>20} {'read s':>8} {'PDFium s':>9} {'ratio':>6} {'read MB':>8} {'PDFium MB':>10} {'ratio':>6}")
    with tempfile.TemporaryDirectory() as folder:
        for name in PAGES:
            path = Path(folder) / "page.pdf"
            subprocess.run([sys.executable, __file__, "make", str(path), name], check=True)
            ours, theirs = (
                json.loads(subprocess.check_output([sys.executable, __file__, side, str(path)]))
                for side in ("read", "draw")
            )
            print(
                f"{name:>20} {ours['s']:8.3f} {theirs['s']:9.3f} {ours['s'] / theirs['s']:6.2f} "
                f"{ours['mb']:8.0f} {theirs['mb']:10.0f} {ours['mb'] / theirs['mb']:6.2f}", flush=True,
            )


if __name__ == "__main__":
    if sys.argv[1:2] == ["make"]:
        make(Path(sys.argv[2]), *PAGES[sys.argv[3]])
    elif len(sys.argv) > 2:
        child(sys.argv[1], Path(sys.argv[2]))
    else:
        main()
