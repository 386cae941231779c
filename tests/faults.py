"""A page with a fault for each mend: what is asked for, and what may come out otherwise afterwards."""

import io
import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from fontTools.ttLib import TTFont

from horismos import reporting
from horismos.comparing.facets import Facet
from tests.pairs import PAIRS, SPOTS, on_ground, picture
from tests.shapes import Drawing, circle, line_in

__all__ = ["FAULTS", "GROUND", "KISS", "TRACED", "Fault", "dense"]

GROUND = f"1 0 0 0 k {circle(50, 50, 44)} f\n"
KISS = line_in(circle(50, 50, 40))
SPECKS = "".join(f"{x} {y} 2 3 re " for x, y in ((30, 30), (60, 62), (44, 71)))
TRACED = GROUND + line_in(f"{circle(50, 50, 40)} {SPECKS} 70 40 m 72 41 l")
HIDDEN = "/OC /L1 BDC 0 1 0 0 k 20 20 9 9 re f EMC "
SHAPE = frozenset([Facet.GEOMETRY])
PAINT = frozenset([Facet.PAINT])
ALL = frozenset([Facet.BOXES, Facet.GEOMETRY, Facet.ART])


@dataclass(frozen=True)
class Fault:
    """Content with a fault, the settings of the mend, the facets that differ then, and the file round it.

    ``may`` are facets that may differ as well: what is written anew is written to a millionth. ``art_stays`` says
    that the art is the same objects; ``anywhere`` that the fault can as well stand in a form on a turned page.
    """

    content: str
    facets: frozenset[Facet]
    settings: Mapping[str, Any] = field(default_factory=dict)
    inks: Mapping[str, str] = field(default_factory=lambda: SPOTS)
    drawing: Mapping[str, Any] = field(default_factory=dict)
    may: frozenset[Facet] = frozenset()
    art_stays: bool = True
    anywhere: bool = True

    @property
    def page(self) -> Drawing:
        """The page, to be written."""
        return Drawing(self.content, inks=dict(self.inks), **self.drawing)


def dense(radius: float, count: int = 4000) -> str:
    """A circle as tracing draws it: so many short chords."""
    points = (
        (50 + radius * math.cos(2 * math.pi * i / count), 50 + radius * math.sin(2 * math.pi * i / count))
        for i in range(count)
    )
    return "".join(f"{x:.5f} {y:.5f} {'l' if i else 'm'} " for i, (x, y) in enumerate(points)) + "h"


def _layered(content: str, facets: frozenset[Facet], *layers: str, art_stays: bool = True) -> Fault:
    return Fault(content, facets, drawing={"layers": layers}, may=SHAPE, art_stays=art_stays, anywhere=False)


def _pair(check: str) -> dict[str, Any]:
    """The content that is just over the limit of a check."""
    over = dict(PAIRS[check].over)
    content, inks = over.pop("content"), over.pop("inks", SPOTS)
    return {"content": content, "inks": inks, "drawing": over}


def _letters() -> dict[str, Any]:
    """A page with a TrueType font in it, as the resource /F."""
    font = (Path(reporting.__file__).parent / "fonts" / "Next-Regular.ttf").read_bytes()
    widths = TTFont(io.BytesIO(font))
    glyphs, unit = widths.getGlyphSet(), 1000 / widths["head"].unitsPerEm
    listed = " ".join(f"{glyphs[widths.getBestCmap()[code]].width * unit:.0f}" for code in range(65, 123))
    return {
        "extra_resources": "/Font << /F 20 0 R >>",
        "objects": (
            b"<< /Type /Font /Subtype /TrueType /BaseFont /Letters /Encoding /WinAnsiEncoding /FirstChar 65 /LastChar "
            b"122 /Widths [" + listed.encode() + b"] /FontDescriptor 21 0 R >>",
            b"<< /Type /FontDescriptor /FontName /Letters /Flags 32 /FontBBox [-200 -300 1200 1000] /ItalicAngle 0 "
            b"/Ascent 900 /Descent -250 /CapHeight 700 /StemV 80 /FontFile2 22 0 R >>",
            b"<< /Length %d >>\nstream\n%s\nendstream" % (len(font), font),
        ),
    }


LETTERS = _letters()
PICTURE = {
    "extra_resources": "/XObject << /P 20 0 R >>",
    "objects": (
        b"<< /Type /XObject /Subtype /Image /Width 240 /Height 240 /BitsPerComponent 8 /ColorSpace /DeviceCMYK "
        b"/Length 230400 >>\nstream\n" + bytes(range(240)) * 960 + b"\nendstream",
    ),
}
RGB = picture(9, 3, 70, 70, "/RGB") + (
    "0.2 0.5 0.1 rg 10 10 80 80 re f 0 0 0 rg 30 30 9 9 re f 1 0 0 RG 2 w 20 20 m 40 40 l S "
    "0 1 0 0 k 60 60 9 9 re f "
)
COLOUR = frozenset([Facet.ART, Facet.NAMES, Facet.LOOK])
KISS_CUT = {"role": "kiss-cut"}
FAULTS = {
    "rename": Fault(GROUND + KISS, frozenset([Facet.NAMES]), {"ink": "Kis Cut", "to": "Kiss Cut"}, {"K": "Kis Cut"}),
    "merge-inks": Fault(
        GROUND + KISS + line_in(circle(50, 50, 10), "A"), frozenset([Facet.NAMES]),
        {"ink": "kiss-cut", "to": "Kiss Cut"}, {"K": "Kiss Cut", "A": "kiss-cut"},
    ),
    "assign-role": Fault(
        GROUND + f"0 1 0 0 K 0.05 w {circle(50, 50, 40)} S ",
        frozenset([Facet.NAMES, Facet.ART, Facet.LOOK, Facet.PAINT, Facet.GEOMETRY]),
        {"role": "kiss-cut", "colour": [0, 1, 0, 0]}, art_stays=False, anywhere=False,
    ),
    "hairline": Fault(GROUND + line_in(circle(50, 50, 40), width=0.5), PAINT, KISS_CUT),
    "to-stroke": Fault(GROUND + line_in(circle(50, 50, 40), paint="f"), PAINT),
    "full-tint": Fault(GROUND + line_in(circle(50, 50, 40), tint=0.5), PAINT, KISS_CUT),
    "solid": Fault(GROUND + KISS.replace("0.05 w", "0.05 w [3] 0 d"), PAINT),
    "overprint": Fault(GROUND + KISS.replace("/Over gs ", ""), PAINT, KISS_CUT),
    "lift-line": Fault(GROUND + f"q 30 0 20 100 re W n {KISS} Q ", PAINT, may=SHAPE),
    "show-line": _layered(GROUND + f"/OC /L0 BDC {KISS} EMC ", frozenset([Facet.LAYERS]), "-Hidden"),
    "close-line": Fault(GROUND + line_in("20 20 m 80 20 l 80 80 l 20 80 l 20 20.4 l"), SHAPE, KISS_CUT),
    "smooth": Fault(GROUND + line_in(dense(40)), SHAPE, KISS_CUT),
    "weld": Fault(GROUND + line_in(f"{circle(40, 50, 20)} {circle(60, 50, 20)}"), SHAPE),
    "drop-doubled": Fault(GROUND + KISS + KISS, SHAPE),
    "drop-inner": Fault(GROUND + line_in(f"{circle(50, 50, 40)} {circle(50, 50, 5)}"), SHAPE),
    "drop-leftovers": Fault(TRACED, SHAPE, KISS_CUT),
    "to-centreline": Fault(GROUND + line_in(f"{circle(50, 50, 40.1)} {circle(50, 50, 39.9)}"), SHAPE),
    "round-corners": Fault(GROUND + line_in("30 30 m 70 30 l 50 70 l h"), SHAPE, {"radius_mm": 1}),
    "sort-layers": _layered(f"/OC /L0 BDC {GROUND + KISS} EMC ", frozenset([Facet.LAYERS]), "All"),
    "drop-hidden": _layered(
        GROUND + HIDDEN + KISS, frozenset([Facet.NAMES, Facet.ART]), "Shown", "-Hidden", art_stays=False
    ),
    "show-hidden": _layered(
        GROUND + HIDDEN + KISS, frozenset([Facet.LAYERS, Facet.ART, Facet.LOOK]), "Shown", "-Hidden", art_stays=False
    ),
    "drop-active": Fault(
        GROUND + KISS, frozenset(), drawing={"catalog": "/OpenAction << /S /JavaScript /JS (app.alert\\(1\\)) >>"},
        anywhere=False,
    ),
    "to-cmyk": Fault(RGB + KISS, COLOUR, art_stays=False, anywhere=False),
    "recolour": Fault(
        GROUND + "/Z cs 0.4 scn 30 30 9 9 re f 0.8 scn 50 50 9 9 re f " + KISS, COLOUR, {"ink": "Gold", "to": "White"},
        {"K": "Kiss Cut", "Z": "Gold"}, art_stays=False, anywhere=False,
    ),
    "spot-to-process": Fault(
        GROUND + "/Z cs 0.4 scn 30 30 9 9 re f 0.8 scn 50 50 9 9 re f " + KISS, COLOUR - {Facet.LOOK}, {"ink": "Gold"},
        {"K": "Kiss Cut", "Z": "Gold"}, art_stays=False, anywhere=False,
    ),
    "knock-out-white": Fault(
        GROUND + "/Over gs 0 0 0 0 k 40 40 20 20 re f " + KISS, frozenset([Facet.ART]), art_stays=False, anywhere=False,
    ),
    "white-overprint": Fault(
        "/W cs 1 scn 10 10 80 80 re f " + GROUND + KISS, frozenset([Facet.ART]), {}, {"K": "Kiss Cut", "W": "White"},
        art_stays=False, anywhere=False,
    ),
    "registration-to-black": Fault(
        **_pair("ink.registration"), facets=COLOUR, art_stays=False, anywhere=False,
    ),
    "text-to-black": Fault(
        **_pair("ink.rich-black-text"), facets=frozenset([Facet.ART, Facet.LOOK]), may=frozenset([Facet.NAMES]),
        art_stays=False, anywhere=False,
    ),
    "text-to-outlines": Fault(
        GROUND + "0 0 0 1 k BT /F 9 Tf 30 50 Td (Aegis) Tj ET " + KISS, frozenset([Facet.ART]),
        drawing=LETTERS, may=frozenset([Facet.LOOK]), art_stays=False, anywhere=False,
    ),
    "line-text-to-outlines": Fault(
        GROUND + "/Over gs /K cs 1 scn BT /F 20 Tf 20 45 Td (Oo) Tj ET ", frozenset([Facet.GEOMETRY]),
        drawing=LETTERS, may=frozenset([Facet.PAINT, Facet.LAYERS, Facet.ART]), art_stays=False, anywhere=False,
    ),
    "strokes-to-outlines": Fault(
        GROUND + "0 1 0 0 K 2 w 1 J [5 3] 0 d 20 20 m 60 40 l 70 70 l S " + KISS, frozenset([Facet.ART]),
        may=frozenset([Facet.LOOK, Facet.NAMES]), art_stays=False, anywhere=False,
    ),
    "extend-bleed": Fault(
        f"1 0 0.3 0 k {circle(50, 50, 41)} f " + KISS, frozenset([Facet.ART, Facet.LOOK]), may=frozenset([Facet.NAMES]),
        art_stays=False, anywhere=False,
    ),
    "take-out": Fault(
        "0 1 1 0 k 30 30 10 10 re f " + GROUND + KISS, frozenset([Facet.ART]), {"at": [[20, 20], [30, 30]]},
        may=frozenset([Facet.NAMES, Facet.LOOK]), art_stays=False, anywhere=False,
    ),
    "spread": Fault(
        f"1 0 0.3 0 k {circle(50, 50, 40)} f " + KISS, frozenset([Facet.ART, Facet.LOOK]), art_stays=False,
        anywhere=False,
    ),
    "pull-in": Fault(GROUND + KISS, SHAPE, {"distance_mm": 1}, anywhere=False),
    "clear-ground": Fault(
        on_ground("10000000"), frozenset([Facet.ART, Facet.LOOK]), drawing={"trim": (0, 0, 100, 100)}, art_stays=False,
        anywhere=False,
    ),
    "choke-white": Fault(
        **_pair("white.choke"), facets=frozenset([Facet.ART]), may=frozenset([Facet.LOOK]), art_stays=False,
        anywhere=False,
    ),
    "set-boxes": Fault(
        GROUND + KISS, ALL, drawing={"trim": None, "bleed": None}, art_stays=False, anywhere=False
    ),
    "fit-page": Fault(GROUND + KISS, frozenset([Facet.BOXES]), may=ALL | {Facet.LOOK}, art_stays=False,
                      anywhere=False),
    "scale": Fault(GROUND + KISS, ALL | {Facet.LOOK}, {"ratio": 2}, art_stays=False, anywhere=False),
    "mirror": Fault(
        GROUND + KISS + "0 0 1 0 k 20 20 9 9 re f ", frozenset([Facet.GEOMETRY, Facet.ART, Facet.LOOK]),
        art_stays=False, anywhere=False, may=frozenset([Facet.LAYERS, Facet.PAINT, Facet.BOXES]),
    ),
    "limit-ink": Fault(
        GROUND + "1 0.9 0.9 0.8 k 20 20 30 30 re f 0.2 0 0 1 k 60 20 9 9 re f " + KISS, COLOUR - {Facet.NAMES},
        art_stays=False, anywhere=False, may=frozenset([Facet.NAMES]),
    ),
    "make-lines": Fault(
        GROUND, frozenset([Facet.GEOMETRY, Facet.NAMES, Facet.LAYERS]),
        {"make": {"lines": [{"role": "kiss-cut", "offset_mm": -2}]}}, may=frozenset([Facet.PAINT]), anywhere=False,
    ),
    "build-white": Fault(
        GROUND + KISS, frozenset([Facet.ART, Facet.LOOK, Facet.NAMES]), may=frozenset([Facet.LAYERS]), art_stays=False,
        anywhere=False,
    ),
    "flatten": Fault(
        GROUND + "q /Half gs 0 1 0 0 k 30 30 30 30 re f Q q /Half gs 0 0 1 0 k 40 40 9 9 re 12 12 9 9 re B Q " + KISS,
        frozenset([Facet.ART, Facet.LOOK]), may=frozenset([Facet.NAMES]), art_stays=False, anywhere=False,
    ),
    "resample": Fault(
        GROUND + "q 10 0 0 10 40 40 cm /P Do Q " + KISS, frozenset([Facet.ART]), may=frozenset([Facet.LOOK]),
        drawing=PICTURE, art_stays=False, anywhere=False,
    ),
    "turn": Fault(GROUND + KISS, ALL, art_stays=False, anywhere=False, may=frozenset([Facet.LOOK])),
}
