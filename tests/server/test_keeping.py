"""What a shop keeps: looked through, swept by its rule, taken away whole and brought back."""

import io
import os
import subprocess
import sys
import tarfile
import time
from datetime import timedelta
from pathlib import Path

import pytest
from django.contrib.sessions.models import Session
from django.core.management import CommandError, call_command
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone
from jobs import models
from jobs.store.files import keep, path_of
from shop.backup import back_up
from shop.keeping import Rule, faults, sweep

from horismos.errors import CannotWrite
from tests.breadth import breadth
from tests.server.conftest import Person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db(transaction=True)
ROOT = Path(__file__).resolve().parents[2]
JSON = "application/json"


def art(name: str = "a") -> bytes:
    """A sound file; another name is other content."""
    return write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40)))) + name.encode()


def make_old(*paths: Path, days: float = 2) -> None:
    for path in paths:
        os.utime(path, (time.time() - days * 86_400,) * 2)


# -- the list of jobs ------------------------------------------------------------------------------------


def test_the_list_asks_the_database_as_often_for_many_jobs_as_for_few(shop: Person) -> None:
    def asked() -> int:
        with CaptureQueriesContext(connection, ) as queries:
            assert shop.get("/api/jobs").status_code == 200
        heavy = [q["sql"] for q in queries.captured_queries if '"jobs_analysis"."report"' in q["sql"]]
        assert not heavy, "reports are not read for a list"
        return len(queries)

    first = take_in(shop, art())
    few = asked()
    for i in range(12):
        job = models.Job.objects.get(pk=first["id"])
        order, analysis = job.order, job.analysis
        job.pk, job.name = None, f"Copy {i}"
        job.save()
        order.pk, order.job = None, job
        order.save()
        analysis.pk, analysis.job = None, job
        analysis.save()
    assert len(shop.get("/api/jobs").json()) == 13
    assert asked() == few


@breadth(0.12, "long ones")
def test_jobs_come_in_pages_by_group_and_by_what_is_searched(shop: Person) -> None:
    names = ["Terns", "Waders", "Seals"]
    for name in names:
        job = take_in(shop, art(name), f"{name}.pdf")
        shop.patch(f"/api/jobs/{job['id']}", {"customer": f"{name[0]} Press"}, content_type=JSON)
    assert [row["name"] for row in shop.get("/api/jobs?limit=2").json()] == names[:2]
    assert [row["name"] for row in shop.get("/api/jobs?limit=2&offset=2").json()] == names[2:]
    assert [row["name"] for row in shop.get("/api/jobs?search=wad").json()] == ["Waders"]
    assert [row["name"] for row in shop.get("/api/jobs?search=s%20press").json()] == ["Seals"]
    assert shop.get("/api/jobs?group=letter").json() == [] and shop.get("/api/jobs?limit=0").status_code == 422
    shop.post(f"/api/jobs/{job['id']}/release")
    assert [row["name"] for row in shop.get("/api/jobs?group=released").json()] == ["Seals"]
    counts = shop.get("/api/jobs/counts").json()
    assert counts["all"] == 3 == sum(counts.values()) - 3 and counts["released"] == 1, "each job is in one group"
    (row,) = shop.get("/api/jobs?group=released").json()
    assert row["holds"] == "Released; print it: next at the RIP"
    assert shop.get("/api/customers").json() == ["S Press", "T Press", "W Press"]


# -- looking through ---------------------------------------------------------------------------------------


@breadth(0.12, "long ones")
def test_a_whole_shop_is_whole_and_what_is_wrong_is_named(
    shop: Person, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("shop.keeping.runs", lambda data: True)  # work that is held has a worker where a shop runs
    job = take_in(shop, art())
    shop.post(f"/api/jobs/{job['id']}/release")
    assert list(faults()) == []
    out = io.StringIO()
    call_command("verify", stdout=out)
    assert out.getvalue().startswith("Whole: the database and ")
    original = path_of(models.Job.objects.get().original)
    original.chmod(0o600)
    original.write_bytes(b"something else")
    missing = path_of(models.Release.objects.get().files[0]["sha256"])
    missing.unlink()
    (tmp_path / "hot-folder" / "house" / "99-abcdefabcdef-x-print.pdf").write_bytes(b"x")
    models.Work.objects.update(state="running", leased_until=timezone.now() - timedelta(hours=1))
    said = "\n".join(faults())
    for part in (original.name + " is not what it was", missing.name + " is missing", "nothing was released so",
                 "left by its worker"):
        assert part in said
    with pytest.raises(CommandError, match=r"\d+ faults"):
        call_command("verify", stderr=io.StringIO())


# -- sweeping -----------------------------------------------------------------------------------------------


def test_only_what_nothing_refers_to_is_swept_and_only_when_it_is_old(shop: Person, tmp_path: Path) -> None:
    job = take_in(shop, art())
    orphan, fresh = path_of(keep(b"orphan")), path_of(keep(b"fresh"))
    half = tmp_path / "files" / ".part-xyz"
    half.write_bytes(b"half")
    upload = tmp_path / "uploads" / "tmp.upload"
    upload.parent.mkdir()
    upload.write_bytes(b"half an upload")
    make_old(orphan, half, upload, path_of(models.Job.objects.get().original))
    Session.objects.create(session_key="old", session_data="", expire_date=timezone.now() - timedelta(days=1))
    told = sweep(Rule(), really=False)
    assert orphan.exists() and half.exists() and told.files == 1
    swept = sweep(Rule())
    assert (swept.files, swept.halves, swept.sessions, swept.jobs) == (1, 2, 1, 0)
    assert not orphan.exists() and not half.exists() and not upload.exists() and fresh.exists()
    assert list(faults()) == [] and shop.get(f"/api/jobs/{job['id']}").json()["current"]


@breadth(0.12, "long ones")
def test_jobs_go_by_the_rule_of_the_shop_with_all_that_was_theirs(shop: Person) -> None:
    old, busy, due = (take_in(shop, art(name), f"{name}.pdf") for name in ("old", "busy", "due"))
    shop.post(f"/api/jobs/{old['id']}/release")
    shop.patch(f"/api/jobs/{due['id']}", {"due": "2099-01-01"}, content_type=JSON)
    then = timezone.now() - timedelta(days=100)
    models.Job.objects.update(created=then)
    models.LogEntry.objects.update(when=then)
    models.Work.objects.filter(job=busy["id"]).update(state="running", leased_until=timezone.now())
    assert sweep(Rule(jobs=None)).jobs == 0, "without a rule they are kept"
    assert sweep(Rule(jobs=120)).jobs == 0
    content = path_of(models.Job.objects.get(pk=old["id"]).original)
    assert sweep(Rule(jobs=90)).jobs == 1
    assert {job.name for job in models.Job.objects.all()} == {"busy", "due"}
    make_old(content)
    assert sweep(Rule()).files >= 1 and not content.exists()
    assert [line for line in faults() if "left by" not in line] == []


# -- away and back --------------------------------------------------------------------------------------------


def manage(var: Path, *arguments: str) -> subprocess.CompletedProcess[str]:
    """The command as who looks after the shop types it."""
    return subprocess.run(
        [sys.executable, ROOT / "server" / "manage.py", *arguments], capture_output=True, text=True, check=False,
        env={**os.environ, "HORISMOS_VAR": str(var)},
    )


def test_a_row_that_no_shop_has_written_is_told_of_by_its_job(shop: Person) -> None:
    job = take_in(shop, art())
    shop.post(f"/api/jobs/{job['id']}/release")
    assert not [line for line in faults() if "cannot be shown" in line]
    models.Analysis.objects.update(summary=[1, 2])
    models.Release.objects.update(ticket={"x": 1})
    lines = [line for line in faults() if "cannot be shown" in line]
    assert [line.split(" cannot")[0] for line in lines] == [
        f"Job {job['id']}", f"Package {models.Release.objects.get().pk}",
    ]
    models.Release.objects.all().delete()
    models.Job.objects.all().delete()


def test_a_job_that_stands_wrongly_in_the_list_is_told_of(shop: Person) -> None:
    job = take_in(shop, art())
    assert not faults_of_state()
    models.Job.objects.update(state="answer")
    assert faults_of_state() == [
        f"Job {job['id']} stands in the list as “answer”, which it is not: change anything of it."
    ]
    shop.patch(f"/api/jobs/{job['id']}", {"name": "Seal"}, content_type="application/json")
    assert not faults_of_state()


def faults_of_state() -> list[str]:
    return [line for line in faults() if "stands in the list" in line]


@breadth(0.12, "long ones")
def test_a_backup_comes_back_whole_and_a_damaged_one_not_at_all(shop: Person, tmp_path: Path) -> None:
    job = take_in(shop, art())
    shop.post(f"/api/jobs/{job['id']}/release")
    tar = tmp_path / "shop.tar"
    assert back_up(tar) >= 4
    with tarfile.open(tar) as opened:
        names = opened.getnames()
    assert "horismos.sqlite3" in names and not any("secret" in name for name in names)
    there = tmp_path / "there"
    done = manage(there, "restore", str(tar))
    assert done.returncode == 0, done.stderr
    assert manage(there, "verify").stdout.startswith("Whole")
    listed = manage(there, "shell", "-c", "from jobs.models import *; print(Job.objects.get().name, Session)"
                    .replace(", Session", ", Release.objects.count()"))
    assert listed.stdout.split()[-2:] == ["seal", "1"]
    again = manage(there, "restore", str(tar))
    assert again.returncode == 1 and "holds a shop already" in again.stderr
    damaged = tmp_path / "damaged.tar"
    data = bytearray(tar.read_bytes())
    at = data.find(b"%PDF-1.7")
    data[at : at + 8] = b"%PDF-1.x"
    damaged.write_bytes(data)
    other = tmp_path / "other"
    refused = manage(other, "restore", str(damaged))
    assert refused.returncode == 1 and "no whole backup" in refused.stderr
    assert not (other / "horismos.sqlite3").exists() and not (other / "files").exists()


def test_a_backup_with_missing_content_is_not_made(shop: Person, tmp_path: Path) -> None:
    take_in(shop, art())
    path_of(models.Job.objects.get().original).unlink()
    with pytest.raises(CannotWrite, match="missing"):
        back_up(tmp_path / "shop.tar")
    assert not list(tmp_path.glob("*.tar")) and not list(tmp_path.glob(".part-*"))


@breadth(0.12, "long ones")
def test_what_is_kept_is_for_this_account_alone(tmp_path: Path) -> None:
    """Data, database and secret; and two processes that start at once have one secret."""
    var = tmp_path / "var"
    starts = [subprocess.Popen(
        [sys.executable, "-c", "import sys; sys.path.insert(0, 'server'); from shop import settings; "
         "print(settings.SECRET_KEY)"], cwd=ROOT, env={**os.environ, "HORISMOS_VAR": str(var)},
        stdout=subprocess.PIPE, text=True) for _ in range(4)]
    secrets = {process.communicate()[0] for process in starts}
    assert len(secrets) == 1 and len(next(iter(secrets)).strip()) > 50
    assert manage(var, "migrate", "-v", "0").returncode == 0
    for path in (var, *var.rglob("*")):
        assert path.stat().st_mode & 0o077 == 0, path
    assert sorted(path.name for path in var.glob("secret*")) == ["secret"]
