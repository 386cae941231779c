"""A shop with one user, its work done at once."""

from pathlib import Path

import pytest
from django.contrib.auth import get_user_model
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from jobs import models


@pytest.fixture(autouse=True)
def at_once(settings, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    settings.TASKS = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}
    settings.VAR = tmp_path


@pytest.fixture()
def shop() -> Client:
    from horismos.destinations import SHIPPED
    from horismos.materials import MATERIALS

    for d in SHIPPED.values():
        models.Destination.objects.get_or_create(id=d.id, defaults={"title": d.title})
    for m in MATERIALS.values():
        models.Material.objects.get_or_create(id=m.id, defaults={"title": m.title, "width_mm": m.width_mm})
    get_user_model().objects.create_user("ada", password="long enough here")
    client = Client()
    body = {"name": "ada", "password": "long enough here"}
    assert client.post("/api/login", body, content_type="application/json").status_code == 200
    return client


def take_in(shop: Client, data: bytes, name: str = "seal.pdf") -> dict:  # type: ignore[type-arg]
    answer = shop.post("/api/jobs", {"file": SimpleUploadedFile(name, data)})
    assert answer.status_code == 200, answer.content
    return shop.get(f"/api/jobs/{answer.json()['job']['id']}").json()
