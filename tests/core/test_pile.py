"""The pile: what a shop says of it, how far each file comes by itself, and the command that sorts a folder."""

import hashlib
import io
import json
import os
from dataclasses import replace
from pathlib import Path
from typing import Any

import ezdxf
import jsonschema
import pikepdf
import pytest
from PIL import Image, ImageDraw

from horismos.artwork import read_bytes
from horismos.checking import check_whole
from horismos.cli import main
from horismos.errors import BadValue
from horismos.intake import Answers, take_in
from horismos.orders import Order
from horismos.roles import LineRole
from horismos.workflow.case import Case
from horismos.workflow.pile import PileShop, Sorted, State, sort_file
from horismos.workflow.pile.shop import pile_shop_schema
from tests.breadth import breadth
from tests.pairs import PAIRS, SPOTS
from tests.shapes import Drawing, circle, line_in, write

GROUND = "1 0 0 0 k 5 5 90 90 re f\n"
KISS = line_in(circle(50, 50, 40))
CLEAN = write(Drawing(GROUND + KISS))
ROUND = write(Drawing(f"1 0 0 0 k {circle(50, 50, 35)} f\n"))
PATTERN = "{customer}_{title}_{width_mm}x{height_mm}_{copies}x_{material}"
PLOT = b"IN;SP1;PU0,0;PD4000,0,4000,4000,0,4000,0,0;PU;SP2;PU400,400;PD3600,400,3600,3600,400,3600,400,400;PU;SP0;"
MAKE = {"lines": [{"role": "kiss-cut", "offset_mm": 2}]}
Said = pytest.CaptureFixture[str]


def sort(data: bytes, name: str = "Seal.pdf", folder: str | None = None, **shop: Any) -> Sorted:
    """What becomes of a file in a shop."""
    said = PileShop.from_json(shop)
    return sort_file(data, name, said.about(name, folder), said)


# -- what a shop says ----------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("said", "names"), [
    ([], "not a JSON object"),
    ({"prices": {}}, "“prices”"),
    ({"name_pattern": "{customer}_{colour}"}, "{colour}"),
    ({"name_pattern": "{customer"}, "does not close"),
    ({"name_pattern": 3}, "must be a text"),
    ({"order": {"width": 3}}, "“width”"),
    ({"order": {"quantity": 0}}, "quantity"),
    ({"order": {"roles": ["kiss"]}}, "“kiss”"),
    ({"order": {"material": "vellum"}}, "“vellum”"),
    ({"check_sheet": {"limit": {}}}, "“limit”"),
    ({"check_sheet": {"limits": {"edge.blood": 3}}}, "“edge.blood”"),
    ({"check_sheet": {"severities": {"edge.bleed": "bad"}}}, "“bad”"),
    ({"customers": []}, "customers"),
    ({"customers": {"": {}}}, "“”"),
    ({"customers": {"Dune": {}, "dune": {}}}, "twice"),
    ({"customers": {"Dune": {"habits": []}}}, "“habits”"),
    ({"customers": {"Dune": {"order": {"edge": "frayed"}}}}, "“frayed”"),
    ({"customers": {"Dune": {"steps": {}}}}, "list"),
    ({"customers": {"Dune": {"steps": [{"mend": "polish"}]}}}, "“polish”"),
    ({"customers": {"Dune": {"steps": [{"mend": "rename", "ink": "A"}]}}}, "steps"),
    ({"customers": {"Dune": {"bind": {"pen:1": "kiss"}}}}, "“kiss”"),
    ({"customers": {"Dune": {"bind": {"pen:1": 1}}}}, "bind"),
    ({"customers": {"Dune": {"make": {"lines": []}}}}, "no line"),
    ({"customers": {"Dune": {"make": {"lines": [{"role": "kiss-cut", "offset_mm": 1e9}]}}}}, "offset_mm"),
])
def test_a_shop_that_cannot_be_meant_is_refused_by_name(said: Any, names: str, tmp_path: Path, capsys: Said) -> None:
    with pytest.raises(BadValue) as refused:
        PileShop.from_json(said)
    assert names in str(refused.value)
    (tmp_path / "shop.json").write_text(json.dumps(said))
    (tmp_path / "in").mkdir()
    call = ["pile", str(tmp_path / "in"), "--shop", str(tmp_path / "shop.json"), "--out", str(tmp_path / "out")]
    assert main(call) == 2 and names in capsys.readouterr().err and not (tmp_path / "out").exists()


def test_what_a_shop_may_say_is_published() -> None:
    schema = pile_shop_schema()
    reads = jsonschema.Draft202012Validator(schema)
    said = {
        "name_pattern": PATTERN, "order": {"roles": ["kiss-cut"], "quantity": 3},
        "check_sheet": {"limits": {"edge.bleed": 2}},
        "customers": {"Dune": {"order": {"edge": "border"}, "bind": {"pen:1": "kiss-cut"}, "make": MAKE,
                               "steps": [{"mend": "rename", "ink": "Rim", "to": "Kiss Cut"}]}},
    }
    assert reads.is_valid(said)
    PileShop.from_json(said)
    for wrong in ({"prices": 1}, {"customers": {"Dune": {"bind": {"pen:1": "kiss"}}}}, {"check_sheet": {"limit": 1}}):
        assert not reads.is_valid(wrong)


@pytest.mark.parametrize(("name", "folder", "customer", "order"), [
    ("Dune_Seal_40x25.5_12x_film-610.pdf", None, "Dune",
     {"width_mm": 40.0, "height_mm": 25.5, "quantity": 12, "material": "film-610", "edge": "border"}),
    ("dune_Seal_of_State_40x25_12x_film-610.pdf", "Ferry", "Dune",
     {"width_mm": 40.0, "height_mm": 25.0, "quantity": 12, "material": "film-610", "edge": "border"}),
    ("Dune_Seal_0x25_12x_film-610.pdf", "Ferry", "Ferry", {"edge": "bleed", "quantity": 5}),
    ("Dune_Seal_40x25_12x_vellum.pdf", None, None, {"edge": "bleed", "quantity": 5}),
    ("Seal.pdf", "Dune", "Dune", {"edge": "border", "quantity": 5}),
    ("Seal.pdf", "Moor", "Moor", {"edge": "bleed", "quantity": 5}),
    ("Seal.pdf", None, None, {"edge": "bleed", "quantity": 5}),
])
def test_the_name_goes_before_the_customer_and_the_customer_before_the_shop(
    name: str, folder: str | None, customer: str | None, order: dict[str, Any]
) -> None:
    shop = PileShop.from_json({
        "name_pattern": PATTERN, "order": {"edge": "bleed", "quantity": 5},
        "customers": {"Dune": {"order": {"edge": "border"}}, "Ferry": {}},
    })
    about = shop.about(name, folder)
    assert (about.customer, about.order) == (customer, Order.from_json(order))


# -- how far a file comes ------------------------------------------------------------------------------------------

STATES = {
    State.READY: (
        "file.active ink.near-name ink.same-role line.filled line.wide line.tinted line.dashed line.ribbon line.open "
        "line.nodes line.hidden line.knocks-out line.in-transparency layer.mixed image.excess stroke.live"
    ),
    State.LOOK: "line.unordered line.crowded edge.border image.resolution stroke.thin",
    State.MEND: (
        "page.boxes page.beyond page.size ink.unknown ink.registration ink.rgb ink.load ink.white-overprint "
        "ink.rich-black-text line.missing line.crosses line.doubled line.leftover line.sharp line.outside "
        "layer.hidden-art edge.bleed edge.risk edge.safe text.live text.small art.transparency white.choke "
        "white.overprint"
    ),
    State.LETTER: "line.not-vector line.text line.order image.undrawn text.font",
    State.ANSWER: "page.count line.none",
}
PLANTED = [(check, state) for state, checks in STATES.items() for check in checks.split()]


@breadth(0.1)
@pytest.mark.parametrize(("check", "state"), PLANTED)
def test_a_planted_fault_asks_of_a_person_what_it_has_to(check: str, state: State) -> None:
    pair = PAIRS[check]
    over = dict(pair.over)
    drawing = Drawing(over.pop("content"), inks=over.pop("inks", SPOTS), **over)
    order = pair.order.to_json() if pair.order else {}
    found = sort(write(drawing), order=order)
    assert found.state is state, found
    if state is State.READY:
        assert found.pdf is not None and found.why == () and fresh(found.pdf, order).verdict == "clean"
    elif state is State.ANSWER:
        assert found.pdf is None and found.why == ("pages" if check == "page.count" else check,)
    else:
        assert check in found.why and found.pdf is not None


def fresh(pdf: bytes, order: dict[str, Any]) -> Any:
    """The check of a file as somebody who opens it has it."""
    case = Case(artwork=read_bytes(pdf), order=Order.from_json(order))
    return check_whole(case.artwork, case.terms).report


@breadth(0.34, "piles")
def test_what_a_file_leaves_open_is_asked_first() -> None:
    locked = io.BytesIO()
    with pikepdf.open(io.BytesIO(CLEAN)) as pdf:
        pdf.save(locked, encryption=pikepdf.Encryption(user="tern", owner="tide"))
    picture = io.BytesIO()
    Image.new("L", (60, 60)).save(picture, "PNG")
    drawing = ezdxf.new(units=0)
    drawing.modelspace().add_circle((0, 0), 3, dxfattribs={"layer": "RIM"})
    dxf = io.StringIO()
    drawing.write(dxf)
    assert sort(locked.getvalue()).why == ("password",)
    assert sort(write(Drawing(GROUND + KISS, pages=2))).why == ("pages",)
    assert sort(picture.getvalue(), "photo.png").why == ("size",)
    assert set(sort(dxf.getvalue().encode(), "plan.dxf").why) == {"unit", "binding"}
    assert sort(PLOT, "plot.plt").why == ("binding",)
    assert sort(PLOT, "plot.plt", "Dune", customers={"Dune": {"bind": {"pen:1": "kiss-cut"}}}).why == ("binding",)
    open_ = sort(write(Drawing(GROUND)))
    assert (open_.state, open_.why, open_.pdf) == (State.ANSWER, ("line.none",), None)
    assert sort(write(Drawing(GROUND)), order={"roles": []}).state is State.READY


@breadth(0.34, "piles")
def test_a_customers_plot_picture_and_names_are_brought_to_ready_by_what_is_always_done_to_them() -> None:
    picture = Image.new("CMYK", (400, 400), (0, 0, 0, 0))
    ImageDraw.Draw(picture).ellipse((60, 60, 340, 340), fill=(200, 30, 10, 0))
    photo = io.BytesIO()
    picture.save(photo, "TIFF")
    customers = {"Dune": {
        "bind": {"pen:1": "kiss-cut", "pen:2": "kiss-cut"}, "make": MAKE,
        "steps": [{"mend": "assign-role", "ink": "Rim of it", "role": "kiss-cut"}],
    }}
    order = {"roles": ["kiss-cut"], "edge": "border"}
    more = {"order": order, "customers": customers}
    plot = sort(PLOT, "plot.plt", "Dune", **more)
    assert (plot.state, plot.why, plot.did) == (State.READY, (), ())
    shown = sort(photo.getvalue(), "Dune_S_40x40_1x_film-610.tif", name_pattern=PATTERN, **more)
    assert [one.mend for one in shown.did] == ["make-lines"] and shown.state is State.READY, shown
    made = sort(ROUND, "round.pdf", "Dune", **more)
    assert [one.mend for one in made.did] == ["make-lines"] and made.state is State.READY
    named = sort(write(Drawing(f"1 0 0 0 k {circle(50, 50, 35)} f\n" + line_in(circle(50, 50, 38)),
                               inks={"K": "Rim of it"})), "rim.pdf", "Dune", **more)
    assert [one.mend for one in named.did] == ["assign-role"] and named.state is State.READY, named
    for found in (plot, shown, made, named):
        assert found.pdf is not None and fresh(found.pdf, order).verdict == "clean"
    assert sort(ROUND, "round.pdf", "Ferry", **more).state is State.MEND


@breadth(0.34, "piles")
def test_a_mend_that_is_refused_is_told_and_its_finding_is_left_to_a_person() -> None:
    """No line can be made round art where there is none."""
    empty = write(Drawing(""))
    found = sort(empty, "blank.pdf", "Dune", order={"roles": ["kiss-cut"]}, customers={"Dune": {"make": MAKE}})
    assert found.state is State.MEND and "line.missing" in found.why and not found.did
    assert [one.mend for one in found.refused] == ["make-lines"] and found.refused[0].why


@breadth(0.34, "piles")
def test_only_the_lines_that_are_missing_are_made() -> None:
    both = {"lines": [{"role": "kiss-cut", "offset_mm": 0}, {"role": "through-cut", "offset_mm": 6}]}
    found = sort(
        write(Drawing(f"1 0 0 0 k {circle(50, 50, 35)} f\n" + line_in(circle(50, 50, 37)))), "seal.pdf", "Dune",
        order={"roles": ["kiss-cut", "through-cut"], "edge": "border"}, customers={"Dune": {"make": both}},
    )
    assert found.pdf is not None and found.state is State.READY, found
    case = Case(artwork=read_bytes(found.pdf))
    assert sorted(line.role for line in case.lines if line.role) == [LineRole.KISS_CUT, LineRole.THROUGH_CUT]


EPS = b"""%!PS-Adobe-3.0 EPSF-3.0
%%BoundingBox: 0 0 200 200
1 0 0 0 setcmykcolor 20 20 160 160 rectfill showpage
"""
SVG = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm" viewBox="0 0 100 100">'
    b'<circle id="Kiss Cut" cx="50" cy="50" r="40" fill="none" stroke="#f00"/></svg>'
)


@breadth(0.34, "piles")
@pytest.mark.parametrize(("data", "name", "answers"), [
    (EPS, "seal.eps", Answers()),
    (SVG, "seal.svg", Answers()),
    (PLOT, "plot.plt", Answers(binding={"pen:1": "kiss-cut", "pen:2": "art"})),
    (write(Drawing(GROUND + KISS, pages=3, trim=None, bleed=None)), "three.pdf", Answers(pages=(1, 3))),
])
def test_what_taking_in_makes_states_its_boxes_and_hides_no_line(data: bytes, name: str, answers: Answers) -> None:
    taken = take_in(data, name, answers)
    ids = {finding.id for finding in fresh(taken.pdf, {}).findings}
    assert not ids & {"page.boxes", "line.hidden"}, ids


# -- the command ---------------------------------------------------------------------------------------------------


def print_of(path: Path) -> str:
    """What a file holds, in short."""
    return hashlib.sha256(path.read_bytes()).hexdigest()


def run(folder: Path, out: Path, capsys: Said, *more: str) -> tuple[int, dict[str, Any]]:
    """The command's exit code and what it says."""
    code = main(["pile", str(folder), "--out", str(out), "--json", "--workers", "2", *more])
    return code, json.loads(capsys.readouterr().out)


@breadth(0.34, "piles")
def test_a_folder_is_sorted_and_what_was_written_is_replaced_by_the_next_run(tmp_path: Path, capsys: Said) -> None:
    folder, out = tmp_path / "in", tmp_path / "out"
    (folder / "Dune" / "deep").mkdir(parents=True)
    (folder / "Dune" / "seal.pdf").write_bytes(CLEAN)
    (folder / "Dune" / "deep" / "lost.pdf").write_bytes(CLEAN)
    (folder / "seal.pdf").write_bytes(CLEAN + b"\n")
    (folder / "seal_2.pdf").write_bytes(CLEAN)
    (folder / "near.pdf").write_bytes(write(Drawing(GROUND + KISS, inks={"K": "Kiss-Cut"})))
    (folder / "open.pdf").write_bytes(write(Drawing(GROUND)))
    (folder / "words.txt").write_text("Please print this.")
    (folder / ".note").write_text("of the disk")
    (folder / "link.pdf").symlink_to(folder / "near.pdf")
    (folder / "elsewhere").symlink_to(tmp_path)
    os.mkfifo(folder / "pipe.pdf")
    out.mkdir()
    (out / "near.pdf").write_text("somebody's own")
    originals = {path: print_of(path) for path in folder.rglob("*.pdf") if path.is_file()}

    code, said = run(folder, out, capsys)
    found = {one["file"]: one for one in said["files"]}
    assert code == 1 and list(found) == sorted(found)
    assert {name: one["state"] for name, one in found.items()} == {
        "Dune/seal.pdf": "ready", "link.pdf": "unreadable", "near.pdf": "ready", "open.pdf": "answer",
        "pipe.pdf": "unreadable", "seal.pdf": "ready", "seal_2.pdf": "same", "words.txt": "unreadable",
    }
    assert said["states"] == {
        "ready": 3, "look": 0, "mend": 0, "letter": 0, "answer": 1, "same": 1, "unreadable": 3,
    }
    assert found["Dune/seal.pdf"]["customer"] == "Dune" and found["seal.pdf"]["customer"] is None
    assert found["seal_2.pdf"]["same_as"] == "Dune/seal.pdf" and found["seal_2.pdf"]["written"] is None
    assert [one["mend"] for one in found["near.pdf"]["did"]] == ["rename"] and found["near.pdf"]["did"][0]["says"]
    assert found["near.pdf"]["order"]["quantity"] == 1
    written = {one["written"] for one in found.values()} - {None}
    assert written == {"seal.pdf", "seal-2.pdf", "near-2.pdf"} == {p.name for p in out.glob("*.pdf")} - {"near.pdf"}
    assert (out / "near.pdf").read_text() == "somebody's own"
    assert (out / found["Dune/seal.pdf"]["written"]).read_bytes() == CLEAN
    for name in written:
        assert main(["check", str(out / name)]) == 0 and "clean" in capsys.readouterr().out
    assert {path: print_of(path) for path in originals} == originals

    (folder / "near.pdf").write_bytes(b"%PDF-1.7 torn")
    (folder / "words.txt").unlink()
    _, again = run(folder, out, capsys)
    assert [one["written"] for one in again["files"] if one["file"] in ("Dune/seal.pdf", "near.pdf", "seal.pdf")] == [
        found["Dune/seal.pdf"]["written"], None, found["seal.pdf"]["written"],
    ]
    assert sorted(path.name for path in out.glob("*.pdf")) == ["near.pdf", "seal-2.pdf", "seal.pdf"]


def test_an_empty_folder_is_ready_and_what_cannot_be_meant_writes_nothing(tmp_path: Path, capsys: Said) -> None:
    folder, out = tmp_path / "in", tmp_path / "out"
    folder.mkdir()
    code, said = run(folder, out, capsys)
    assert (code, said["files"], set(said["states"].values())) == (0, [], {0}) and out.is_dir()
    never = tmp_path / "never"
    for call in (
        [str(tmp_path / "none")], [str(folder), "--workers", "0"], [str(folder), "--workers", "two"],
        [str(folder), "--workers", "-1"], [str(folder), "--shop", str(tmp_path / "none.json")],
    ):
        assert main(["pile", *call, "--out", str(never)]) == 2 and capsys.readouterr().err
        assert not never.exists()
    assert main(["pile", str(folder), "--out", str(folder)]) == 2


def test_names_that_no_customer_is_known_by_have_no_habits() -> None:
    shop = PileShop.from_json({"customers": {"Dune": {"make": MAKE}}})
    about = shop.about("seal.pdf", "Moor")
    assert about.customer == "Moor" and about.habits == replace(about.habits, make=None, steps=(), bind={}, order={})
