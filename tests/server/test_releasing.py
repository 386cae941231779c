"""A release is whole or not there, whatever happens to the worker that makes it, and no RIP sees half of it."""

import os
from pathlib import Path

import pytest
from bench import hot_folder
from jobs import models
from jobs.store.queue import claim
from worker.carrying_out import carry_out
from worker.kinds import release as releasing
from worker.loop import run_all

from tests.breadth import breadth
from tests.server.conftest import Person, take_in
from tests.server.test_trust import CLEAN, JSON, address, lapse

pytestmark = pytest.mark.django_db(transaction=True)


def dying(monkeypatch: pytest.MonkeyPatch, where: object, name: str) -> None:
    """The worker dies just before it would do this."""
    monkeypatch.setattr(where, name, lambda *_, **__: (_ for _ in ()).throw(SystemExit))


@breadth(0.12, "long ones")
@pytest.mark.parametrize("shared", [False, True])
def test_a_worker_that_dies_while_it_releases_leaves_a_whole_release_or_none(
    shop: Person, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, shared: bool
) -> None:
    job = take_in(shop, CLEAN)
    where = address(job)
    if shared:
        sheet = shop.post("/api/shared-sheets", {"jobs": [job["id"]]}, content_type=JSON).json()
        where = f"/api/shared-sheets/{sheet['id']}"
    shop.works = False

    def ask_for_it() -> models.Work:
        seen = shop.get(where).json()
        body = {"version": seen["version"], "revision": seen.get("revision", 1), "found": seen["found"]}
        assert shop.post(f"{where}/release", body, content_type=JSON).status_code == 200
        work = claim("one that dies")
        assert work is not None
        return work

    work = ask_for_it()
    shown = lambda: [p.name for p in (tmp_path / "hot-folder").glob("*/*") if not p.name.startswith(".")]  # noqa: E731
    for point in ((releasing, "_write"), (hot_folder, "show")):
        with monkeypatch.context() as patched:
            dying(patched, *point)
            with pytest.raises(SystemExit):
                carry_out(work)
        assert shown() == [], "no RIP sees a file whose release may not be"
        assert models.Release.objects.count() == (point[1] == "show")
        lapse(work)
        work = claim("the next") if point[1] == "_write" else work
        assert work is not None
    hot_folder.tidy()
    (print_file,) = shown()
    assert run_all() == 1 and models.Work.objects.get(pk=work.pk).state == "done"
    made = models.Release.objects.get()
    assert hot_folder.waiting(made)[0].name == print_file and shown() == [print_file]
    assert not list((tmp_path / "hot-folder").glob("*/.*")), "nothing is left over"


def test_what_was_staged_for_nothing_goes_and_what_is_being_staged_stays(shop: Person, tmp_path: Path) -> None:
    (old,) = hot_folder.stage(models.Job(pk=1, destination_id="house"), "k" * 64, {"a-print.pdf": b"x"})
    (new,) = hot_folder.stage(models.Job(pk=2, destination_id="house"), "k" * 64, {"a-print.pdf": b"x"})
    os.utime(old, (1, 1))
    hot_folder.tidy()
    assert not old.exists() and new.exists()


def test_a_worker_that_was_given_up_on_does_not_take_away_what_the_next_has_staged(
    shop: Person, tmp_path: Path
) -> None:
    job, files = models.Job(pk=1, destination_id="house"), {"a-print.pdf": b"x"}
    slow, quick = hot_folder.stage(job, "k" * 64, files), hot_folder.stage(job, "k" * 64, files)
    hot_folder.remove(slow)
    hot_folder.show(quick)
    assert [path.name for path in (tmp_path / "hot-folder" / "house").iterdir()] == [f"1-{'k' * 12}-a-print.pdf"]
