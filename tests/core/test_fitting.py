"""What fits nowhere: what takes the room, by name and figure, and the changes by which it would fit."""

import re
from dataclasses import replace
from typing import Any

import pytest

from horismos.artwork import read_bytes
from horismos.destinations import SHIPPED
from horismos.errors import DoesNotFit
from horismos.materials import MATERIALS
from horismos.media import Media
from horismos.orders import Order
from horismos.sheet import Layout
from horismos.workflow.case import Case
from horismos.workflow.fitting import Fit, Shop, fitting, fitting_together
from horismos.workflow.plan import SheetJob, plan, plan_together
from horismos.workflow.showing.page import page_seen
from horismos.workflow.showing.sheet import sheets_shown
from tests.shapes import Drawing, circle, line_in, write

A4 = {"title": "A4", "width_mm": 210, "length_mm": 297, "roll": False}
SHOP = Shop(tuple(SHIPPED.values()), tuple(MATERIALS.items()), (Media("Offcut", 500, 640, roll=False),))


def case(diameter: float, **layout: Any) -> Case:
    size = diameter + 20
    path = circle(size / 2, size / 2, diameter / 2)
    data = write(Drawing(line_in(path), size=(size, size), trim=None, bleed=None))
    order = Order.from_json({"quantity": 3, "bleed_mm": 0})
    return Case(artwork=read_bytes(data), order=order, material=MATERIALS["film-610"], layout=Layout.from_json(layout))


def refused(of: Case) -> str:
    with pytest.raises(DoesNotFit) as why:
        plan(of)
    return str(why.value)


def taken(of: Case, fit: Fit) -> Case:
    """The case as a change makes it, by the keys that it sets."""
    layout = {"media": A4, **{key: v for key, v in fit.change.items() if key not in ("destination", "material")}}
    changed = replace(of, layout=Layout.from_json({key: v for key, v in layout.items() if v is not None}))
    if "destination" in fit.change:
        changed = replace(changed, destination=SHIPPED[fit.change["destination"]])
    return replace(changed, material=MATERIALS[fit.change["material"]]) if "material" in fit.change else changed


def test_what_takes_the_room_is_named_and_adds_up() -> None:
    said = refused(case(150, media=A4))
    for whole, along in ((210, "Across"), (297, "Along")):
        found = re.search(rf"{along}: {whole} mm, less (.+?): (?:([\d.]+) mm|nothing) is left", said)
        assert found, said
        parts = [float(mm) for mm in re.findall(r"([\d.]+) mm", found[1])]
        assert whole - sum(parts) == pytest.approx(float(found[2]), abs=0.06)
    assert "rollers 50 mm" in said and "leader 100 mm" in said and "trailer 50 mm" in said


def test_each_change_that_is_offered_makes_it_fit() -> None:
    of = case(150, media=A4)
    found = fitting(of, SHOP)
    assert 1 < len(found) <= 4 and len({fit.words for fit in found}) == len(found)
    for fit in found:
        assert plan(taken(of, fit)).sheets, fit.words
    assert found[0].words.startswith("Take A"), "the smallest sheet that does"
    assert [fit.words for fit in found if fit.words.startswith("Take A")] == [found[0].words]


def test_a_larger_sheet_does_not_keep_a_wider_material_from_being_offered() -> None:
    words = [fit.words for fit in fitting(case(150, media=A4), Shop(materials=SHOP.materials))]
    assert any(said.startswith("Take A") for said in words)
    assert any(said.startswith("Take ") and not said.startswith("Take A") for said in words)


def test_what_no_change_helps_has_none_offered() -> None:
    assert fitting(case(3000), Shop(tuple(SHIPPED.values()))) == ()


def test_a_rectangle_for_marks_that_lies_beyond_says_how_far_and_is_brought_inside() -> None:
    of = case(60, marks={"around": [100, 150, 700, 400]})
    assert re.search(r"leave what the machine can use, by 1\d\d\.\d mm on the right", refused(of))
    first = fitting(of, SHOP)[0]
    assert first.words == "Bring the rectangle of the marks inside"
    brought = plan(replace(of, layout=Layout.from_json(dict(first.change)))).sheet
    assert max(mark.box[2] for mark in brought.marks) <= 610 - 25 + 1e-6


def test_the_bare_media_is_shown_where_nothing_lies_on_it() -> None:
    (shown,) = sheets_shown(None, "It fits nowhere.", case(150, media=A4))
    assert (shown.error, shown.width_mm, shown.length_mm, shown.placements) == ("It fits nowhere.", 210, 297, ())
    assert shown.room == (25, 100, 185, 247)


def test_rectangles_that_are_drawn_are_known_the_largest_first_and_nothing_else_is() -> None:
    frame, box = "0 0 0 1 K 1 w 12 12 76 76 re S", "0 1 0 0 k 30 30 m 70 30 l 70 65 l 30 65 l h f"
    skew, small = "1 0 0 0 k 30 30 m 72 31 l 70 70 l 28 69 l h f", "1 0 0 0 k 40 40 9 9 re f"
    data = write(Drawing(f"{box} {frame} {skew} {small} {line_in(circle(50, 50, 20))}"))
    seen = page_seen(Case(artwork=read_bytes(data)))
    assert [[round(v) for v in one] for one in seen.rectangles] == [[2, 2, 78, 78], [20, 20, 60, 55]]


def test_a_shared_sheet_is_offered_what_holds_a_copy_of_each_job() -> None:
    small, large = case(60), case(150)
    layout, goes, on = Layout.from_json({"media": A4}), small.destination, MATERIALS["film-610"]
    shop = Shop(media=(Media("Offcut", 500, 640, roll=False),))
    with pytest.raises(DoesNotFit):
        plan_together([SheetJob(small, 1), SheetJob(large, 1)], on, goes, layout)
    found = fitting_together([small, large], layout, goes, on, shop)
    assert "Load “Offcut”" in [fit.words for fit in found]
    for fit in found:
        made = Layout.from_json({k: v for k, v in {"media": A4, **fit.change}.items() if v is not None})
        planned = plan_together([SheetJob(small, 1), SheetJob(large, 1)], on, goes, made)
        assert sum(len(one.sheet.placements) for one in planned.sheets) == 2 and not any(planned.left), fit.words
    assert not any({"destination", "material"} & set(fit.change) for fit in found), "where it goes is settled"
