"""Tool settings on the Shelf: by cutter, material and role, corrected by test cuts, overridden for a job."""

from typing import Any

import pytest
from jobs import models

from tests.breadth import breadth
from tests.server.conftest import Person, person
from tests.server.test_bench import asked, printed, released
from tests.server.test_shared import JSON, disc, job_of, patched

pytestmark = pytest.mark.django_db(transaction=True)
HERE = {"destination": "house", "material": "film-1370"}


def settings_of(person: Person) -> dict[str, dict]:  # type: ignore[type-arg]
    shown = person.get("/api/shelf/tools", HERE).json()
    return {one["role"]: one for one in shown["tools"]}


def test_settings_begin_as_shipped_and_are_kept_with_who_and_when(shop: Person) -> None:
    kiss = settings_of(shop)["kiss-cut"]
    assert kiss["tool"]["force_gf"] == 90 and kiss["versions"] == [] and kiss["tested"] is None
    body = {**HERE, "tool": {**kiss["tool"], "force_gf": 105, "blade": "drag", "offset_mm": 0.25}, "note": "new blade"}
    assert shop.post("/api/shelf/tools", body, content_type=JSON).status_code == 200
    kept = settings_of(shop)["kiss-cut"]
    assert kept["tool"]["force_gf"] == 105 and kept["versions"][0]["note"] == "new blade" and kept["versions"][0]["who"]
    wrong = {**body, "tool": {**body["tool"], "blade": "rotary"}}
    assert shop.post("/api/shelf/tools", wrong, content_type=JSON).status_code == 400


def loaded(shop: Person) -> int:
    """The number of a package whose sheet lies before the cutter."""
    at = released(shop)
    printed(shop, at)
    asked(shop, f"{at}/load", shift_x_mm=0)
    return int(at.rpartition("/")[2])


def said(who: Person, release: int, seen: str, version: int | None = None) -> Any:
    """What somebody says of the kiss cut's figure on that sheet, of the newest version where none is named."""
    if version is None:
        version = len(settings_of(who)["kiss-cut"]["versions"])
    body = {"release": release, "role": "kiss-cut", "version": version, "seen": seen}
    return who.post("/api/shelf/tools/seen", body, content_type=JSON)


def force(shop: Person) -> float:
    return float(settings_of(shop)["kiss-cut"]["tool"]["force_gf"])


@breadth(0.12, "long ones")
@pytest.mark.parametrize(("seen", "force"), [
    ("too-shallow", 100), ("right", 90), ("into-the-liner", 80), ("through", 70),
])
def test_what_a_test_cut_shows_corrects_the_force(shop: Person, seen: str, force: float) -> None:
    assert said(shop, loaded(shop), seen).status_code == 200
    kiss = settings_of(shop)["kiss-cut"]
    assert kiss["tool"]["force_gf"] == force and kiss["versions"][0]["seen"] == seen
    assert (kiss["tested"] is not None) == (seen == "right")


@breadth(0.12, "long ones")
def test_jobs_are_cut_with_the_shops_settings_unless_they_have_their_own(shop: Person) -> None:
    job = job_of(shop, disc(28), "terns.pdf", 4)
    assert job["cut"]["operations"][0]["tool"]["force_gf"] == 90 and job["own_tools"] == []
    said(shop, loaded(shop), "too-shallow")
    job = shop.get(f"/api/jobs/{job['id']}").json()
    assert job["cut"]["operations"][0]["tool"]["force_gf"] == 100 and job["current"], "it was looked at again"
    kiss = next(tool for tool in job["tools"] if tool["role"] == "kiss-cut")
    job = patched(shop, job, tools=[{**kiss, "force_gf": 77}])
    assert job["cut"]["operations"][0]["tool"]["force_gf"] == 77 and job["own_tools"] == ["kiss-cut"]
    job = patched(shop, job, tools=[{**kiss, "blade": "drag", "offset_mm": 0.4, "overcut_mm": 1}])
    assert job["cut"]["operations"][0]["holder"].startswith("M") and not job["error"]
    job = patched(shop, job, tools=[{**kiss, "force_gf": 100}])
    assert job["cut"]["operations"][0]["tool"]["force_gf"] == 100 and job["own_tools"] == [], "as the shop's again"


@breadth(0.12, "long ones")
def test_the_order_of_cutting_is_changed_and_roles_are_left_out(shop: Person) -> None:
    job = patched(shop, job_of(shop, disc(30), "seals.pdf", 4), cut_only=[])
    assert job["cut"]["operations"] == [] and job["cut"]["roles"] == ["kiss-cut"]
    job = patched(shop, job, cut_only=None)
    assert [op["role"] for op in job["cut"]["operations"]] == ["kiss-cut"]
    asked = {"version": job["version"], "cut_order": ["crimp"]}
    refused = shop.patch(f"/api/jobs/{job['id']}", asked, content_type=JSON)
    assert refused.status_code == 400 and "kiss-cut" in refused.json()["message"], "it says which there are"


@breadth(0.12, "long ones")
def test_only_who_may_changes_the_shelf_but_whoever_cuts_says_what_was_seen(shop: Person) -> None:
    guest = person("guest")
    kiss = settings_of(guest)["kiss-cut"]["tool"]
    assert guest.post("/api/shelf/tools", {**HERE, "tool": kiss}, content_type=JSON).status_code == 403
    assert said(guest, loaded(shop), "right").status_code == 200
    nowhere = {"destination": "nowhere", "material": "film-1370"}
    assert guest.get("/api/shelf/tools", nowhere).status_code == 404


@breadth(0.12, "long ones")
def test_test_cuts_do_not_take_a_force_far_from_what_was_confirmed(shop: Person) -> None:
    """Four times “through” took a kiss cut from 90 to 10 gf, by anybody, with no sheet before the cutter."""
    guest, made = person("guest"), loaded(shop)
    assert said(guest, made, "through").status_code == 200 and force(shop) == 70
    answer = said(guest, made, "through")
    assert answer.status_code == 403 and "90 gf was confirmed" in answer.json()["message"] and force(shop) == 70
    assert said(guest, made, "through", version=0).status_code == 409, "that version was not the one that was cut"
    assert said(guest, made, "right").status_code == 200
    assert said(guest, made, "into-the-liner").status_code == 403, "what came out right is confirmed by nobody yet"
    assert said(shop, made, "right").status_code == 200
    assert said(guest, made, "into-the-liner").status_code == 200 and force(shop) == 60
    job = shop.get(f"/api/jobs/{models.Release.objects.get(pk=made).job_id}").json()
    kiss = next(tool for tool in job["tools"] if tool["role"] == "kiss-cut")
    patched(shop, job, tools=[{**kiss, "force_gf": 77}])
    answer = said(shop, made, "right")
    assert answer.status_code == 409 and "of this job alone" in answer.json()["message"]
    unloaded = job_of(shop, disc(30), "more.pdf", 2)
    shop.post(f"/api/jobs/{unloaded['id']}/release")
    other = next(row["id"] for row in shop.get("/api/bench").json() if row["id"] != made)
    assert said(guest, other, "right").status_code == 409, "no sheet of it lies there"


def test_perforations_get_names_of_the_shop(shop: Person) -> None:
    at = "/api/shelf/things"
    edge = {"cut_mm": 2.0, "tie_mm": 0.4, "tie_force_gf": 30}
    stamp = {"kind": "perforation", "title": "Stamp edge", "data": edge}
    kept = shop.post(at, stamp, content_type=JSON).json()
    assert kept["thing"]["id"] == "stamp-edge" and kept["versions"][0]["who"] == "ada"
    assert shop.post(at, stamp, content_type=JSON).status_code == 400, "there is one of that name"
    changed = {"title": "Stamp edge", "data": {**edge, "tie_mm": 0.6}, "seen": 1}
    kept = shop.put(f"{at}/stamp-edge", changed, content_type=JSON).json()
    assert kept["thing"]["data"]["tie_mm"] == 0.6 and kept["thing"]["number"] == 2
    for wrong in ({**stamp, "data": {"cut_mm": 0}}, {**stamp, "title": "  "}, {**stamp, "data": {"tie_force_gf": -1}}):
        assert shop.post(at, wrong, content_type=JSON).status_code == 400
    stranger = person("stranger")
    assert stranger.post(at, stamp, content_type=JSON).status_code == 403
    assert stranger.delete(f"{at}/stamp-edge").status_code == 403
    left = shop.delete(f"{at}/stamp-edge").json()["things"]
    assert "stamp-edge" not in [one["id"] for one in left]


@breadth(0.12, "long ones")
def test_near_to_the_stage_shows_where_holder_and_tip_go(shop: Person) -> None:
    job = job_of(shop, disc(30), "seals.pdf", 2)
    (cut,) = job["cut"]["operations"]
    assert cut["holder"] == "" and cut["tip"].startswith("M") and len(cut["times"]) == 2
    kiss = next(tool for tool in job["tools"] if tool["role"] == "kiss-cut")
    job = patched(shop, job, tools=[{**kiss, "blade": "drag", "offset_mm": 0.5, "overcut_mm": 2}])
    (cut,) = job["cut"]["operations"]
    assert cut["holder"].count("M") == cut["tip"].count("M") == 2 and cut["holder"] != cut["tip"]
    begins = [row[0] for row in cut["times"]]
    assert begins == sorted(begins) and cut["times"][-1][1] <= cut["time_s"]
