"""Small files that held a worker for minutes, or took gigabytes: each is refused in words, or done, within bounds.

What would grow is counted before it is made. Bounds are those of the issue that asked for them, 10 s and 1 GB for the
whole tree of processes; the clock is given three times that here, where other tests run beside.
"""

import threading
import time
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from hashlib import sha256
from pathlib import Path
from typing import Any

import pytest

from horismos.errors import BadValue, CannotRead, HorismosError, LimitExceeded
from horismos.paths import rectangle
from horismos.paths.tangled import crossings_about
from horismos.sandbox.aside import aside, seconds_for
from horismos.sandbox.limits import tree_bytes
from horismos.sandbox.memory import held, tree_of
from horismos.sandbox.pool import Call, Pool
from horismos.workflow.steps.job import Arrival
from horismos.workflow.steps.stored import Content
from tests import hostile
from tests.breadth import WHOLE, breadth

STEPS = "horismos.workflow.steps.job"
MOST_S, MOST_BYTES = 30.0, 1_100_000_000


@pytest.fixture(scope="module")
def pool() -> Iterator[Pool]:
    made = Pool([STEPS], most=1, ready=1)
    made.start()
    yield made
    made.close()


@dataclass
class Watched:
    """What a call took and said."""

    seconds: float
    bytes: int
    said: str


def watched(pool: Pool, data: bytes, name: str, folder: Path) -> Watched:
    """Take a file in, in a child; look all the while at what it and all that it starts hold."""
    content = Content(folder / name, sha256(data).hexdigest())
    content.path.write_bytes(data)
    peak, over = [0], threading.Event()
    assert pool._template is not None
    template = pool._template[0].pid

    def look() -> None:
        while not over.wait(0.25):
            peak[0] = max(peak[0], held(tree_of(template), 0))

    looking = threading.Thread(target=look)
    looking.start()
    began, said = time.monotonic(), ""
    try:
        pool.run(Call(f"{STEPS}:take_in", (content, Arrival(b"", name), 1), key=content.sha256, seconds=120))
    except HorismosError as error:
        said = str(error)
    finally:
        over.set()
        looking.join()
    return Watched(time.monotonic() - began, peak[0], said)


FILES: dict[str, tuple[str, Callable[[], bytes], Callable[[], bytes], str]] = {
    # kind: name, a small one for each run, a large one for --all, what is said
    "pixels": ("a.tif", lambda: hostile.tiff(15_000, 15_000), lambda: hostile.tiff(19_000, 19_000), "MB are the most"),
    "frames": ("a.tif", lambda: hostile.frames(300), lambda: hostile.frames(100_000), "more than 200 pictures"),
    "layers": ("a.pdf", lambda: hostile.layers(5_100), lambda: hostile.layers(100_000), "more than 5,000 layers"),
    "inks": ("a.pdf", lambda: hostile.inks(300), lambda: hostile.inks(100_000), "more than 250 inks"),
    "crossing": ("a.pdf", lambda: hostile.crossing(4_000), lambda: hostile.crossing(1_000_000), "lines cross about"),
    "array": ("a.dxf", hostile.dxf_array, hostile.dxf_array, "more than 200,000 entities"),
    "blocks": ("a.dxf", hostile.dxf_nested, hostile.dxf_nested, "more than 200,000 entities"),
    "strokes": ("a.plt", lambda: hostile.plot(200_001), lambda: hostile.plot(1_000_000), "more than 200,000 strokes"),
    "deep": ("a.pdf", hostile.deep, hostile.deep, "too deeply"),
    "style": ("a.svg", lambda: _style("a" * 300_000), lambda: _style("a" * 1_000_000), ""),
    "selectors": ("a.svg", lambda: _style("a," * 100_000 + "{x:y}"), lambda: _style("a," * 500_000 + "{x:y}"), ""),
    "blanks": ("a.svg", lambda: _style(f".a{{fill:b{' ' * 300_000}}}"), lambda: _style(f".a{{fill:b{' ' * 10**6}"), ""),
    "addresses": ("a.svg", lambda: _style("url(" * 100_000), lambda: _style("url(" * 250_000), ""),
    "filter": ("a.svg", lambda: hostile.svg(hostile.ENDLESS_FILTER), lambda: hostile.svg(hostile.ENDLESS_FILTER),
               "took longer than 8 s"),
    "arrays": ("a.eps", lambda: hostile.ARRAYS, lambda: hostile.ARRAYS, ""),
    "pages": ("a.ps", lambda: hostile.PAGES, lambda: hostile.PAGES, "took longer than 8 s"),
}
SLOW = {"filter", "arrays", "pages"}
"""Those that are only ended by the clock: one of them is tried in each run."""


def _style(text: str) -> bytes:
    return hostile.svg(f"<style>{text}</style>")


@breadth(0.12, "long ones")
@pytest.mark.parametrize("kind", [kind for kind in FILES if WHOLE or kind not in SLOW - {"filter"}])
def test_a_small_file_holds_nobody_up(pool: Pool, tmp_path: Path, kind: str) -> None:
    name, small, large, said = FILES[kind]
    found = watched(pool, (large if WHOLE else small)(), name, tmp_path)
    assert found.seconds < MOST_S and found.bytes < MOST_BYTES, found
    assert said in found.said, found.said


@breadth(0.12, "long ones")
def test_a_picture_that_the_renderer_leaves_out_is_no_picture_that_passes(tmp_path: Path) -> None:
    """390,000,000 by 1 pixels were white on the stage, and the verdict was a look."""
    from horismos.artwork import read_bytes
    from horismos.workflow.analyse import analyse
    from horismos.workflow.case import Case

    report = analyse(Case(artwork=read_bytes(hostile.long_picture(200_000)))).report
    (stop,) = [finding for finding in report.findings if finding.id == "image.undrawn"]
    assert stop.severity == "stop" and stop.measured == 200_000 and "200,000 × 1 pixels" in stop.message
    with pytest.raises(LimitExceeded, match="pixels unpacks to"):
        read_bytes(hostile.long_picture(650_000_000))


# -- what counts ---------------------------------------------------------------------------------------------


def test_crossings_are_estimated_near_to_what_they_are() -> None:
    """A lattice of n by n lines crosses n² times."""
    lines = [rectangle(-1, i, 201, i + 0.4) for i in range(200)] + [rectangle(i, -1, i + 0.4, 201) for i in range(200)]
    assert 400 * 4 < 2_000 and crossings_about(lines) == 0.0, "few segments are no trouble"
    lines = [rectangle(-1, i, 701, i + 0.4) for i in range(700)] + [rectangle(i, -1, i + 0.4, 701) for i in range(700)]
    assert crossings_about(lines) == pytest.approx(4 * 700 * 700, rel=0.15)


def test_large_files_are_given_more_than_small_ones() -> None:
    assert seconds_for(0) == 8.0 and seconds_for(10_000_000) == 38.0 and seconds_for(10**9) == 90.0
    assert tree_bytes(0) == 10**9 and tree_bytes(100_000_000) == 2 * 10**9 and tree_bytes(10**11) == 6 * 10**9


def test_what_cannot_be_stopped_is_done_aside() -> None:
    assert aside(lambda: b"x" * 3_000_000, 20, "It") == b"x" * 3_000_000
    with pytest.raises(LimitExceeded, match="It took longer than 0 s"):
        aside(lambda: time.sleep(30) or b"", 0.2, "It")

    def fails() -> bytes:
        raise ValueError("no such thing")

    with pytest.raises(CannotRead, match="It failed \\(no such thing\\)"):
        aside(fails, 20, "It")


@breadth(0.12, "long ones")
def test_a_child_that_grows_beyond_its_share_is_ended(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("horismos.sandbox.pool.tree_bytes", lambda size: 300_000_000)
    small = Pool(["tests.core.childish"], most=1, ready=0)
    try:
        with pytest.raises(LimitExceeded, match="more memory than a file of its size may: 300 MB"):
            small.run(Call("tests.core.childish:grows", (), seconds=60))
    finally:
        small.close()


@pytest.mark.parametrize(("wanted", "said"), [
    ({"lines": [{"role": "kiss-cut"}, {"role": "through-cut", "weed_mm": 0.1}]}, "Give 1 to 10000"),
    ({"lines": [{"role": "kiss-cut", "fit_mm": 0.0001}]}, "Give 0.001 to 5"),
])
def test_figures_that_would_come_to_too_much_are_refused(wanted: dict[str, Any], said: str) -> None:
    from horismos.making import Make

    with pytest.raises(BadValue, match=said):
        Make.from_json(wanted)


def test_weeding_cuts_and_stitches_are_counted_before_they_are_made() -> None:
    import shapely

    from horismos.making.companion_lines import weeding_cuts
    from horismos.stitching.layers import lay_layers
    from horismos.stitching.plan import plan_stitches
    from horismos.stitching.stack import Stack

    with pytest.raises(BadValue, match="Cuts every 1 mm would be 2,400"):
        weeding_cuts(shapely.box(0, 0, 1200, 1200), shapely.box(9, 9, 20, 20), 1.0)
    stitches = [{"kind": "satin", "width_mm": 30, "spacing_mm": 0.2}] * 8
    stack = Stack.from_json({"layers": [{"fabric": "twill", "stitches": stitches}]})
    laid = lay_layers(shapely.box(0, 0, 1200, 1200), stack)
    with pytest.raises(BadValue, match="stitches; 500,000 are the most"):
        plan_stitches(laid)


@breadth(0.12, "long ones")
def test_content_that_is_gone_is_said_by_the_child_that_gets_no_descriptor(pool: Pool, tmp_path: Path) -> None:
    content = Content(tmp_path / "gone", "0" * 64)
    with pytest.raises(CannotRead, match="missing in the store"):
        pool.run(Call(f"{STEPS}:take_in", (content, Arrival(b"", "a.pdf"), 1), seconds=60))
