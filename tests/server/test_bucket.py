"""A shop whose files lie in a bucket: a job from drop to package, looked through, swept, backed up and brought back."""

from collections.abc import Iterator
from datetime import timedelta
from pathlib import Path
from typing import Any

import boto3
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from jobs import models
from jobs.store import files
from moto.server import ThreadedMotoServer
from shop import keeping
from shop.backup import back_up, bring_back

from tests.breadth import breadth
from tests.machines import free_port
from tests.server.conftest import Person
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.17, "several machines")]
JSON = "application/json"
CLEAN = write(Drawing("1 0 0 0 k 5 5 90 90 re f\n" + line_in(circle(50, 50, 40))))


@pytest.fixture()
def bucket(settings: Any, monkeypatch: pytest.MonkeyPatch) -> Iterator[Any]:
    for name, value in {"ACCESS_KEY_ID": "a", "SECRET_ACCESS_KEY": "b", "DEFAULT_REGION": "us-east-1"}.items():
        monkeypatch.setenv(f"AWS_{name}", value)
    port = free_port()
    server = ThreadedMotoServer(ip_address="127.0.0.1", port=port, verbose=False)
    server.start()
    client = boto3.client("s3", endpoint_url=f"http://127.0.0.1:{port}")
    client.create_bucket(Bucket="shop-files")
    settings.STORE = f"s3://shop-files?endpoint=http://127.0.0.1:{port}"
    yield client
    server.stop()


def test_a_job_goes_from_drop_to_package_and_the_shop_is_whole(
    bucket: Any, shop: Person, settings: Any, tmp_path: Path
) -> None:
    job = shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", CLEAN)}).json()["job"]
    found = shop.get(f"/api/jobs/{job['id']}").json()
    assert found["verdict"] == "clean" and found["seen"]
    box = dict(zip(("x0", "y0", "x1", "y1"), found["seen"]["media_box_mm"], strict=True))
    query = "&".join(f"{key}={value}" for key, value in box.items())
    assert shop.get(f"/api/jobs/{job['id']}/picture?{query}&ppi=72").content.startswith(b"\x89PNG")
    assert shop.get(f"/api/jobs/{job['id']}/plates").status_code == 200
    assert shop.post(f"/api/jobs/{job['id']}/release", {}, content_type=JSON).status_code == 200
    made = models.Release.objects.get()
    (printed,) = [one for one in made.files if one["name"].endswith("-print.pdf")]
    data = b"".join(shop.get(f"/api/bench/{made.pk}/files/{printed['name']}").streaming_content)  # type: ignore[attr-defined]
    assert data.startswith(b"%PDF") and len(data) == printed["bytes"]
    assert not list((settings.VAR / "files").glob("??/*")), "nothing lies beside the data"
    held = {key["Key"].rpartition("/")[2] for key in bucket.list_objects_v2(Bucket="shop-files")["Contents"]}
    assert keeping.referred() <= held
    assert list(keeping.faults()) == []

    files.keep(b"nobody refers to this")
    swept = keeping.sweep(keeping.Rule())
    assert swept.files == 0, "it is fresh"
    monkey = pytest.MonkeyPatch()
    monkey.setattr(keeping, "FRESH_S", -timedelta(days=1).total_seconds())
    assert keeping.sweep(keeping.Rule()).files >= 1
    monkey.undo()
    assert list(keeping.faults()) == [], "what is referred to is there"

    count = back_up(tmp_path / "shop.tar")
    assert count == len(keeping.referred())
    sha256 = printed["sha256"]
    bucket.put_object(Bucket="shop-files", Key=f"{sha256[:2]}/{sha256}", Body=b"other")
    assert list(keeping.faults()) == [f"File {sha256} is not what it was."], "the bucket is looked at, not the cache"
    bucket.delete_object(Bucket="shop-files", Key=f"{sha256[:2]}/{sha256}")
    assert list(keeping.faults()) == [f"File {sha256} is missing."]
    elsewhere = tmp_path / "new"
    elsewhere.mkdir()
    files.store()._known.clear()  # type: ignore[attr-defined]
    assert bring_back(tmp_path / "shop.tar", elsewhere) == count
    assert list(keeping.faults()) == [], "the bucket has it again"
