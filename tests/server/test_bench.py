"""The bench: a release is printed, dries, is laid in, its marks are found or taken, it is cut; and rehearsals."""

import threading
from datetime import timedelta
from typing import Any

import pytest
from bench import bed
from django.db import connection
from django.utils import timezone
from jobs import models
from jobs.store.rights import Right
from worker.loop import run_all

from tests.breadth import breadth
from tests.server.conftest import Person, person
from tests.server.test_shared import JSON, Shown, disc, job_of, patched

pytestmark = [pytest.mark.django_db(transaction=True), breadth(0.12, "the shop at work")]


def released(shop: Person, **body: Any) -> str:
    """The address of a job's package on the bench."""
    job = job_of(shop, disc(30), "seals.pdf", 4)
    if body:
        job = patched(shop, job, **body)
    assert shop.post(f"/api/jobs/{job['id']}/release").status_code == 200
    return f"/api/bench/{shop.get('/api/bench').json()[0]['id']}"


def printed(shop: Person, at: str, preset: str = "usual") -> Shown:
    assert shop.post(f"{at}/rip", {"preset": preset}, content_type=JSON).status_code == 200
    made: Shown = shop.post(f"{at}/dry", {}, content_type=JSON).json()
    return made


def asked(shop: Person, address: str, status: int = 200, **body: Any) -> Shown:
    answer = shop.post(address, body, content_type=JSON)
    assert answer.status_code == status, answer.content
    shown: Shown = answer.json()
    return shown


def test_a_sheet_is_cut_when_it_is_printed_and_dry(shop: Person) -> None:
    at = released(shop)
    assert "not printed" in asked(shop, f"{at}/load", 409)["message"]
    assert "no hot folder" in asked(shop, f"{at}/rip", 404, preset="slow")["message"]
    asked(shop, f"{at}/rip", preset="fine")
    (made,) = shop.get("/api/bench").json()
    assert made["rip_state"] == "done" and made["preset"] == "fine" and made["longer"] != 0 and not made["dry"]
    assert shop.get(f"{at}/printed").content.startswith(b"\x89PNG")
    assert "wet until" in asked(shop, f"{at}/load", 409)["message"]
    models.Sheet.objects.update(printed=timezone.now() - timedelta(hours=2, minutes=1))
    assert asked(shop, f"{at}/load", seed=3, shift_x_mm=0)["loading"] is not None


def test_the_camera_finds_the_marks_and_reads_the_code(shop: Person) -> None:
    at = released(shop)
    printed(shop, at)
    meant = shop.get(f"{at}/play").json()
    assert not meant["landed"]
    asked(shop, f"{at}/load", seed=5, shift_x_mm=0, turn_deg=0.3)
    bed = shop.get(f"{at}/bed").json()
    assert bed["aligned"]["trouble"] == "" and bed["code_read"] == bed["code_meant"]
    assert bed["aligned"]["fit"]["turn_deg"] == pytest.approx(0.3, abs=0.02)
    assert [mark["how"] for mark in bed["aligned"]["marks"]] == ["camera"] * 4
    assert max(mark["residual_mm"] for mark in bed["aligned"]["marks"]) < 0.05
    picture = shop.get(f"{at}/sights/{bed['sights'][0]['sha256']}")
    assert picture.content.startswith(b"\x89PNG") and shop.get(f"{at}/sights/{'0' * 64}").status_code == 404
    landed = shop.get(f"{at}/play").json()
    assert landed["landed"] and len(landed["moves"]) == len(meant["moves"])
    for a, b in zip(landed["moves"][0]["points"], meant["moves"][0]["points"], strict=True):
        assert a == pytest.approx(b, abs=0.15)


def test_a_bed_is_told_as_it_was_at_one_moment(shop: Person, monkeypatch: pytest.MonkeyPatch) -> None:
    """A camera that was done while the bed was read was told as done with marks not looked at: nobody asked again."""
    at = released(shop)
    printed(shop, at)
    shop.works = False
    read = bed.loading_of

    def meanwhile(made: models.Release, side: bed.Side) -> models.Loading | None:
        found = read(made, side)

        def works() -> None:
            run_all()
            connection.close()

        thread = threading.Thread(target=works)
        thread.start()
        thread.join(60)
        return found

    asked(shop, f"{at}/load", seed=5, shift_x_mm=0)
    monkeypatch.setattr(bed, "loading_of", meanwhile)
    seen = shop.get(f"{at}/bed").json()
    assert seen["sights"] == [] and seen["work"]["state"] == "waiting", "the screen will ask again"
    monkeypatch.setattr(bed, "loading_of", read)
    assert len(shop.get(f"{at}/bed").json()["sights"]) == 4


def test_under_gloss_marks_are_taken_by_hand_and_a_wrong_one_is_said(shop: Person) -> None:
    at = released(shop, material="gloss-1370")
    printed(shop, at)
    bed = asked(shop, f"{at}/load", seed=2, shift_x_mm=0, shift_y_mm=0, turn_deg=0, stretch=0, skew_deg=0)
    bed = shop.get(f"{at}/bed").json()
    assert "mirrors the lamp" in bed["aligned"]["trouble"]
    assert asked(shop, f"{at}/mark", 404, number=9, place=[0, 0])["message"]
    pointer = bed["pointer"]
    assert pointer["when"] is None and pointer["old"]
    for mark in bed["aligned"]["marks"]:
        place = [mark["meant"][0] - pointer["x_mm"], mark["meant"][1] - pointer["y_mm"]]
        bed = asked(shop, f"{at}/mark", number=mark["number"], place=place)
    assert bed["aligned"]["trouble"] == "" and bed["aligned"]["fit"]["worst_mm"] < 0.01
    bed = asked(shop, f"{at}/mark", number=2, place=[0, 0])
    assert "mm from where the others have it" in bed["aligned"]["trouble"]
    assert asked(shop, f"{at}/mark", number=2, place=None)["aligned"]["trouble"] == ""
    seen = shop.get(f"{at}/under", {"loading": bed["loading"], "x": 100, "y": 90, "side_mm": 20, "cross": True})
    assert seen.content.startswith(b"\x89PNG")


def test_the_pointer_is_calibrated_once_for_the_cutter(shop: Person) -> None:
    at = released(shop)
    printed(shop, at)
    assert asked(shop, f"{at}/pointer", 409, place=[0, 0])["message"], "nothing lies there yet"
    asked(shop, f"{at}/load", shift_x_mm=0)
    x, y = shop.get(f"{at}/bed").json()["cross"]
    bed = asked(shop, f"{at}/pointer", place=[x - 1.81, y + 0.68])
    assert (bed["pointer"]["x_mm"], bed["pointer"]["y_mm"]) == pytest.approx((1.81, -0.68))
    assert bed["pointer"]["days"] == 0 and not bed["pointer"]["old"] and bed["pointer"]["who"]
    models.PointerOffset.objects.update(when=timezone.now() - timedelta(days=45))
    bed = shop.get(f"{at}/bed").json()
    assert bed["pointer"]["days"] == 45 and bed["pointer"]["old"]


def test_a_cut_is_stopped_goes_on_and_an_origin_is_set_anew_and_taken_back(shop: Person) -> None:
    at = released(shop)
    printed(shop, at)
    asked(shop, f"{at}/load", seed=4, shift_x_mm=0)
    assert asked(shop, f"{at}/stood", stood_s=7.5)["stood_s"] == 7.5
    before = shop.get(f"{at}/play").json()["moves"][0]["points"][0]
    assert asked(shop, f"{at}/origin", before=0, moved=[3, 0])["shifts"] == {"0": [3.0, 0.0]}
    after = shop.get(f"{at}/play").json()["moves"][0]["points"][0]
    assert after[0] - before[0] == pytest.approx(3, abs=0.05)
    asked(shop, f"{at}/origin", before=0, moved=None)
    assert shop.get(f"{at}/play").json()["moves"][0]["points"][0] == before


def test_the_back_waits_until_the_front_is_cut_to_its_end(shop: Person) -> None:
    from tests.shapes import Drawing, circle, line_in, write

    art = f"1 0 0 0 k {circle(50, 50, 36)} f " + line_in(circle(50, 50, 30), "T") + line_in(circle(50, 50, 31.3), "B")
    drawing = Drawing(art, inks={"T": "Through Cut", "B": "Back Cut"}, trim=None, bleed=None)
    job = job_of(shop, write(drawing), "peeled.pdf", 2)
    assert shop.post(f"/api/jobs/{job['id']}/release").status_code == 200
    at = f"/api/bench/{shop.get('/api/bench').json()[0]['id']}"
    assert printed(shop, at)["sides"] == ["front", "back"]
    assert "front has not been cut" in asked(shop, f"{at}/load", 409, side="back")["message"]
    asked(shop, f"{at}/load", seed=3, shift_x_mm=0)
    total = shop.get(f"{at}/play").json()["total_s"]
    asked(shop, f"{at}/stood", stood_s=total / 2)
    assert "to its end" in asked(shop, f"{at}/load", 409, side="back")["message"], "the corners are cut last"
    asked(shop, f"{at}/stood", stood_s=total)
    asked(shop, f"{at}/load", side="back", seed=8, shift_x_mm=0)
    bed = shop.get(f"{at}/bed", {"side": "back"}).json()
    assert len(bed["aligned"]["marks"]) == 3 and bed["aligned"]["trouble"] == ""
    assert shop.get(f"{at}/play", {"side": "back"}).json()["landed"]


def test_what_cannot_be_held_or_is_out_of_bounds_is_refused(shop: Person) -> None:
    at = released(shop)
    printed(shop, at)
    assert "roller" in asked(shop, f"{at}/load", 400, shift_x_mm=60)["message"]
    assert shop.post(f"{at}/load", {"turn_deg": 400}, content_type=JSON).status_code in (400, 422)
    assert "front has not been cut" in asked(shop, f"{at}/load", 409, side="back")["message"]
    assert shop.get(f"{at}/bed").json()["loading"] is None
    assert shop.post(f"{at}/load", {}, content_type=JSON).status_code == 200
    stranger = person("stranger")
    assert stranger.get(f"{at}/bed").status_code == 200, "whoever works there sees the bench"


# -- rehearsals ------------------------------------------------------------------------------------


def test_a_rehearsal_stands_with_the_job_until_it_is_changed(shop: Person) -> None:
    job = job_of(shop, disc(30), "seals.pdf", 4)
    at = f"/api/jobs/{job['id']}"
    assert job["rehearsal"] is None
    assert shop.post(f"{at}/rehearse", {"loads": 30, "seed": 2}, content_type=JSON).status_code == 200
    job = shop.get(at).json()
    found = job["rehearsal"]
    assert found["loads"] == 30 and found["pieces"] + found["missed"] * 4 == 120 and found["worst_mm"] > 0
    assert job["current"] and not job["released"]
    assert shop.get(f"{at}/rehearsal/worst").content.startswith(b"\x89PNG")
    assert len(found["worst"]["landed"]) > 10
    job = patched(shop, job, order={"quantity": 5})
    assert job["rehearsal"] is None and job["current"]


def test_the_shop_makes_a_bad_rehearsal_a_stop(shop: Person) -> None:
    boss = person("boss", Right.EDIT_SHELF)
    limits = {"scope": "shop", "subject": "", "limits": {"edge.rehearsed": 0.0},
              "severities": {"edge.rehearsed": "stop"}, "note": "no piece is spoilt here"}
    assert boss.post("/api/sheets", limits, content_type=JSON).status_code == 200
    # the cut runs a quarter of a millimetre inside the ink: far too little for how a sheet lies
    job = job_of(shop, disc_bleeding(0.15), "tight.pdf", 6)
    at = f"/api/jobs/{job['id']}"
    before = job["stops"]
    assert shop.post(f"{at}/rehearse", {"loads": 60, "seed": 1}, content_type=JSON).status_code == 200
    job = shop.get(at).json()
    assert job["rehearsal"]["bare"] > 0
    (card,) = [one for one in job["findings"] if one["id"] == "edge.rehearsed"]
    assert card["severity"] == "stop" and "bare media" in card["message"] and job["stops"] == before + 1


def disc_bleeding(mm: float) -> bytes:
    from tests.shapes import Drawing, circle, line_in, write

    content = f"1 0 0 0 k {circle(50, 50, 30 + mm)} f " + line_in(circle(50, 50, 30))
    return write(Drawing(content, trim=None, bleed=None))


# -- test cuts, and how cut files get to the cutter ------------------------------------------------


def test_a_figure_is_cut_for_a_tool_and_what_is_seen_corrects_it_until_it_is_right(shop: Person) -> None:
    """The simulated cutter brings 7 % less force to the media than it is told: 90 gf do not part the film there."""
    at = released(shop)
    printed(shop, at)
    assert "Load it first" in asked(shop, f"{at}/test-cut", 409, role="kiss-cut")["message"]
    asked(shop, f"{at}/load", shift_x_mm=0)
    found = asked(shop, f"{at}/test-cut", role="kiss-cut")
    assert found["seen"] == "too-shallow" and found["reached_um"] < found["wanted_um"] == 115
    assert asked(shop, f"{at}/test-cut", 404, role="crease")["message"]
    here = {"release": int(at.rpartition("/")[2]), **{key: found[key] for key in ("role", "seen", "version")}}
    asked(shop, "/api/shelf/tools/seen", **here)
    assert "version 1 by now" in asked(shop, "/api/shelf/tools/seen", 409, **here)["message"], "said twice counts once"
    found = asked(shop, f"{at}/test-cut", role="kiss-cut")
    assert found["seen"] == "right" and found["tool"]["force_gf"] == 100
    answer = shop.get(f"{at}/test-cut/kiss-cut")
    assert "attachment" in answer["Content-Disposition"] and answer.content.startswith(b"IN;")


def test_cut_files_go_on_a_stick_into_a_folder_or_to_a_device(
    shop: Person, settings: Any, monkeypatch: pytest.MonkeyPatch
) -> None:
    import io
    import zipfile
    from pathlib import Path

    from horismos.simulation.device import device

    job = job_of(shop, disc(30), "seals.pdf", 4)
    body = {"also": ["dxf", "svg", "pdf", "gcode"]}
    assert shop.post(f"/api/jobs/{job['id']}/release", body, content_type=JSON).status_code == 200
    (made,) = shop.get("/api/bench").json()
    at = f"/api/bench/{made['id']}"
    stick = zipfile.ZipFile(io.BytesIO(shop.get(f"{at}/stick").content))
    assert {name.rpartition(".")[2] for name in stick.namelist()} == {"plt", "dxf", "svg", "pdf", "json", "nc"}
    assert shop.get(f"{at}/bed").json()["formats"] == ["hpgl", "dxf", "gcode", "pdf", "svg"]
    printed(shop, at)
    assert "hot folder" in asked(shop, f"{at}/hand-over", way="hot-folder")["words"]
    folder = Path(settings.VAR) / "cutter-folder" / "house"
    (lying,) = folder.iterdir()
    assert lying.read_bytes() == stick.read("seals-cut.plt")
    assert "cutter, which reads 4 strokes" in asked(shop, f"{at}/hand-over", way="socket")["words"]
    table = asked(shop, f"{at}/hand-over", way="socket", format="gcode")["words"]
    assert "flat table, which reads 4 strokes" in table
    none = asked(shop, f"{at}/hand-over", 404, way="socket", format="dxf")["message"]
    assert "No simulated device takes “dxf”" in none and "stick" in none
    asked(shop, f"{at}/hand-over", way="hot-folder", format="dxf")
    assert {one.suffix for one in folder.iterdir()} == {".plt", ".dxf"}
    with device() as ours:
        settings.CUTTERS = {"house": f"127.0.0.1:{ours.address[1]}"}
        assert "bytes sent" in asked(shop, f"{at}/hand-over", way="socket")["words"]
        with monkeypatch.context() as another:
            another.setattr("bench.handing_over._taking", {("127.0.0.1", ours.address[1])})
            assert "taking a file" in asked(shop, f"{at}/hand-over", 409, way="socket")["message"], "one at a time"
    assert bytes(ours.taken) == stick.read("seals-cut.plt")
    answer = asked(shop, f"{at}/hand-over", 400, way="socket")
    assert "did not take the file" in answer["message"] and "switched on" in answer["message"]
    assert asked(shop, f"{at}/hand-over", 404, way="socket", side="back")["message"]
