"""The server lets nobody in, loses nothing, and releases nothing that is not clean."""


import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from jobs import models
from jobs.store.files import load, path_of

from tests.breadth import breadth
from tests.server.conftest import take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db(transaction=True)
CONTENT = f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))


@breadth(0.12, "long ones")
def test_nobody_gets_in_without_logging_in() -> None:
    client = Client()
    from shop.api import api

    paths = [p for p in api.get_openapi_schema()["paths"] if p not in ("/api/login", "/api/join")]
    assert len(paths) > 12
    for path in paths:
        url = path.replace("{job_id}", "1").replace("{work_id}", "1").replace("{release_id}", "1")
        url = url.replace("{name}", "x").replace("{sha256}", "x")
        assert {client.get(url).status_code, client.post(url).status_code} <= {401, 405}, path


def test_guessing_a_password_comes_to_a_stop() -> None:
    client = Client(REMOTE_ADDR="127.0.0.9")
    body = {"name": "ada", "password": "no"}
    codes = [client.post("/api/login", body, content_type="application/json").status_code for _ in range(10)]
    assert codes[:8] == [401] * 8 and codes[-1] == 429


def test_the_way_from_a_near_miss_to_a_package(shop: Client) -> None:
    original = write(Drawing(CONTENT, inks={"K": "Kis Cut"}))
    job = take_in(shop, original)
    url = f"/api/jobs/{job['id']}"
    assert job["stops"] == 1 and job["findings"][0]["id"] == "ink.near-name"
    assert shop.post(f"{url}/release").status_code == 409
    mend = job["findings"][0]["mends"][0]
    assert "Writes “Kiss Cut”" in mend["says"]
    shop.post(f"{url}/mends", mend, content_type="application/json")
    job = shop.get(url).json()
    assert job["revision"] == 2 and job["stops"] == 0
    order = {"width_mm": 80, "height_mm": 80, "quantity": 4, "roles": ["kiss-cut"], "edge": "bleed"}
    assert shop.patch(url, {"order": order}, content_type="application/json").status_code == 200
    job = shop.get(url).json()
    assert len(job["sheet"]["placements"]) == 4 and job["cut"]["operations"][0]["role"] == "kiss-cut"
    shop.post(f"{url}/release")
    (made,) = shop.get(url).json()["releases"]
    assert 0 < made["worst_off_mm"] <= 0.05
    download = shop.get(f"/api/bench/{made['id']}/files/seal-cut.plt")
    assert b"".join(download.streaming_content).startswith(b"IN;")
    assert "attachment" in download["Content-Disposition"]
    shop.post(f"/api/bench/{made['id']}/rip", {}, content_type="application/json")
    (made,) = shop.get("/api/bench").json()
    assert made["rip_state"] == "done" and "Kiss Cut" in {p["ink"] for p in made["plates"]}
    assert shop.get(f"/api/bench/{made['id']}/play").json()["moves"]
    first = models.Revision.objects.get(job_id=job["id"], number=1)
    assert load(first.sha256) == original
    assert [d["what"] for d in shop.get(url).json()["log"]][-1] == "Took in seal.pdf"


@breadth(0.12, "long ones")
def test_an_undo_goes_back_and_keeps_what_was_left(shop: Client) -> None:
    job = take_in(shop, write(Drawing(CONTENT, inks={"K": "Kis Cut"})))
    url = f"/api/jobs/{job['id']}"
    shop.post(f"{url}/mends", job["findings"][0]["mends"][0], content_type="application/json")
    shop.post(f"{url}/undo")
    job = shop.get(url).json()
    assert job["revision"] == 1 and job["stops"] == 1 and len(job["revisions"]) == 2
    assert shop.post(f"{url}/undo").status_code == 409


def test_what_cannot_be_taken_in_is_refused_by_name(shop: Client) -> None:
    answer = shop.post("/api/jobs", {"file": SimpleUploadedFile("../../etc/photo.zip", b"PK\x03\x04 and so on")})
    assert answer.status_code == 400 and answer.json()["message"].startswith("photo.zip: This is an archive")
    assert not models.Job.objects.exists()


def test_a_broken_file_becomes_a_job_that_says_so(shop: Client) -> None:
    job = take_in(shop, b"%PDF-1.4\nnothing here")
    assert "too damaged" in job["error"] and job["work"]["state"] == "failed"


@breadth(0.12, "long ones")
def test_a_failed_mend_leaves_the_last_good_state(shop: Client) -> None:
    job = take_in(shop, write(Drawing(CONTENT)))
    url = f"/api/jobs/{job['id']}"
    step = {"kind": "rename", "settings": {"ink": "No Such Ink", "to": "Kiss Cut"}}
    shop.post(f"{url}/mends", step, content_type="application/json")
    job = shop.get(url).json()
    assert job["work"]["state"] == "failed" and "No Such Ink" in job["work"]["error"]
    assert job["revision"] == 1 and job["verdict"] == "clean"


def test_a_part_of_the_art_comes_as_a_picture(shop: Client) -> None:
    job = take_in(shop, write(Drawing(CONTENT)))
    url = f"/api/jobs/{job['id']}/picture?x0=0&y0=0&x1=20&y1=10&ppi="
    answer = shop.get(url + "254")
    assert answer["Content-Type"] == "image/png" and answer.content[:4] == b"\x89PNG"
    assert shop.get(url + "9999").status_code == 400


def test_content_hashes_only_name_files_of_the_store() -> None:
    with pytest.raises(ValueError, match="hash"):
        path_of("../../../../etc/passwd")


@breadth(0.12, "long ones")
def test_what_fits_nowhere_is_offered_what_would_and_one_press_does_it(shop: Client) -> None:
    job = take_in(shop, write(Drawing(CONTENT)))
    page = f"/api/jobs/{job['id']}"
    small = {"title": "Card", "width_mm": 90, "length_mm": 120, "roll": False, "turned": False}
    json = {"content_type": "application/json"}
    shop.patch(page, {"version": job["version"], "media": small}, **json)
    job = shop.get(page).json()
    assert "fits nowhere on Card" in job["sheet"]["error"] and job["sheet"]["width_mm"] == 90
    offered = shop.get(f"{page}/fits").json()
    assert offered
    for one in offered:
        before = {"media": small, "destination": "house", "material": job["material_id"], "code": None}
        shop.patch(page, {"version": shop.get(page).json()["version"], **before, **one["change"]}, **json)
        job = shop.get(page).json()
        assert not job["sheet"]["error"] and len(job["sheet"]["placements"]) == 1, one["words"]
