"""The shop ticket and the XJDF, read by others: Poppler's pdftotext, PDFium's text, and pycip4's reader of XJDF.

That nothing is set under 9 pt is the product's own rule. Of XJDF only what pycip4 takes is checked: the standard itself
is named from memory.
"""

import json
import re
import subprocess
from pathlib import Path
from typing import Any

import pypdfium2
import pypdfium2.raw as pdfium
import pytest
from pycip4.models.xjdf import XJDFNode
from pycip4.parser.xml_parser import CIP4Parser

from horismos.checking import CheckSheet
from horismos.cli import main
from horismos.release.following import released_in
from horismos.reporting.shop_ticket import LEAST_PT, Shown, shop_ticket_pdf
from tests.shapes import Drawing, circle, line_in, write

ART = "1 0 0 0 k 8 8 84 84 re f " + line_in("15 15 70 70 re", "P") + line_in(circle(50, 50, 30))
INKS = {"K": "Kiss Cut", "P": "Perforation"}


@pytest.fixture(scope="module")
def package(tmp_path_factory: pytest.TempPathFactory) -> Path:
    folder = tmp_path_factory.mktemp("ticket")
    (folder / "ground.pdf").write_bytes(write(Drawing(ART, inks=INKS)))
    (folder / "order.json").write_text(json.dumps({"quantity": 7, "width_mm": 80, "height_mm": 80}))
    call = ["release", str(folder / "ground.pdf"), "--order", str(folder / "order.json"), "--out", str(folder / "out")]
    assert main([*call, "--material", "film-610"]) == 0
    return folder / "out"


def ticket_of(package: Path) -> Any:
    return json.loads(next(package.glob("*-ticket.json")).read_text())


def words_of(pdf: Path) -> str:
    """The words of a PDF as Poppler has them, each run of blanks one."""
    said = subprocess.run(["pdftotext", "-layout", pdf, "-"], check=True, capture_output=True).stdout.decode()
    return " ".join(said.split())


def least_size(pdf: bytes) -> float:
    """The smallest type of a page in points, as PDFium has it."""
    with pypdfium2.PdfDocument(pdf) as document:
        (page,) = document
        text = page.get_textpage()
        written = (i for i in range(text.count_chars()) if not pdfium.FPDFText_IsGenerated(text, i))
        return min(pdfium.FPDFText_GetFontSize(text, i) for i in written)


def plain(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")


def test_every_figure_of_the_package_is_on_the_page(package: Path, tmp_path: Path) -> None:
    out = tmp_path / "ticket.pdf"
    assert main(["ticket", str(package), "--out", str(out)]) == 0
    said, ticket = words_of(out), ticket_of(package)
    sheet = ticket["sheet"]
    wanted = [
        ticket["code"], str(sheet["copies"]), f"{plain(sheet['width_mm'])} × {plain(sheet['length_mm'])} mm",
        plain(sheet["used_length_mm"]), f"leader {plain(sheet['leader_mm'])}", f"trailer {plain(sheet['trailer_mm'])}",
        ticket["material"]["title"], f"{plain(ticket['drying']['dry_h'])} h", "100 %", "7 × ground, 80 × 80 mm",
        "goes in first",
        *(f"{plain(mark['x_mm'])} / {plain(mark['y_mm'])} mm" for mark in ticket["marks"]),
        " mm across, ".join(map(plain, ticket["origin_mm"])), *(file["name"] for file in ticket["files"][:4]),
    ]
    for op in ticket["operations"]:
        wanted += [f"{plain(op['force_gf'])} gf", f"{plain(op['speed_mm_s'])} mm/s", f"{op['cut_mm'] / 1000:.2f} m"]
        if op["perforation"]:
            wanted.append(" / ".join(plain(op["perforation"][key]) for key in ("cut_mm", "tie_mm")))
    for note in ticket["notes"]:
        wanted.append(note)
    assert [one for one in wanted if one not in said] == []
    assert least_size(out.read_bytes()) >= LEAST_PT
    with pypdfium2.PdfDocument(out) as document:
        assert len(document) == 1 and [round(v) for v in document[0].get_size()] == [595, 842]
    own = next(package.glob("*-ticket.pdf"))
    assert ticket["code"] in words_of(own), "it is in the package too"


def test_a_ticket_with_very_much_on_it_is_still_one_page(package: Path, tmp_path: Path) -> None:
    ticket = ticket_of(package)
    passed = {"id": "edge.bleed", "message": "Too little bleed along all of it. " * 4, "reason": "as agreed",
              "who": "wren"}
    much = {
        **ticket, "job": "The longest name that a job was ever given, and then some more " * 3,
        "pieces": [{**ticket["pieces"][0], "job": f"Piece {i}"} for i in range(60)],
        "operations": ticket["operations"] * 5, "notes": [f"Note {i}." for i in range(40)],
        "jobs": [{**ticket["jobs"][0], "let_pass": [passed] * 30,
                  "rehearsed": {"loads": 200, "missed": 3, "pieces": 1400, "spoilt": 28}}],
        "pauses": [{"before": i, "words": f"Put tool {i} in.", "time_s": 90} for i in range(1, 9)],
    }
    made = shop_ticket_pdf(much, Shown(None))
    (tmp_path / "much.pdf").write_bytes(made)
    with pypdfium2.PdfDocument(made) as document:
        assert len(document) == 1
    said = words_of(tmp_path / "much.pdf")
    assert least_size(made) >= LEAST_PT and "more, in the ticket" in said and "Let pass by wren: as agreed" in said
    assert ticket["code"] in said


def test_who_tested_a_setting_where_the_roll_is_and_the_laminate_are_on_it(package: Path, tmp_path: Path) -> None:
    ticket = ticket_of(package)
    tested = {"who": "dunlin", "when": "3 November"}
    told = {
        **ticket, "kept_at": "rack 4, left", "laminate": "matt", "drying": {"dry_h": 1, "laminate_h": 0.5},
        "operations": [{**op, "tested": tested} for op in ticket["operations"]],
    }
    (tmp_path / "told.pdf").write_bytes(shop_ticket_pdf(told, Shown(None)))
    said = words_of(tmp_path / "told.pdf")
    assert all(one in said for one in ("rack 4, left", "matt; at least 30 min after printing", "dunlin"))
    assert "test-cut first" not in said.lower().replace("cut when the print is dry. test-cut first", "")


def test_the_ticket_is_read_strictly_and_its_limits_are_the_jobs(package: Path) -> None:
    released = released_in({path.name: path.read_bytes() for path in package.iterdir()})
    (job,) = released.ticket["jobs"]
    assert CheckSheet.from_json(job["check_sheet"]) == CheckSheet() and job["let_pass"] == []


def test_the_xjdf_is_read_by_a_library_of_others(package: Path) -> None:
    node, ticket = CIP4Parser().parse_file(next(package.glob("*.xjdf"))), ticket_of(package)
    assert isinstance(node, XJDFNode) and node.job_id == "ground" and node.get_attr("Version") == "2.1"
    assert node.get_attr("Types") == "DigitalPrinting Cutting"
    (product,) = node.find_descendants("Product")
    assert product.amount == 7  # type: ignore[attr-defined]
    sets = {one.name: one for one in node.resource_sets()}
    assert set(sets) == {"Media", "RunList", "Color", "Component"} and sets["Media"].usage == "Input"
    (media,) = sets["Media"].find_descendants("Media")
    assert float(media.get_attr("Dimension").split()[0]) == pytest.approx(610 / 25.4 * 72, abs=1e-3)
    inks = {
        one.find_first("Color").get_attr("ActualColorName"): one.get_attr("DescriptiveName")
        for one in sets["Color"].find_descendants("Resource")
    }
    assert inks["Kiss Cut"] == "kiss cut" and inks["Perforation"] == "perforation" and inks["Cyan"] == "printed"
    files = {one.get_attr("URL"): one.get_attr("CheckSum") for one in sets["RunList"].find_descendants("FileSpec")}
    known = {one["name"]: one["sha256"] for one in ticket["files"]}
    assert files.items() <= known.items() and any(re.search(r"-cut\.plt$", name) for name in files)
