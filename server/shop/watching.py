"""Watched folders: files that have stopped growing are taken in, and moved out of the way."""

import logging
import os
import stat
import time
from collections.abc import Iterator
from contextlib import suppress
from pathlib import Path

from django.conf import settings
from django.db import close_old_connections
from jobs.store.arriving import arrive, safe_file_name
from jobs.store.children import POOL
from jobs.store.files import Incoming
from jobs.store.log import log
from jobs.store.shelf import known_shelf
from worker.ending import told_to_end

from horismos.errors import HorismosError, NoRoom, NotReady
from horismos.shelf import Kind, ShelfItem

__all__ = ["Watcher", "watch"]

faults = logging.getLogger("horismos.faults")
LOOKS_EVERY_S = 1.0
STILL_S = 2.0
"""[ours] a file that is as long and as old as so long ago has stopped growing."""
CHUNK = 1 << 20
TAKEN, NOT_TAKEN = "taken", "not taken"
"""Where a file lies afterwards, in its watched folder."""
Stamp = tuple[int, int, int]


class _Grew(Exception):
    """A file changed while it was read."""


class Watcher:
    """Looks at the watched folders of the Shelf, which lie below ``root``. One at a time works on a shop.

    A file is moved once its job is there for good. Where that is cut short the next look finds the same content known,
    and moves it: nothing is lost, and nothing comes twice.
    """

    def __init__(self, root: Path, still_s: float = STILL_S) -> None:
        self._root, self._still_s = root, still_s
        self._seen: dict[Path, tuple[Stamp, float]] = {}
        self._stuck: dict[Path, Stamp] = {}
        """What was dealt with and could not be moved: it is left alone until it changes."""

    def look(self) -> int:
        """Take in what has stopped growing; gives how many files were dealt with."""
        count, there = 0, set[Path]()
        for item in known_shelf().offered(Kind.WATCHED):
            folder = self._root / str(item.data["folder"])
            with suppress(OSError):
                folder.mkdir(parents=True, exist_ok=True)
            for path, stamp in _files(folder):
                there.add(path)
                if self._stuck.get(path) == stamp:
                    continue
                before, since = self._seen.get(path, (None, 0.0))
                if stamp != before:
                    self._seen[path] = stamp, time.monotonic()
                elif time.monotonic() - since >= self._still_s:
                    count += self._deal_with(path, stamp, item)
        self._seen = {path: seen for path, seen in self._seen.items() if path in there}
        self._stuck = {path: stamp for path, stamp in self._stuck.items() if path in there}
        return count

    def _deal_with(self, path: Path, stamp: Stamp, item: ShelfItem) -> bool:
        """Take a file in, or say why not; whether it was dealt with."""
        name = safe_file_name(path.name)
        try:
            arrived = arrive(
                name, _kept(path, stamp), str(item.data["customer"]), None, way=f" from the folder “{item.title}”",
            )
            if arrived.known:
                log(arrived.job, None, f"The same file came again: {name}, from the folder “{item.title}”")
        except _Grew:
            self._seen.pop(path, None)
            return False
        except (NotReady, NoRoom, FileNotFoundError):
            return False  # it waits until the shop can take it, or is gone
        except (HorismosError, OSError) as error:
            where, why = NOT_TAKEN, str(error)
        else:
            where, why = TAKEN, ""
        if not _moved(path, where, why):
            self._stuck[path] = stamp
        return True


def _files(folder: Path) -> Iterator[tuple[Path, Stamp]]:
    """The files of a folder, by their names, each with what changes while it is written; nothing where it is gone."""
    try:
        entries = sorted(os.scandir(folder), key=lambda entry: entry.name)
    except OSError:
        return
    for entry in entries:
        with suppress(OSError):
            found = entry.stat(follow_symlinks=False)
            if stat.S_ISREG(found.st_mode) and not entry.name.startswith("."):
                yield Path(entry.path), (found.st_size, found.st_mtime_ns, found.st_ino)


def _kept(path: Path, stamp: Stamp) -> str:
    """A file's content in the store, by its hash. Raises OSError, and _Grew where it is another meanwhile."""
    with open(os.open(path, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK), "rb") as file:
        if os.fstat(file.fileno()).st_size > settings.MOST_UPLOAD_BYTES:
            raise OSError(f"The file is larger than {settings.MOST_UPLOAD_BYTES / 1e6:,.0f} MB.")
        incoming = Incoming()
        while part := file.read(CHUNK):
            incoming.write(part)
        now = os.fstat(file.fileno())
        if (now.st_size, now.st_mtime_ns, now.st_ino) != stamp:
            incoming.drop()
            raise _Grew
        return incoming.keep()


def _moved(path: Path, where: str, why: str) -> bool:
    """Move a file out of the way, beside a note where there is something to say; whether that could be done."""
    folder = path.parent / where
    try:
        folder.mkdir(exist_ok=True)
        to = next(one for one in _names(folder, path.name) if not one.exists())
        if why:
            to.with_name(f"{to.name}.txt").write_text(f"{why}\n", encoding="utf-8")
        os.rename(path, to)
    except OSError as error:
        faults.error("%s was dealt with and could not be moved to %s: %s", path, folder, error)
        return False
    return True


def _names(folder: Path, name: str) -> Iterator[Path]:
    """Names for a file in a folder, the first its own."""
    stem, dot, ending = name.rpartition(".")
    yield folder / name
    yield from (folder / f"{stem or name} {i}{dot}{ending if stem else ''}" for i in range(2, 100_000))


def watch() -> None:
    """Look at the folders until SIGTERM or SIGINT."""
    told = told_to_end()
    watcher = Watcher(Path(settings.WATCHED))
    while not told():
        watcher.look()
        close_old_connections()
        time.sleep(LOOKS_EVERY_S)
    POOL.close()
