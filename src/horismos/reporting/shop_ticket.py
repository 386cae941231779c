"""The shop ticket on paper: one A4 page for who stands at the cutter, read at arm's length."""

import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from xml.sax.saxutils import escape

import segno
from PIL import Image as PilImage
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table

from horismos.rendering.composite import Pixels
from horismos.reporting.pages import INK, QUIET, styles
from horismos.reporting.shop_ticket_texts import say
from horismos.roles import LineRole
from horismos.sheet.mark_kinds import kind_of

__all__ = ["LEAST_PT", "Shown", "shop_ticket_pdf"]

LEAST_PT = 9.0
"""Nothing is set smaller: it is read at arm's length."""
MARGIN_MM, PICTURE_MM = 11.0, 78.0
WIDE_MM = 210.0 - 2 * MARGIN_MM
ROOM = (
    # how high the picture is, and so many rows of each list
    (105.0, 30), (90.0, 16), (75.0, 9), (60.0, 5), (50.0, 3), (40.0, 2), (30.0, 1),
)
"""[ours] what is tried in turn until all of it is on one page."""


@dataclass(frozen=True, eq=False)
class Shown:
    """What the picture of a sheet shows: its print as pixels, None where nothing is printed."""

    pixels: Pixels | None


def shop_ticket_pdf(ticket: Mapping[str, Any], shown: Shown) -> bytes:
    """The ticket of a released sheet on one A4 page; the same for the same ticket."""
    for high_mm, most in ROOM:
        made, pages = _built(ticket, shown, high_mm, most)
        if pages == 1:
            break
    return made


def _built(ticket: Mapping[str, Any], shown: Shown, high_mm: float, most: int) -> tuple[bytes, int]:
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=MARGIN_MM * mm, rightMargin=MARGIN_MM * mm, topMargin=MARGIN_MM * mm,
        bottomMargin=(MARGIN_MM + 6) * mm, title=say("document", job=ticket["job"]), creator="Horismos", invariant=1,
    )
    pages = 0

    def footer(canvas: Any, page: Any) -> None:
        nonlocal pages
        pages = page.page
        canvas.setFont("Next", LEAST_PT)
        canvas.setFillColor(QUIET)
        said = say("foot", job=ticket["job"], made_by=ticket["made_by"], destination=ticket["machines"]["title"])
        canvas.drawString(MARGIN_MM * mm, MARGIN_MM * mm, said[:110])

    document.build(_parts(ticket, shown, high_mm, most), onFirstPage=footer, onLaterPages=footer)
    return out.getvalue(), pages


def _text(words: str, size: float = 10, bold: bool = False, quiet: bool = False, mono: bool = False) -> Any:
    font = "Mono" if mono else "Next-Bold" if bold else "Next"
    style = ParagraphStyle(
        f"{font} {size} {quiet}", styles()["plain"], fontName=font, fontSize=max(size, LEAST_PT), spaceAfter=0,
        leading=max(size, LEAST_PT) * 1.24, textColor=QUIET if quiet else INK, splitLongWords=1,
    )
    return Paragraph(escape(words), style)


def _parts(ticket: Mapping[str, Any], shown: Shown, high_mm: float, most: int) -> list[Any]:
    body = Table(
        [[_Picture(ticket, shown, high_mm), _facts(ticket, most)]],
        colWidths=[(PICTURE_MM + 5) * mm, (WIDE_MM - PICTURE_MM - 5) * mm], hAlign="LEFT",
    )
    body.setStyle(_TIGHT)
    parts: list[Any] = [_head(ticket), Spacer(1, 2 * mm), body, Spacer(1, 2 * mm), *_operations(ticket, most)]
    for title, rows in ((say("pauses"), _pauses(ticket)), (say("look out"), _look_out(ticket))):
        if rows:
            parts += [Spacer(1, 1.5 * mm), _text(title, 12, bold=True), *[_text(row) for row in _few(rows, most)]]
    return parts


_TIGHT = [
    ("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0), ("RIGHTPADDING", (0, 0), (-1, -1), 4),
    ("TOPPADDING", (0, 0), (-1, -1), 0.8), ("BOTTOMPADDING", (0, 0), (-1, -1), 0.8),
]


def _few(rows: Sequence[str], most: int) -> list[str]:
    """So many of them, and how many more there are."""
    return list(rows) if len(rows) <= most else [*rows[:most], say("more", count=len(rows) - most)]


def _head(ticket: Mapping[str, Any]) -> Any:
    number, count = ticket["sheet_number"], ticket["sheets_in_all"]
    which = say("sheet of", number=number, count=count) if count > 1 else say("only sheet")
    job = str(ticket["job"])
    left = [_text(job if len(job) <= 90 else job[:89] + "…", 20 if len(job) < 30 else 14, bold=True), _text(which, 12)]
    code = ticket["code"]
    symbol = _Symbol(str(code)) if code else ""
    right = [_text(str(code), 17, mono=True)] if code else [_text(say("no code"), quiet=True)]
    table = Table([[left, right, symbol]], colWidths=[(WIDE_MM - 78) * mm, 54 * mm, 24 * mm], hAlign="LEFT")
    table.setStyle(_TIGHT)
    return table


def _facts(ticket: Mapping[str, Any], most: int) -> Any:
    rows = [
        (words, [_text(line, 11, bold=i == 0) for i, line in enumerate(lines)])
        for words, lines in _rows(ticket, most) if lines
    ]
    table = Table(
        [[_text(words, 9.5, quiet=True), lines] for words, lines in rows],
        colWidths=[21 * mm, (WIDE_MM - PICTURE_MM - 26) * mm],
    )
    table.setStyle(_TIGHT)
    return table


def _rows(ticket: Mapping[str, Any], most: int) -> list[tuple[str, list[str]]]:
    """What is to be known, in words; the first line of each is what matters."""
    sheet, material = ticket["sheet"], ticket["material"]
    pieces = [
        say("pieces of", copies=p["copies"], job=p["job"], w=_plain(p["size_mm"][0]), h=_plain(p["size_mm"][1]))
        for p in ticket["pieces"]
    ]
    x, y = ticket["origin_mm"]
    return [
        (say("pieces"), [str(sheet["copies"]), *_few(pieces, most)]),
        (say("media"), [say("media of", title=material["title"], wide=_plain(material["width_mm"]))]),
        (say("kept"), [ticket["kept_at"] or say("not said")]),
        (say("sheet"), [
            say("sheet size", wide=_plain(sheet["width_mm"]), long=_plain(sheet["length_mm"]),
                used=_plain(sheet["used_length_mm"])),
            say("room", leader=_plain(sheet["leader_mm"]), trailer=_plain(sheet["trailer_mm"])),
        ]),
        (say("side"), [_side(ticket)]),
        (say("marks"), _marks(ticket, most)),
        (say("zero"), [say("zero of", x=_plain(x), y=_plain(y))] if ticket["operations"] else []),
        (say("laminating"), _laminated(ticket)),
        (say("drying"), _dried(ticket)),
        (say("scale"), [f"{_plain(ticket['scale_percent'])} %"]),
        (say("time"), [_minutes(ticket["time_s"])] if ticket["operations"] else []),
        (say("files"), _few([file["name"] for file in ticket["files"]], most)),
    ]


def _side(ticket: Mapping[str, Any]) -> str:
    if ticket["makes"] == "cut":
        return say("cut only")
    return say("face down" if ticket["mirrored"] else "face up")


def _marks(ticket: Mapping[str, Any], most: int) -> list[str]:
    marks = ticket["marks"]
    if not marks:
        return [say("no marks")]
    first = marks[0]
    head = say(
        "marks of", count=len(marks), kind=kind_of(first["kind"]).words, arm=_plain(first["arm_mm"]),
        weight=_plain(first["weight_mm"]),
    )
    places = [say("mark", number=m["number"], x=_plain(m["x_mm"]), y=_plain(m["y_mm"])) for m in marks]
    return [head, *_few(places, min(most, 8))]


def _laminated(ticket: Mapping[str, Any]) -> list[str]:
    what = ticket["laminate"]
    if not what:
        return []
    return [say("laminating of", what=what, hours=_hours(ticket["drying"]["laminate_h"]))]


def _dried(ticket: Mapping[str, Any]) -> list[str]:
    if ticket["makes"] == "cut" or not ticket["operations"] or ticket["laminate"]:
        return []
    return [say("drying of", hours=_hours(ticket["drying"]["dry_h"]))]


def _operations(ticket: Mapping[str, Any], most: int) -> list[Any]:
    operations = ticket["operations"]
    if not operations:
        return [_text(say("nothing cut"), 12, bold=True)]
    head = [_text(words, LEAST_PT, quiet=True) for words in say("columns").split("|")]
    rows = [
        [_text(cell, 11 if i in (1, 2, 3) else 9.5, bold=i in (1, 2, 3)) for i, cell in enumerate(_cells(n, op))]
        for n, op in enumerate(operations, 1)
    ]
    widths = [6, 36, 10, 18, 20, 14, 20, 11, 16, 15, 22]
    wide = [width * mm * WIDE_MM / sum(widths) for width in widths]
    table = Table([head, *rows], colWidths=wide, repeatRows=1, hAlign="LEFT")
    table.setStyle([*_TIGHT, ("LINEBELOW", (0, 0), (-1, 0), 0.7, INK), ("LINEBELOW", (0, 1), (-1, -1), 0.3, QUIET)])
    return [_text(say("cut"), 12, bold=True), table]


def _cells(number: int, op: Mapping[str, Any]) -> list[str]:
    words = say("aligning") if op["aligning"] else LineRole(op["role"]).words
    role = say("from behind", role=words) if op["side"] == "back" else words
    tested, pattern = op["tested"], op["perforation"]
    return [
        str(number), f"{role} ({op['ink']})", str(op["tool"]),
        say("machine") if op["force_gf"] is None else say("gf", force=_plain(op["force_gf"])),
        say("machine") if op["speed_mm_s"] is None else say("mm/s", speed=_plain(op["speed_mm_s"])),
        str(op["passes"]),
        say("ties", cut=_plain(pattern["cut_mm"]), tie=_plain(pattern["tie_mm"])) if pattern else say("whole"),
        str(op["contours"]), f"{op['cut_mm'] / 1000:.2f} m", _minutes(op["time_s"]),
        say("tested", who=tested["who"], when=tested["when"]) if tested else say("untested"),
    ]


def _pauses(ticket: Mapping[str, Any]) -> list[str]:
    return [
        say("pause", number=pause["before"] + 1, words=pause["words"]) if pause["words"]
        else say("changes by itself", number=pause["before"] + 1)
        for pause in ticket["pauses"]
    ]


def _look_out(ticket: Mapping[str, Any]) -> list[str]:
    passed = [say("let pass", **one) for job in ticket["jobs"] for one in job["let_pass"]]
    found = [job["rehearsed"] for job in ticket["jobs"] if job["rehearsed"]]
    worst = max(found, key=lambda one: one["spoilt"] / max(one["pieces"], 1), default=None)
    looks = [say("looks", ids=", ".join(ticket["looks"]))] if ticket["looks"] else []
    rehearsed = say("rehearsed", **worst) if worst else say("not rehearsed")
    return [*(passed or [say("nothing to look out")]), *looks, rehearsed, *ticket["notes"]]


def _plain(value: float) -> str:
    return f"{value:.3f}".rstrip("0").rstrip(".")


def _hours(hours: float) -> str:
    return f"{_plain(hours)} h" if hours >= 1 else f"{hours * 60:.0f} min"


def _minutes(seconds: float) -> str:
    whole = round(seconds)
    return f"{whole // 60} min {whole % 60} s" if whole >= 60 else f"{whole} s"


class _Symbol(Flowable):  # type: ignore[misc]
    """The code of the sheet, to be read from the paper too."""

    def __init__(self, text: str) -> None:
        super().__init__()
        self.rows = [list(row) for row in segno.make(text, error="m", micro=False).matrix]
        self.width = self.height = 22 * mm

    def draw(self) -> None:
        side = self.width / (len(self.rows) + 2)
        self.canv.setFillColor(HexColor("#000000"))
        for i, row in enumerate(self.rows):
            for j, dark in enumerate(row):
                if dark:
                    self.canv.rect((j + 1) * side, self.height - (i + 2) * side, side, side, stroke=0, fill=1)


class _Picture(Flowable):  # type: ignore[misc]
    """The sheet as it is loaded, its leading edge below, with its copies and marks by their numbers."""

    def __init__(self, ticket: Mapping[str, Any], shown: Shown, high_mm: float) -> None:
        super().__init__()
        self.ticket, self.shown = ticket, shown
        wide, long = ticket["sheet"]["width_mm"], ticket["sheet"]["length_mm"]
        self.scale = min(PICTURE_MM / wide, high_mm / long)
        self.width, self.height = PICTURE_MM * mm, long * self.scale * mm + 7 * mm

    def draw(self) -> None:
        canvas, k, ticket = self.canv, self.scale * mm, self.ticket
        wide, long = ticket["sheet"]["width_mm"] * k, ticket["sheet"]["length_mm"] * k
        canvas.translate(0, 7 * mm)
        if self.shown.pixels is not None:
            held = io.BytesIO()
            PilImage.fromarray(self.shown.pixels).save(held, "PNG")
            held.seek(0)
            canvas.drawImage(ImageReader(held), 0, 0, wide, long)
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.6)
        canvas.rect(0, 0, wide, long)
        canvas.setFillColor(INK)
        for number, placement in enumerate(ticket["placements"], 1):
            x0, y0, x1, y1 = (v * k for v in placement["bounds"])
            canvas.rect(x0, y0, x1 - x0, y1 - y0)
            if x1 - x0 > 18 and y1 - y0 > 12:
                _numbered(canvas, (x0 + x1) / 2, (y0 + y1) / 2, str(number))
        for mark in ticket["marks"]:
            canvas.circle(mark["x_mm"] * k, mark["y_mm"] * k, 1.4, stroke=0, fill=1)
        canvas.setLineWidth(2.4)
        canvas.line(0, 0, wide, 0)
        arrow = canvas.beginPath()
        arrow.moveTo(0, -5 * mm)
        arrow.lineTo(3 * mm, -5 * mm)
        arrow.lineTo(1.5 * mm, -2 * mm)
        arrow.close()
        canvas.drawPath(arrow, stroke=0, fill=1)
        canvas.setFont("Next-Bold", 10)
        canvas.drawString(5 * mm, -5 * mm, say("first edge"))


def _numbered(canvas: Any, x: float, y: float, words: str) -> None:
    """A number on a white ground, so that it is read on any art."""
    canvas.saveState()
    canvas.setFillColor(HexColor("#FFFFFF"))
    canvas.rect(x - 8, y - 5.5, 16, 11, stroke=0, fill=1)
    canvas.setFillColor(INK)
    canvas.setFont("Next-Bold", LEAST_PT)
    canvas.drawCentredString(x, y - 3.2, words)
    canvas.restoreState()
