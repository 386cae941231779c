"""A file is opened once in a task, and its lines are looked for once. The figures of a task are printed with -s."""

from collections import Counter
from collections.abc import Iterator
from hashlib import sha256
from pathlib import Path

import pikepdf
import pypdfium2
import pytest

from horismos.artwork import lines
from horismos.mending import step_from
from horismos.workflow import analyse, mend
from horismos.workflow.steps import job as job_steps
from horismos.workflow.steps import stored
from horismos.workflow.steps.stored import Content, StoredCase
from horismos.workflow.take_in import Arrival
from tests.breadth import breadth
from tests.shapes import Drawing, circle, line_in, write

MISS = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"}))


@pytest.fixture()
def counted(monkeypatch: pytest.MonkeyPatch) -> Iterator[Counter[str]]:
    """How often a PDF was opened, by whom, and how often the lines of a page were looked for."""
    counts: Counter[str] = Counter()
    opened, drawn, found = pikepdf.open, pypdfium2.PdfDocument.__init__, lines._found

    def count(what: str, call):  # type: ignore[no-untyped-def]
        def counting(*args, **options):  # type: ignore[no-untyped-def]
            counts[what] += 1
            return call(*args, **options)

        return counting

    monkeypatch.setattr(pikepdf, "open", count("opened to be read", opened))
    monkeypatch.setattr(pypdfium2.PdfDocument, "__init__", count("opened to be drawn", drawn))
    monkeypatch.setattr(lines, "_found", count("passes over lines", found))
    for room in (analyse, mend):
        monkeypatch.setattr(room, "check_whole", count("checks", room.check_whole))
    stored._artworks.clear()
    yield counts
    print(dict(counts))


@pytest.fixture()
def original(tmp_path: Path) -> Content:
    return kept(tmp_path, MISS)


def kept(folder: Path, data: bytes) -> Content:
    content = Content(folder / "kept", sha256(data).hexdigest())
    content.path.write_bytes(data)
    return content


def quiet(share: float, what: str) -> None:
    """Nobody listens."""


def take_in(content: Content) -> dict:  # type: ignore[type-arg]
    """Take in and look, as the worker has one child do one after the other."""
    job_steps.take_in(content, Arrival(b"", "seal.pdf"), 1, tell=quiet)
    return job_steps.look(StoredCase(content=content), None, None, tell=quiet)


def test_taking_a_file_in_opens_it_once_to_read_it(original: Content, counted: Counter[str]) -> None:
    found = take_in(original)
    assert found["report"]["verdict"] == "stop"
    assert counted["passes over lines"] <= 2
    assert counted["opened to be read"] == 3, "to be read, to part art from lines, for the colours of its inks"
    assert counted["opened to be drawn"] <= 3, "art for the order, art for the check, the colours of the inks"


def test_looking_at_it_again_opens_nothing_to_read(original: Content, counted: Counter[str]) -> None:
    before = take_in(original)
    counted.clear()
    after = job_steps.look(StoredCase(content=original), original, before["report"], tell=quiet)
    assert after["report"]["carried"] and after["plates"] is None
    assert counted["passes over lines"] == 0 and counted["opened to be read"] == 0


@breadth(0.12, "long ones")
def test_a_mend_reads_the_new_file_once_and_the_old_one_not_again(
    original: Content, counted: Counter[str], tmp_path: Path
) -> None:
    before = take_in(original)
    counted.clear()
    offered = before["cards"][0]["mends"][0]
    step = step_from({"mend": offered["kind"], **offered["settings"]})
    done = job_steps.mend(StoredCase(content=original), step, before["report"], [], tell=quiet)
    (tmp_path / "after").mkdir()
    mended = kept(tmp_path / "after", done["pdf"])
    after = job_steps.look(StoredCase(content=mended), original, before["report"], tell=quiet)
    assert after["report"]["verdict"] != "stop" and counted["checks"] == 1, "what the mend was proved by is looked at"
    assert counted["passes over lines"] <= 2
    # to write the new one and to read it; the art, the inks and the pixels of both
    assert counted["opened to be read"] <= 8
    again = job_steps.look(StoredCase(content=mended), original, before["report"], tell=quiet)
    assert counted["checks"] == 2, "it holds for the one look that follows"
    assert again["report"] == after["report"] and again["cards"] == after["cards"]
    assert again["plates"]["array"] == after["plates"]["array"] and again["edges"] == after["edges"]
