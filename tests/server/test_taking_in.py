"""Whatever a customer sends becomes a job, or is asked about, or is refused in words."""

import io
import re
from datetime import timedelta

import ezdxf
import numpy as np
import pikepdf
import pytest
from django.apps import apps
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.utils import timezone
from jobs import models
from jobs.store.files import load
from jobs.store.queue import claim
from PIL import Image
from worker import looking
from worker.carrying_out import carry_out
from worker.loop import run_all

from tests.breadth import breadth
from tests.server.conftest import Person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]
GROUND = f"1 0 0 0 k {circle(50, 50, 44)} f "
CONTENT = GROUND + line_in(circle(50, 50, 40))


def photo(width: int = 60, height: int = 40) -> bytes:
    out = io.BytesIO()
    rng = np.random.default_rng(1)
    Image.fromarray(rng.integers(0, 255, (height, width, 3), np.uint8)).save(out, "PNG")
    return out.getvalue()


def drawing() -> bytes:
    document = ezdxf.new(units=0)
    document.modelspace().add_circle((0, 0), 3, dxfattribs={"layer": "A1"})
    document.modelspace().add_line((-4, 0), (4, 0), dxfattribs={"layer": "B7"})
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


def answer(shop: Client, job: dict, **said: object) -> dict:  # type: ignore[type-arg]
    url = f"/api/jobs/{job['id']}"
    assert shop.post(f"{url}/answers", said, content_type="application/json").status_code == 200
    return shop.get(url).json()  # type: ignore[no-any-return]


def test_a_picture_without_a_size_is_asked_about_and_then_taken(shop: Client) -> None:
    data = photo()
    job = take_in(shop, data, "photo.png")
    assert [q["id"] for q in job["questions"]] == ["size"] and job["seen"] is None
    assert "60 × 40 px" in job["holds"]
    assert (job["questions"][0]["extent"], job["questions"][0]["extent_in"]) == ([60, 40], "px")
    seen = np.asarray(Image.open(io.BytesIO(shop.get(f"/api/jobs/{job['id']}/glance").content)).convert("RGB"))
    assert seen.shape[1] / seen.shape[0] == pytest.approx(1.5, rel=0.02) and np.ptp(seen) > 40
    job = answer(shop, job, width_mm=90)
    assert job["questions"] == [] and job["seen"]["size_mm"] == pytest.approx([90, 60], abs=0.01)
    assert load(models.Job.objects.get(pk=job["id"]).original) == data


SVG = b'<svg xmlns="http://www.w3.org/2000/svg" width="60mm" height="60mm" viewBox="0 0 60 60">%s</svg>'
SAME = SVG % b'<circle cx="30" cy="30" r="20" fill="#284"/>'
UNLIKE = SVG % b'<circle cx="30" cy="30" r="20" fill="#284" filter="url(#gone)"/>'


def as_pixels(number: int) -> bool:
    """Whether a job was told that its art came in as pixels."""
    return any("came in as pixels" in note["words"] for note in models.Job.objects.get(pk=number).intake["notes"])


def test_an_svg_is_seen_as_vectors_and_becomes_pixels_where_a_second_renderer_differs(shop: Client) -> None:
    job = take_in(shop, SAME, "same.svg")
    assert job["verdict"] and not as_pixels(job["id"])
    other = take_in(shop, UNLIKE, "unlike.svg")
    assert other["verdict"] and other["current"] and as_pixels(other["id"])
    assert [r["number"] for r in other["revisions"]] == [1]
    assert any("differently" in f["message"] for f in other["findings"])


def test_what_the_second_renderer_says_is_heard_by_the_worker_that_goes_on(
    shop: Person, monkeypatch: pytest.MonkeyPatch
) -> None:
    shop.works = False
    number = shop.post("/api/jobs", {"file": SimpleUploadedFile("unlike.svg", UNLIKE)}).json()["job"]["id"]
    work = claim("one that dies")
    assert work is not None
    with monkeypatch.context() as patched:
        patched.setattr(looking, "look", lambda *_: (_ for _ in ()).throw(SystemExit))
        with pytest.raises(SystemExit):
            carry_out(work)
    seen = shop.get(f"/api/jobs/{number}").json()
    assert seen["seen"] and not as_pixels(number) and not seen["verdict"], "seen, and not judged"
    models.Work.objects.filter(pk=work.pk).update(leased_until=timezone.now() - timedelta(seconds=1))
    assert run_all() == 1
    after = shop.get(f"/api/jobs/{number}").json()
    assert as_pixels(number) and len(after["revisions"]) == 1 and after["verdict"]


def test_the_same_file_is_known_by_its_content(shop: Client) -> None:
    first = take_in(shop, write(Drawing(CONTENT)), "seal.pdf")
    same = {"file": SimpleUploadedFile("another name.pdf", write(Drawing(CONTENT)))}
    again = shop.post("/api/jobs", same).json()
    assert again["known"] and again["job"]["id"] == first["id"] and models.Job.objects.count() == 1
    same["file"].seek(0)
    wanted = shop.post("/api/jobs", {**same, "again": True}).json()
    assert not wanted["known"] and models.Job.objects.count() == 2


def test_what_was_bound_for_a_customer_is_remembered(shop: Client) -> None:
    data = {"file": SimpleUploadedFile("a.dxf", drawing()), "customer": "Saltmarsh Trust"}
    job = shop.get(f"/api/jobs/{shop.post('/api/jobs', data).json()['job']['id']}").json()
    assert {q["id"] for q in job["questions"]} == {"unit", "binding"}
    sizes = next(q["choices"] for q in job["questions"] if q["id"] == "unit")
    assert all(re.fullmatch(r"\w+: the drawing is [\d.]+ × [\d.]+ mm", one["words"]) for one in sizes)
    assert shop.get(f"/api/jobs/{job['id']}/glance").content.startswith(b"\x89PNG")
    job = answer(shop, job, unit="cm", binding={"layer:A1": "kiss-cut", "layer:B7": "crease"})
    assert {line["role"] for line in job["seen"]["lines"]} == {"kiss-cut", "crease"}
    assert job["seen"]["size_mm"] == pytest.approx([80, 60], abs=0.01)
    other = {"file": SimpleUploadedFile("b.dxf", drawing()), "customer": "Saltmarsh Trust", "again": True}
    job = shop.get(f"/api/jobs/{shop.post('/api/jobs', other).json()['job']['id']}").json()
    assert [q["id"] for q in job["questions"]] == ["unit"]


def test_a_password_is_asked_for_and_not_kept(shop: Client) -> None:
    out = io.BytesIO()
    with pikepdf.open(io.BytesIO(write(Drawing(CONTENT)))) as pdf:
        pdf.save(out, encryption=pikepdf.Encryption(owner="o", user="marram grass"))
    job = take_in(shop, out.getvalue())
    assert [q["id"] for q in job["questions"]] == ["password"]
    assert shop.get(f"/api/jobs/{job['id']}/glance").status_code == 404
    said = {"password": "wrong"}
    refused = shop.post(f"/api/jobs/{job['id']}/answers", said, content_type="application/json")
    assert refused.json()["code"] == "locked" and "not the file's password" in refused.json()["message"]
    shop.works = False
    said["password"] = "marram grass"
    assert shop.post(f"/api/jobs/{job['id']}/answers", said, content_type="application/json").status_code == 200
    assert "marram grass" not in everything_kept(), "nor while the work waits"
    run_all()
    job = shop.get(f"/api/jobs/{job['id']}").json()
    assert job["seen"] and not job["questions"]
    assert "marram grass" not in everything_kept()


def everything_kept() -> str:
    return str([list(model.objects.values()) for model in apps.get_models()])


def test_many_pages_become_jobs_or_pieces(shop: Client) -> None:
    data = write(Drawing(CONTENT, pages=3))
    job = take_in(shop, data)
    assert job["questions"][0]["id"] == "pages" and len(job["questions"][0]["choices"]) == 3
    pieces = answer(shop, job, pages=[1, 3])
    assert pieces["seen"]["lines"][0]["contours"] == 2
    again = shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", data), "again": True}).json()["job"]
    answer(shop, again, pages=[1, 2, 3], each_page=True)
    each = models.Job.objects.exclude(pk=job["id"])
    assert each.count() == 3 and {j.intake["answers"]["pages"][0] for j in each} == {1, 2, 3}
    assert all(j.revision is not None for j in each)


def test_the_order_starts_from_the_file_and_the_customers_last_one(shop: Client) -> None:
    job = take_in(shop, write(Drawing(CONTENT)))
    order = job["order"]
    assert order["width_mm"] == pytest.approx(80, abs=0.05) and order["roles"] is None
    assert order["edge"] == "bleed" and job["intake"]["order_said"]
    shop.patch(
        f"/api/jobs/{job['id']}", {"customer": "Saltmarsh Trust"}, content_type="application/json"
    )
    kept = {**order, "bleed_mm": 2.0, "width_mm": 800, "height_mm": 800}
    shop.patch(f"/api/jobs/{job['id']}", {"order": kept}, content_type="application/json")
    other = SimpleUploadedFile("n.pdf", write(Drawing(CONTENT, size=(101, 100))))
    data = {"file": other, "customer": "Saltmarsh Trust"}
    new = shop.get(f"/api/jobs/{shop.post('/api/jobs', data).json()['job']['id']}").json()
    assert new["order"]["bleed_mm"] == 2.0 and new["order"]["width_mm"] == pytest.approx(80, abs=0.05)


def test_plates_amounts_and_section_come_from_what_was_measured(shop: Client) -> None:
    job = take_in(shop, write(Drawing("0.6 0.4 0 0 k 10 10 80 80 re f " + line_in(circle(50, 50, 30)))))
    url = f"/api/jobs/{job['id']}"
    inks = [ink["name"] for ink in job["plates"]["inks"]]
    assert inks == ["Cyan", "Magenta", "Yellow", "Black", "Kiss Cut"]
    assert job["plates"]["load"]["highest"] == pytest.approx(100, abs=0.8)
    # 10 mm of trim margin: the trim's corner is the origin, the painted square begins there.
    at = shop.get(f"{url}/amounts?x=40&y=40").json()
    assert at[:4] == pytest.approx([153, 102, 0, 0], abs=1)
    assert shop.get(f"{url}/amounts?x=-9&y=-9").json()[:2] == [0, 0]
    cut = shop.get(f"{url}/section?x0=-5&y0=40&x1=85&y1=40").json()
    assert [c["at_mm"] for c in cut["crossings"]] == pytest.approx([15, 75], abs=0.02)
    assert [s["kind"] for s in cut["strata"]] == ["film", "adhesive", "liner"]
    assert cut["crossings"][0]["bottom_um"] == 120, "the 115 of film and adhesive, and what 90 gf go deeper"
    assert {band["name"] for band in cut["inks"]} == {"Cyan", "Magenta"}
    picture = Image.open(io.BytesIO(shop.get(f"{url}/plates?inks=0").content))
    assert picture.getpixel((picture.width // 2, picture.height // 2)) == (102, 102, 102)
    heat = Image.open(io.BytesIO(shop.get(f"{url}/plates?mode=heat").content))
    assert heat.size == picture.size


def test_views_show_the_file_its_art_and_one_layer_of_any_revision(shop: Client) -> None:
    on = "/OC /L BDC 0 1 0 0 k 20 20 20 20 re f EMC "
    job = take_in(shop, write(Drawing("1 0 0 0 k 50 50 20 20 re f " + on + line_in(circle(50, 50, 40)), layer=" ")))
    area = "x0=-10&y0=-10&x1=90&y1=90&ppi=25.4"
    seen = {}
    for view in ("whole", "art", "layer-0", "layer-none"):
        answer = shop.get(f"/api/jobs/{job['id']}/picture?{area}&view={view}&revision=1")
        image = np.asarray(Image.open(io.BytesIO(answer.content)).convert("RGB")).astype(int)
        # The square on the layer is 20 to 40 mm from the page's lower left, the other 50 to 70.
        seen[view] = (image[100 - 30, 30].min() < 250, image[100 - 60, 60].min() < 250)
    assert seen == {"whole": (True, True), "art": (True, True), "layer-0": (True, False), "layer-none": (False, True)}
    assert shop.get(f"/api/jobs/{job['id']}/picture?{area}&view=nonsense").status_code == 404


def test_a_stopped_file_can_be_taken_in_again(shop: Client) -> None:
    job = take_in(shop, write(Drawing(CONTENT)))
    row = models.Job.objects.get(pk=job["id"])
    models.Analysis.objects.filter(job=row).delete()
    work = models.Work.objects.create(job=row, kind="take-in")
    assert shop.post(f"/api/works/{work.pk}/cancel").json()["state"] == "cancelled"
    assert run_all() == 0
    assert "stopped" in shop.get(f"/api/jobs/{job['id']}").json()["holds"]
    assert answer(shop, job)["seen"]["lines"]


def test_pages_can_be_looked_at_before_one_is_chosen(shop: Client) -> None:
    job = take_in(shop, write(Drawing(CONTENT, pages=2)))
    picture = shop.get(f"/api/jobs/{job['id']}/pages/2")
    assert np.asarray(Image.open(io.BytesIO(picture.content))).min() < 100
    assert shop.get(f"/api/jobs/{job['id']}/pages/3").status_code == 404
    photo_job = take_in(shop, photo(), "photo.png")
    assert shop.get(f"/api/jobs/{photo_job['id']}/pages/1").status_code == 404
