"""Files of every kind, cut off, flipped, and with parts of others in them: taken, asked about, or refused in words.

The budget is fixed. The seed comes from the code itself, so that each change meets other accidents, and the same
change the same ones; it is printed. ``HORISMOS_SEED`` gives another, ``HORISMOS_FUZZ`` another budget.
"""

import io
import os
import random
from collections.abc import Callable, Iterator
from hashlib import sha256
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from PIL import Image

from horismos.errors import HorismosError
from horismos.intake import Answers
from horismos.sandbox.limits import Limits
from horismos.sandbox.pool import Call, Pool
from horismos.workflow.steps.stored import Content
from horismos.workflow.take_in import Arrival
from tests import hostile
from tests.breadth import breadth

pytestmark = breadth(0.2)

ROOT = Path(__file__).resolve().parents[2]
CODE = b"".join(file.read_bytes() for file in sorted((ROOT / "src/horismos").rglob("*.py")))
SEED = int(os.environ.get("HORISMOS_SEED") or int(sha256(CODE).hexdigest()[:6], 16))
BUDGET = int(os.environ.get("HORISMOS_FUZZ") or 30)
DATA = ROOT / "tests/data"
ANSWERS = Answers(
    width_mm=40, unit="mm", pages=(1,), binding={f"pen:{n}": "kiss-cut" for n in range(9)} | {"layer:0": "kiss-cut"},
)


def _picture(kind: str, **options: object) -> bytes:
    out = io.BytesIO()
    Image.fromarray(np.random.default_rng(1).integers(0, 255, (24, 30, 3), np.uint8)).save(out, kind, **options)
    return out.getvalue()


def _dxf() -> bytes:
    document, out = ezdxf.new(), io.StringIO()
    document.modelspace().add_circle((5, 5), 4)
    document.modelspace().add_spline([(0, 0), (5, 3), (9, 0)])
    document.write(out)
    return out.getvalue().encode()


KINDS: dict[str, Callable[[], bytes]] = {
    "a.pdf": hostile.sound, "a.svg": lambda: (DATA / "swan.svg").read_bytes(), "a.png": lambda: _picture("png"),
    "a.jpg": lambda: _picture("jpeg"), "a.tif": lambda: _picture("tiff", compression="tiff_lzw"), "a.dxf": _dxf,
    "a.plt": lambda: b"IN;SP1;PU0,0;PD400,0,400,400,0,400,0,0;SP2;PA200,200;CI80;PE<=ABCD;",
    "a.eps": lambda: b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 90 90\n0 0 50 50 rectfill 9 9 moveto (a) show\n",
}


@pytest.fixture(scope="module")
def pool() -> Iterator[Pool]:
    made = Pool(["horismos.workflow.steps.job"], most=2, limits=Limits(memory_bytes=2_500_000_000))
    yield made
    made.close()


def spoilt(data: bytes, other: bytes, chance: random.Random) -> bytes:
    """A file after one to four accidents."""
    out = bytearray(data)
    for _ in range(chance.randint(1, 4)):
        at, size = chance.randrange(len(out) + 1), chance.randint(1, 60)
        what = chance.randrange(6)
        if what == 0:
            del out[at:]
        elif what == 1:
            del out[at : at + size]
        elif what == 2 and out:
            out[min(at, len(out) - 1)] ^= 1 << chance.randrange(8)
        elif what == 3:
            out[at:at] = out[at : at + size] * chance.choice([1, 2, 500])
        elif what == 4:
            start = chance.randrange(len(other))
            out[at:at] = other[start : start + size]
        else:
            out[at : at + 4] = chance.choice([b"\xff\xff\xff\xff", b"\0\0\0\0", b"99999999999", b"-1e999", b"\x7f\xff"])
    return bytes(out)


@pytest.mark.parametrize("name", KINDS)
def test_whatever_happens_to_a_file_it_is_taken_or_refused_in_words(pool: Pool, tmp_path: Path, name: str) -> None:
    print("seed", SEED)
    chance = random.Random(f"{SEED} {name}")
    data, others = KINDS[name](), [make() for make in KINDS.values()]
    for turn in range(BUDGET if name != "a.svg" else BUDGET // 3):
        file = spoilt(data, chance.choice(others), chance)
        content = Content(tmp_path / "file", sha256(file).hexdigest())
        content.path.write_bytes(file)
        call = Call("horismos.workflow.steps.job:take_in", (content, Arrival(b"", name, ANSWERS), 1), f"{turn}", 60.0)
        try:
            assert pool.run(call)["sha256"]
        except HorismosError as error:
            assert error.message, f"seed {SEED}"
