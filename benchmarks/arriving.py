"""How long a person waits for a small file: on the stage, for the verdict, and in the shell.

A shop is started, warmed with one file, and left idle; then files are dropped as the Desk drops them and asked
after as the page asks. Wanted: on the stage within 0.5 s, the verdict within 1.0 s for a plain PDF and 2.0 s for
an SVG; `inspect` in 0.6 s and `check` of a plain PDF in 1.2 s. Seconds depend on the machine: beside them stands
what Ghostscript takes to make plates of the same plain PDF, in the same run.
"""

import json
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from demo import draw
from tests.hostile import sound
from tests.running import ROOT, Shop

RUNS = 5
ASKS_EVERY_S = 0.09
"""As the page does while something new is under way."""
WANTED = {".pdf": 1.0, ".svg": 2.0}
BEFORE = {".pdf": "0.9 to 1.6", ".svg": "5.8 to 8.5"}
"""Seconds to the verdict before this was asked for; the art came with the verdict."""


def dropped(shop: Shop, name: str, data: bytes) -> tuple[float, float]:
    """Seconds from the drop to a picture of the art, and to the verdict."""
    began = time.perf_counter()
    job = shop.send(name, data)
    drawn = 0.0
    while True:
        found = shop.ask("GET", f"/api/jobs/{job}")
        if not drawn and found["seen"]:
            box = dict(zip(("x0", "y0", "x1", "y1"), found["seen"]["media_box_mm"], strict=True))
            wide = max(box["x1"] - box["x0"], box["y1"] - box["y0"])
            query = "&".join(f"{key}={value}" for key, value in box.items())
            assert shop.fetch(f"/api/jobs/{job}/picture?{query}&ppi={800 / wide * 25.4}").startswith(b"\x89PNG")
            drawn = time.perf_counter() - began
        if found["verdict"] and found["current"]:
            return drawn, time.perf_counter() - began
        if found["questions"]:
            answers = {"version": found["version"], "width_mm": 120}
            shop.ask("POST", f"/api/jobs/{job}/answers", json.dumps(answers).encode())
            began = time.perf_counter()
        time.sleep(ASKS_EVERY_S)


def in_shell(*arguments: str) -> float:
    """Seconds that a command takes as a whole; the least of several."""
    return min(_timed([sys.executable, "-m", "horismos", *arguments]) for _ in range(RUNS))


def _timed(command: list[str], cwd: Path = ROOT) -> float:
    began = time.perf_counter()
    subprocess.run(command, cwd=cwd, stdout=subprocess.DEVNULL, check=False)
    return time.perf_counter() - began


def plates_alone(path: Path) -> float:
    """Seconds that Ghostscript takes for the plates of a file at 72 dpi; the least of several."""
    options = ["-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=tiffsep", "-r72", "-sOutputFile=p.tif"]
    command = ["gs", *options, str(path)]
    with tempfile.TemporaryDirectory() as folder:
        return min(_timed(command, Path(folder)) for _ in range(RUNS))


def main() -> None:
    """Print the table."""
    with tempfile.TemporaryDirectory() as folder:
        here = Path(folder)
        plain = here / "plain.pdf"
        plain.write_bytes(sound())
        shop = Shop(here / "var", workers=1)
        try:
            dropped(shop, "warm.pdf", sound() + b"%warm")
            files = {"plain.pdf": sound(), "wader.pdf": draw.wader_trail()}
            files |= {path.name: path.read_bytes() for path in sorted((ROOT / "tests" / "data").glob("*.svg"))}
            files |= {path.name: path.read_bytes() for path in map(Path, sys.argv[1:])}
            print(f"{'dropped':20} stage s  verdict s  (median of {RUNS})")
            for name, data in files.items():
                times = []
                for i in range(RUNS):
                    end = b"%" if name.endswith("pdf") else b"<!-- "
                    unlike = data + end + str(i).encode() + (b"" if name.endswith("pdf") else b" -->")
                    times.append(dropped(shop, name, unlike))
                    time.sleep(0.5)
                stage, verdict = (statistics.median(column) for column in zip(*times, strict=True))
                late = stage > 0.5 or verdict > WANTED[Path(name).suffix]
                before = BEFORE[Path(name).suffix] + (", LATE" if late else "")
                print(f"{name:20} {stage:7.2f}  {verdict:9.2f}  before {before}")
        finally:
            shop.close()
        peer = plates_alone(plain)
        for words, seconds, wanted in (
            ("inspect", in_shell("inspect", str(plain)), 0.6), ("check", in_shell("check", str(plain)), 1.2),
        ):
            ratio = f"{seconds / peer:.1f} x Ghostscript's plates ({peer:.2f} s)"
            print(f"{words:20} {seconds:7.2f}  wanted {wanted}, {ratio}")


if __name__ == "__main__":
    main()
