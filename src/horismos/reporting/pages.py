"""Letters and reports as PDF: paragraphs, pictures and figures on A4, in the fonts of the house."""

import io
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from typing import Any
from xml.sax.saxutils import escape

from PIL import Image as PilImage
from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.platypus import Image, KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table

from horismos import palette
from horismos.rendering.composite import Pixels

__all__ = ["INK", "QUIET", "card", "figures", "heading", "made_pdf", "paragraph", "small", "styles"]

FONTS = Path(__file__).parent / "fonts"
INK, QUIET, STOP = HexColor(palette.INK), HexColor("#5A5A5A"), HexColor(palette.STOP)
PICTURE_MM = 62.0
TEXT_MM = 170.0
rl_config.useA85 = 0
"""Pictures as bytes: as text they are a quarter larger, and packed slowly."""


@cache
def styles() -> dict[str, ParagraphStyle]:
    """The styles of paragraphs by name, in the fonts of the house."""
    for name, file in (("Next", "Next-Regular"), ("Next-Bold", "Next-Bold"), ("Mono", "Mono-Regular")):
        pdfmetrics.registerFont(TTFont(name, FONTS / f"{file}.ttf"))
    pdfmetrics.registerFontFamily("Next", normal="Next", bold="Next-Bold", italic="Next", boldItalic="Next-Bold")
    plain = ParagraphStyle("plain", fontName="Next", fontSize=10, leading=14, textColor=INK, spaceAfter=4)
    return {
        "plain": plain,
        "heading": ParagraphStyle("heading", plain, fontName="Next-Bold", fontSize=16, leading=20, spaceAfter=6),
        "sub": ParagraphStyle("sub", plain, fontName="Next-Bold", fontSize=12, leading=16, spaceBefore=8),
        "small": ParagraphStyle("small", plain, fontSize=8.5, leading=11.5, textColor=QUIET),
        "mono": ParagraphStyle("mono", plain, fontName="Mono", fontSize=9, leading=12),
        "stop": ParagraphStyle("stop", plain, fontName="Next-Bold", textColor=STOP),
    }


def paragraph(text: str, style: str = "plain") -> Any:
    """A paragraph; line breaks are kept, nothing in the text is taken for markup."""
    return Paragraph(escape(text).replace("\n", "<br/>"), styles()[style])


def heading(text: str, sub: bool = False) -> Any:
    """A heading."""
    return paragraph(text, "sub" if sub else "heading")


def small(text: str) -> Any:
    """A quiet remark."""
    return paragraph(text, "small")


def figures(rows: Sequence[tuple[str, str]]) -> Any:
    """Words with their figures, in two columns."""
    table = Table(
        [[small(words), paragraph(value)] for words, value in rows],
        colWidths=[42 * mm, (TEXT_MM - 42) * mm], hAlign="LEFT",
    )
    table.setStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0),
                    ("TOPPADDING", (0, 0), (-1, -1), 1), ("BOTTOMPADDING", (0, 0), (-1, -1), 0)])
    return table


def card(picture: Pixels | None, parts: Sequence[Any]) -> Any:
    """A picture with paragraphs beside it, kept on one page."""
    if picture is None:
        return KeepTogether([*parts, Spacer(1, 3 * mm)])
    out = io.BytesIO()
    PilImage.fromarray(picture).save(out, "PNG")
    out.seek(0)
    shown = Image(out, PICTURE_MM * mm, PICTURE_MM * mm * picture.shape[0] / picture.shape[1])
    table = Table([[shown, list(parts)]], colWidths=[(PICTURE_MM + 5) * mm, (TEXT_MM - PICTURE_MM - 5) * mm])
    table.setStyle([("VALIGN", (0, 0), (-1, -1), "TOP"), ("LEFTPADDING", (0, 0), (-1, -1), 0),
                    ("TOPPADDING", (0, 0), (-1, -1), 3), ("BOTTOMPADDING", (0, 0), (-1, -1), 3)])
    return KeepTogether([table])


def made_pdf(title: str, foot: str, parts: Sequence[Any]) -> bytes:
    """A PDF of parts, one under the other, with page numbers and a line at the foot; the same for the same parts."""
    styles()
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=20 * mm, rightMargin=20 * mm, topMargin=20 * mm, bottomMargin=20 * mm,
        title=title, creator="Horismos", invariant=1,
    )

    def footer(canvas: Any, page: Any) -> None:
        canvas.setFont("Next", 8)
        canvas.setFillColor(QUIET)
        canvas.drawString(20 * mm, 12 * mm, foot)
        canvas.drawRightString(A4[0] - 20 * mm, 12 * mm, f"page {page.page}")

    document.build(list(parts), onFirstPage=footer, onLaterPages=footer)
    return out.getvalue()
