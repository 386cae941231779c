"""Stacks of fabric: what is refused, layers, order and stops, locks, depth, the section, and the simulated machines."""

import json
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest
import shapely

from horismos.cli import main
from horismos.cutting.depth import CutOutcome
from horismos.errors import BadValue, CannotWrite, NothingToDo
from horismos.formats.embroidery import (
    FORMATS,
    ColourStop,
    Sewn,
    StitchSuffix,
    read_stitches,
    worst_off,
    write_stitches,
)
from horismos.machines import SewingMachine
from horismos.simulation.sewing import sew
from horismos.simulation.stack_cut import StackJob, cut_stack
from horismos.stitching.layers import lay_layers
from horismos.stitching.plan import LEAST_UNITS, StitchPlan, plan_stitches
from horismos.stitching.section import stack_section
from horismos.stitching.stack import Sewing, Stack, StitchKind
from horismos.workflow.stack import returning_to_origin
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

EXP = FORMATS[StitchSuffix.EXP]
Said = pytest.CaptureFixture[str]
Run = Callable[..., int]
KISS = line_in(circle(50, 50, 20))
RED_ART = f"0 1 1 0 k {circle(50, 50, 30)} f "
RING = shapely.MultiPolygon([shapely.Point(0, 0).buffer(20) - shapely.Point(0, 0).buffer(8)])
TWO = shapely.MultiPolygon([shapely.box(0, 0, 20, 20), shapely.box(60, 0, 80, 20)])


def stack_of(*layers: dict[str, Any], **more: Any) -> Stack:
    """A stack with names where none matter."""
    return Stack.from_json({"layers": [{"name": f"layer {i}", **one} for i, one in enumerate(layers)], **more})


def sewn(area: shapely.Geometry, *layers: dict[str, Any]) -> StitchPlan:
    return plan_stitches(lay_layers(area, stack_of(*layers)))


def kinds(*names: str) -> list[dict[str, str]]:
    return [{"kind": name} for name in names]


@pytest.fixture()
def stack(tmp_path: Path) -> Run:
    def run(content: str, wanted: Any, *more: str, size: tuple[float, float] = (100, 100)) -> int:
        art, make = tmp_path / "art.pdf", tmp_path / "stack.json"
        art.write_bytes(write(Drawing(content, size, trim=None, bleed=None)))
        make.write_text(json.dumps(wanted))
        return main(["stack", str(art), "--make", str(make), "--out", str(tmp_path / "out"), *more])

    return run


@pytest.mark.parametrize(("wanted", "words"), [
    ({"layers": []}, "one to 5 layers"),
    ({"layers": [{"name": "a", "colur": "#112233"}]}, "unknown key “colur”"),
    ({"layers": [{"stitches": [{"kind": "satin", "wide": 3}]}]}, "unknown key “wide”"),
    ({"layers": [{"stitches": [{"kind": "chain"}]}]}, "is “chain”"),
    ({"layers": [{"stitches": [{"width_mm": 3}]}]}, "kind is missing. Give one of placement"),
    ({"layers": [{"stitches": [{"kind": "satin", "width_mm": 0.2}]}]}, "0.6 mm or more"),
    ({"layers": [{"offset_mm": "2"}]}, "must be a number"),
    ({"layers": [{}, {"offset_mm": -1}]}, "smaller than the layer above"),
    ({"layers": [{"join": "sharp"}]}, "round, mitre"),
    ({"layers": [{"colour": "red"}]}, "#rrggbb"),
    ({"layers": [{"fabric": " "}]}, "is empty"),
    ({"layers": [{"name": "One"}, {"name": "one"}]}, "Two layers"),
    ({"layers": [{}], "formats": ["pdf"]}, "no format"),
    ({"layers": [{}], "hoop": 1}, "unknown key “hoop”"),
])
def test_what_cannot_be_meant_is_named_and_nothing_is_written(
    stack: Run, wanted: Any, words: str, tmp_path: Path, capsys: Said
) -> None:
    assert stack(KISS, wanted) == 2
    assert words in capsys.readouterr().err
    assert not (tmp_path / "out").exists()


def test_a_stack_comes_back_from_its_json_as_it_was() -> None:
    made = stack_of(
        {"fabric": "felt", "join": "mitre", "inner": "close", "lay": "heat", "force_gf": 210, "thread": "#112233",
         "stitches": [{"kind": "satin", "width_mm": 4, "corners": "round", "underlay": "zigzag"}]},
        {"offset_mm": 2}, formats=["PES", "dst", "pes"], frame_mm=6,
    )
    assert made.formats == ("pes", "dst")
    assert Stack.from_json(json.loads(json.dumps(made.to_json()))) == made


def test_the_outline_is_the_kiss_cut_then_the_through_cut_then_the_art(stack: Run, capsys: Said) -> None:
    one = {"layers": [{"name": "one"}]}

    def area(content: str, **more: Any) -> float:
        assert stack(content, {**one, **more}, "--json") == 0
        return float(json.loads(capsys.readouterr().out)["layers"][0]["area_mm2"])

    assert area(RED_ART + KISS) == pytest.approx(np.pi * 400, rel=1e-3)
    assert area(RED_ART + KISS, outline="art") == pytest.approx(np.pi * 900, rel=1e-3)
    assert area(RED_ART) == pytest.approx(np.pi * 900, rel=1e-3)
    assert stack(RED_ART, {**one, "outline": "through-cut"}) == 2
    assert "no closed through cut" in capsys.readouterr().err
    assert stack(RED_ART + KISS, {**one, "outline": "perforation"}) == 2
    assert "no closed perforation" in capsys.readouterr().err


def test_an_inner_contour_is_kept_or_closed_and_what_shrinks_is_cut_larger() -> None:
    kept, closed = lay_layers(RING, stack_of({"offset_mm": 1}, {"offset_mm": 2, "inner": "close", "shrinks": 0.02}))
    assert len(kept.area.geoms[0].interiors) == 1 and not closed.area.geoms[0].interiors
    assert kept.cut_area.equals(kept.area)
    wide, cut = (g.bounds[2] - g.bounds[0] for g in (closed.area, closed.cut_area))
    assert cut * 0.98 == pytest.approx(wide, rel=1e-6)
    assert closed.cut_area.centroid.distance(closed.area.centroid) < 1e-6
    with pytest.raises(NothingToDo, match="layer 0"):
        lay_layers(RING, stack_of({"offset_mm": -7}))


def test_layers_are_sewn_from_the_bottom_with_a_stop_before_each_and_behind_a_placement() -> None:
    plan = sewn(
        RING, {"stitches": kinds("satin")}, {"offset_mm": 2},
        {"offset_mm": 3, "stitches": kinds("placement", "tack-down", "zigzag")},
    )
    assert [seam.layer for seam in plan.seams] == sorted((seam.layer for seam in plan.seams), reverse=True)
    stops = [(seam.layer, seam.stop) for seam in plan.seams[1:] if seam.stop]
    assert [layer for layer, _ in stops] == [2, 0] and "on its line" in stops[0][1] and "Lay “layer 0”" in stops[1][1]
    sewn_kinds = [kind for seam in plan.seams for _, kind in seam.kinds]
    assert list(dict.fromkeys(sewn_kinds)) == [
        StitchKind.PLACEMENT, StitchKind.TACK_DOWN, StitchKind.ZIGZAG, StitchKind.SATIN
    ]
    assert plan.stops == 2 and plan.colours == 2
    assert sum(isinstance(record, ColourStop) for record in plan.records) == plan.stops
    assert not sewn(RING, {}).seams


def test_seams_are_locked_at_both_ends_and_no_stitch_is_too_short_or_too_long() -> None:
    plan = sewn(TWO, {"stitches": [{"kind": "satin", "width_mm": 28, "inset_mm": 14}]})
    assert any("snags" in said for said in plan.said)
    for seam in plan.seams:
        assert (seam.points[0] == seam.points[2]).all() and (seam.points[-1] == seam.points[-3]).all()
        lengths = np.hypot(*np.diff(seam.points, axis=0).T)
        assert lengths.min() >= LEAST_UNITS and lengths.max() <= 121


def test_a_way_that_satin_will_hide_is_sewn_and_any_other_is_a_trim() -> None:
    near = shapely.MultiPolygon([shapely.box(0, 0, 20, 20), shapely.box(21, 0, 40, 20)])
    assert sewn(near, {"stitches": kinds("satin")}).trims == 0
    assert sewn(TWO, {"stitches": kinds("satin")}).trims == 1
    assert sewn(near, {"stitches": kinds("zigzag")}).trims == 1
    assert sewn(RING, {"stitches": kinds("tack-down", "satin")}).trims == 2  # to the inner edge and back


def test_spacing_width_underlay_and_pull_do_what_they_say() -> None:
    def satin(**more: Any) -> StitchPlan:
        return sewn(TWO, {"pull_mm": more.pop("pull_mm", 0), "stitches": [{"kind": "satin", **more}]})

    bare = satin(underlay="none")
    assert satin(spacing_mm=0.8, underlay="none").count < 0.55 * bare.count
    assert satin(underlay="zigzag").count > satin().count > bare.count
    reach = [np.abs(p.seams[0].points).max() for p in (bare, satin(underlay="none", pull_mm=0.3))]
    assert reach[1] - reach[0] == 3
    assert satin(width_mm=4, inset_mm=1).longest_mm > bare.longest_mm
    assert Sewing.from_json({"kind": "satin", "width_mm": 2}, "x").inset_mm == 1
    inside = sewn(TWO, {"stitches": [{"kind": "zigzag", "width_mm": 2, "inset_mm": 5}]})
    assert np.abs(inside.seams[0].points[:, 0]).max() == pytest.approx(370, abs=2)


def test_fabric_that_is_narrower_than_the_inset_is_still_tacked_and_it_is_said() -> None:
    thin = shapely.MultiPolygon([shapely.box(0, 0, 40, 1.5)])
    plan = sewn(thin, {"stitches": kinds("tack-down")})
    assert plan.count > 20 and "narrower than twice 1 mm" in plan.said[0]


def test_too_much_force_is_a_warning_that_names_what_it_would_spoil(stack: Run, capsys: Said) -> None:
    two = [{"name": "top", "force_gf": 900}, {"name": "base", "offset_mm": 2, "force_gf": 30}]
    assert stack(KISS, {"layers": two}) == 0
    err = capsys.readouterr().err
    assert "“base”, which is to stay whole" in err and "900 gf cut “top”" in err
    assert "30 gf cut “base”" in err and "not cut through" in err
    assert stack(KISS, {"layers": [{"name": "top"}, {"name": "base", "offset_mm": 2}]}) == 0
    assert not capsys.readouterr().err
    shrinks = [{"name": "top", "shrinks": 0.1}, {"name": "base", "offset_mm": 0.5}]
    assert stack(KISS, {"layers": shrinks}) == 0
    assert "over the edge of “base”" in capsys.readouterr().err


def test_a_stack_wider_than_the_media_is_refused(stack: Run, tmp_path: Path, capsys: Said) -> None:
    wide = line_in("10 10 m 1450 10 l 1450 60 l 10 60 l h ")
    assert stack(wide, {"layers": [{}]}, size=(1500, 100)) == 0
    capsys.readouterr()
    assert stack(wide, {"layers": [{}], "frame_mm": 10}, size=(1500, 100)) == 2
    assert "1460 mm wide; 1450 mm of the media can be cut" in capsys.readouterr().err


def test_pieces_that_an_offset_swallows_are_counted(stack: Run, capsys: Said) -> None:
    both = line_in(circle(30, 50, 15)) + line_in(circle(70, 50, 3))
    assert stack(both, {"layers": [{"name": "face", "offset_mm": -4}]}) == 0
    assert "1 piece of 2 vanished from “face” under the offset of -4 mm." in capsys.readouterr().err


def test_what_the_hoop_does_not_hold_is_said(stack: Run, capsys: Said) -> None:
    wide = line_in("10 10 m 460 10 l 460 60 l 10 60 l h ")
    assert stack(wide, {"layers": [{"stitches": kinds("tack-down")}]}, size=(500, 100)) == 0
    assert "the hoop holds 400 × 300 mm" in capsys.readouterr().err


def test_the_frame_is_the_same_for_every_layer(stack: Run, tmp_path: Path, capsys: Said) -> None:
    wanted = {"layers": [{"name": "a"}, {"name": "b", "offset_mm": 3}], "frame_mm": 5}
    assert stack(KISS, wanted, "--json") == 0
    told = json.loads(capsys.readouterr().out)
    files = [(tmp_path / "out" / f["name"]).read_text() for f in told["files"] if f["format"] == "hpgl"]
    assert len(files) == 2
    for text in files:  # 56 mm a side, from the zero
        assert "2240,2240" in text and text.rstrip().endswith("PU0,0;PU;SP0;")


def test_a_section_shows_each_cut_through_one_fabric_only() -> None:
    laid = lay_layers(RING, stack_of({"stitches": kinds("satin")}, {"fabric": "felt", "offset_mm": 2}))
    found = stack_section(laid, [365.0, 1180.0], (-40.0, 0.0), (40.0, 0.0))
    top, felt = found.layers
    assert found.length_mm == 80
    assert [round(v, 2) for span in top.fabric for v in span] == [20, 32, 48, 60]
    assert [round(v, 1) for v in top.cuts_mm] == [20, 32, 48, 60]
    assert [round(v, 1) for v in felt.cuts_mm] == [18, 34, 46, 62]
    assert [tuple(round(v, 1) for v in span) for span in top.sewn] == [
        (18.5, 21.5), (30.5, 33.5), (46.5, 49.5), (58.5, 61.5)
    ]
    assert (top.thick_um, felt.thick_um, top.deep_um) == (360, 1160, 365)


def test_files_hold_needle_points_stops_and_trims_and_a_change_in_them_is_found() -> None:
    plan = sewn(TWO, {"stitches": kinds("satin")}, {"offset_mm": 2, "stitches": kinds("placement", "tack-down")})
    for kind in FORMATS.values():
        data = write_stitches(plan.records, "#123456", "Ünë", kind)
        read = read_stitches(data, kind)
        assert worst_off(plan.records, read) == 0
        assert write_stitches(plan.records, "#123456", "Ünë", kind) == data
        sews = next(r for r in read if isinstance(r, Sewn))
        moved = [Sewn(r.points + np.array([3, 4])) if r is sews else r for r in read]
        assert worst_off(plan.records, moved) == pytest.approx(0.5)
        with pytest.raises(CannotWrite, match="pieces and stops"):
            worst_off(plan.records, read[:-1])
        with pytest.raises(CannotWrite, match="needle points"):
            worst_off(plan.records, [Sewn(r.points[1:]) if r is sews else r for r in read])
    with pytest.raises(CannotWrite, match=r"DST holds 12\.1 mm"):
        write_stitches([Sewn(np.array([[0, 0], [122, 0]]))], "#123456", "x", FORMATS[StitchSuffix.DST])
    with pytest.raises(CannotWrite):
        read_stitches(b"\x00" * 3, FORMATS[StitchSuffix.VP3])


def test_the_sewing_machine_sews_what_the_file_says_and_refuses_what_the_hoop_does_not_hold() -> None:
    plan = sewn(TWO, {"stitches": kinds("satin")}, {"offset_mm": 2, "stitches": kinds("placement", "tack-down")})
    data = write_stitches(plan.records, "#123456", "x", EXP)
    machine = SewingMachine()
    done = sew(data, EXP, machine)
    assert (done.count, done.trims, len(done.halts)) == (plan.count, plan.trims, plan.stops)
    assert done.thread_mm == pytest.approx(plan.thread_mm)
    assert done.total_s > plan.count * 60 / machine.stitches_min
    assert all((np.diff(at) > 0).all() for at in done.at_s)
    slow = sew(data, EXP, replace(machine, stitches_min=400))
    assert slow.total_s > 1.5 * done.total_s
    assert "hoop holds 50 × 300" in sew(data, EXP, replace(machine, hoop_mm=(50, 300))).refused
    assert "no stitch" in sew(write_stitches([], "#123456", "x", EXP), EXP, machine).refused


def test_the_simulated_cutter_keeps_its_zero_unless_somebody_sets_it_anew(
    stack: Run, tmp_path: Path, capsys: Said
) -> None:
    wanted = {"layers": [{"name": "top"}, {"name": "base", "offset_mm": 3}]}
    assert stack(KISS, wanted, "--json") == 0
    told = json.loads(capsys.readouterr().out)
    files = [(tmp_path / "out" / f["name"]).read_bytes() for f in told["files"] if f["format"] == "hpgl"]
    twill = stack_of({}).layers[0].cloth
    strata = [twill.lying_on(below, 1500).strata for below in (None, twill)]
    jobs = [StackJob(name, data, of) for name, data, of in zip(["base", "top"], files, strata, strict=True)]
    cutter = returning_to_origin(HOUSE.cutter)
    base, top = cut_stack(jobs, cutter)
    assert base.inside_mm is None and base.off_mm == (0, 0)
    assert top.inside_mm == pytest.approx(3, abs=0.15)
    assert top.outcome is CutOutcome.SHALLOW  # it brings a little less than it is told, until a test cut corrects it
    framed = {**wanted, "frame_mm": 4}
    assert stack(KISS, framed, "--json") == 0
    told = json.loads(capsys.readouterr().out)
    files = [(tmp_path / "out" / f["name"]).read_bytes() for f in told["files"] if f["format"] == "hpgl"]
    both = [replace(job, hpgl=data, framed=True) for job, data in zip(jobs, files, strict=True)]
    weeded = cut_stack(both, cutter)
    assert all(one.frame is not None for one in weeded) and weeded[1].inside_mm == pytest.approx(3, abs=0.15)
    moved = cut_stack([jobs[0], replace(jobs[1], origin_mm=(4.0, 0.0))], cutter)[1]
    assert moved.inside_mm == pytest.approx(-1, abs=0.15)
    deep = [replace(job, hpgl=job.hpgl.replace(b"FS170", b"FS300")) for job in jobs]
    assert [one.outcome for one in cut_stack(deep, cutter)][1] is CutOutcome.LINER
    exact = cut_stack(jobs, replace(cutter, repeats_mm=0.0))[1]
    assert exact.off_mm == (0, 0)


def test_values_out_of_range_are_refused_by_name() -> None:
    with pytest.raises(BadValue, match=r"Layer 1: shrinks is 0\.5"):
        stack_of({"shrinks": 0.5})
    with pytest.raises(BadValue, match="Stack: frame_mm"):
        stack_of({}, frame_mm=0)
