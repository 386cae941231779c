"""Sheets that jobs share, what the shop has of its materials, and jobs that are ordered again."""

from typing import Any

import pytest
from django.db.models.signals import post_save
from jobs import models
from jobs.store.media import use_up
from jobs.store.rights import Right
from worker import task

from horismos.media import Media
from tests.breadth import breadth
from tests.server.conftest import Person, person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]
JSON = "application/json"
Shown = dict[str, Any]


def disc(radius: float, ink: str = "Kiss Cut") -> bytes:
    content = f"1 0 0 0 k {circle(50, 50, radius + 4)} f " + line_in(circle(50, 50, radius))
    return write(Drawing(content, inks={"K": ink}, trim=None, bleed=None))


def job_of(shop: Person, data: bytes, name: str, quantity: int, due: str | None = None) -> Shown:
    return patched(shop, take_in(shop, data, name), order={"quantity": quantity}, due=due)


def patched(shop: Person, job: Shown, **body: Any) -> Shown:
    answer = shop.patch(f"/api/jobs/{job['id']}", {"version": job["version"], **body}, content_type=JSON)
    assert answer.status_code == 200, answer.content
    return shop.get(f"/api/jobs/{job['id']}").json()


def at(sheet: Shown) -> str:
    return f"/api/shared-sheets/{sheet['id']}"


def begun(shop: Person, *jobs: Shown) -> Shown:
    answer = shop.post("/api/shared-sheets", {"jobs": [job["id"] for job in jobs]}, content_type=JSON)
    assert answer.status_code == 200, answer.content
    return shop.get(at(answer.json())).json()


def changed(shop: Person, sheet: Shown, status: int = 200, **body: Any) -> Shown:
    answer = shop.patch(at(sheet), {"version": sheet["version"], **body}, content_type=JSON)
    assert answer.status_code == status, answer.content
    return shop.get(at(sheet)).json() if status == 200 else answer.json()


@pytest.fixture()
def two(shop: Person) -> tuple[Shown, Shown]:
    return job_of(shop, disc(30), "seals.pdf", 6, "2027-02-01"), job_of(shop, disc(20), "dots.pdf", 9, "2027-01-05")


def test_waiting_jobs_are_offered_due_first_and_share_a_sheet(shop: Person, two: tuple[Shown, Shown]) -> None:
    seals, dots = two
    late = job_of(shop, disc(25), "late.pdf", 3)
    sheet = begun(shop, seals)
    assert [share["quantity"] for share in sheet["shares"]] == [6] and len(sheet["sheets"]) == 1
    assert [offer["job"]["id"] for offer in sheet["offered"]] == [dots["id"], late["id"]]
    shares = [{"job": seals["id"], "quantity": 6}, {"job": dots["id"], "quantity": 4, "turn": "none"}]
    sheet = changed(shop, sheet, shares=shares)
    (laid,) = sheet["sheets"]
    assert len(laid["placements"]) == 10 and sorted(set(laid["item_of"])) == [0, 1]
    assert [item["name"] for item in laid["items"]] == ["seals", "dots"]
    assert sheet["shares"][1]["turn"] == "none" and sheet["current"] and not sheet["busy"]
    assert sheet["cuts"][0]["operations"][0]["contours"] == 10
    # the rest of the dots waits, and goes on another sheet
    other = begun(shop, dots)
    assert other["shares"][0]["quantity"] == 5
    on = shop.get(f"/api/jobs/{dots['id']}").json()["shared_on"]
    assert [(one["id"], one["copies"]) for one in on] == [(other["id"], 5), (sheet["id"], 4)]
    rows = shop.get("/api/shared-sheets").json()
    assert [row["id"] for row in rows] == [other["id"], sheet["id"]] and rows[1]["due"] == "2027-01-05"
    assert [row["id"] for row in shop.get(f"/api/shared-sheets?job={seals['id']}").json()] == [sheet["id"]]


def test_what_goes_elsewhere_or_is_not_taken_in_does_not_come_on_the_sheet(
    shop: Person, two: tuple[Shown, Shown]
) -> None:
    seals, dots = two
    patched(shop, dots, material="film-610")
    sheet = begun(shop, seals)
    assert sheet["offered"] == []
    shares = [{"job": seals["id"], "quantity": 6}, {"job": dots["id"], "quantity": 4}]
    said = changed(shop, sheet, 400, shares=shares)
    assert "“dots” is printed on White film, roll 610 mm" in said["message"]
    assert shop.get(at(sheet)).json()["version"] == sheet["version"], "and nothing was changed"
    assert shop.post("/api/shared-sheets", {"jobs": [99]}, content_type=JSON).status_code == 404
    assert shop.get("/api/shared-sheets/99").status_code == 404
    assert shop.patch(at(sheet), {"version": 99, "gap_mm": 4}, content_type=JSON).status_code == 409


def test_when_a_job_changes_only_it_is_made_again_and_the_sheet_says_so(
    shop: Person, two: tuple[Shown, Shown]
) -> None:
    seals, _ = two
    bad = job_of(shop, disc(20, "Kis Cut"), "miss.pdf", 5)
    sheet = begun(shop, seals, bad)
    before = sheet["sheets"][0]["placements"]
    assert sheet["shares"][1]["job"]["stops"] == 1 and not any(share["changed"] for share in sheet["shares"])
    asked = {"version": sheet["version"], "found": sheet["found"]}
    refused = shop.post(f"{at(sheet)}/release", asked, content_type=JSON)
    assert refused.status_code == 409 and "“miss”: 1 stop is open" in refused.json()["message"]
    job = shop.get(f"/api/jobs/{bad['id']}").json()
    mend = next(m for f in job["findings"] for m in f["mends"])
    body = {**mend, "version": job["version"], "revision": job["revision"]}
    assert shop.post(f"/api/jobs/{bad['id']}/mends", body, content_type=JSON).status_code == 200
    after = shop.get(at(sheet)).json()
    told = [share["changed"] for share in after["shares"]]
    assert told[0] == "" and told[1] == "“miss” has changed; its copies were made again, of revision 2."
    assert after["current"] and after["found"] != sheet["found"]
    assert after["sheets"][0]["placements"] == before, "where they lay"
    assert changed(shop, after, gap_mm=9)["shares"][1]["changed"] == "", "seen and gone on"


def test_copies_of_several_jobs_are_nested_moved_by_hand_and_released(shop: Person, two: tuple[Shown, Shown]) -> None:
    sheet = begun(shop, *two)
    body = {"version": sheet["version"], "turn": "free", "gap_mm": 3, "seconds": 1}
    assert shop.post(f"{at(sheet)}/nest", body, content_type=JSON).status_code == 200
    nested = shop.get(at(sheet)).json()
    work = models.Work.objects.filter(kind="nest").get()
    if work.state == "failed":  # rows may be as good
        assert "Nothing shorter" in work.error
    else:
        assert len(nested["layout"]["placed"]) == 15 and nested["sheets"][0]["rows_mm"]
    (laid,) = nested["sheets"]
    items = laid["item_of"]
    placed = [{"matrix": m, "item": i} for m, i in zip(laid["placements"], items, strict=True)]
    placed[0]["matrix"] = [*placed[0]["matrix"][:5], placed[0]["matrix"][5] + 300]
    moved = changed(shop, nested, placed=placed, placed_of=laid["placed_of"])
    assert moved["sheets"][0]["placements"][0][5] == pytest.approx(laid["placements"][0][5] + 300)
    assert not moved["error"] and moved["sheets"][0]["clashes"] == []
    onto = [{**placed[1], "matrix": placed[2]["matrix"]}, *placed[1:]]
    clash = changed(shop, moved, placed=onto, placed_of=laid["placed_of"])
    assert clash["sheets"][0]["clashes"] and any("lie in each other" in n for n in clash["sheets"][0]["notes"])
    fine = changed(shop, clash, placed=placed, placed_of=laid["placed_of"])
    asked = {"version": fine["version"], "found": fine["found"]}
    also = {**asked, "also": ["dxf", "gcode"]}
    assert shop.post(f"{at(sheet)}/release", also, content_type=JSON).status_code == 200
    released = shop.get(at(sheet)).json()
    assert released["released"] and len(released["release_ids"]) == 1
    made = next(m for m in shop.get("/api/bench").json() if m["id"] == released["release_ids"][0])
    assert made["shared_id"] == sheet["id"] and made["pdf_x"]["standard"] == "PDF/X-4"
    assert [p["job"] for p in models.Release.objects.get().ticket["pieces"]] == ["seals", "dots"]
    assert {"dxf", "nc"} <= {file["name"].rpartition("-cut.")[2] for file in made["files"]}, "as it was asked for"
    groups = shop.get("/api/jobs?group=released").json()
    assert {row["id"] for row in groups} == {two[0]["id"], two[1]["id"]}, "both jobs are released by it"
    again = {"version": released["version"], "found": released["found"]}
    assert shop.post(f"{at(sheet)}/release", again, content_type=JSON).status_code == 409
    assert shop.delete(f"{at(sheet)}?version={released['version']}").status_code == 409, "what was released stays"


def test_what_a_person_changes_while_the_sheet_is_laid_out_stays_and_it_is_laid_out_again(
    shop: Person, two: tuple[Shown, Shown], monkeypatch: pytest.MonkeyPatch
) -> None:
    sheet = begun(shop, *two)
    asked, meant = task.run_step, [31.0]

    def meanwhile(step: str, *arguments: Any, **said: Any) -> Any:
        found = asked(step, *arguments, **said)
        if step == "together:lay" and meant:
            row = models.SharedSheet.objects.get(pk=sheet["id"])
            row.layout = {**row.layout, "gap_mm": meant.pop()}
            row.version += 1
            row.save(update_fields=["layout", "version"])
        return found

    monkeypatch.setattr(task, "run_step", meanwhile)
    after = changed(shop, sheet, gap_mm=5)
    assert after["layout"]["gap_mm"] == 31 and after["sheets"][0]["gap_mm"] == 31 and after["current"]


def test_a_sheet_that_cannot_be_laid_out_says_why_and_keeps_the_last_one(
    shop: Person, two: tuple[Shown, Shown]
) -> None:
    sheet = begun(shop, *two)
    narrow = {"title": "Strip", "width_mm": 90, "length_mm": None, "roll": True}
    failed = changed(shop, sheet, media=narrow)
    assert "fits nowhere on Strip" in failed["error"] and len(failed["sheets"][0]["placements"]) == 15
    offered = shop.get(f"{at(sheet)}/fits").json()
    assert "Load the material as it usually comes" in [one["words"] for one in offered]
    for one in offered:
        held = changed(shop, failed, **one["change"])
        assert not held["error"], one["words"]
        failed = changed(shop, held, media=narrow)
    good = changed(shop, failed, media={"title": "Roll", "width_mm": 610, "length_mm": 400, "roll": True})
    assert not good["error"] and good["sheets"][0]["width_mm"] == 610
    assert all(one["length_mm"] <= 400 for one in good["sheets"])
    assert sum(len(one["placements"]) for one in good["sheets"]) == 15
    assert shop.delete(f"{at(sheet)}?version={good['version']}").json() == []
    assert models.Job.objects.count() == 2, "the jobs stay"


# -- what the shop has -------------------------------------------------------------------------------------------------


def media_of(shelf: Shown) -> dict[str, Any]:
    """The media of a film that lie on the Shelf, by their titles."""
    return {one["title"]: one for m in shelf["materials"] if m["id"] == "film-1370" for one in m["media"]}


def test_the_shelf_keeps_media_with_true_sizes_what_is_loaded_and_what_it_costs(shop: Person) -> None:
    body = {"material": "film-1370", "title": "New roll", "width_mm": 1370, "length_mm": 50_000, "roll": True}
    shelf = shop.post("/api/shelf/media", body, content_type=JSON).json()
    media = media_of(shelf)["New roll"]
    assert media["length_mm"] == 50_000 and not media["loaded"]
    loaded = media_of(shop.post(f"/api/shelf/media/{media['id']}/load").json())
    assert [title for title, one in loaded.items() if one["loaded"]] == ["New roll"], "one is loaded at a time"
    film = shop.get("/api/shelf/things/film-1370").json()["thing"]
    said = {"title": film["title"], "data": {**film["data"], "price_m2": 6.5}, "seen": film["number"]}
    assert shop.put("/api/shelf/things/film-1370", said, content_type=JSON).status_code == 200
    priced = shop.get("/api/shelf").json()
    assert next(m for m in priced["materials"] if m["id"] == "film-1370")["price_m2"] == 6.5
    assert {"name": "A4", "width_mm": 210, "length_mm": 297} in priced["page_sizes"]
    sheet = {"material": "film-1370", "title": "Board", "width_mm": 700, "roll": False}
    assert shop.post("/api/shelf/media", sheet, content_type=JSON).status_code == 400, "a sheet has a length"
    guest = person("guest")
    assert guest.post("/api/shelf/media", body, content_type=JSON).status_code == 403
    gone = shop.delete(f"/api/shelf/media/{media['id']}").json()
    assert list(media_of(gone)) == ["White film, roll 1370 mm"], "what it usually comes as stays"


def test_a_release_uses_media_up_and_leaves_offcuts_that_are_offered_again(shop: Person) -> None:
    film = models.ShelfItem.objects.get(pk="film-1370")
    job = job_of(shop, disc(30), "seals.pdf", 6)
    film.media.all().delete()
    board = {"title": "Board", "width_mm": 700, "length_mm": 1000, "roll": False}
    film.media.create(**board)
    job = patched(shop, job, media=board)
    assert (job["sheet"]["width_mm"], job["sheet"]["length_mm"]) == (700, 1000)
    asked = {"version": job["version"], "revision": job["revision"], "found": job["found"]}
    assert shop.post(f"/api/jobs/{job['id']}/release", asked, content_type=JSON).status_code == 200
    used = models.Release.objects.get().ticket["sheet"]["used_length_mm"]
    offcut, whole = film.media.all()
    assert whole.title == "Board" and offcut.left_by == "the sheet of “seals”"
    assert offcut.length_mm == pytest.approx(1000 - used) and not offcut.roll
    # an offcut is used up, a roll gets shorter until nothing that is worth keeping is left
    use_up(film, Media(offcut.title, 700, offcut.length_mm, False), [offcut.length_mm - 50], "another")
    assert list(film.media.all()) == [whole]
    film.media.create(title="Roll", width_mm=1370, length_mm=5000, roll=True)
    use_up(film, Media("Roll", 1370, 5000), [1000, 1500], "a job")
    assert film.media.get(title="Roll").length_mm == 2500
    use_up(film, Media("Roll", 1370, 2500), [2450], "a job")
    assert not film.media.filter(title="Roll").exists()
    use_up(film, None, [1], "x")
    use_up(film, Media("Not on the shelf", 500, 500, False), [100], "x")
    assert list(film.media.all()) == [whole]


def test_an_order_is_repeated_from_its_layout(shop: Person) -> None:
    job = job_of(shop, disc(30), "seals.pdf", 6)
    job = patched(shop, job, columns=2, marks={"kind": "dot"}, mirror=True)
    kiss = next(tool for tool in job["tools"] if tool["role"] == "kiss-cut")
    job = patched(shop, job, tools=[{**kiss, "force_gf": 77}])
    stack = {"layers": [{"name": "face"}]}
    models.Job.objects.filter(pk=job["id"]).update(stack=stack)
    row = shop.post(f"/api/jobs/{job['id']}/repeat", {"quantity": 8}, content_type=JSON).json()
    assert models.Job.objects.get(pk=row["id"]).stack == stack
    again = shop.get(f"/api/jobs/{row['id']}").json()
    assert again["id"] != job["id"] and again["order"]["quantity"] == 8 and again["layout"] == job["layout"]
    assert again["sheet"]["columns"] == 2 and len(again["sheet"]["placements"]) == 8 and again["sheet"]["mirrored"]
    assert again["cut"]["operations"][0]["tool"]["force_gf"] == 77 and again["verdict"] == job["verdict"]
    assert "ordered again" in again["revisions"][0]["said"]
    assert shop.post(f"/api/jobs/{job['id']}/repeat", {"quantity": 0}, content_type=JSON).status_code == 422


def test_a_job_on_several_sheets_is_released_sheet_by_sheet(shop: Person) -> None:
    job = job_of(shop, disc(30), "seals.pdf", 60)
    job = patched(shop, job, length_mm=400)
    sheets = [job["sheet"], *job["more_sheets"]]
    assert len(sheets) > 1 and sum(len(sheet["placements"]) for sheet in sheets) == 60
    assert [sheet["number"] for sheet in sheets] == list(range(1, len(sheets) + 1))
    assert len(job["more_cuts"]) == len(sheets) - 1
    asked = {"version": job["version"], "revision": job["revision"], "found": job["found"]}
    assert shop.post(f"/api/jobs/{job['id']}/release", asked, content_type=JSON).status_code == 200
    made = shop.get(f"/api/jobs/{job['id']}").json()["releases"]
    assert sorted(one["sheet_number"] for one in made) == [sheet["number"] for sheet in sheets]
    for one in made:
        assert shop.post(f"/api/bench/{one['id']}/rip", {}, content_type=JSON).status_code == 200
        assert shop.get(f"/api/bench/{one['id']}/play").json()["moves"]
    after = shop.get(f"/api/jobs/{job['id']}").json()
    assert after["released"] and {one["rip_state"] for one in after["releases"]} == {"done"}


def test_work_on_a_sheet_is_never_seen_as_work_on_one_of_its_jobs(shop: Person, two: tuple[Shown, Shown]) -> None:
    sheet = begun(shop, *two)
    first_seen: list[int | None] = []
    look = lambda created, instance, **_: first_seen.append(instance.shared_id) if created else None  # noqa: E731
    post_save.connect(look, models.Work)
    try:
        sheet = shop.get(at(sheet)).json()
        said = {"version": sheet["version"], "loads": 2, "seed": 1}
        assert shop.post(f"{at(sheet)}/rehearse", said, content_type=JSON).status_code == 200
        changed(shop, sheet, columns=2)
    finally:
        post_save.disconnect(look, models.Work)
    assert first_seen == [sheet["id"]] * len(first_seen) and len(first_seen) == 2


def test_what_is_rehearsed_is_what_the_person_has_seen(shop: Person, two: tuple[Shown, Shown]) -> None:
    sheet = begun(shop, *two)
    for page in (at(sheet), f"/api/jobs/{two[0]['id']}"):
        said = {"version": shop.get(page).json()["version"] - 1, "loads": 2, "seed": 1}
        answer = shop.post(f"{page}/rehearse", said, content_type=JSON)
        assert answer.status_code == 409 and "changed after you had looked" in answer.json()["message"], page


def test_a_shared_sheet_is_rehearsed_as_it_stands(shop: Person, two: tuple[Shown, Shown]) -> None:
    seals, dots = two
    sheet = begun(shop, seals)
    sheet = changed(shop, sheet, shares=[{"job": seals["id"], "quantity": 2}, {"job": dots["id"], "quantity": 3}])
    body = {"version": sheet["version"], "loads": 12, "seed": 3}
    assert shop.post(f"{at(sheet)}/rehearse", body, content_type=JSON).status_code == 200
    sheet = shop.get(at(sheet)).json()
    found = sheet["rehearsal"]
    assert found["loads"] == 12 and found["pieces"] + 5 * found["missed"] == 60
    assert shop.get(f"{at(sheet)}/rehearsal/worst").content.startswith(b"\x89PNG")
    boss = person("boss", Right.EDIT_SHELF)
    strict = {"scope": "shop", "subject": "", "limits": {}, "severities": {"edge.rehearsed": "stop"}, "note": ""}
    assert boss.post("/api/sheets", strict, content_type=JSON).status_code == 200
    sheet = shop.get(at(sheet)).json()
    kept = models.SharedSheet.objects.get(pk=sheet["id"]).rehearsal
    kept["counts"]["bare"] = kept["counts"]["pieces"]
    models.SharedSheet.objects.filter(pk=sheet["id"]).update(rehearsal=kept)
    assert "at most 1 %" in shop.get(at(sheet)).json()["rehearsal_stop"]
    asked = {"version": sheet["version"], "found": sheet["found"]}
    answer = shop.post(f"{at(sheet)}/release", asked, content_type=JSON)
    assert answer.status_code == 409 and "rehearsal spoilt 100.0 %" in answer.json()["message"]
    sheet = changed(shop, sheet, shares=[{"job": seals["id"], "quantity": 2}])
    assert sheet["rehearsal"] is None, "it is another sheet now"


def test_work_behind_a_sheet_that_was_taken_apart_is_heard_of(shop: Person) -> None:
    """The rows of a sheet's work go with it; who has heard of them is told of what comes after all the same."""
    job = job_of(shop, disc(30), "seals.pdf", 4)
    sheet = shop.post("/api/shared-sheets", {"jobs": [job["id"]]}, content_type=JSON).json()
    for gap in range(3, 9):
        said = {"version": sheet["version"], "gap_mm": gap}
        sheet = shop.patch(f"/api/shared-sheets/{sheet['id']}", said, content_type=JSON).json()
    heard = max(work["stamp"] for work in shop.get("/api/works?since=0").json())
    assert shop.delete(f"/api/shared-sheets/{sheet['id']}?version={sheet['version']}").status_code == 200
    assert shop.post(f"/api/jobs/{job['id']}/rehearse", {"loads": 5}, content_type=JSON).status_code == 200
    told = shop.get(f"/api/works?since={heard}").json()
    assert ("rehearse", "done") in {(work["kind"], work["state"]) for work in told}
