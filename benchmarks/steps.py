"""What each step takes of a machine, for a small, a usual and a large file: processor, memory, bytes in and out.

Each file goes its way in a process of its own, as a child carries its steps out: taken in, checked, mended by itself,
checked again, released, printed by the simulated RIP. With ``--keep`` the figures are written to ``steps.json``, with
which ``day.py`` plays whole days. Beside them stands what Ghostscript takes to make plates of the same file at 72 dpi.
"""

import io
import json
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pikepdf
from PIL import Image

from benchmarks.piling import plain
from horismos.destinations import DEFAULT
from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.roles import LineRole
from horismos.workflow.pile import CustomerHabits
from horismos.workflow.steps import job as steps
from horismos.workflow.steps.calls import packed_answer
from horismos.workflow.steps.stored import Content, StoredCase
from horismos.workflow.take_in import Arrival
from tests.running import ROOT

KEPT = Path(__file__).with_name("steps.json")
SIDES = {"small": 0, "usual": 3_000, "large": 8_000}
"""Pixels of the side of a picture that lies under the art."""
QUALITY = 92


def pictured(side: int) -> bytes:
    """A sticker on a picture of so many pixels, which is noise: nothing packs it smaller."""
    if not side:
        return plain(1)
    chance = np.random.default_rng(side)
    tile = chance.integers(0, 255, (1000, 1000, 4), dtype=np.uint8)
    image = Image.fromarray(np.tile(tile, (side // 1000, side // 1000, 1)), "CMYK")
    out = io.BytesIO()
    image.save(out, "JPEG", quality=QUALITY)
    with pikepdf.open(io.BytesIO(plain(1))) as pdf:
        page = pdf.pages[0]
        stream = pdf.make_stream(out.getvalue())
        stream.update(pikepdf.Dictionary({
            "/Type": pikepdf.Name.XObject, "/Subtype": pikepdf.Name.Image, "/Width": side, "/Height": side,
            "/ColorSpace": pikepdf.Name.DeviceCMYK, "/BitsPerComponent": 8, "/Filter": pikepdf.Name.DCTDecode,
            "/Decode": [1, 0, 1, 0, 1, 0, 1, 0],
        }))
        page.Resources["/XObject"] = pikepdf.Dictionary({"/Im": stream})
        box = [float(v) for v in page.mediabox]
        page.contents_add(f"q {box[2]} 0 0 {box[3]} 0 0 cm /Im Do Q\n".encode(), prepend=True)
        packed = io.BytesIO()
        pdf.save(packed)
    return packed.getvalue()


class Store:
    """Content in a folder, as a child is handed it."""

    def __init__(self, root: Path) -> None:
        self.root = root

    def content(self, data: bytes) -> Content:
        """Keep bytes under their hash."""
        import hashlib

        sha256 = hashlib.sha256(data).hexdigest()
        path = self.root / sha256
        if not path.exists():
            path.write_bytes(data)
        return Content(path, sha256)


def used() -> float:
    """Seconds of the processor so far, of this process and all that it has started."""
    both = [resource.getrusage(who) for who in (resource.RUSAGE_SELF, resource.RUSAGE_CHILDREN)]
    return sum(one.ru_utime + one.ru_stime for one in both)


def measured(found: dict[str, Any], name: str, size: int, step: Callable[[], Any]) -> Any:
    """What a step gives; what it took is noted."""
    began, before = time.perf_counter(), used()
    answer = step()
    took, cpu = time.perf_counter() - began, used() - before
    kept: list[int] = []

    def keep(data: bytes) -> str:
        kept.append(len(data))
        return "00" * 32

    told = len(packed_answer({"done": answer}, keep))
    found[name] = {
        "seconds": round(took, 3), "cpu_s": round(cpu, 3), "read_bytes": size, "stored_bytes": sum(kept),
        "answer_bytes": told,
    }
    return answer


def way(side: int) -> dict[str, Any]:
    """A file's way, step by step."""
    found: dict[str, Any] = {}
    with tempfile.TemporaryDirectory() as name:
        store = Store(Path(name))
        data = pictured(side)
        content, size = store.content(data), len(data)

        def tell(*said: object) -> None:
            """Nobody listens."""

        arrival = Arrival(data=b"", name="sticker.pdf", destination=DEFAULT)
        measured(found, "job:take_in", size, lambda: steps.take_in(content, arrival, 1, tell))
        order = replace(Order(), width_mm=80, height_mm=80, roles=(LineRole.KISS_CUT,), quantity=50)
        case = StoredCase(content=content, order=order, material=next(iter(MATERIALS.values())))
        looked = measured(found, "job:look", size, lambda: steps.look(case, None, None, tell))
        sort = measured(
            found, "job:sort", size, lambda: steps.sort(case, looked["report"], CustomerHabits(), tell)
        )
        if sort is not None:
            case = replace(case, content=store.content(sort["pdf"]))
            measured(found, "job:look again", size, lambda: steps.look(case, content, looked["report"], tell))
        measured(found, "job:release", size, lambda: steps.release(case, [], tell))
        found["peak_mb"] = round(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000)
        found["file_bytes"] = size
        found["plates_alone_s"] = round(_plates_alone(content.path), 3)
    return found


def _plates_alone(path: Path) -> float:
    options = ["-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=tiffsep", "-r72", "-sOutputFile=p.tif"]
    with tempfile.TemporaryDirectory() as here:
        began = time.perf_counter()
        subprocess.run(["gs", *options, str(path)], cwd=here, check=True, stdout=subprocess.DEVNULL)
        return time.perf_counter() - began


def main() -> None:
    """Print the table; ``--keep`` also keeps it."""
    if sys.argv[1:2] == ["way"]:
        print(json.dumps(way(int(sys.argv[2]))))
        return
    out: dict[str, Any] = {}
    for weight, side in SIDES.items():
        command = [sys.executable, "-m", "benchmarks.steps", "way", str(side)]
        done = subprocess.run(command, cwd=ROOT, capture_output=True, text=True, check=True)
        out[weight] = json.loads(done.stdout)
        whole = out[weight]
        print(f"{weight}: {whole['file_bytes'] / 1e6:.1f} MB, at most {whole['peak_mb']} MB of memory, "
              f"plates by Ghostscript alone {whole['plates_alone_s']:.2f} s")
        for name, one in whole.items():
            if isinstance(one, dict):
                print(f"  {name:16} {one['seconds']:7.2f} s {one['cpu_s']:7.2f} s of processor "
                      f"{one['stored_bytes'] / 1e6:8.1f} MB kept {one['answer_bytes'] / 1e3:7.1f} kB told")
    if "--keep" in sys.argv:
        if KEPT.exists():
            out["server"] = json.loads(KEPT.read_text()).get("server")
        KEPT.write_text(json.dumps(out, indent=1) + "\n")


if __name__ == "__main__":
    main()
