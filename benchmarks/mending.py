"""Mends of a file of 300 MB of pictures against Ghostscript rewriting it, in one run; and their memory.

Wanted: at most 1 GB with child processes; a mend that only touches names, layers or lines in 0.3 times Ghostscript's
time, one that touches all pictures in 1.5 times. A mend is reading, doing, and proving on the two files. Each side
runs in a process of its own. Prints ratios: machines are noisy, seconds are for the curious.
"""

import subprocess
import sys
import tempfile
import zlib
from pathlib import Path
from typing import Any

import numpy as np

from benchmarks.checking import run

PICTURES, WIDE, HIGH = 6, 5000, 2500
LIGHT = {"rename": {"ink": "Kis Cut", "to": "Kiss Cut"}, "hairline": {}, "overprint": {}, "sort-layers": {}}
HEAVY: dict[str, dict[str, Any]] = {"to-cmyk": {}, "limit-ink": {}, "resample": {"ppi": 72}}
RUNS = 2


def make(path: Path, additive: bool) -> None:
    """A page of pictures that cannot be packed, with a kiss cut that is called and painted wrongly."""
    import pikepdf
    from pikepdf import Array, Dictionary, Name

    rng = np.random.default_rng(1)
    depth = 3 if additive else 4
    width = WIDE * 4 // depth
    with pikepdf.new() as pdf:
        pdf.add_blank_page(page_size=(3000, 2400))
        page = pdf.pages[0].obj
        pictures = Dictionary()
        parts = []
        for i in range(PICTURES):
            samples = rng.integers(0, 256, (HIGH, width, depth), np.uint8)
            image = pdf.make_stream(zlib.compress(samples.tobytes(), 1))
            image.Type, image.Subtype, image.Filter = Name.XObject, Name.Image, Name.FlateDecode
            image.Width, image.Height, image.BitsPerComponent = width, HIGH, 8
            image.ColorSpace = Name.DeviceRGB if additive else Name.DeviceCMYK
            pictures[f"/P{i}"] = image
            parts.append(f"q 980 0 0 1180 {10 + i % 3 * 1000} {10 + i // 3 * 1200} cm /P{i} Do Q")
        tint = Dictionary(FunctionType=2, Domain=[0, 1], C0=[0, 0, 0, 0], C1=[0, 1, 0, 0], N=1)
        space = Array([Name.Separation, Name("/Kis Cut"), Name.DeviceCMYK, tint])
        page.Resources = Dictionary(XObject=pictures, ColorSpace=Dictionary(K=space))
        parts.append("/K CS 1 SCN 3 w 60 60 2880 2280 re S")
        page.Contents = pdf.make_stream("\n".join(parts).encode())
        page.TrimBox = Array([50, 50, 2950, 2350])
        pdf.save(path)


def one(name: str, path: Path) -> None:
    """Read, mend and prove."""
    from horismos.artwork import read
    from horismos.destinations import DEFAULT
    from horismos.mending import mend, step

    mend(read(path), step(name, **{**LIGHT, **HEAVY}[name]), DEFAULT)


def rewritten(path: Path) -> None:
    """Ghostscript writing the same file anew."""
    with tempfile.TemporaryDirectory() as folder:
        subprocess.run(
            ["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=pdfwrite", "-sOutputFile=out.pdf",
             str(path.resolve())], cwd=folder, check=True,
        )


def main() -> None:
    """Run all sides and print the ratios."""
    with tempfile.TemporaryDirectory() as folder:
        for additive, names, wanted in ((False, LIGHT, 0.3), (False, ["limit-ink", "resample"], 1.5),
                                        (True, ["to-cmyk"], 1.5)):
            path = Path(folder) / f"{additive}.pdf"
            if not path.exists():
                make(path, additive)
            peer = min(run("rewritten", path, "benchmarks.mending")[0] for _ in range(RUNS))
            for name in names:
                ours = min((run(name, path, "benchmarks.mending") for _ in range(RUNS)), key=lambda r: r[0])
                print(
                    f"{path.stat().st_size / 1e6:.0f} MB, {name}: {ours[0] / peer:.2f} × Ghostscript rewriting it "
                    f"({ours[0]:.1f} s to {peer:.1f} s), wanted {wanted}; peak {ours[1]:.0f} MB with children, "
                    "wanted 1000", flush=True,
                )


if __name__ == "__main__":
    if len(sys.argv) == 3:
        if sys.argv[1] == "rewritten":
            rewritten(Path(sys.argv[2]))
        else:
            one(sys.argv[1], Path(sys.argv[2]))
    else:
        main()
