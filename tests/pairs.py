"""For every check two drawings: one just over its limit and one just under it.

They are written byte by byte by ``tests.shapes``, which shares nothing with the product's writer. A pair
also says the value that has to be measured, a point that has to lie in the worst place, and what else the
first drawing cannot help tripping.
"""

import math
from dataclasses import dataclass, field
from typing import Any

from horismos.materials import MATERIALS
from horismos.orders import Order
from horismos.roles import LineRole
from tests.shapes import circle, line_in

# The trim's lower left is at (10, 10) of the page: places are 10 less than what is drawn.
GROUND = f"1 0 0 0 k {circle(50, 50, 44)} f\n"
FIELD = "1 0 0 0 k 5 5 90 90 re f\n"
KISS = line_in(circle(50, 50, 40))
CLEAN = GROUND + KISS
SPOTS = {"K": "Kiss Cut", "T": "Through Cut", "P": "Perforation"}
WHITE = {"K": "Kiss Cut", "W": "White"}
OVER = "/Over gs "
HELVETICA = "/Font << /H << /Type /Font /Subtype /Type1 /BaseFont /Helvetica >> /F 20 0 R >>"
BLOCK = b"1000 0 0 0 1000 1000 d1 0 0 1000 1000 re f"
FONT_OBJECTS = (
    b"<< /Type /Font /Subtype /Type3 /Name /F /FontBBox [0 0 1000 1000] /FontMatrix [0.001 0 0 0.001 0 0] "
    b"/CharProcs << /a 21 0 R >> /Encoding << /Type /Encoding /Differences [65 /a] >> /FirstChar 65 /LastChar 65 "
    b"/Widths [1000] /Resources << >> >>",
    b"<< /Length %d >>\nstream\n%s\nendstream" % (len(BLOCK), BLOCK),
)
PT = 25.4 / 72


def picture(size: float, pixels: int, x: float = 40, y: float = 40, space: str = "/CMYK", value: str = "80") -> str:
    """A picture of so many pixels each way on so many mm."""
    count = {"/CMYK": 4, "/G": 1, "/RGB": 3}[space]
    data = value * (pixels * pixels * count)
    return f"q {size} 0 0 {size} {x} {y} cm BI /W {pixels} /H {pixels} /CS {space} /BPC 8 /F /AHx ID {data}> EI Q\n"


def on_ground(ground: str) -> str:
    """A picture of 20 × 20 pixels: a dark subject in the middle of a ground, CMYK."""
    rows = []
    for y in range(20):
        rows += ["00000000FF"[-8:] if 6 <= x < 14 and 6 <= y < 14 else ground for x in range(20)]
    return f"q 30 0 0 30 35 35 cm BI /W 20 /H 20 /CS /CMYK /BPC 8 /F /AHx ID {''.join(rows)}> EI Q\n"


def text(size_pt: float, colour: str = "0 0 0 1 k", font: str = "F", at: tuple[float, float] = (48, 50)) -> str:
    """One letter, a square as large as its size."""
    return f"{colour} BT /{font} {size_pt * PT:.6f} Tf {at[0]} {at[1]} Td (A) Tj ET\n"


def star(x: float, y: float, outer: float, tip: float) -> str:
    """A star of four points with an angle at each tip, in degrees."""
    half = math.radians(tip / 2)
    # The inner corners lie on the diagonals where the sides of neighbouring tips meet.
    inner = outer * math.tan(half) / (1 + math.tan(half)) * math.sqrt(2)
    points = []
    for i in range(8):
        r, angle = (outer if i % 2 == 0 else inner), math.radians(45 * i)
        points.append(f"{x + r * math.cos(angle):.6f} {y + r * math.sin(angle):.6f}")
    return f"{points[0]} m {' l '.join(points[1:])} l h "


def rounded(x0: float, y0: float, x1: float, y1: float, r: float) -> str:
    """A rectangle with round corners."""
    k = r * 0.4477152
    return (
        f"{x0 + r} {y0} m {x1 - r} {y0} l {x1 - k} {y0} {x1} {y0 + k} {x1} {y0 + r} c {x1} {y1 - r} l "
        f"{x1} {y1 - k} {x1 - k} {y1} {x1 - r} {y1} c {x0 + r} {y1} l {x0 + k} {y1} {x0} {y1 - k} {x0} {y1 - r} c "
        f"{x0} {y0 + r} l {x0} {y0 + k} {x0 + k} {y0} {x0 + r} {y0} c h "
    )


def many_nodes(count: int) -> str:
    """A circle of radius 40 as a polygon."""
    points = [
        f"{50 + 40 * math.cos(2 * math.pi * i / count):.6f} {50 + 40 * math.sin(2 * math.pi * i / count):.6f}"
        for i in range(count)
    ]
    return f"{points[0]} m {' l '.join(points[1:])} l h "


def long_picture(pixels: int) -> str:
    """A picture of one row, 9 points square."""
    row = "00" * ((pixels + 7) // 8)
    return f"q 9 0 0 9 40 40 cm BI /IM true /W {pixels} /H 1 /BPC 1 /F /AHx ID {row}> EI Q "


@dataclass(frozen=True)
class Pair:
    """Two drawings, as arguments of ``tests.shapes.Drawing``, and what is known of the first."""

    over: dict[str, Any]
    under: dict[str, Any]
    measured: float | None = None
    within: float = 0.011
    at: tuple[float, float] | None = None
    order: Order = field(default_factory=Order)
    material: str = "film-1370"
    also: frozenset[str] = frozenset()
    under_also: frozenset[str] = frozenset()


def _text(content: str) -> dict[str, Any]:
    return {"content": content, "extra_resources": HELVETICA, "objects": FONT_OBJECTS}


def _lines(content: str) -> dict[str, Any]:
    return {"content": FIELD + content, "inks": SPOTS}


def _white(content: str, under: str = "") -> dict[str, Any]:
    return {"content": under + OVER + content + KISS, "inks": WHITE}


def _load(side: float, last: float) -> dict[str, Any]:
    ground = f"1 1 {last} 0.5 k {50 - side / 2} {50 - side / 2} {side} {side} re f "
    return {"content": GROUND + ground + KISS}


STROKED = frozenset({"stroke.live"})
LIVE = frozenset({"text.live"})
CLEAR = dict(material="clear-1067")
PAIRS: dict[str, Pair] = {
    "file.active": Pair(
        {"content": CLEAN, "catalog": "/OpenAction << /S /JavaScript /JS (app.alert\\(1\\)) >>"},
        {"content": CLEAN, "catalog": "/OpenAction [3 0 R /Fit]"}, 1,
    ),
    "page.count": Pair({"content": CLEAN, "pages": 2}, {"content": CLEAN}, 2, also=frozenset({"file.damaged"})),
    "page.boxes": Pair(
        {"content": CLEAN, "trim": (4.98, 10, 90, 90)}, {"content": CLEAN, "trim": (5.005, 10, 90, 90)}, 0.02,
    ),
    "page.beyond": Pair(
        {"content": CLEAN + "0 1 0 0 k 92 40 8.7 5 re f\n"}, {"content": CLEAN + "0 1 0 0 k 92 40 8.3 5 re f\n"}, 0.7,
        at=(86, 32),
    ),
    "page.size": Pair(
        {"content": GROUND + line_in(circle(50, 50, 40.3)), "trim": (9, 9, 91, 91)},
        {"content": GROUND + line_in(circle(50, 50, 40.2)), "trim": (9, 9, 91, 91)},
        0.6, order=Order(width_mm=80, height_mm=80),
    ),
    "ink.unknown": Pair(
        {"content": "/S cs 1 scn 30 30 9 9 re f " + KISS, "inks": {"K": "Kiss Cut", "S": "Harbour Blue"}},
        {"content": "/S cs 1 scn 30 30 9 9 re f " + KISS, "inks": {"K": "Kiss Cut", "S": "Varnish"}},
        1, at=(24, 24),
    ),
    "ink.near-name": Pair({"content": CLEAN, "inks": {"K": "Kiss-Cut"}}, {"content": CLEAN}, 1, at=(0, 40)),
    "ink.same-role": Pair(
        {"content": CLEAN + line_in(circle(50, 50, 30), "C"), "inks": {"K": "Kiss Cut", "C": "kiss cut"}},
        {"content": CLEAN + line_in(circle(50, 50, 30), "C"), "inks": {"K": "Kiss Cut", "C": "Crease"}},
        2, at=(40, 10), also=frozenset({"ink.near-name"}),
    ),
    "ink.registration": Pair(
        {"content": GROUND + "/A cs 1 scn 45 45 5 5 re f " + KISS, "inks": {"K": "Kiss Cut", "A": "All"}},
        {"content": GROUND + "/A cs 1 scn 2 2 5 5 re f " + KISS, "inks": {"K": "Kiss Cut", "A": "All"}},
        1, at=(37, 37), also=frozenset({"ink.load"}),
    ),
    "ink.rgb": Pair(
        {"content": GROUND + "1 0 0 rg 30 30 9 9 re f " + KISS},
        {"content": GROUND + "0 1 1 0 k 30 30 9 9 re f " + KISS}, 1, at=(24, 24),
    ),
    "ink.load": Pair(_load(4, 0.4), _load(4, 0.3), 290, within=0.5, at=(40, 40)),
    "ink.white-overprint": Pair(
        {"content": GROUND + OVER + "0 0 0 0 k 40 40 9 9 re f " + KISS},
        {"content": GROUND + "0 0 0 0 k 40 40 9 9 re f " + KISS}, 1, at=(34, 34),
    ),
    "ink.rich-black-text": Pair(
        _text(GROUND + text(11.9, "0.6 0.5 0.5 1 k") + KISS), _text(GROUND + text(12.1, "0.6 0.5 0.5 1 k") + KISS),
        11.9, at=(40, 42), also=LIVE, under_also=LIVE,
    ),
    "line.missing": Pair(
        {"content": CLEAN, "inks": {"K": "Perforation"}}, {"content": CLEAN}, 1,
        order=Order(roles=(LineRole.KISS_CUT,)), also=frozenset({"line.unordered"}),
    ),
    "line.none": Pair(
        {"content": f"{GROUND}1 0 0 RG 0.1 w {circle(50, 50, 40)} S"}, {"content": CLEAN}, 0, at=(40, 40),
        also=frozenset({"ink.rgb", "stroke.live"}),
    ),
    "line.unordered": Pair(
        {"content": CLEAN + line_in(circle(50, 50, 30), "C"), "inks": {"K": "Kiss Cut", "C": "Crease"}},
        {"content": CLEAN}, 1, at=(40, 10), order=Order(roles=(LineRole.KISS_CUT,)),
    ),
    "line.filled": Pair(
        {"content": GROUND + line_in(circle(50, 50, 40), paint="B")}, {"content": CLEAN}, 1, at=(40, 40),
    ),
    "line.not-vector": Pair(
        {"content": CLEAN + "q 5 0 0 5 40 40 cm BI /W 1 /H 1 /CS /K /BPC 8 ID \xff EI Q"}, {"content": CLEAN}, 1,
        at=(32, 32),
    ),
    "line.text": Pair(_text(CLEAN + "/K cs 1 scn " + text(30, "")), _text(CLEAN), 1, at=(41, 43)),
    "line.wide": Pair(
        {"content": GROUND + line_in(circle(50, 50, 40), width=0.095)},
        {"content": GROUND + line_in(circle(50, 50, 40), width=0.087)}, 0.095, at=(0, 40),
    ),
    "line.tinted": Pair({"content": GROUND + line_in(circle(50, 50, 40), tint=0.98)}, {"content": CLEAN}, 98),
    "line.dashed": Pair({"content": GROUND + "[2 1] 0 d " + KISS}, {"content": GROUND + "[] 0 d " + KISS}, 1),
    "line.ribbon": Pair(
        {"content": GROUND + line_in(circle(50, 50, 40) + circle(50, 50, 39.52))},
        {"content": GROUND + line_in(circle(50, 50, 40) + circle(50, 50, 39.45))},
        0.48, at=(0, 40),
    ),
    "line.open": Pair(
        _lines(line_in("20 20 m 80 20 l 80 80 l 20 80 l 20 20.02 l")),
        _lines(line_in("20 20 m 80 20 l 80 80 l 20 80 l 20 20.005 l")), 0.02, at=(10, 10.01),
    ),
    "line.crosses": Pair(
        _lines(line_in("30 30 m 70 30 l 30 70 l 70 71 l h")), _lines(line_in("30 30 m 70 30 l 70 71 l 30 70 l h")),
        1, at=(39.753, 40.247), also=frozenset({"line.sharp"}),
    ),
    "line.doubled": Pair(
        _lines(line_in("20 30 m 80 30 l 80 70 l 20 70 l h") + line_in("40 70.04 m 41.1 70.04 l 43 90 l 38 90 l h")),
        _lines(line_in("20 30 m 80 30 l 80 70 l 20 70 l h") + line_in("40 70.04 m 40.9 70.04 l 43 90 l 38 90 l h")),
        1.1, within=0.01, at=(30.5, 60.04),
    ),
    "line.leftover": Pair(
        _lines(line_in("45 45 4.4 4.4 re") + KISS), _lines(line_in("45 45 4.5 4.5 re") + KISS), 19.36, at=(37, 37),
    ),
    "line.sharp": Pair(
        _lines(line_in(rounded(20, 20, 80, 80, 0.45), "T")), _lines(line_in(rounded(20, 20, 80, 80, 0.55), "T")),
        0.45, within=0.01,
    ),
    "line.nodes": Pair(_lines(line_in(many_nodes(260))), _lines(line_in(many_nodes(245))), 1.035, within=0.005),
    "line.crowded": Pair(
        _lines(KISS + line_in(circle(50, 50, 41.95), "T")), _lines(KISS + line_in(circle(50, 50, 42.1), "T")),
        1.95, within=0.02,
    ),
    "line.order": Pair(
        _lines(line_in("30 30 20 20 re") + line_in("55 30 20 20 re", "T")),
        _lines(line_in("30 30 20 20 re") + line_in("27 27 26 26 re", "T")), 1, at=(30, 30),
    ),
    "line.outside": Pair(
        {**_lines(line_in("30 30 61.6 20 re", "P")), "bleed": (8, 8, 91.5, 92)},
        {**_lines(line_in("30 30 61.5 20 re", "P")), "bleed": (8, 8, 91.5, 92)}, 0.1, at=(80, 30),
    ),
    "line.hidden": Pair(
        {"content": f"{GROUND}/OC /L0 BDC {KISS} EMC", "layers": ("!Cuts",)},
        {"content": f"{GROUND}/OC /L0 BDC {KISS} EMC", "layers": ("Cuts",)}, 1, at=(40, 40),
    ),
    "line.knocks-out": Pair({"content": CLEAN.replace("/Over gs", "")}, {"content": CLEAN}, 1, at=(40, 40)),
    "line.in-transparency": Pair(
        {"content": GROUND + "/Half gs " + KISS}, {"content": CLEAN}, 1, at=(40, 40),
    ),
    "layer.mixed": Pair(
        {"content": f"/OC /L0 BDC {GROUND}{KISS} EMC", "layers": ("Everything",)},
        {"content": f"/OC /L0 BDC {GROUND} EMC /OC /L1 BDC {KISS} EMC", "layers": ("Art", "Cuts")}, 2, at=(40, 40),
    ),
    "layer.hidden-art": Pair(
        {"content": f"{CLEAN}/OC /L0 BDC 0 1 0 0 k 40 40 9 9 re f EMC", "layers": ("-Notes",)},
        {"content": f"{CLEAN}/OC /L0 BDC 0 1 0 0 k 40 40 9 9 re f EMC", "layers": ("Notes",)}, 1, at=(34, 34),
    ),
    "edge.bleed": Pair(
        {"content": f"1 0 0 0 k {circle(50, 50, 42.9)} f {KISS}"},
        {"content": f"1 0 0 0 k {circle(50, 50, 43.1)} f {KISS}"}, 2.9, within=0.05,
    ),
    "edge.border": Pair(
        {"content": f"1 0 0 0 k {circle(50, 50, 38.6)} f {KISS}"},
        {"content": f"1 0 0 0 k {circle(50, 50, 38.45)} f {KISS}"}, 1.4, within=0.05,
    ),
    "edge.risk": Pair(
        {"content": f"1 0 0 0 k {circle(50, 50, 40.4)} f {KISS}"},
        {"content": f"1 0 0 0 k {circle(50, 50, 40.6)} f {KISS}"}, 0.4, within=0.05,
        also=frozenset({"edge.bleed"}), under_also=frozenset({"edge.bleed"}),
    ),
    "edge.safe": Pair(
        _text(FIELD + line_in("20 20 60 60 re") + text(10, at=(22.8, 40))),
        _text(FIELD + line_in("20 20 60 60 re") + text(10, at=(23.1, 40))), 2.8, within=0.02, at=(14, 31),
        also=LIVE, under_also=LIVE,
    ),
    "image.resolution": Pair(
        {"content": GROUND + picture(20, 68) + KISS}, {"content": GROUND + picture(20, 69) + KISS}, 86.36,
        at=(40, 40),
    ),
    "image.undrawn": Pair(
        {"content": GROUND + long_picture(131_072) + KISS}, {"content": GROUND + long_picture(131_071) + KISS}, 131_072,
        at=(30, 30),
    ),
    "image.excess": Pair(
        {"content": GROUND + picture(11, 195) + KISS}, {"content": GROUND + picture(11, 194) + KISS}, 450.27,
        at=(35, 35),
    ),
    "image.ground": Pair(
        {"content": on_ground("00000000")},
        {"content": on_ground("00000000") + line_in(circle(50, 50, 14))}, 1, at=(40, 40),
        order=Order(viewing_distance_m=10, edge="border"),
        also=frozenset({"line.none"}),
    ),
    "text.live": Pair(_text(GROUND + text(9) + KISS), _text(CLEAN), 1, at=(39, 41)),
    "text.font": Pair(
        _text(GROUND + text(9, font="H") + KISS), _text(GROUND + text(9) + KISS), 1, also=LIVE, under_also=LIVE,
    ),
    "text.small": Pair(
        _text(GROUND + text(4.9) + KISS), _text(GROUND + text(5.1) + KISS), 4.9, also=LIVE, under_also=LIVE,
    ),
    "stroke.thin": Pair(
        {"content": GROUND + "0 0 0 1 K 0.095 w 40 40 m 60 60 l S " + KISS},
        {"content": GROUND + "0 0 0 1 K 0.105 w 40 40 m 60 60 l S " + KISS}, 0.095, at=(40, 40),
        also=STROKED, under_also=STROKED,
    ),
    "stroke.live": Pair(
        {"content": GROUND + "0 0 0 1 K 0.5 w 40 40 m 60 60 l S " + KISS},
        {"content": GROUND + "0 0 0 1 k 40 40 m 60 60 l 60 59 l f " + KISS}, 1, at=(40, 40),
    ),
    "art.transparency": Pair(
        {"content": GROUND + "q /Half gs 0 1 0 0 k 30 30 9 9 re f Q " + KISS},
        {"content": GROUND + "q 0 1 0 0 k 30 30 9 9 re f Q " + KISS}, 1, at=(24, 24),
    ),
    "white.missing": Pair(
        {"content": CLEAN}, _white(GROUND, f"{OVER}/W cs 1 scn {circle(50, 50, 43.7)} f "), 1, material="clear-1067",
    ),
    "white.choke": Pair(
        _white(GROUND, f"{OVER}/W cs 1 scn {circle(50, 50, 43.9)} f "),
        _white(GROUND, f"{OVER}/W cs 1 scn {circle(50, 50, 43.7)} f "), 0.1, within=0.05, material="clear-1067",
    ),
    "white.overprint": Pair(
        {"content": f"/W cs 1 scn {circle(50, 50, 43.7)} f {GROUND}{KISS}", "inks": WHITE},
        _white(GROUND, f"{OVER}/W cs 1 scn {circle(50, 50, 43.7)} f "), 1, at=(40, 40), material="clear-1067",
    ),
}
BY_HAND = frozenset({"edge.rehearsed", "file.converted", "file.damaged", "file.locked", "file.proof"})
"""Checks whose pairs are made by breaking, locking, converting or rehearsing a file: see the tests that name them."""


def material_of(pair: Pair) -> Any:
    """The material of a pair."""
    return MATERIALS[pair.material]
