"""What is done the fast way comes to what the plain way gives."""

from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest

from horismos.artwork import read, read_bytes
from horismos.artwork.active import active_parts
from horismos.artwork.model import PathObject
from horismos.artwork.parting import art_alone
from horismos.artwork.pathdata import hull_boxes
from horismos.artwork.read import open_pdf
from horismos.artwork.views import page_whole
from horismos.checking import CheckInputs, CheckSheet, check_whole
from horismos.orders import Order
from horismos.paths import bounds, contour_from_points, union_bounds
from horismos.rendering import PageView, plates
from horismos.rendering.edges import EdgeProfile, measure_edges
from horismos.rendering.load import load_places
from horismos.rendering.plates import Plate, PlateSet, fitting_ppi
from horismos.rendering.raster import RasterView, is_heavy
from tests.breadth import breadth
from tests.known import HOUSE
from tests.pairs import CLEAN, FIELD, SPOTS, picture
from tests.shapes import Drawing, circle, line_in, write

Pdf = Callable[..., Path]
ART = FIELD + f"0 0.8 0.2 0 k {circle(40, 60, 17.3)} f 0.9 g 71.3 22.7 13.1 7.7 re f"


@breadth(0.12, "long ones")
@pytest.mark.parametrize("area", [(-12, -12, 92, 92), (3.3, 4.7, 31.2, 28.9), (60, 60, 120, 120), (-50, -50, -40, -40)])
@pytest.mark.parametrize("ppi", [75.0, 150.0, 300.0])
def test_a_page_drawn_once_gives_the_pictures_that_are_drawn_anew(
    area: tuple[float, float, float, float], ppi: float
) -> None:
    page = read_bytes(write(Drawing(ART))).pages[0]
    data = write(Drawing(ART))
    once, anew = RasterView(data, page), PageView(data, page.boxes)
    a, b = once.render(area, ppi).astype(int), anew.render(area, ppi).astype(int)
    once.close()
    anew.close()
    assert a.shape == b.shape
    # Colours come out alike but for the two engines' ways from CMYK; what is blank in one is blank in the other.
    blank = (a.min(axis=2) > 250) != (b.min(axis=2) > 250)
    assert blank.mean() < 0.03


@breadth(0.12, "long ones")
def test_a_heavy_picture_is_decoded_once_and_the_edge_is_measured_as_well(monkeypatch: pytest.MonkeyPatch) -> None:
    content = f"q {circle(50, 50, 42)} W n {picture(90, 60, 5, 5)} Q " + line_in(circle(50, 50, 40))
    artwork = read_bytes(write(Drawing(content)))
    assert not is_heavy(artwork.pages[0])
    terms = CheckInputs(Order(), HOUSE, CheckSheet())
    light = check_whole(artwork, terms)
    monkeypatch.setattr("horismos.rendering.raster.HEAVY_PIXELS", 3000)
    assert is_heavy(artwork.pages[0])
    heavy = check_whole(read_bytes(artwork.data), terms)  # read anew: what was measured of a page is kept with it
    assert light.edges is not None and heavy.edges is not None
    apart = np.abs(light.edges.colour[0].outside - heavy.edges.colour[0].outside)
    assert np.median(heavy.edges.colour[0].outside) == pytest.approx(2.0, abs=0.08)
    assert np.percentile(apart, 95) < 0.12


@pytest.mark.parametrize(
    ("art", "speck"), [("1 0 0 0 k 0 0 200 200 re f ", "0 0 0 0 k 75 75 1 1 re f "), ("", "1 0 0 0 k 75 75 1 1 re f ")]
)
def test_where_all_is_colour_or_nothing_no_line_is_read_and_the_edge_is_the_same(art: str, speck: str) -> None:
    """A speck far from the cut makes the reader look along every line."""
    angle = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    contour = contour_from_points(100 + 20 * np.stack([np.cos(angle), np.sin(angle)], axis=1), closed=True)

    def measured(content: str) -> EdgeProfile:
        data = write(Drawing(content, size=(200, 200)))
        with PageView(data, read_bytes(data).pages[0].boxes) as view:
            (found,) = measure_edges(view, [contour], 5.0)
        return found

    quick, slow = measured(art), measured(art + speck)
    for name in ("coloured", "outside", "inside", "beyond"):
        assert np.allclose(getattr(quick, name), getattr(slow, name), atol=0.01), name


def test_boxes_of_many_paths_at_once_hold_their_bounds(pdf: Pdf) -> None:
    rng = np.random.default_rng(3)
    drawn = [
        "0 g " + " ".join(f"{v:.3f}" for v in rng.uniform(10, 90, 2)) + " m "
        + " ".join(f"{v:.3f}" for v in rng.uniform(10, 90, 6)) + " c h f"
        for _ in range(40)
    ]
    page = read(pdf("\n".join([*drawn, "20 20 5 5 re f", "10 10 m 30 30 20 40 v f"]))).pages[0]
    paths = [o for o in page.objects if isinstance(o, PathObject)]
    boxes = hull_boxes([(page.streams[o.stream].data[o.start : o.path_end], o.state.ctm) for o in paths])
    for obj, box in zip(paths, boxes, strict=True):
        exact = union_bounds(map(bounds, page.contours(obj)))
        assert exact is not None
        assert box[0] <= exact[0] + 1e-9 and box[1] <= exact[1] + 1e-9
        assert box[2] >= exact[2] - 1e-9 and box[3] >= exact[3] - 1e-9
    assert boxes[-2].tolist() == pytest.approx([10, 10, 15, 15])


@breadth(0.12, "long ones")
def test_a_plain_file_is_given_as_it_is_and_others_are_taken_out_of_theirs(pdf: Pdf) -> None:
    artwork = read(pdf(CLEAN))
    assert page_whole(artwork, artwork.pages[0]) is artwork.data
    other = read(pdf(CLEAN, catalog="/Outlines << /Type /Outlines >>"))
    taken = page_whole(other, other.pages[0])
    assert taken is not other.data
    a, b = (plates(data, 72) for data in (artwork.data, taken))
    assert [p.ink for p in a] == [p.ink for p in b]
    assert all((p.tint == q.tint).all() for p, q in zip(a, b, strict=True))


def test_art_alone_is_the_same_picture_packed_or_not(pdf: Pdf) -> None:
    artwork = read(pdf(CLEAN))
    page = artwork.pages[0]
    with PageView.of_art(art_alone(artwork, page, []), page) as all_of_it, PageView(artwork.data, page.boxes) as file:
        assert (all_of_it.overview()[0] == file.overview()[0]).all()


def test_plates_are_as_fine_as_the_page_allows() -> None:
    assert fitting_ppi((0, 0, 50, 50)) == 300
    wide = fitting_ppi((0, 0, 3000, 1500))
    assert 3000 * 1500 * (wide / 25.4) ** 2 == pytest.approx(1_200_000, rel=0.001)


@breadth(0.12, "long ones")
@pytest.mark.parametrize("name", ["G", "RGB", "CMYK", "I", "Z"])
def test_a_spot_has_its_plate_whatever_its_resource_is_called(name: str) -> None:
    """Ghostscript takes some names for device spaces; the ink would be on no plate, and in no sum."""
    content = CLEAN + f"/{name} cs 0.5 scn 30 30 20 20 re f 1 scn 60 60 10 10 re f "
    artwork = read_bytes(write(Drawing(content, inks={"K": "Kiss Cut", name: "Gold"})))
    made = check_whole(artwork, CheckInputs(Order(), HOUSE, CheckSheet()), keeps_plates=True).plates
    assert made is not None
    (gold,) = [plate for plate in made.plates if plate.ink == "Gold"]
    assert gold.coverage == pytest.approx(0.03, rel=0.05)


def test_heavy_places_are_told_apart_and_the_heaviest_comes_first() -> None:
    tint = np.zeros((200, 300), np.uint8)
    tint[20:40, 30:60], tint[150:160, 200:280] = 200, 255
    stack = PlateSet(tuple(Plate(ink, tint) for ink in ("Cyan", "Magenta", "Yellow", "Black")), 25.4, (0, 0, 300, 200))
    found = load_places(stack, (), 280)
    assert found.highest == 400
    assert found.above_cm2 == pytest.approx((20 * 30 + 10 * 80) / 100)
    assert [tuple(map(round, box)) for box in found.places] == [(200, 40, 280, 50), (30, 160, 60, 180)]
    assert load_places(stack, ("Black",), 310).above_cm2 == 0
    assert load_places(stack, (), 280, (0, 100, 100, 200)).highest == pytest.approx(313.7, abs=0.1)


@pytest.mark.parametrize("catalog, said", [
    ("/OpenAction << /S /JavaScript /JS (x) >>", ("script",)),
    ("/OpenAction << /S /GoTo /D [3 0 R /Fit] /Next << /S /Launch /F (x) >> >>", ("action that starts a program",)),
    ("/Names << /EmbeddedFiles << /Names [(a) << /F (a) >> (b) << /F (b) >>] >> >>", ("attached file",) * 2),
    ("/AcroForm << /Fields [<< /T (name) >>] >>", ("form field",)),
    ("/AA << /WC << /S /SubmitForm >> >>", ("action that sends data",)),
    ("/PageMode /UseOutlines", ()),
])
def test_what_does_something_instead_of_being_printed_is_named(catalog: str, said: tuple[str, ...]) -> None:
    with open_pdf(write(Drawing(CLEAN, catalog=catalog))) as opened:
        assert active_parts(opened) == said


def test_white_is_seen_although_its_screen_colour_is_paper(pdf: Pdf) -> None:
    content = FIELD + f"/Over gs /W cs 1 scn {circle(50, 50, 43)} f " + line_in(circle(50, 50, 40))
    data = write(Drawing(content, inks={**SPOTS, "W": "White"})).replace(b"/C1 [0 1 0 0]", b"/C1 [0 0 0 0]")
    whole = check_whole(read_bytes(data), CheckInputs(Order(white=True), HOUSE, CheckSheet()))
    assert whole.edges is not None
    assert np.median(whole.edges.layers["white"][0].outside) == pytest.approx(3.0, abs=0.05)
