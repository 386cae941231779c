"""The whole of a shop in one file: taken away while it runs, and brought back where there is nothing yet.

A backup may come from anywhere. Nothing is unpacked that its manifest does not name, no more than the file itself
holds, and a database is looked at before the shop opens it.
"""

import hashlib
import json
import os
import shutil
import sqlite3
import tarfile
import tempfile
from collections.abc import Iterable
from pathlib import Path
from typing import IO

from content.store import checked_hash
from django.db import connection
from django.db.migrations.loader import MigrationLoader
from jobs.store.files import BESIDE, local, parts_of, read_whole, store

from horismos.errors import CannotRead, CannotWrite, HorismosError
from shop.keeping import hash_of, referred

__all__ = ["back_up", "bring_back", "unknown"]

DATABASE, MANIFEST, FORMAT = "horismos.sqlite3", "manifest.json", "horismos backup 1"
TABLES_LEFT_OUT = ("django_session", "people_login", "axes_accessattempt", "axes_accesslog", "axes_accessfailurelog")
MOST_MEMBERS = 5_000_000
MOST_MANIFEST_BYTES = 500_000_000
CHUNK = 1 << 20


def back_up(to: Path) -> int:
    """Write all of the shop into one tar file while it runs; gives how many files of content are in it.

    The database is copied as it stands at one moment, then what it refers to. Log-ins and the secret stay out:
    after a restore everybody logs in anew. Work that runs waits in the copy, since its worker stays here. Raises
    CannotWrite where content is missing or not what it was.
    """
    to = to.resolve()
    with tempfile.TemporaryDirectory(dir=to.parent, prefix=BESIDE) as folder:
        copy = Path(folder) / DATABASE
        _copy_database(copy)
        wanted = sorted(referred())
        beside = Path(folder) / "backup.tar"
        with tarfile.open(beside, "w") as tar:
            tar.add(copy, DATABASE)
            for sha256 in wanted:
                tar.add(_whole(sha256), _place(sha256))
            manifest = Path(folder) / MANIFEST
            manifest.write_text(json.dumps({"format": FORMAT, "files": wanted, "database": hash_of(read_whole(copy))}))
            tar.add(manifest, MANIFEST)
        with beside.open("rb") as file:
            os.fsync(file.fileno())
        beside.replace(to)
    return len(wanted)


def _whole(sha256: str) -> Path:
    """A file as the store holds it now. Raises CannotWrite where it is missing, or not what it was."""
    try:
        if hash_of(parts_of(sha256)) == sha256:
            return local(sha256)
    except (OSError, ValueError, HorismosError):
        pass
    raise CannotWrite(f"File {sha256} is missing or not what it was.", "Run ./horismos verify.")


def _place(sha256: str) -> str:
    return f"files/{sha256[:2]}/{sha256}"


def _copy_database(to: Path) -> None:
    connection.ensure_connection()
    out = sqlite3.connect(to)
    try:
        connection.connection.backup(out)
        for table in TABLES_LEFT_OUT:
            out.execute(f"DELETE FROM {table}")
        out.execute(
            "UPDATE jobs_work SET state = 'waiting', what = 'waiting', share = 0, worker = '', leased_until = NULL, "
            "attempts = MAX(attempts - 1, 0) WHERE state = 'running'"
        )
        out.commit()
        out.execute("PRAGMA journal_mode=DELETE")
        out.execute("VACUUM")
    finally:
        out.close()


def unknown(done: Iterable[tuple[str, str]]) -> list[str]:
    """The changes that a database has seen and this version does not know of: a newer version has made them."""
    known = set(MigrationLoader(None).disk_migrations)
    apps = {app for app, _ in known}
    return sorted(f"{app} {name}" for app, name in set(done) - known if app in apps)


# -- back ----------------------------------------------------------------------------------------------------


def bring_back(source: Path, var: Path) -> int:
    """Lay a backup out in an empty data folder; gives how many files of content came back.

    Nothing is left behind where the backup is not whole. Raises CannotRead or CannotWrite.
    """
    if (var / DATABASE).exists() or any((var / "files").glob("??")):
        raise CannotWrite(f"{var} holds a shop already.", "Give HORISMOS_VAR an empty folder.")
    with tempfile.TemporaryDirectory(dir=var, prefix=BESIDE) as folder:
        here = Path(folder)
        try:
            files = _unpacked(source, here)
            _looked_at(here / DATABASE)
        except (tarfile.TarError, sqlite3.Error, OSError, ValueError, KeyError, TypeError, RecursionError) as error:
            raise CannotRead(f"{source.name} is no whole backup ({error}).", "Take another one.") from None
        if files:
            _kept(here / "files", files, var)
        (here / DATABASE).replace(var / DATABASE)
    return len(files)


def _kept(folder: Path, files: Iterable[str], var: Path) -> None:
    """Give the store what came back: it lies beside the data, or elsewhere."""
    if store().near and store().path_of("0" * 64).is_relative_to(var / "files"):
        shutil.move(folder, var / "files")
        return
    for sha256 in files:
        path = folder / sha256[:2] / sha256
        with path.open("rb") as file:
            store().take(file.fileno(), path, sha256)


def _unpacked(source: Path, here: Path) -> list[str]:
    """What the manifest names, each part held against its hash while it is written. Raises what is wrong."""
    with tarfile.open(source, "r:") as tar:  # never compressed: what comes out is no larger than what is there
        members = _members(tar)
        manifest = json.loads(_part(tar, members, MANIFEST).read(MOST_MANIFEST_BYTES))
        if not isinstance(manifest, dict) or manifest.get("format") != FORMAT:
            raise ValueError("another format")
        files = manifest["files"]
        if not isinstance(files, list) or len(set(files)) != len(files):
            raise ValueError("its manifest is no list of files")
        for sha256 in files:
            checked_hash(sha256)
        wanted = {_place(sha256): sha256 for sha256 in files} | {DATABASE: manifest["database"]}
        for name, sha256 in wanted.items():
            to = here / name
            to.parent.mkdir(parents=True, exist_ok=True)
            if _written(_part(tar, members, name), to) != sha256:
                raise ValueError(f"{name} is damaged")
    return files


def _members(tar: tarfile.TarFile) -> dict[str, tarfile.TarInfo]:
    members: dict[str, tarfile.TarInfo] = {}
    for member in tar:
        if not member.isreg() or member.issparse() or member.name in members:
            raise ValueError(f"“{member.name[:80]}” is no plain file, or there twice")
        members[member.name] = member
        if len(members) > MOST_MEMBERS:
            raise ValueError("it holds too many files")
    return members


def _part(tar: tarfile.TarFile, members: dict[str, tarfile.TarInfo], name: str) -> IO[bytes]:
    if name not in members:
        raise ValueError(f"{name} is missing")
    part = tar.extractfile(members[name])
    assert part is not None
    return part


def _written(part: IO[bytes], to: Path) -> str:
    sha256 = hashlib.sha256()
    with to.open("wb") as file:
        while some := part.read(CHUNK):
            sha256.update(some)
            file.write(some)
    return sha256.hexdigest()


def _looked_at(path: Path) -> None:
    """Raise ValueError or sqlite3.Error for a database that is not a shop's, is damaged, or is from a newer version."""
    database = sqlite3.connect(path)
    try:
        ours = "SELECT type, name FROM sqlite_master WHERE type NOT IN ('table', 'index') OR sql LIKE 'CREATE VIRTUAL%'"
        for kind, name in database.execute(ours):
            raise ValueError(f"its database has the {kind} “{name}”, which no shop has")
        (said,) = database.execute("PRAGMA integrity_check(1)").fetchone()
        if said != "ok":
            raise ValueError(f"its database is damaged: {said}")
        done = set(database.execute("SELECT app, name FROM django_migrations"))
        if newer := unknown(done):
            raise ValueError(f"it is from a newer version of Horismos, with {newer[-1]}; bring it back with that one")
        if not {app for app, _ in done} >= {"jobs", "auth"}:
            raise ValueError("its database is not a shop's")
    finally:
        database.close()
