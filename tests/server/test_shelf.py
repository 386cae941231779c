"""A shop's own: things made, changed, retired and tried, what a released job keeps, and a Shelf that moves."""

import json
from pathlib import Path
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import DatabaseError, connection
from jobs import models
from jobs.store.log import SEALS, seal
from jobs.store.rights import Right
from jobs.store.shelf import fill

from tests.breadth import breadth
from tests.server.conftest import Person, person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = pytest.mark.django_db(transaction=True)
JSON = "application/json"
CLEAN = write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))))
AT = "/api/shelf/things"
BOTH = {"printer": "rip", "cutter": "cutter"}


def thing(shop: Person, id: str) -> dict[str, Any]:
    found: dict[str, Any] = shop.get(f"{AT}/{id}").json()
    return found


def change(shop: Person, id: str, note: str = "", **data: Any) -> Any:
    """Keep the next version of a thing, with some of its data changed."""
    now = thing(shop, id)["thing"]
    body = {"title": now["title"], "data": {**now["data"], **data}, "note": note, "seen": now["number"]}
    return shop.put(f"{AT}/{id}", body, content_type=JSON)


def make(shop: Person, kind: str, title: str, data: dict[str, Any]) -> Any:
    return shop.post(AT, {"kind": kind, "title": title, "data": data}, content_type=JSON)


def released(shop: Person, job: dict[str, Any]) -> dict[str, Any]:
    job = shop.get(f"/api/jobs/{job['id']}").json()
    body = {"version": job["version"], "revision": job["revision"], "found": job["found"]}
    assert shop.post(f"/api/jobs/{job['id']}/release", body, content_type=JSON).status_code == 200
    found: dict[str, Any] = shop.get(f"/api/jobs/{job['id']}").json()
    assert found["releases"], found["error"]
    return found


# -- things ----------------------------------------------------------------------------------------------------------


def test_a_thing_has_versions_that_say_who_and_why_and_what_changed(shop: Person) -> None:
    assert change(shop, "film-1370", "a new supplier", price_m2=6.5, grain=True).status_code == 200
    last, first = thing(shop, "film-1370")["versions"]
    assert (last["who"], last["note"], last["number"], first["number"]) == ("ada", "a new supplier", 2, 1)
    assert {"where": "grain", "before": "no", "after": "yes"} in last["changes"]
    assert {"where": "price", "before": "", "after": "6.5 a m²"} in last["changes"]
    assert change(shop, "film-1370").status_code == 409, "nothing of it is another"


def test_nobody_changes_what_somebody_else_has_changed_meanwhile(shop: Person) -> None:
    now = thing(shop, "rip")["thing"]
    assert change(shop, "rip", margin_mm=7).status_code == 200
    stale = {"title": "RIP", "data": {**now["data"], "margin_mm": 9}, "seen": 1}
    answer = shop.put(f"{AT}/rip", stale, content_type=JSON)
    assert answer.status_code == 409 and "changed by ada" in answer.json()["message"]
    assert thing(shop, "rip")["thing"]["data"]["margin_mm"] == 7


@breadth(0.2)
@pytest.mark.parametrize(("kind", "title", "data", "said"), [
    ("printer", "Mine", {"margin_mm": 1000.1}, "margin_mm is 1000.1. Give 0 to 1000."),
    ("printer", "RIP", {}, "is what “RIP” is already"),
    ("printer", " ", {}, "The name is empty"),
    ("printer", "Mine", {"margin": 4}, "unknown key “margin”"),
    ("cutter", "Mine", {"head_mm": 30, "feed_mm": 30, "trailer_mm": 50}, "Give a longer trailer"),
    ("destination", "Mine", {"printer": "rip", "cutter": "film-610"}, "there is no cutter “film-610”"),
    ("destination", "Mine", {**BOTH, "names": {"white": "X", "varnish": "X"}}, "two roles"),
    ("destination", "Mine", {**BOTH, "preset": "slow"}, "no hot folder “slow”"),
    ("material", "Mine", {"width_mm": 600, "strata": []}, "1 to 20 strata"),
    ("tool", "Mine", {"destination": "house", "material": "film-610", "role": "crease", "force_gf": 1001}, "force_gf"),
    ("file-names", "Mine", {"pattern": "{titel}"}, "no field “{titel}”"),
    ("letter", "Mine", {"texts": {"greeting": "Dear {name},"}}, "no word “{name}”"),
    ("thread", "Mine", {"colour": "red"}, "a colour as #rrggbb"),
    ("customer", "Mine", {"write_to": "nobody"}, "no address of a mailbox"),
])
def test_what_a_thing_cannot_be_is_said_by_name_with_the_range(
    shop: Person, kind: str, title: str, data: dict[str, Any], said: str
) -> None:
    answer = make(shop, kind, title, data)
    assert answer.status_code == 400 and said in answer.json()["message"], answer.content
    assert not models.ShelfItem.objects.filter(title="Mine").exists()


@breadth(0.12, "long ones")
def test_what_is_made_of_a_thing_goes_on_being_something(shop: Person) -> None:
    answer = change(shop, "rip", presets=[{**thing(shop, "rip")["thing"]["data"]["presets"][0], "id": "only"}])
    assert answer.status_code == 200
    destination = thing(shop, "house")["thing"]
    body = {"title": "House", "data": {**destination["data"], "preset": "only"}, "seen": 1}
    assert shop.put(f"{AT}/house", body, content_type=JSON).status_code == 200
    answer = change(shop, "rip", presets=[{**thing(shop, "rip")["thing"]["data"]["presets"][0], "id": "other"}])
    assert answer.status_code == 400 and "no hot folder “only”" in answer.json()["message"]


def test_what_is_in_use_is_retired_and_never_deleted(shop: Person) -> None:
    refused = shop.delete(f"{AT}/rip")
    assert refused.status_code == 409 and "Retire it instead" in refused.json()["message"]
    whole = thing(shop, "rip")
    assert {one["id"] for one in whole["things"]} == {"house", "iso"}
    gone = shop.post(f"{AT}/small/retire", {"retired": True, "seen": 1}, content_type=JSON).json()
    assert gone["thing"]["retired"] and gone["thing"]["number"] == 2
    assert "small" not in [one["id"] for one in shop.get("/api/shelf").json()["destinations"]]
    for id in ("house", "iso"):
        shop.post(f"{AT}/{id}/retire", {"retired": True, "seen": 1}, content_type=JSON)
    last = shop.post(f"{AT}/table/retire", {"retired": True, "seen": 1}, content_type=JSON)
    assert last.status_code == 409 and "the last destination" in last.json()["message"]
    assert shop.delete(f"{AT}/small").status_code == 200, "it was never in use"


@breadth(0.12, "long ones")
def test_the_usual_one_is_what_a_new_job_begins_with_and_a_customer_may_have_another(shop: Person) -> None:
    assert shop.post(f"{AT}/clear-1067/usual").json()["thing"]["usual"]
    own = {"destination": "small", "order": {"edge": "border"}}
    assert make(shop, "customer", "Dune Press", own).status_code == 200
    job = take_in(shop, CLEAN)
    assert (job["material_id"], job["destination"]) == ("clear-1067", "house")
    upload = SimpleUploadedFile("seal2.pdf", CLEAN + b"\n")
    answer = shop.post("/api/jobs", {"file": upload, "customer": "dune press"}).json()["job"]
    found = shop.get(f"/api/jobs/{answer['id']}").json()
    assert (found["destination"], found["customer"], found["order"]["edge"]) == ("small", "Dune Press", "border")


@breadth(0.12, "long ones")
def test_a_name_pattern_gives_files_their_orders(shop: Person) -> None:
    pattern = "{customer}_{title}_{width_mm}x{height_mm}_{copies}x"
    tried = shop.post("/api/shelf/names/try", {"pattern": pattern, "names": ["a_b_40x40_7x.pdf", "a.pdf"]},
                      content_type=JSON).json()
    assert [one["fits"] for one in tried] == [True, False] and tried[0]["said"]["quantity"] == "7"
    assert make(shop, "file-names", "Usual", {"pattern": pattern}).status_code == 200
    job = take_in(shop, CLEAN, "Dune Press_Seal_80x80_24x.pdf")
    assert (job["customer"], job["name"], job["order"]["quantity"]) == ("Dune Press", "Seal", 24)
    assert (job["order"]["width_mm"], job["order"]["height_mm"]) == (80, 80)


@breadth(0.12, "long ones")
def test_letters_have_the_words_of_the_shop_and_of_a_customer(shop: Person) -> None:
    assert make(shop, "letter", "Ours", {"texts": {"greeting_unnamed": "Good day,"}}).status_code == 200
    short = line_in(circle(50, 50, 40))
    job = take_in(shop, write(Drawing(f"1 0 0 0 k {circle(50, 50, 41)} f " + short)))
    keys = [one["key"] for one in job["findings"]]
    letter = shop.post(f"/api/jobs/{job['id']}/letter", {"keys": keys}, content_type=JSON).json()
    assert "Good day," in letter["text"] and "Hello," not in letter["text"]
    sample = shop.post("/api/shelf/letter/try", {"data": {"texts": {"unsure": "Call us."}}}, content_type=JSON).json()
    assert "Call us." in sample["text"] and "answer this letter" not in sample["text"]


def test_a_draft_is_tried_on_a_job_and_nothing_is_kept(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    now = thing(shop, "cutter")["thing"]
    draft = {"kind": "cutter", "id": "cutter", "title": "Cutter", "data": {**now["data"], "lift_s": 5},
             "job": job["id"]}
    work = shop.post("/api/shelf/try", draft, content_type=JSON).json()
    result = shop.get(f"/api/works/{work['id']}").json()["result"]
    assert [one["what"] for one in result["figures"]] == ["cut"] and result["verdict"][0] == result["verdict"][1]
    narrow = {"kind": "printer", "id": "rip", "title": "RIP",
              "data": {**thing(shop, "rip")["thing"]["data"], "width_mm": 700}, "job": job["id"]}
    work = shop.post("/api/shelf/try", narrow, content_type=JSON).json()
    told = {one["what"]: one["after"] for one in shop.get(f"/api/works/{work['id']}").json()["result"]["figures"]}
    assert "its machines take 700 mm" in told["sheets"]
    assert thing(shop, "cutter")["thing"]["number"] == 1


def test_what_goes_for_a_customer_is_tried_on_a_job(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    row = make(shop, "customer", "Saltmarsh Trust", {"order": {"material": "gloss-1370"}}).json()
    known = row["thing"]["id"]
    assert [one["id"] for one in thing(shop, "gloss-1370")["things"]] == [known]
    draft = {"kind": "customer", "id": known, "title": "Saltmarsh Trust", "job": job["id"],
             "data": {"order": {"roles": ["kiss-cut", "through-cut", "crease"]}}}
    work = shop.post("/api/shelf/try", draft, content_type=JSON).json()
    result = shop.get(f"/api/works/{work['id']}").json()["result"]
    assert {one["id"] for one in result["comes"]} >= {"line.missing"}, result
    wrong = make(shop, "customer", "Ferry Works", {"order": {"material": "nowhere"}})
    assert wrong.status_code == 400 and "order: material" in wrong.json()["message"]


@breadth(0.12, "long ones")
def test_a_tool_of_a_job_takes_no_force_that_its_cutter_does_not_give(shop: Person) -> None:
    job = take_in(shop, CLEAN)
    cutter = thing(shop, "house")["thing"]["data"]["cutter"]
    now = thing(shop, cutter)["thing"]["data"]
    (tool, *_) = [one for one in shop.get(f"/api/jobs/{job['id']}").json()["tools"] if one["role"] == "kiss-cut"]
    assert change(shop, cutter, "measured", most_gf=tool["force_gf"] + 10).status_code == 200
    body = {"version": job["version"], "tools": [{**tool, "force_gf": now["most_gf"]}]}
    answer = shop.patch(f"/api/jobs/{job['id']}", body, content_type=JSON)
    assert answer.status_code == 400 and "gf, not" in answer.json()["message"]
    assert change(shop, cutter, "worn", most_gf=tool["force_gf"] - 10).status_code == 200
    assert "The kiss cut takes" in shop.get(f"/api/jobs/{job['id']}").json()["sheet"]["error"]


def test_a_line_preset_says_for_whom_it_was_made(shop: Person) -> None:
    made = make(shop, "lines", "Two of each", {"lines": [{"role": "kiss-cut", "offset_mm": 2}],
                                               "customers": ["Ferry Works"], "materials": ["film-1370"]}).json()
    assert made["thing"]["data"]["customers"] == ["Ferry Works"]
    assert made["thing"]["id"] in [one["id"] for one in thing(shop, "film-1370")["things"]]
    bare = make(shop, "lines", "Plain", {"lines": [{"role": "kiss-cut"}], "materials": []}).json()["thing"]
    assert "materials" not in bare["data"]
    wrong = make(shop, "lines", "Lost", {"lines": [{"role": "kiss-cut"}], "materials": ["nowhere"]})
    assert wrong.status_code == 400 and "nowhere" in wrong.json()["message"]


# -- what a released job keeps ---------------------------------------------------------------------------------------


@breadth(0.12, "long ones")
def test_a_released_job_keeps_what_it_was_released_with_and_says_what_is_newer(shop: Person) -> None:
    job = released(shop, take_in(shop, CLEAN))
    other = take_in(shop, CLEAN + b"\n", "other.pdf")
    names = {**thing(shop, "house")["thing"]["data"]["names"], "kiss-cut": "Half Cut"}
    assert change(shop, "house", "a new RIP", names=names).status_code == 200
    found = shop.get(f"/api/jobs/{job['id']}").json()
    assert [(one["id"], one["kept"], one["now"]) for one in found["newer"]] == [("house", 1, 2)]
    assert found["current"] and found["released"] and found["verdict"] == "clean", "it goes by what it was made with"
    checked = shop.get(f"/api/jobs/{other['id']}").json()
    assert checked["newer"] == [] and "ink.near-name" in [one["id"] for one in checked["findings"]]
    taken = shop.post(f"/api/jobs/{job['id']}/shelf", {"version": found["version"]}, content_type=JSON)
    assert taken.status_code == 200
    now = shop.get(f"/api/jobs/{job['id']}").json()
    assert now["newer"] == [] and "ink.near-name" in [one["id"] for one in now["findings"]]


# -- moving ----------------------------------------------------------------------------------------------------------


def exported(shop: Person) -> bytes:
    return bytes(shop.get("/api/shelf/export").content)


def taken(shop: Person, data: bytes, **choices: str) -> Any:
    return shop.post("/api/shelf/import", {"file": SimpleUploadedFile("s.json", data), "choices": json.dumps(choices)})


def test_a_shelf_goes_out_into_an_empty_shop_and_out_again_byte_for_byte(shop: Person) -> None:
    own = json.loads((Path(__file__).parents[1] / "data" / "shelf" / "shop.json").read_text())
    assert taken(shop, json.dumps(own).encode()).status_code == 200
    change(shop, "film-1370", price_m2=6.25)
    shop.post(f"{AT}/iso/retire", {"retired": True, "seen": 1}, content_type=JSON)
    shop.patch("/api/shop", {"name": "Harbour Print", "unit": "in", "currency": "EUR"}, content_type=JSON)
    first = exported(shop)
    for model in (models.Media, models.ShelfVersion, models.ShelfItem, models.Shop):
        model.objects.all().delete()
    assert json.loads(exported(shop))["things"] == []
    assert taken(shop, first).json()["things"] == len(json.loads(first)["things"])
    assert exported(shop) == first


def test_what_both_have_otherwise_is_asked_and_both_may_be_had(shop: Person) -> None:
    theirs = json.loads(exported(shop))
    change(shop, "cutter", holders=4)
    file = json.dumps(theirs).encode()
    looked = shop.post("/api/shelf/import/look", {"file": SimpleUploadedFile("s.json", file)}).json()
    changed = [one for one in looked["things"] if one["standing"] == "changed"]
    assert [one["id"] for one in changed] == ["cutter"] and changed[0]["differences"][0]["where"] == "holders"
    assert taken(shop, file).status_code == 400, "what becomes of it was not said"
    assert taken(shop, file, cutter="keep").json()["things"] == 0
    assert taken(shop, file, cutter="both").json()["things"] == 1
    assert thing(shop, "cutter")["thing"]["data"]["holders"] == 4
    assert thing(shop, "cutter-2")["thing"]["data"]["holders"] == 2
    assert taken(shop, file, cutter="take").json()["things"] == 1
    assert thing(shop, "cutter")["thing"]["number"] == 3


@breadth(0.2)
@pytest.mark.parametrize(("file", "said"), [
    (b"[]", "is not a JSON object"), (b"{", "is not JSON"), (b"\xff", "is not JSON"), (b'{"format": "x"}', "no Shelf"),
    (b"[" * 100_000, "is not JSON"),
])
def test_a_file_that_is_no_shelf_is_refused_by_name(shop: Person, file: bytes, said: str) -> None:
    answer = taken(shop, file)
    assert answer.status_code == 400 and said in answer.json()["message"] and "s.json" in answer.json()["message"]


@breadth(0.12, "long ones")
def test_a_shelf_that_does_not_hold_together_is_not_taken_in_part(shop: Person) -> None:
    theirs = json.loads(exported(shop))
    new = {"kind": "printer", "id": "new-one", "title": "New one", "data": {}}
    lost = {"kind": "destination", "id": "lost", "title": "Lost", "data": {"printer": "nowhere", "cutter": "cutter"}}
    answer = taken(shop, json.dumps({**theirs, "things": [new, lost]}).encode())
    assert answer.status_code == 400 and "there is no printer “nowhere”. Nothing was taken." in answer.json()["message"]
    assert not models.ShelfItem.objects.filter(pk="new-one").exists()


def test_a_new_shop_is_empty_and_says_what_it_needs(shop: Person) -> None:
    for model in (models.Media, models.ShelfVersion, models.ShelfItem, models.Shop):
        model.objects.all().delete()
    assert shop.get("/api/shop").json()["begun"] is False
    refused = shop.post("/api/jobs", {"file": SimpleUploadedFile("seal.pdf", CLEAN)})
    assert refused.status_code == 409 and "no destination on the Shelf yet" in refused.json()["message"]
    shown = shop.post("/api/shelf/examples", {"ids": ["house"]}, content_type=JSON).json()
    assert {one["id"] for one in shown if one["here"]} == {"house", "rip", "cutter"}, "with what it is made of"
    names = shop.post("/api/shelf/names-in-file", {"file": SimpleUploadedFile("worked.pdf", CLEAN)}).json()
    assert names == [{"name": "Kiss Cut", "role": "kiss-cut"}]
    fill()


# -- the log ---------------------------------------------------------------------------------------------------------


def test_the_log_says_who_did_what_to_what_is_filtered_and_goes_out_as_csv(shop: Person) -> None:
    boss = person("boss", rights=(Right.SEE, Right.MANAGE_PEOPLE))
    job = take_in(shop, CLEAN)
    change(shop, "film-1370", "=SUM(A1)", price_m2=7)
    page = boss.get("/api/log").json()
    latest = page["entries"][0]
    assert (latest["who"], latest["topic"], latest["item"]) == ("ada", "shelf", "film-1370")
    assert "price" in latest["what"]
    about_jobs = boss.get("/api/log?topic=job").json()
    assert {one["job"] for one in about_jobs["entries"]} == {job["id"]}
    assert boss.get("/api/log?who=nobody").json()["count"] == 0
    assert boss.get("/api/log?search=took in").json()["count"] == 1
    assert boss.get("/api/log?until=2001-01-01").json()["count"] == 0
    rows = boss.get("/api/log/export?topic=shelf").content.decode().splitlines()
    assert rows[0] == "when,who,topic,about,version,what" and ",ada,shelf," in rows[1]


def test_the_log_outlives_what_it_is_about_and_nothing_changes_it(shop: Person) -> None:
    make(shop, "thread", "Rust", {"colour": "#AA5522"})
    assert shop.delete(f"{AT}/rust").status_code == 200
    seal()
    try:
        entry = models.LogEntry.objects.order_by("-pk").first()
        assert entry is not None and (entry.about, entry.what) == ("Rust", "Removed the thread")
        with pytest.raises(DatabaseError, match="not changed"):
            models.LogEntry.objects.filter(pk=entry.pk).update(what="nothing")
        with pytest.raises(DatabaseError, match="not changed"):
            entry.delete()
        make(shop, "thread", "Moss green", {"colour": "#225522"})
        assert models.LogEntry.objects.filter(about="Moss green").exists(), "it goes on"
    finally:
        with connection.cursor() as cursor:
            for name in SEALS:
                cursor.execute(f"DROP TRIGGER {name}")
