"""The check through the API: decisions, check sheets, edge map, letter and report."""

import json
import re

import pypdfium2
import pytest
from django.contrib.auth import get_user_model
from django.contrib.auth.models import Permission
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from tests.breadth import breadth
from tests.pairs import FIELD, GROUND, KISS, SPOTS
from tests.server.conftest import take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]
RGB = GROUND + "1 0 0 rg 30 30 9 9 re f " + KISS
SHORT = f"1 0 0 0 k {circle(50, 50, 42)} f " + line_in(circle(50, 50, 40), width=0.5)


def post(shop: Client, path: str, body: dict) -> tuple[int, dict]:  # type: ignore[type-arg]
    answer = shop.post(path, body, content_type="application/json")
    return answer.status_code, answer.json()


def finding(job: dict, id: str) -> dict:  # type: ignore[type-arg]
    return next(f for f in job["findings"] if f["id"] == id)


def text_of(pdf: bytes) -> str:
    document = pypdfium2.PdfDocument(pdf)
    return "\n".join(page.get_textpage().get_text_bounded() for page in document)


def test_a_look_is_accepted_with_a_reason_and_asked_again_when_it_changes(shop: Client) -> None:
    job = take_in(shop, write(Drawing(RGB)))
    look = finding(job, "ink.rgb")
    assert job["looks"] == 1
    path = f"/api/jobs/{job['id']}/decisions"
    status, said = post(shop, path, {"key": look["key"], "reason": " "})
    assert status == 400 and "reason" in said["message"]
    status, job = post(shop, path, {"key": look["key"], "reason": "The customer wants this red."})
    assert status == 200 and job["looks"] == 0 and job["verdict"] == "clean"
    assert finding(job, "ink.rgb")["decision"]["reason"] == "The customer wants this red."
    # The same file again stands; one more object in RGB is another thing.
    answers = f"/api/jobs/{job['id']}/answers"
    post(shop, answers, {})
    assert finding(shop.get(f"/api/jobs/{job['id']}").json(), "ink.rgb")["decision"]
    from jobs import models
    from jobs.store.files import keep

    models.Job.objects.filter(pk=job["id"]).update(original=keep(write(Drawing(RGB + "1 0 0 rg 60 60 9 9 re f"))))
    post(shop, answers, {})
    job = shop.get(f"/api/jobs/{job['id']}").json()
    changed = finding(job, "ink.rgb")
    assert changed["decision"] is None and changed["before"]["reason"] == "The customer wants this red."
    assert job["looks"] == 1


def test_a_stop_is_let_pass_only_by_who_may_and_the_report_says_so(shop: Client) -> None:
    job = take_in(shop, write(Drawing(SHORT)))
    path, key = f"/api/jobs/{job['id']}/decisions", finding(job, "edge.bleed")["key"]
    assert not job["may_waive"]
    status, said = post(shop, path, {"key": key, "reason": "It is a sample."})
    assert status == 403 and "may not" in said["message"] and said["code"] == "not-permitted"
    get_user_model().objects.get(username="ada").user_permissions.add(Permission.objects.get(codename="waive"))
    status, job = post(shop, path, {"key": key, "reason": "It is a sample."})
    assert status == 200 and job["may_waive"] and job["stops"] == 0
    told = text_of(shop.get(f"/api/jobs/{job['id']}/report.pdf").content)
    assert "Waived by ada" in told and "It is a sample." in told
    assert "1 stop was waived by a person" in told
    status, job = 200, shop.delete(f"{path}/{key}").json()
    assert job["stops"] == 1


def test_the_report_names_file_fingerprint_sheet_and_every_finding(shop: Client) -> None:
    import hashlib

    data = write(Drawing(SHORT))
    job = take_in(shop, data)
    told = text_of(shop.get(f"/api/jobs/{job['id']}/report.pdf").content)
    assert hashlib.sha256(data).hexdigest() in told.replace("\n", "").replace("\r", "")
    assert "shipped" in told and "cannot be released" in told
    for f in job["findings"]:
        assert f["id"] in told, f["id"]
    assert re.search(r"measured (1\.99|2) mm, limit 3 mm", told)


def test_the_letter_holds_what_was_chosen_and_nothing_else(shop: Client) -> None:
    job = take_in(shop, write(Drawing(SHORT, inks={"K": "Kis Cut"})))
    keys = [finding(job, "edge.bleed")["key"], finding(job, "ink.near-name")["key"]]
    status, said = post(shop, f"/api/jobs/{job['id']}/letter", {"keys": keys})
    assert status == 200
    assert "Too little bleed" in said["text"] and "A thick line" not in said["text"]
    assert "Is: Kis Cut   Should be: Kiss Cut" in said["text"] and "How to send it again" in said["text"]
    pdf = shop.get(f"/api/jobs/{job['id']}/letter.pdf?chosen={','.join(keys)}").content
    assert "Too little bleed" in text_of(pdf) and "Kis·Cut" in text_of(pdf)
    _, inches = post(shop, f"/api/jobs/{job['id']}/letter", {"keys": keys, "unit": "in"})
    assert re.search(r"\d mm", said["text"]) and not re.search(r"\d mm", inches["text"]) and " in" in inches["text"]
    pdf = shop.get(f"/api/jobs/{job['id']}/letter.pdf?unit=in&chosen={','.join(keys)}").content
    assert not re.search(r"\d mm", text_of(pdf))
    status, said = post(shop, f"/api/jobs/{job['id']}/letter", {"keys": []})
    assert status == 400 and "Choose" in said["message"]


def test_the_edge_map_and_what_a_cut_that_lands_off_would_show(shop: Client) -> None:
    job = take_in(shop, write(Drawing(SHORT)))
    edges = shop.get(f"/api/jobs/{job['id']}/edges").json()
    (profile,) = edges["layers"]["colour"]
    assert len(profile["points"]) == 2 * len(profile["outside"])
    assert edges["stands_mm"] == pytest.approx(2.0, abs=0.05)
    assert next(s["share"] for s in edges["shares"]["colour"] if s["kind"] == "short") == pytest.approx(1.0)
    still = shop.get(f"/api/jobs/{job['id']}/landing?dx=1.9").json()
    assert still["count"] == 0
    # A disc of radius 40 moved by 3 mm in one of 42: the lens that sticks out, by hand from two circles.
    off = shop.get(f"/api/jobs/{job['id']}/landing?dx=3").json()
    assert off["by_kind"]["bare media"] == off["area_mm2"] > 0
    assert off["widest_mm"] == pytest.approx(1.0, abs=0.06)
    assert shop.get(f"/api/jobs/{job['id']}/landing?dx=300").status_code == 400


def test_the_picture_of_a_finding_is_a_picture(shop: Client) -> None:
    job = take_in(shop, write(Drawing(SHORT)))
    answer = shop.get(f"/api/jobs/{job['id']}/evidence/{finding(job, 'edge.bleed')['key']}")
    assert answer.content[:4] == b"\x89PNG" and len(answer.content) > 500


def test_a_check_sheet_is_tried_kept_as_a_version_and_goes_out_and_in(shop: Client) -> None:
    job = take_in(shop, write(Drawing(SHORT)))
    draft = {"scope": "material", "subject": "film-1370", "limits": {"edge.bleed": 1.5}, "severities": {},
             "job": job["id"], "note": "kiss cuts of small runs"}
    _, work = post(shop, "/api/sheets/try", draft)
    result = shop.get(f"/api/works/{work['id']}").json()["result"]
    assert [f["id"] for f in result["goes"]] == ["edge.bleed"] and not result["comes"]
    assert result["ran"] == ["edge.bleed"]
    assert finding(shop.get(f"/api/jobs/{job['id']}").json(), "edge.bleed")
    status, sheets = post(shop, "/api/sheets", draft)
    assert status == 200
    (kept,) = [s for s in sheets["sheets"] if s["subject"] == "film-1370"]
    assert [(v["number"], v["note"]) for v in kept["versions"]] == [(1, "kiss cuts of small runs")]
    job = shop.get(f"/api/jobs/{job['id']}").json()
    assert "edge.bleed" not in {f["id"] for f in job["findings"]}
    assert job["check_sheet"] == "White film, roll 1370 mm version 1"
    out = shop.get("/api/sheets/export?scope=material&subject=film-1370").content
    assert json.loads(out)["limits"] == {"edge.bleed": 1.5}
    back = shop.post("/api/sheets/import", {"file": SimpleUploadedFile("sheet.json", out)}).json()
    assert back["limits"] == {"edge.bleed": 1.5}
    wrong = shop.post("/api/sheets/import", {"file": SimpleUploadedFile("sheet.json", b'{"limits": {"edge.bled": 1}}')})
    assert wrong.status_code == 400 and "edge.bled" in wrong.json()["message"]
    # A customer's own sheet goes before the material's.
    for severity, found in (("note", "note"), ("off", None)):
        post(shop, "/api/sheets", {"scope": "shop", "severities": {"line.wide": severity}, "job": job["id"]})
        listed = shop.get(f"/api/jobs/{job['id']}").json()["findings"]
        assert next((f["severity"] for f in listed if f["id"] == "line.wide"), None) == found


def test_after_a_mend_only_what_can_have_changed_is_checked_again_and_it_comes_to_the_same(shop: Client) -> None:
    from jobs import models
    from jobs.store.files import load

    from horismos.artwork import read_bytes
    from horismos.checking import check

    content = FIELD + "1 0 0 rg 30 30 9 9 re f /K CS 1 SCN 0.5 w 25 25 40 40 re S " + line_in(circle(45, 45, 34), "T")
    job = take_in(shop, write(Drawing(content, inks=SPOTS)))
    step = next(m for m in finding(job, "line.wide")["mends"])
    status, _ = post(shop, f"/api/jobs/{job['id']}/mends", step)
    assert status == 200
    after = shop.get(f"/api/jobs/{job['id']}").json()
    assert after["revision"] == 2 and after["checks_carried"] > 20
    assert finding(after, "ink.rgb")["carried"]
    assert "line.wide" not in {f["id"] for f in after["findings"]}
    afresh = check(read_bytes(load(models.Job.objects.get(pk=job["id"]).revision.sha256)))
    assert {f["key"] for f in after["findings"]} == {f.key for f in afresh.findings}
    # The edge map stood, since neither the art nor the contours were touched.
    assert after["has_edges"]


def test_the_order_says_a_bleed_or_leaves_it_to_the_check_sheet(shop: Client) -> None:
    job = take_in(shop, write(Drawing(SHORT)))
    url = f"/api/jobs/{job['id']}"
    assert job["order"]["bleed_mm"] is None and job["edge_wanted"]["bleed"] == 3.0
    post(shop, "/api/sheets", {"scope": "shop", "limits": {"edge.bleed": 1.5}, "job": job["id"]})
    assert "edge.bleed" not in {f["id"] for f in shop.get(url).json()["findings"]}
    assert shop.get(url).json()["edge_wanted"]["bleed"] == 1.5
    order = {**job["order"], "bleed_mm": 3.0}
    said = shop.patch(url, {"order": order}, content_type="application/json")
    assert said.status_code == 200 and finding(shop.get(url).json(), "edge.bleed")["limit"] == 3.0
    assert shop.get(f"{url}/edges").json()["limits"]["bleed"] == 3.0


def test_what_has_just_come_in_stands_on_top_until_it_is_changed_or_a_while_has_passed(shop: Client) -> None:
    from datetime import timedelta

    from django.utils import timezone
    from jobs import models

    due = take_in(shop, write(Drawing(SHORT)), "due.pdf")
    patched = shop.patch(f"/api/jobs/{due['id']}", {"due": "2026-12-01"}, content_type="application/json")
    assert patched.status_code == 200
    take_in(shop, write(Drawing(SHORT.replace("40", "39"))), "late.pdf")
    fresh = take_in(shop, write(Drawing(SHORT.replace("40", "38"))), "fresh.pdf")
    names = lambda: [(row["name"], row["new"]) for row in shop.get("/api/jobs").json()]  # noqa: E731
    assert names() == [("fresh", True), ("late", True), ("due", False)]
    models.Job.objects.filter(pk=fresh["id"]).update(created=timezone.now() - timedelta(hours=1))
    assert names() == [("late", True), ("due", False), ("fresh", False)]
