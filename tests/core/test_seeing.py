"""Marks found in pictures of the printed sheet: clean, blurred, noisy, turned; and why one is not found."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from horismos.alignment.seeing import Sighting, Unseen, look_for
from horismos.artwork import read
from horismos.materials import MATERIALS, Ground, Material
from horismos.misregistration import Misregistration
from horismos.orders import Order
from horismos.release.printpdf import print_pdf
from horismos.sheet import Layout, MarkPlan, Sheet
from horismos.sheet.mark_kinds import Mark, MarkKind, kind_of, registered
from horismos.simulation.camera import Camera, Picture
from horismos.simulation.loading import Load
from horismos.simulation.printer import printed
from horismos.workflow.case import Case
from horismos.workflow.plan import plan
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import circle, line_in

Pdf = Callable[..., Path]
FILM = MATERIALS["film-610"]
SIDE_MM = 44.0


def made(pdf: Pdf, kind: MarkKind, media: Material = FILM) -> tuple[Sheet, bytes]:
    art = read(pdf(f"1 0 0 0 k 5 5 90 90 re f {line_in(circle(50, 50, 20))}"))
    size = 6.0 if kind in (kind_of("dot"), kind_of("square")) else None
    layout = Layout(marks=MarkPlan(kind=kind, arm_mm=size))
    sheet = plan(Case(artwork=art, order=Order(quantity=2), destination=HOUSE, material=FILM, layout=layout)).sheet
    return sheet, print_pdf(sheet, HOUSE, "x").data


def camera(sheet: Sheet, pdf: bytes, lies: Misregistration, media: Material, noise: float, blur: float) -> Camera:
    marks = np.array([(mark.x_mm, mark.y_mm) for mark in sheet.marks])
    middle = np.array([sheet.material.width_mm, sheet.length_mm]) / 2
    load = Load(lies, np.zeros(0), np.zeros((0, 2)), middle, marks, marks, ())
    return Camera(printed(pdf, HOUSE, media), load, noise, blur)


def seen(picture: Picture, mark: Mark) -> Sighting | Unseen:
    k = picture.per_mm
    return look_for(picture.bright, mark.kind, mark.arm_mm * k, mark.weight_mm * k, (mark.along_x, mark.along_y))


@breadth(0.12, "long ones")
@pytest.mark.parametrize("kind", registered().values(), ids=registered())
@pytest.mark.parametrize(("noise", "blur", "turn", "most"), [
    (1.0, 0.02, 0.0, 0.05), (8.0, 0.12, -5.0, 0.1),
])
def test_marks_are_found_where_they_lie(
    pdf: Pdf, kind: MarkKind, noise: float, blur: float, turn: float, most: float
) -> None:
    sheet, data = made(pdf, kind)
    random = np.random.default_rng(7)
    looks = camera(sheet, data, Misregistration(2.0, -1.0, turn, 0.2, 0.3, 0.1), FILM, noise, blur)
    for mark in sheet.marks[::3]:
        (true,) = looks.load.landed(np.array([[mark.x_mm, mark.y_mm]]))
        dx, dy = random.uniform(-6, 6, 2)
        picture = looks.looks((true[0] + dx, true[1] + dy), SIDE_MM, random)
        found = seen(picture, mark)
        assert isinstance(found, Sighting)
        assert np.hypot(*(np.array(picture.place_of(found.column, found.row)) - true)) <= most


@pytest.mark.parametrize(("media", "why"), [
    (Material("d", "Dark", 610, None, FILM.strata, Ground.DARK), Unseen.DARK),
    (Material("g", "Gloss", 610, None, FILM.strata, glossy=True), Unseen.GLARE),
])
def test_why_a_mark_is_not_found_is_said(pdf: Pdf, media: Material, why: Unseen) -> None:
    sheet, data = made(pdf, kind_of("bracket-in"))
    mark = sheet.marks[0]
    picture = camera(sheet, data, Misregistration(), media, 2.0, 0.03).looks(
        (mark.x_mm, mark.y_mm), SIDE_MM, np.random.default_rng(1)
    )
    assert seen(picture, mark) is why


def test_where_there_is_no_mark_none_is_found(pdf: Pdf) -> None:
    sheet, data = made(pdf, kind_of("cross"))
    looks = camera(sheet, data, Misregistration(), FILM, 2.0, 0.03)
    mark, random = sheet.marks[0], np.random.default_rng(1)
    x, y = sheet.cut_box[0], sheet.cut_box[1]
    for at in ((300.0, 20.0), (mark.x_mm + 200, mark.y_mm - 60), (x + 30, y + 30)):
        assert isinstance(seen(looks.looks(at, 20.0, random), mark), Unseen)


def test_noise_alone_is_no_mark() -> None:
    random = np.random.default_rng(3)
    for _ in range(5):
        bright = random.normal(180, 40, (400, 400)).astype(np.float32)
        assert isinstance(look_for(bright, kind_of("dot"), 120, 20, (0, 0)), Unseen)


def test_a_pixel_and_its_place_are_the_same() -> None:
    picture = Picture(np.zeros((80, 80), np.float32), (10.0, 20.0))
    assert picture.place_of(*picture.pixel_of(11.5, 19.0)) == pytest.approx((11.5, 19.0))


def test_blank_media_mirrors_no_lamp() -> None:
    """Nothing to be seen is no glare: it is looked for further off."""
    random = np.random.default_rng(5)
    for noise in (0.5, 2.0, 8.0):
        bright = np.clip(random.normal(245, noise, (880, 880)), 0, 255).astype(np.float32)
        assert look_for(bright, kind_of("bracket-in"), 240, 20, (1, 1)) is Unseen.ABSENT


def test_a_corner_of_something_else_is_no_glare() -> None:
    """Little ink, but black: the lamp does not hide it, there is just no mark."""
    random = np.random.default_rng(2)
    bright = random.normal(245, 2, (880, 880)).astype(np.float32)
    bright[:40, :70] = 15
    assert look_for(np.clip(bright, 0, 255), kind_of("bracket-in"), 240, 20, (1, 1)) is Unseen.ABSENT
