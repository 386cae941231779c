"""Mends through the API: one with its settings, all that are safe at once, and what is set aside."""

import io
from typing import Any

import pytest
from jobs import models
from PIL import Image
from worker.carrying_out import _refused

from horismos.errors import CannotWrite, LimitExceeded
from tests.breadth import breadth
from tests.server.conftest import Person, person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]
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


def test_what_was_made_a_line_once_is_remembered_for_the_customer_and_needs_nobody_again(shop: Person) -> None:
    """The second file of the same customer, and one that was there before, are mended in one press."""
    drawn = [write(Drawing(GROUND + f"0 1 0 0 K 0.1 w {circle(50, 50, r)} S ")) for r in (40, 39, 38)]
    wanted = {"order": {"roles": ["kiss-cut"]}, "customer": "Tern & Tide"}
    jobs = [take_in(shop, data, f"{i}.pdf") for i, data in enumerate(drawn)]
    for job in jobs[:2]:
        shop.patch(address(job), wanted, content_type=JSON)
    first = shop.get(address(jobs[0])).json()
    (missing,) = [f for f in first["findings"] if f["id"] == "line.missing"]
    (offered,) = missing["mends"]
    assert "CMYK 0, 100, 0, 0 %" in offered["label"] and first["safe_mends"] == []
    shop.post(f"{address(jobs[0])}/mends", {"kind": "assign-role", "settings": offered["settings"]}, content_type=JSON)
    assert models.Customer.objects.get(name="Tern & Tide").known == {"colour:0 1 0 0": "kiss-cut"}
    shop.patch(address(jobs[2]), wanted, content_type=JSON)
    for job in jobs[1:]:
        seen = shop.get(address(job)).json()
        assert seen["current"] and seen["safe_mends"] == [offered["label"]]
        assert shop.post(f"{address(job)}/mends/safe").status_code == 200
        assert [line["role"] for line in shop.get(address(job)).json()["seen"]["lines"]] == ["kiss-cut"]


def test_a_size_that_was_guessed_follows_a_scale_and_one_that_was_said_stands(shop: Person) -> None:
    guessed, said = (
        take_in(shop, write(Drawing(GROUND + line_in(circle(50, 50, 40)) + mark)), f"{name}.pdf")
        for name, mark in (("a", ""), ("b", " "))
    )
    shop.patch(address(said), {"order": {"width_mm": 80, "height_mm": 80}}, content_type=JSON)
    twice = {"kind": "scale", "settings": {"ratio": 2}}
    for job in (guessed, said):
        assert shop.post(f"{address(job)}/mends", twice, content_type=JSON).status_code == 200
    one, other = (shop.get(address(job)).json() for job in (guessed, said))
    assert (one["order"]["width_mm"], one["order"]["height_mm"]) == (160, 160)
    assert not [f for f in one["findings"] if f["id"] == "page.size"]
    assert other["order"]["width_mm"] == 80 and [f for f in other["findings"] if f["id"] == "page.size"]


# -- history, previews, pointing -----------------------------------------------------------------------


def test_any_revision_can_be_gone_to_and_a_mend_there_begins_a_branch(shop: Person) -> None:
    job = take_in(shop, WRONG)
    shop.post(f"{address(job)}/mends", {"kind": "rename", "settings": {"ink": "Kis Cut", "to": "Kiss Cut"}},
              content_type=JSON)
    shop.post(f"{address(job)}/mends", {"kind": "hairline", "settings": {}}, content_type=JSON)
    assert shop.post(f"{address(job)}/revisions/2/take").status_code == 200
    shop.post(f"{address(job)}/mends", {"kind": "close-line", "settings": {}}, content_type=JSON)
    after = shop.get(address(job)).json()
    assert [(r["number"], r["parent"]) for r in after["revisions"]] == [(1, 0), (2, 1), (3, 2), (4, 2)]
    assert after["revision"] == 4 and after["current"]
    assert [r["steps"][0]["kind"] for r in after["revisions"][1:]] == ["rename", "hairline", "close-line"]
    shop.post(f"{address(job)}/revisions/3/take")
    assert shop.get(address(job)).json()["revision"] == 3
    for wrong in (3, 9):
        assert shop.post(f"{address(job)}/revisions/{wrong}/take").status_code == 409
    assert "Went to revision 3" in shop.get(address(job)).json()["log"][0]["what"]


def test_a_mend_can_be_looked_at_before_it_is_done_and_the_job_stays_as_it_is(shop: Person) -> None:
    job = take_in(shop, COLOURED)
    body = {"kind": "to-cmyk", "settings": {}, "version": job["version"], "revision": 1}
    begun = shop.post(f"{address(job)}/previews", body, content_type=JSON).json()
    done = shop.get(f"/api/works/{begun['id']}").json()
    assert done["state"] == "done" and "CMYK" in done["result"]["said"] and done["result"]["places"]
    assert done["result"]["proof"]["lines_moved_mm"] == 0
    after = shop.get(address(job)).json()
    assert after["revision"] == 1 and len(after["revisions"]) == 1 and after["current"]
    part = "x0=0&y0=0&x1=80&y1=80&ppi=30"
    seen = shop.get(f"{address(job)}/picture?{part}&preview={begun['id']}")
    before = shop.get(f"{address(job)}/picture?{part}")
    assert seen.status_code == 200 and seen.content[:4] == b"\x89PNG" and seen.content != before.content
    apart = Image.open(io.BytesIO(shop.get(f"{address(job)}/apart?before=1&preview={begun['id']}").content))
    middle, corner = (apart.getpixel((apart.width * at // 100, apart.height * at // 100)) for at in (50, 2))
    assert corner == (255, 255, 255) and middle != corner
    same = Image.open(io.BytesIO(shop.get(f"{address(job)}/apart?before=1&after=1").content))
    assert same.getextrema() == ((255, 255),) * 3
    assert shop.get(f"{address(job)}/apart?before=7").status_code == 404
    other = take_in(shop, WRONG, "other.pdf")
    assert shop.get(f"{address(other)}/picture?{part}&preview={begun['id']}").status_code == 404
    stale = shop.post(f"{address(job)}/previews", {**body, "revision": 3}, content_type=JSON)
    assert stale.status_code == 409


def test_what_lies_at_a_place_is_told_with_what_can_be_done_to_just_that(shop: Person) -> None:
    inner = circle(60, 50, 3)
    job = take_in(shop, write(Drawing(GROUND + line_in(f"{circle(50, 50, 40)} {inner}"))))
    things = shop.get(f"{address(job)}/at?x=50&y=40&within=0.5").json()
    assert [t["kind"] for t in things] == ["contour", "path", "contour"]
    assert things[0]["words"].startswith("Inner contour of the kiss cut: 28.3 mm²") and things[0]["outline"][0] == "M"
    assert things[1]["words"] == "Shape in cyan (CMYK 100, 0, 0, 0 %)"
    assert things[1]["alike"] == "1 object in the cyan (CMYK 100, 0, 0, 0 %)"
    (drop,) = [m for m in things[0]["mends"] if m["kind"] == "drop-inner"]
    shop.post(f"{address(job)}/mends", {"kind": drop["kind"], "settings": drop["settings"]}, content_type=JSON)
    after = shop.get(address(job)).json()
    assert [line["contours"] for line in after["seen"]["lines"]] == [1]
    kinds = {m["kind"] for m in things[1]["mends"]}
    assert {"assign-role", "recolour", "build-white"} <= kinds
    assert shop.get(f"{address(job)}/at?x=-40&y=-40").json() == []


def test_a_mend_that_would_bring_a_stop_is_done_together_with_what_answers_that(shop: Person) -> None:
    ground, kiss = f"1 0 0 0 k {circle(50, 50, 41)} f\n", line_in(circle(50, 50, 40))
    content = f"{ground}/W cs 1 scn 30 30 40 40 re f\n0 1 0 0 k 40 40 15 15 re f\n{kiss}"
    job = take_in(shop, write(Drawing(content, inks={"K": "Kiss Cut", "W": "Chalk"})))
    body: dict[str, Any] = {"kind": "recolour", "settings": {"ink": "Chalk", "to": "White"}}
    assert shop.post(f"/api/jobs/{job['id']}/mends", body, content_type="application/json").status_code == 200
    work = models.Work.objects.filter(job=job["id"], kind="mend").latest("id")
    assert work.state == "failed" and "new stop" in work.error and work.result["then"]
    instead = shop.get(f"/api/jobs/{job['id']}").json()["work"]["instead"]
    assert (instead["kind"], instead["settings"]) == (body["kind"], body["settings"]), "offered where it was pressed"
    then = [{"kind": one.pop("mend"), "settings": one} for one in work.result["then"]]
    assert [{"kind": one["kind"], "settings": one["settings"]} for one in instead["then"]] == then
    answer = shop.post(f"/api/jobs/{job['id']}/mends", {**body, "then": then}, content_type="application/json")
    assert answer.status_code == 200, answer.content
    after = shop.get(f"/api/jobs/{job['id']}").json()
    assert after["work"]["instead"] is None
    assert after["revision"] == 2 and len(models.Revision.objects.get(job=job["id"], number=2).steps) == 1 + len(then)


def test_a_mend_that_was_tried_in_vain_is_not_offered_again_until_something_changes(shop: Person) -> None:
    job = take_in(shop, write(Drawing(line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"})))
    (card,) = [f for f in job["findings"] if f["id"] == "ink.near-name"]
    row, key = models.Job.objects.get(pk=job["id"]), models.Analysis.objects.get(job=job["id"]).key
    models.Work.objects.create(
        job=row, kind="mend", state="failed", result={"found": key, "then": []},
        arguments={"mend": card["mends"][0]["kind"], **card["mends"][0]["settings"]},
    )
    cards = shop.get(f"/api/jobs/{job['id']}").json()["findings"]
    assert [f["mends"] for f in cards if f["id"] == "ink.near-name"] == [card["mends"][1:]]
    models.Analysis.objects.filter(job=job["id"]).update(key="another")
    cards = shop.get(f"/api/jobs/{job['id']}").json()["findings"]
    assert [len(f["mends"]) for f in cards if f["id"] == "ink.near-name"] == [len(card["mends"])]


def test_a_companion_is_offered_until_it_was_tried_in_vain_and_want_of_time_hides_nothing(shop: Person) -> None:
    job = take_in(shop, write(Drawing(line_in(circle(50, 50, 40)), inks={"K": "Kis Cut"})))
    row, key = models.Job.objects.get(pk=job["id"]), models.Analysis.objects.get(job=job["id"]).key
    arguments = {"mend": "rename", "ink": "Kis Cut", "to": "Kiss Cut"}
    then = [{"mend": "overprint", "role": "kiss-cut"}]

    def offered() -> list[list[str]]:
        cards = shop.get(address(job)).json()["findings"]
        return [[one["kind"] for one in m["then"]] for f in cards for m in f["mends"] if m["kind"] == "rename"]

    failed = {"job": row, "kind": "mend", "state": "failed"}
    work = models.Work.objects.create(**failed, arguments=arguments, result={"found": key, "then": then})
    assert _refused(work, LimitExceeded("It took too long.")) is None
    assert _refused(work, CannotWrite("It would not help.")) == {"found": key, "then": []}
    assert offered() == [["overprint"]]
    models.Work.objects.create(
        **failed, arguments={**arguments, "then": then}, result={"found": key, "then": []}
    )
    assert offered() == []


def test_what_the_customer_had_before_is_offered_in_one_press(shop: Person) -> None:
    rgb = [write(Drawing(f"1 {i / 10} 0 rg {circle(50, 50, 46)} f " + line_in(circle(50, 50, 40)))) for i in (0, 1)]
    first, second = (take_in(shop, data, f"{i}.pdf") for i, data in enumerate(rgb))
    for job in (first, second):
        shop.patch(address(job), {"customer": "Tern & Tide"}, content_type=JSON)
    assert shop.get(address(second)).json()["as_before"] is None
    seen = shop.get(address(first)).json()
    mend = {"kind": "to-cmyk", "settings": {"intent": "perceptual"}, "version": seen["version"], "revision": 1}
    assert shop.post(f"{address(first)}/mends", mend, content_type=JSON).status_code == 200
    assert shop.get(address(first)).json()["as_before"] is None, "it is done here already"
    seen = shop.get(address(second)).json()
    before = seen["as_before"]
    assert (before["job_id"], before["name"]) == (first["id"], first["name"])
    assert [one["settings"]["intent"] for one in before["mends"] if one["kind"] == "to-cmyk"] == ["perceptual"]
    said = {"version": seen["version"], "revision": 1}
    assert shop.post(f"{address(second)}/mends/as-before", said, content_type=JSON).status_code == 200
    seen = shop.get(address(second)).json()
    assert seen["revision"] == 2 and not any(f["id"] == "ink.rgb" for f in seen["findings"])
    assert f"Mend as “{first['name']}” was" in [entry["what"] for entry in seen["log"]]
    said = {"version": seen["version"], "revision": 2}
    answer = shop.post(f"{address(second)}/mends/as-before", said, content_type=JSON)
    assert answer.status_code == 409 and "Nothing is left" in answer.json()["message"]
    # what was undone there is no habit any more
    seen = shop.get(address(first)).json()
    shop.post(f"{address(first)}/undo", {"version": seen["version"]}, content_type=JSON)
    shop.post(f"{address(second)}/undo", {"version": shop.get(address(second)).json()["version"]}, content_type=JSON)
    assert shop.get(address(second)).json()["as_before"] is None


def test_nobody_is_offered_the_mends_of_another_customer(shop: Person) -> None:
    rgb = write(Drawing(f"1 0 0 rg {circle(50, 50, 46)} f " + line_in(circle(50, 50, 40))))
    first, second = take_in(shop, rgb, "a.pdf"), take_in(shop, rgb + b"\n", "b.pdf")
    seen = shop.get(address(first)).json()
    mend = {"kind": "to-cmyk", "settings": {}, "version": seen["version"], "revision": 1}
    shop.post(f"{address(first)}/mends", mend, content_type=JSON)
    assert shop.get(address(second)).json()["as_before"] is None, "without a name nobody is the same"
    shop.patch(address(first), {"customer": "Tern & Tide"}, content_type=JSON)
    shop.patch(address(second), {"customer": "Harbour Shop"}, content_type=JSON)
    assert shop.get(address(second)).json()["as_before"] is None


def test_a_mend_that_is_not_there_any_more_is_nobodys_habit(shop: Person) -> None:
    rgb = [write(Drawing(f"1 {i / 10} 0 rg {circle(50, 50, 46)} f " + line_in(circle(50, 50, 40)))) for i in (0, 1)]
    first, second = (take_in(shop, data, f"{i}.pdf") for i, data in enumerate(rgb))
    for job in (first, second):
        shop.patch(address(job), {"customer": "Tern & Tide"}, content_type=JSON)
    seen = shop.get(address(first)).json()
    mend = {"kind": "to-cmyk", "settings": {}, "version": seen["version"], "revision": 1}
    shop.post(f"{address(first)}/mends", mend, content_type=JSON)
    revision = models.Revision.objects.get(job=first["id"], number=2)
    revision.steps = [{"mend": "to-cmyk", "intent": "as-it-was-called-once"}, *revision.steps]
    revision.save()
    assert [one["kind"] for one in shop.get(address(second)).json()["as_before"]["mends"]] == ["to-cmyk"]


def test_a_size_that_followed_a_mend_goes_back_with_it(shop: Person) -> None:
    job = take_in(shop, write(Drawing("1 0 0 0 k 5 5 90 90 re f\n" + line_in(circle(50, 50, 40)))))
    before = job["order"]["width_mm"]
    step = {"kind": "scale", "settings": {"ratio": 1.01}}
    assert shop.post(f"/api/jobs/{job['id']}/mends", step, content_type="application/json").status_code == 200
    assert shop.get(f"/api/jobs/{job['id']}").json()["order"]["width_mm"] == pytest.approx(before * 1.01, abs=0.01)
    shop.post(f"/api/jobs/{job['id']}/undo", {}, content_type="application/json")
    after = shop.get(f"/api/jobs/{job['id']}").json()
    assert after["order"]["width_mm"] == before and not [f for f in after["findings"] if f["id"] == "page.size"]
