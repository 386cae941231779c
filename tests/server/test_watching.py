"""Watched folders: what has stopped growing is taken in and moved, once, whatever happens on the way."""

import os
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest
from jobs import models
from jobs.store import arriving
from shop.watching import Watcher
from worker.loop import run_all

from tests.breadth import breadth
from tests.server.conftest import Person
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.25, "watched folders")]
JSON = "application/json"


def art(number: int = 0) -> bytes:
    return write(Drawing("1 0 0 0 k 5 5 90 90 re f\n" + line_in(circle(50, 50, 40 - number / 100))))


@pytest.fixture()
def watched(shop: Person, tmp_path: Path) -> tuple[Path, Watcher]:
    """A folder for Ferry Works, and who looks at it; what has not changed since the last look has stopped growing."""
    data = {"folder": "ferry", "customer": "Ferry Works"}
    made = shop.post("/api/shelf/things", {"kind": "watched", "title": "Ferry", "data": data}, content_type=JSON)
    assert made.status_code == 200, made.json()
    watcher = Watcher(tmp_path / "watched", still_s=0)
    watcher.look()
    return tmp_path / "watched" / "ferry", watcher


def looked(watcher: Watcher, times: int = 2) -> int:
    count = sum(watcher.look() for _ in range(times))
    run_all()
    return count


def names(folder: Path) -> list[str]:
    return sorted(path.name for path in folder.iterdir()) if folder.is_dir() else []


def test_what_is_put_there_is_taken_in_for_its_customer_and_moved(watched: tuple[Path, Watcher], shop: Person) -> None:
    folder, watcher = watched
    assert folder.is_dir(), "it is made where it is not there"
    (folder / "seal.pdf").write_bytes(art())
    (folder / "words.txt").write_text("Please print this.")
    (folder / ".hidden.pdf").write_bytes(art(1))
    (folder / "link.pdf").symlink_to(folder / "seal.pdf")
    (folder / "deep").mkdir()
    os.mkfifo(folder / "pipe.pdf")
    assert looked(watcher) == 2
    (job,) = shop.get("/api/jobs").json()
    assert (job["name"], job["customer"], job["verdict"]) == ("seal", "Ferry Works", "clean")
    assert names(folder / "taken") == ["seal.pdf"] and names(folder / "not taken") == ["words.txt", "words.txt.txt"]
    assert "no kind of file" in (folder / "not taken" / "words.txt.txt").read_text()
    assert names(folder) == [".hidden.pdf", "deep", "link.pdf", "not taken", "pipe.pdf", "taken"]
    assert any("from the folder “Ferry”" in one["what"] for one in shop.get(f"/api/jobs/{job['id']}").json()["log"])
    assert looked(watcher) == 0


def test_a_file_that_still_grows_waits(watched: tuple[Path, Watcher]) -> None:
    folder, watcher = watched
    data = art()
    for share in (0.2, 0.5, 1.0):
        (folder / "seal.pdf").write_bytes(data[: int(len(data) * share)])
        assert watcher.look() == 0, "it has just changed"
    (folder / "gone.pdf").write_bytes(art(2))
    watcher.look()
    assert models.Job.objects.count() == 1 and names(folder / "taken") == ["seal.pdf"]
    (folder / "gone.pdf").unlink()
    assert looked(watcher) == 0, "what vanishes is nobody's loss"


def test_what_changes_while_it_is_read_waits(watched: tuple[Path, Watcher], monkeypatch: pytest.MonkeyPatch) -> None:
    folder, watcher = watched
    path = folder / "seal.pdf"
    path.write_bytes(art())
    watcher.look()
    real = os.fstat
    grown: list[int] = []

    def growing(number: int) -> Any:
        if not grown and os.readlink(f"/proc/self/fd/{number}") == str(path):
            grown.append(number)
            with path.open("ab") as more:
                more.write(b"%more\n")
        return real(number)

    monkeypatch.setattr("shop.watching.os.fstat", growing)
    assert watcher.look() == 0 and grown and not models.Job.objects.exists() and names(folder) == ["seal.pdf"]
    assert looked(watcher) == 1 and models.Job.objects.count() == 1


@pytest.mark.parametrize("where", ["before", "after"])
def test_what_is_cut_short_is_neither_lost_nor_comes_twice(
    watched: tuple[Path, Watcher], monkeypatch: pytest.MonkeyPatch, where: str
) -> None:
    folder, watcher = watched
    (folder / "seal.pdf").write_bytes(art())
    watcher.look()
    real: Callable[..., Any] = arriving.arrive

    def killed(*args: Any, **more: Any) -> Any:
        if where == "after":
            real(*args, **more)
        raise KeyboardInterrupt

    with monkeypatch.context() as patch:
        patch.setattr("shop.watching.arrive", killed)
        with pytest.raises(KeyboardInterrupt):
            watcher.look()
    again = Watcher(folder.parent, still_s=0)
    assert looked(again) == 1 and models.Job.objects.count() == 1 and names(folder / "taken") == ["seal.pdf"]


def test_the_same_content_is_no_second_job_and_names_never_collide(watched: tuple[Path, Watcher]) -> None:
    folder, watcher = watched
    for number in (0, 0, 1):
        (folder / "seal.pdf").write_bytes(art(number))
        assert looked(watcher) == 1
    assert models.Job.objects.count() == 2
    assert names(folder / "taken") == ["seal 2.pdf", "seal 3.pdf", "seal.pdf"]
    assert models.LogEntry.objects.filter(what__startswith="The same file came again: seal.pdf").count() == 1


def test_what_cannot_be_moved_is_dealt_with_once(
    watched: tuple[Path, Watcher], monkeypatch: pytest.MonkeyPatch
) -> None:
    folder, watcher = watched

    def refused(*names: Path) -> None:
        raise PermissionError(13, "Permission denied")

    (folder / "seal.pdf").write_bytes(art())
    with monkeypatch.context() as patch:
        patch.setattr("shop.watching.os.rename", refused)
        assert looked(watcher, 6) == 1 and models.Job.objects.count() == 1
    came_again = models.LogEntry.objects.filter(what__startswith="The same file came again")
    assert names(folder) == ["seal.pdf", "taken"] and not came_again.exists()
    assert looked(Watcher(folder.parent, still_s=0)) == 1 and names(folder / "taken") == ["seal.pdf"]


def test_a_folder_that_goes_away_comes_back(watched: tuple[Path, Watcher]) -> None:
    folder, watcher = watched
    folder.rename(folder.with_name("elsewhere"))
    folder.write_text("a file is in its place")
    assert looked(watcher) == 0
    folder.unlink()
    assert looked(watcher) == 0 and folder.is_dir()
    (folder / "seal.pdf").write_bytes(art())
    assert looked(watcher) == 1


def test_many_at_once_all_come(watched: tuple[Path, Watcher]) -> None:
    folder, watcher = watched
    for number in range(40):
        (folder / f"seal {number:02}.pdf").write_bytes(art(number))
    watcher.look()
    assert watcher.look() == 40 and models.Job.objects.count() == 40 and len(names(folder / "taken")) == 40


@pytest.mark.parametrize("folder", ["../etc", "/etc", "", ".", ".hidden", "a/b", "x" * 90])
def test_a_folder_is_a_name_and_no_path(shop: Person, folder: str) -> None:
    answer = shop.post(
        "/api/shelf/things", {"kind": "watched", "title": "Odd", "data": {"folder": folder}}, content_type=JSON
    )
    assert answer.status_code == 400 and "folder" in answer.json()["message"]
