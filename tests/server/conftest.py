"""A shop with one user; whatever is asked for, the worker has done it before the next question."""

import json
import re
from collections.abc import Iterator, Sequence
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.contrib.auth.models import Permission
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.test.client import BOUNDARY, MULTIPART_CONTENT, encode_multipart
from jobs import models
from jobs.store.children import POOL
from jobs.store.job_state import outdated
from jobs.store.rights import Right, codename
from jobs.store.shelf import fill
from worker.loop import run_all

from tests.breadth import WHOLE
from tests.server.remembered import remembering, run_for_real

PASSWORD = "long enough here"
JOB = re.compile(r"/api/jobs/(\d+)(?:/(\w+))?")
FAST = "django.contrib.auth.hashers.MD5PasswordHasher"


@pytest.fixture(autouse=True)
def folders(settings, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    settings.VAR = tmp_path
    settings.PASSWORD_HASHERS = [FAST]


@pytest.fixture(autouse=True)
def known_steps(monkeypatch: pytest.MonkeyPatch) -> None:
    if not WHOLE:
        monkeypatch.setattr(POOL, "run", remembering(run_for_real))


class Person(Client):
    """A browser of somebody who has just looked: what a change has to name of that is filled in.

    ``works`` False leaves what was asked for in the queue.
    """

    works = True

    def generic(self, method: str, path: str, data: Any = "", content_type: str = "", **more: Any) -> Any:
        found = JOB.match(path)
        if method in ("POST", "PATCH", "DELETE") and found:
            path, data, content_type = self._seen(method, path, found, data, content_type)
        answer = super().generic(method, path, data, content_type or "application/octet-stream", **more)
        if self.works and method != "GET":
            run_all()
        return answer

    def _seen(self, method: str, path: str, found: Any, data: Any, content_type: str) -> tuple[str, Any, str]:
        job = models.Job.objects.select_related("revision", "analysis").filter(pk=found[1]).first()
        if job is None:
            return path, data, content_type
        if method == "DELETE":
            return (path if "version" in path else f"{path}?version={job.version}"), data, content_type
        body = json.loads(data) if "json" in content_type else {}
        seen: dict[str, Any] = {"version": job.version}
        if found[2] in ("mends", "release"):
            seen["revision"] = job.revision.number if job.revision else 0
        if found[2] == "release":
            analysis = getattr(job, "analysis", None)
            seen["found"] = analysis.key if analysis else ""
        return path, json.dumps({**seen, **body}), "application/json"


USUAL = (Right.SEE, Right.TAKE_IN, Right.WORK, Right.RELEASE)


def person(name: str, *more: Right, rights: Sequence[Right] = USUAL) -> Person:
    """Somebody who is logged in, with the rights of a technician and more."""
    user = get_user_model().objects.create_user(name, password=PASSWORD)
    wanted = [codename(right) for right in (*rights, *more)]
    user.user_permissions.set(Permission.objects.filter(content_type__app_label="people", codename__in=wanted))
    client = Person()
    client.force_login(user)
    return client


@pytest.fixture()
def shop() -> Iterator[Person]:
    fill()
    yield person("ada", Right.EDIT_SHELF)
    assert not list(outdated(models.Job.objects.all())), "whoever writes what a job needs brings its columns up to date"


def take_in(shop: Client, data: bytes, name: str = "seal.pdf", customer: str = "") -> dict:  # type: ignore[type-arg]
    answer = shop.post("/api/jobs", {"file": SimpleUploadedFile(name, data), "customer": customer})
    assert answer.status_code == 200, answer.content
    return shop.get(f"/api/jobs/{answer.json()['job']['id']}").json()


def send_another(shop: Person, job: dict[str, Any], data: bytes, name: str) -> Any:
    """Send another file for a job as a form does."""
    form = {"file": SimpleUploadedFile(name, data), "version": job["version"]}
    content = encode_multipart(BOUNDARY, form)
    answer = Client.generic(shop, "POST", f"/api/jobs/{job['id']}/file", content, MULTIPART_CONTENT)
    run_all()
    return answer
