"""Mends through the API: one with its settings, all that are safe at once, and what is set aside."""

import pytest
from jobs import models

from tests.server.conftest import Person, person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db(transaction=True)
JSON = "application/json"
GROUND = f"1 0 0 0 k {circle(50, 50, 44)} f "
WRONG = write(Drawing(
    GROUND + line_in(circle(50, 50, 40), width=0.6) + line_in("50 20 m 60 20 l 60 30 l 50 30 l 50 20.3 l"),
    inks={"K": "Kis Cut"},
))
COLOURED = write(Drawing(f"0.2 0.4 0.1 rg {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))))


def address(job: dict) -> str:  # type: ignore[type-arg]
    return f"/api/jobs/{job['id']}"


def test_all_that_is_safe_is_one_revision_with_one_proof_and_one_undo(shop: Person) -> None:
    job = take_in(shop, WRONG)
    assert job["verdict"] == "stop" and len(job["safe_mends"]) >= 2
    answer = shop.post(f"{address(job)}/mends/safe")
    assert answer.status_code == 200, answer.content
    after = shop.get(address(job)).json()
    assert [r["number"] for r in after["revisions"]] == [1, 2] and after["current"]
    proof = after["revisions"][1]["proof"]
    assert proof["plates_same"] is True and proof["art_max_delta_e"] == 0 and proof["lines_moved_mm"] < 0.4
    assert after["safe_mends"] == [] and not any(f["severity"] == "stop" for f in after["findings"])
    said = after["revisions"][1]["said"]
    assert "Kiss Cut" in said and "hairline" in said and "Closes 1 contour" in said
    again = shop.post(f"{address(job)}/mends/safe")
    assert again.status_code == 409 and "without a person" in again.json()["message"]
    assert shop.post(f"{address(job)}/undo").status_code == 200
    back = shop.get(address(job)).json()
    assert back["revision"] == 1 and back["safe_mends"] == job["safe_mends"]


def test_what_a_person_let_pass_is_not_mended_with_the_rest(shop: Person) -> None:
    job = take_in(shop, write(Drawing(GROUND + line_in(circle(50, 50, 40), width=0.6))))
    (wide,) = [f for f in job["findings"] if f["id"] == "line.wide"]
    assert job["safe_mends"] == ["Make the kiss cut a hairline"]
    shop.post(f"{address(job)}/decisions", {"key": wide["key"], "reason": "as ordered"}, content_type=JSON)
    assert shop.get(address(job)).json()["safe_mends"] == []
    assert shop.post(f"{address(job)}/mends/safe").status_code == 409


def test_a_stale_safe_mend_is_refused(shop: Person) -> None:
    job = take_in(shop, WRONG)
    body = {"version": job["version"], "revision": 1}
    other = person("ben")
    other.patch(address(job), {"name": "Renamed"}, content_type=JSON)
    refused = shop.post(f"{address(job)}/mends/safe", body, content_type=JSON)
    assert refused.status_code == 409 and models.Work.objects.filter(kind="mend").count() == 0


def test_a_mend_with_settings_is_offered_and_carried_out(shop: Person) -> None:
    job = take_in(shop, COLOURED)
    (offered,) = [m for f in job["findings"] if f["id"] == "ink.rgb" for m in f["mends"]]
    assert offered["kind"] == "to-cmyk" and not offered["safe"] and "sRGB" in offered["says"]
    shop.post(f"{address(job)}/mends", {"kind": "to-cmyk", "settings": {"intent": "perceptual"}}, content_type=JSON)
    after = shop.get(address(job)).json()
    assert "perceptual intent" in after["revisions"][1]["said"] and after["revision"] == 2
    assert {i["name"] for i in after["seen"]["inks"] if i["kind"] == "process"} >= {"Cyan", "Yellow"}
    wrong = shop.post(f"{address(job)}/mends", {"kind": "to-cmyk", "settings": {"intent": "mild"}}, content_type=JSON)
    assert wrong.status_code == 400 and "perceptual" in str(wrong.json())


def test_a_colour_that_is_pointed_at_becomes_a_line(shop: Person) -> None:
    job = take_in(shop, write(Drawing(GROUND + f"0 1 0 0 K 0.1 w {circle(50, 50, 40)} S ")))
    settings = {"role": "kiss-cut", "colour": [0, 1, 0, 0]}
    shop.post(f"{address(job)}/mends", {"kind": "assign-role", "settings": settings}, content_type=JSON)
    after = shop.get(address(job)).json()
    assert [line["role"] for line in after["seen"]["lines"]] == ["kiss-cut"]
    assert "Makes 1 path the kiss cut" in after["revisions"][1]["said"]
