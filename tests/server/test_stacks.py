"""Stacks of fabric over the API: shown, cut open, tried, kept, written once, cut on one zero, and sewn."""

import io
import zipfile
from typing import Any

import pytest
from jobs import models
from shop.keeping import referred

from tests.breadth import breadth
from tests.server.conftest import Person, take_in
from tests.shapes import Drawing, circle, line_in, write

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]
JSON = "application/json"
SEWN = [{"kind": "tack-down"}, {"kind": "satin"}]
STACK: dict[str, Any] = {
    "layers": [
        {"name": "top", "fabric": "twill", "stitches": SEWN},
        {"name": "base", "fabric": "felt", "offset_mm": 3, "stitches": [{"kind": "placement"}, *SEWN]},
    ],
    "formats": ["dst", "pes"],
}


def ask(shop: Person, path: str, body: dict[str, Any], status: int = 200) -> Any:
    answer = shop.post(f"/api/{path}", body, content_type=JSON)
    assert answer.status_code == status, answer.content
    return answer.json()


@pytest.fixture()
def job(shop: Person) -> dict[str, Any]:
    return take_in(shop, write(Drawing(line_in(circle(50, 50, 20)), trim=None, bleed=None)))


def about(job: dict[str, Any], **more: Any) -> dict[str, Any]:
    return {"stack": STACK, "revision": job["revision"], **more}


def kept(shop: Person, job: dict[str, Any], stack: dict[str, Any] = STACK) -> dict[str, Any]:
    found: dict[str, Any] = ask(shop, f"jobs/{job['id']}/stack", {"stack": stack})
    return found


def written(shop: Person, job: dict[str, Any]) -> dict[str, Any]:
    kept(shop, job)
    ask(shop, f"jobs/{job['id']}/stack/write", {})
    (package,) = shop.get("/api/stacks").json()
    return dict(package)


def test_a_stack_is_shown_with_its_layers_stitches_and_section(shop: Person, job: dict[str, Any]) -> None:
    shown = ask(shop, f"jobs/{job['id']}/stack/shown", about(job))
    assert [layer["name"] for layer in shown["layers"]] == ["top", "base"] and shown["why"].startswith("The kiss cut")
    assert [layer["cut_as"] for layer in shown["layers"]] == [2, 1]
    assert sum(len(seam["points"]) for seam in shown["seams"]) == 2 * shown["figures"]["count"]
    xs = [x for seam in shown["seams"] for x in seam["points"][::2]]
    assert 25 < min(xs) < 26 and 74 < max(xs) < 75  # 3 mm of felt and 1.5 mm of satin about a circle of 20 mm
    section = ask(shop, f"jobs/{job['id']}/stack/section", about(job, line=[20, 50, 80, 50]))
    assert [len(layer["cuts_mm"]) for layer in section["layers"]] == [2, 2]
    too_short = ask(shop, f"jobs/{job['id']}/stack/section", about(job, line=[20, 50, 20, 50]), 400)
    assert "longer" in too_short["message"]
    small = {**about(job), "stack": {"layers": [{"name": "a", "offset_mm": -20}, {"name": "b"}]}}
    assert "Nothing is left" in ask(shop, f"jobs/{job['id']}/stack/shown", small)["refused"]
    assert "revision" in ask(shop, f"jobs/{job['id']}/stack/shown", {**about(job), "revision": 9}, 409)["message"]
    wrong = {**about(job), "stack": {"layers": [{"tint": 1}]}}
    assert "unknown key “tint”" in ask(shop, f"jobs/{job['id']}/stack/shown", wrong, 400)["message"]


def test_a_test_cut_says_what_is_seen_and_what_corrects_it(shop: Person, job: dict[str, Any]) -> None:
    found = ask(shop, f"jobs/{job['id']}/stack/test", about(job, layer=0))
    assert found["seen"] == "too-shallow" and found["reached_um"] < found["own_um"]
    more = found["corrected_gf"]["too-shallow"]
    assert more > found["force_gf"] == found["corrected_gf"]["right"]
    better = {"layers": [{**STACK["layers"][0], "force_gf": more}, STACK["layers"][1]]}
    again = ask(shop, f"jobs/{job['id']}/stack/test", {**about(job, layer=0), "stack": better})
    assert again["seen"] == "right"
    ask(shop, f"jobs/{job['id']}/stack/test", about(job, layer=7), 404)
    file = shop.post(f"/api/jobs/{job['id']}/stack/test/file", about(job, layer=0), content_type=JSON)
    assert file.content.startswith(b"IN;") and b"FS" in file.content


def test_what_the_file_draws_can_be_a_layer(shop: Person, job: dict[str, Any]) -> None:
    (one,) = shop.get(f"/api/jobs/{job['id']}/stack/drawn?revision={job['revision']}").json()
    assert (one["key"], one["words"]) == ("line:kiss-cut", "the kiss cut") and one["path"].startswith("M")
    stack = {"layers": [{"name": "a", "offset_mm": 5}, {"name": "b", "drawn": one["key"], "offset_mm": 7}]}
    shown = ask(shop, f"jobs/{job['id']}/stack/shown", {**about(job), "stack": stack})
    assert [round((layer["area_mm2"] / 3.14159) ** 0.5, 1) for layer in shown["layers"]] == [25, 27]
    assert shop.get(f"/api/jobs/{job['id']}/stack/drawn?revision=9").status_code == 409


def test_a_stack_is_kept_with_the_job_and_taken_away(shop: Person, job: dict[str, Any]) -> None:
    assert job["stack"] is None
    after = kept(shop, job)
    assert [layer["name"] for layer in after["stack"]["layers"]] == ["top", "base"]
    assert after["version"] == job["version"] + 1 and "Stack of fabric: top, base" in after["log"][0]["what"]
    assert kept(shop, job)["version"] == after["version"]
    stale = ask(shop, f"jobs/{job['id']}/stack", {"stack": {}, "version": 1}, 409)
    assert "changed" in stale["message"]
    assert kept(shop, job, {})["stack"] is None
    assert "no stack" in ask(shop, f"jobs/{job['id']}/stack/write", {}, 409)["message"]


def test_the_files_are_written_once_and_kept(shop: Person, job: dict[str, Any]) -> None:
    package = written(shop, job)
    assert [f["format"] for f in package["files"]] == ["hpgl", "hpgl", "dst", "pes"]
    assert package["current"] and package["cut"] == 0 and package["worst_off_mm"] <= 0.018
    assert "already" in ask(shop, f"jobs/{job['id']}/stack/write", {}, 409)["message"]
    for file in package["files"]:
        answer = shop.get(f"/api/stacks/{package['id']}/files/{file['name']}")
        assert len(b"".join(answer.streaming_content)) == file["bytes"]
    assert shop.get(f"/api/stacks/{package['id']}/files/other.plt").status_code == 404
    packed = zipfile.ZipFile(io.BytesIO(shop.get(f"/api/stacks/{package['id']}/stick").content))
    assert sorted(packed.namelist()) == sorted(file["name"] for file in package["files"])
    assert {file["sha256"] for file in package["files"]} <= referred()
    other = {**STACK, "frame_mm": 5}
    assert not kept(shop, job, other)["stacks"][0]["current"]
    ask(shop, f"jobs/{job['id']}/stack/write", {})
    assert [one["current"] for one in shop.get("/api/stacks").json()] == [True, False]


def test_layers_are_cut_from_the_bottom_on_one_zero_and_a_new_one_is_told(shop: Person, job: dict[str, Any]) -> None:
    package = written(shop, job)
    at = f"stacks/{package['id']}"
    bed = shop.get(f"/api/{at}").json()
    assert bed["next"] == 1 and bed["origin_mm"] == [0, 0] and "Set the origin once" in bed["layers"][1]["lay"]
    bed = ask(shop, f"{at}/cut", {})
    assert bed["next"] == 0 and bed["cut"][0]["number"] == 1 and bed["cut"][0]["inside_mm"] is None
    bed = ask(shop, f"{at}/origin", {"x_mm": 5, "y_mm": 0})
    assert bed["origin_mm"] == [5, 0]
    bed = ask(shop, f"{at}/cut", {})
    assert bed["next"] is None and bed["cut"][1]["inside_mm"] == pytest.approx(-2, abs=0.15)
    assert "All layers are cut" in ask(shop, f"{at}/cut", {}, 409)["message"]
    bed = ask(shop, f"{at}/anew", {})
    assert bed["cut"] == [] and bed["origin_mm"] == [0, 0]
    ask(shop, f"{at}/cut", {})
    bed = ask(shop, f"{at}/cut", {})
    assert bed["cut"][1]["inside_mm"] == pytest.approx(3, abs=0.15)
    assert all(path.startswith("M") for one in bed["cut"] for path in one["paths"])
    ask(shop, f"{at}/origin", {"x_mm": 500, "y_mm": 0}, 422)
    ask(shop, "stacks/99/cut", {}, 404)


def test_stitches_are_sewn_with_a_stop_for_each_layer(shop: Person, job: dict[str, Any]) -> None:
    package = written(shop, job)
    runs = [shop.get(f"/api/stacks/{package['id']}/sewn?format={kind}").json() for kind in ("dst", "pes")]
    for run in runs:
        assert not run["refused"] and len(run["halts"]) == 2
        assert "on its line" in run["halts"][0]["words"] and "Lay “top”" in run["halts"][1]["words"]
        assert len({seam["colour"] for seam in run["seams"]}) == 2
        assert run["count"] == sum(len(seam["at_s"]) for seam in run["seams"])
    assert runs[0]["count"] == runs[1]["count"]
    assert shop.get(f"/api/stacks/{package['id']}/sewn?format=jef").status_code == 404


def test_a_job_goes_with_its_stacks(shop: Person, job: dict[str, Any]) -> None:
    from shop.keeping import Rule, sweep

    written(shop, job)
    models.Job.objects.update(created="2001-01-01T00:00:00Z")
    models.LogEntry.objects.update(when="2001-01-01T00:00:00Z")
    swept = sweep(Rule(jobs=30), really=True)
    assert swept.jobs == 1 and not models.StackPackage.objects.exists()


def test_a_fabric_is_tried_in_the_stack_of_a_job_and_nothing_is_kept(shop: Person, job: dict[str, Any]) -> None:
    kept(shop, job)
    felt = shop.get("/api/shelf/things/felt").json()["thing"]
    assert [one["id"] for one in shop.get("/api/shelf/things/felt").json()["jobs"]] == [job["id"]]
    draft = {"kind": "fabric", "id": "felt", "title": felt["title"], "job": job["id"],
             "data": {**felt["data"], "thickness_um": felt["data"]["thickness_um"] * 2}}
    work = ask(shop, "shelf/try", draft)
    found = shop.get(f"/api/works/{work['id']}").json()
    assert found["state"] == "done", found["error"]
    result = found["result"]
    told = {one["what"]: (one["before"], one["after"]) for one in result["figures"]}
    assert "“base” is thick" in told and "“top” is thick" not in told and result["verdict"] is None
    assert float(told["“base” is cut at"][1].split()[0]) > float(told["“base” is cut at"][0].split()[0])
    assert shop.get("/api/shelf/things/felt").json()["thing"]["number"] == felt["number"]
    none = ask(shop, "shelf/try", {**draft, "id": None, "title": "Baize"})
    failed = shop.get(f"/api/works/{none['id']}").json()
    assert failed["state"] == "failed" and "no layer of “Baize”" in failed["error"]
