"""Backups made while work runs, archives and databases that attack, and starts on what is not this shop's."""

import io
import json
import sqlite3
import tarfile
from pathlib import Path
from typing import Any

import pytest
from django.core.management import CommandError, call_command
from jobs import models
from shop.backup import back_up
from shop.keeping import faults

from tests.breadth import breadth
from tests.server.conftest import Person, take_in
from tests.server.test_keeping import art, manage

pytestmark = pytest.mark.django_db(transaction=True)


@breadth(0.12, "long ones")
def test_a_backup_that_was_made_while_work_ran_is_whole(shop: Person, tmp_path: Path) -> None:
    """Restored later it said that the work had been left by its worker; so did verify after a power cut."""
    job = take_in(shop, art())
    models.Work.objects.update(
        state="running", worker="a:1:1", attempts=1, leased_until="2026-01-01T00:00:00Z", share=0.5, what="looking",
    )
    assert list(faults()) == [], "no shop runs on this data: whoever starts it takes the work up"
    back_up(tmp_path / "shop.tar")
    there = tmp_path / "there"
    done = manage(there, "restore", str(tmp_path / "shop.tar"))
    assert done.returncode == 0, done.stderr
    with sqlite3.connect(there / "horismos.sqlite3") as database:
        rows = database.execute("SELECT state, worker, leased_until, attempts FROM jobs_work").fetchall()
    assert rows == [("waiting", "", None, 0)] and job["id"]
    assert manage(there, "verify").returncode == 0


def packed(folder: Path, **members: bytes | tarfile.TarInfo) -> Path:
    """A tar file of these members; what is a TarInfo goes in as it stands."""
    to = folder / "hostile.tar"
    with tarfile.open(to, "w") as tar:
        for name, data in members.items():
            if isinstance(data, tarfile.TarInfo):
                tar.addfile(data)
            else:
                info = tarfile.TarInfo(name)
                info.size = len(data)
                tar.addfile(info, io.BytesIO(data))
    return to


def link(name: str, to: str) -> tarfile.TarInfo:
    info = tarfile.TarInfo(name)
    info.type, info.linkname = tarfile.SYMTYPE, to
    return info


MANIFEST = json.dumps({"format": "horismos backup 1", "files": [], "database": "0" * 64}).encode()
NO_DATABASE = b"no database at all " * 100


def of(database: bytes) -> bytes:
    import hashlib

    told = {"format": "horismos backup 1", "files": [], "database": hashlib.sha256(database).hexdigest()}
    return json.dumps(told).encode()


@pytest.mark.parametrize(("members", "said"), [
    ({"manifest.json": b"[" * 100_000}, "no whole backup"),
    ({"manifest.json": b"{}"}, "another format"),
    ({"manifest.json": b"\xff\xfe"}, "no whole backup"),
    ({"manifest.json": MANIFEST}, "horismos.sqlite3 is missing"),
    ({"manifest.json": MANIFEST, "horismos.sqlite3": b"x"}, "is damaged"),
    ({"manifest.json": of(NO_DATABASE), "horismos.sqlite3": NO_DATABASE}, "not a database"),
    ({"manifest.json": MANIFEST.replace(b"[]", b'["../../evil"]'), "horismos.sqlite3": b"x"}, "Not a content hash"),
    ({"manifest.json": MANIFEST, "horismos.sqlite3": link("horismos.sqlite3", "/etc/passwd")}, "no plain file"),
    ({"manifest.json": MANIFEST, "dev": link("files", "/tmp")}, "no plain file"),
], ids=["deep", "format", "encoding", "no-database", "damaged", "none", "place", "link", "folder"])
def test_a_hostile_archive_is_refused_in_words_and_leaves_nothing(
    tmp_path: Path, members: dict[str, Any], said: str
) -> None:
    refused = brought_back(tmp_path, packed(tmp_path, **members))
    assert said in refused and "Traceback" not in refused


def brought_back(tmp_path: Path, archive: Path) -> str:
    """What is said of an archive that is refused; nothing of it is left."""
    from django.conf import settings

    there = tmp_path / "there"
    there.mkdir()
    before, settings.VAR = settings.VAR, there
    try:
        with pytest.raises(CommandError) as refused:
            call_command("restore", str(archive), stderr=io.StringIO())
    finally:
        settings.VAR = before
    assert not list(there.iterdir())
    return str(refused.value)


def test_an_archive_that_is_packed_is_not_unpacked(tmp_path: Path) -> None:
    import gzip

    bomb = tmp_path / "bomb.tar"
    with gzip.open(bomb, "wb") as file:
        file.write(bytes(30_000_000))
    assert "no whole backup" in brought_back(tmp_path, bomb)


@pytest.mark.parametrize(("change", "said"), [
    ("CREATE TRIGGER t AFTER INSERT ON jobs_work BEGIN DELETE FROM jobs_job; END", "has the trigger"),
    ("CREATE VIEW v AS SELECT * FROM auth_user", "has the view"),
    ("INSERT INTO django_migrations (app, name, applied) VALUES ('jobs', '9999_later', '2030-01-01')", "newer version"),
    ("DROP TABLE django_migrations", "no such table"),
], ids=["trigger", "view", "newer", "no-shop"])
def test_a_database_is_looked_at_before_a_shop_opens_it(shop: Person, tmp_path: Path, change: str, said: str) -> None:
    back_up(tmp_path / "shop.tar")
    with tarfile.open(tmp_path / "shop.tar") as tar:
        tar.extract("horismos.sqlite3", tmp_path, filter="data")
    with sqlite3.connect(tmp_path / "horismos.sqlite3") as database:
        database.execute(change)
    database.close()
    data = (tmp_path / "horismos.sqlite3").read_bytes()
    archive = packed(tmp_path, **{"manifest.json": of(data), "horismos.sqlite3": data})
    assert said in brought_back(tmp_path, archive)


@breadth(0.12, "long ones")
def test_what_a_manifest_does_not_name_does_not_come_along(shop: Person, tmp_path: Path) -> None:
    back_up(tmp_path / "shop.tar")
    with tarfile.open(tmp_path / "shop.tar", "a") as tar:
        for name in ("secret", "files/aa/" + "a" * 64, "../outside"):
            info = tarfile.TarInfo(name)
            info.size = 5
            tar.addfile(info, io.BytesIO(b"extra"))
    there = tmp_path / "there"
    assert manage(there, "restore", str(tmp_path / "shop.tar")).returncode == 0
    assert not (there / "files" / "aa").exists() and not (tmp_path / "outside").exists()
    assert "extra" not in ((there / "secret").read_text() if (there / "secret").exists() else "")


@breadth(0.12, "long ones")
def test_a_shop_does_not_start_beside_another_nor_on_what_a_newer_one_has_written(tmp_path: Path) -> None:
    import fcntl

    from shop.keeping import runs

    assert manage(tmp_path, "migrate", "-v", "0").returncode == 0 and not runs(tmp_path)
    with (tmp_path / "serving.lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        assert runs(tmp_path)
        refused = manage(tmp_path, "serve", "--port", "0")
    assert refused.returncode == 1 and "Another Horismos works on the data" in refused.stderr
    with sqlite3.connect(tmp_path / "horismos.sqlite3") as database:
        row = "INSERT INTO django_migrations (app, name, applied) VALUES ('jobs', '9999_later', '2030-01-01')"
        database.execute(row)
    database.close()
    refused = manage(tmp_path, "serve", "--port", "0")
    assert refused.returncode == 1 and "A newer Horismos has worked on the data" in refused.stderr
    assert "Traceback" not in refused.stderr
