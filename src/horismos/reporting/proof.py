"""A proof to sign: the art with each line as it will be cut, sizes in words, what was changed, and a place to sign."""

import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from PIL import Image
from reportlab.lib.colors import HexColor, white
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.platypus import Flowable

from horismos.artwork.lines import Line
from horismos.paths import flatten, length
from horismos.paths.box import Bounds
from horismos.rendering.composite import Pixels
from horismos.reporting.pages import TEXT_MM, card, figures, heading, made_pdf, paragraph, small
from horismos.reporting.proof_texts import DOES, length_in_words, say
from horismos.roles import LineRole, StrokeShape
from horismos.words import plural

__all__ = ["PROOF_PPI", "Proof", "proof_pdf"]

PROOF_PPI = 200.0
"""[ours] what a picture of the art is drawn at, where it is no larger than the paper."""
HIGH_MM = 120.0
STROKE_PT = 1.1
FLATNESS_MM = 0.05


@dataclass(frozen=True, kw_only=True)
class Proof:
    """What a proof shows: ``art`` is the picture of ``area`` in mm from the lower left of the trim, ``changed`` what
    was done to the file, in sentences. ``ties`` are cut and tie of a perforation, in mm.
    """

    job: str
    customer: str
    file_name: str
    revision: int
    sha256: str
    size_mm: tuple[float, float]
    quantity: int
    material: str
    seen: str
    art: Pixels
    area: Bounds
    trim_mm: Bounds
    lines: Sequence[Line]
    missing: tuple[LineRole, ...]
    changed: Sequence[str]
    ties: tuple[float, float] | None


def proof_pdf(proof: Proof) -> bytes:
    """The proof on A4; the same for the same proof."""
    drawn = _Drawn(proof)
    w, h = proof.size_mm
    size = say(
        "size of", w=_plain(w), h=_plain(h), wide=length_in_words(w), high=length_in_words(h)
    )
    rows = [
        (say("customer"), proof.customer or say("no customer")), (say("file"), proof.file_name), (say("size"), size),
        (say("pieces"), str(proof.quantity)), (say("material"), proof.material), (say("seen"), proof.seen),
    ]
    parts: list[Any] = [
        heading(say("title", job=proof.job)), paragraph(say("opening")), figures(rows), drawn,
        small(say("scale", percent=f"{drawn.scale * 100:.0f}")), heading(say("lines"), sub=True),
        *_lines(proof), heading(say("changed"), sub=True),
        *([paragraph(f"– {one}") for one in proof.changed] or [paragraph(say("unchanged"))]),
        card(None, [heading(say("sign"), sub=True), _Signed()]),
    ]
    foot = say("foot", job=proof.job, revision=proof.revision, print=proof.sha256[:16])
    return made_pdf(say("document", job=proof.job), foot, parts)


def _plain(value: float) -> str:
    return f"{value:.1f}".removesuffix(".0")


def _lines(proof: Proof) -> list[Any]:
    """Each line with a stroke as it is drawn, its name, and what it does."""
    of: dict[tuple[LineRole, str], list[Line]] = {}
    for line in proof.lines:
        if line.role is not None:
            of.setdefault((line.role, line.ink), []).append(line)
    out: list[Any] = []
    for (role, ink), lines in of.items():
        contours = [contour for line in lines for contour in line.contours]
        words = say(
            "line", role=role.words[0].upper() + role.words[1:], ink=ink, does=DOES[role],
            contours=plural(len(contours), "contour"), long=f"{sum(map(length, contours)):.0f}",
        )
        if role is LineRole.PERFORATION and proof.ties:
            words += say("ties", cut=proof.ties[0], tie=proof.ties[1])
        out += [_Sample(role), paragraph(words)]
    if not out:
        out.append(paragraph(say("no lines")))
    if proof.missing:
        out.append(paragraph(say("ordered", roles=", ".join(role.words for role in proof.missing)), "stop"))
    return out


def _stroke(canvas: Any, role: LineRole, path: Any, ties: tuple[float, float] | None, scale: float) -> None:
    """A path as a role is drawn: dashes of a perforation as long as they are cut, where that can be seen."""
    shape, colour = role.facts.shape, HexColor(role.facts.colour)
    canvas.saveState()
    canvas.setStrokeColor(colour)
    canvas.setLineWidth(STROKE_PT * (2.6 if shape is StrokeShape.DOUBLE else 1))
    if shape is StrokeShape.CUTS_AND_TIES:
        cut, tie = (max(1.2, side * mm * scale) for side in (ties or (3.0, 1.0)))
        canvas.setDash([cut, tie])
    elif shape is StrokeShape.DOTTED:
        canvas.setLineCap(1)
        canvas.setDash([0.1, 3])
    elif shape is StrokeShape.DASH_DOT:
        canvas.setDash([6, 2, 1, 2])
    canvas.drawPath(path, stroke=1, fill=0)
    if shape is StrokeShape.DOUBLE:
        canvas.setStrokeColor(white)
        canvas.setLineWidth(STROKE_PT * 0.8)
        canvas.drawPath(path, stroke=1, fill=0)
    canvas.restoreState()


class _Sample(Flowable):  # type: ignore[misc]
    """A short stretch of a line, as it is drawn above."""

    def __init__(self, role: LineRole) -> None:
        super().__init__()
        self.role, self.width, self.height = role, 24 * mm, 2.5 * mm

    def draw(self) -> None:
        path = self.canv.beginPath()
        path.moveTo(0, 2)
        path.lineTo(self.width, 2)
        _stroke(self.canv, self.role, path, None, 1.0)


class _Drawn(Flowable):  # type: ignore[misc]
    """The art with the lines over it, as large as fits, at most at its own size."""

    def __init__(self, proof: Proof) -> None:
        super().__init__()
        self.proof = proof
        wide, high = proof.area[2] - proof.area[0], proof.area[3] - proof.area[1]
        self.scale = min(1.0, TEXT_MM / wide, HIGH_MM / high)
        self.width, self.height = wide * self.scale * mm, high * self.scale * mm + 3 * mm

    def draw(self) -> None:
        proof, canvas, k = self.proof, self.canv, self.scale * mm
        x0, y0, x1, y1 = proof.area
        held = io.BytesIO()
        Image.fromarray(proof.art).save(held, "PNG")
        held.seek(0)
        canvas.drawImage(ImageReader(held), 0, 0, (x1 - x0) * k, (y1 - y0) * k)
        canvas.setStrokeColor(HexColor("#9A9A9A"))
        canvas.setLineWidth(0.4)
        left, bottom, right, top = proof.trim_mm
        canvas.rect((left - x0) * k, (bottom - y0) * k, (right - left) * k, (top - bottom) * k)
        for line in proof.lines:
            if line.role is None:
                continue
            for contour in line.contours:
                points = flatten(contour, FLATNESS_MM)
                path = canvas.beginPath()
                path.moveTo((points[0][0] - x0) * k, (points[0][1] - y0) * k)
                for x, y in points[1:]:
                    path.lineTo((x - x0) * k, (y - y0) * k)
                if contour.closed:
                    path.close()
                _stroke(canvas, line.role, path, proof.ties, self.scale)


class _Signed(Flowable):  # type: ignore[misc]
    """Two boxes to tick, and lines for a name, a date and a signature."""

    def __init__(self) -> None:
        super().__init__()
        self.width, self.height = TEXT_MM * mm, 46 * mm

    def draw(self) -> None:
        canvas = self.canv
        canvas.setFont("Next", 10)
        for y, key in ((40, "yes"), (31, "no")):
            canvas.rect(0, y * mm, 4 * mm, 4 * mm)
            canvas.drawString(7 * mm, (y + 0.7) * mm, say(key))
        canvas.setLineWidth(0.5)
        canvas.line(7 * mm, 24 * mm, TEXT_MM * mm, 24 * mm)
        canvas.setFont("Next", 8.5)
        for x, wide, key in ((0, 60, "name"), (66, 34, "date"), (106, 64, "signature")):
            canvas.line(x * mm, 8 * mm, (x + wide) * mm, 8 * mm)
            canvas.drawString(x * mm, 4 * mm, say(key))
