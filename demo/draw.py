"""Draws the demo artwork: everything in it is made up.

*Tern & Tideway*, a print room, works for the *Saltmarsh Trust*'s visitor centre.
"""

import io
import math
from collections.abc import Callable
from pathlib import Path

import numpy as np
from fontTools.pens.qu2cuPen import Qu2CuPen
from fontTools.pens.recordingPen import DecomposingRecordingPen, RecordingPen
from fontTools.ttLib import TTFont as FontFile
from PIL import Image, ImageFilter
from reportlab import rl_config
from reportlab.lib.colors import CMYKColor, CMYKColorSep
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont
from reportlab.pdfgen.canvas import Canvas

from horismos import reporting

FONTS = Path(reporting.__file__).parent / "fonts"
PLAIN, BOLD = "Next-Regular", "Next-Bold"
for name in (PLAIN, BOLD):
    pdfmetrics.registerFont(TTFont(name, FONTS / f"{name}.ttf"))

rl_config.useA85 = 0
"""Pictures as bytes: as text they are packed slowly."""
Curve = list[tuple[float, ...]]

WADER: Curve = [
    (-62, 8), (-40, 12, -30, 16, -24, 18), (-20, 27, -8, 29, -3, 22), (6, 12, 22, 14, 40, 6),
    (52, 1, 62, -2, 70, -8), (58, -8, 50, -10, 42, -12), (30, -20, 8, -24, -6, -16),
    (-16, -10, -18, 2, -22, 12), (-30, 13, -42, 10, -62, 8),
]
"""A long-billed bird, facing left; mm about its middle."""
TERN: Curve = [
    (-34, 2), (-24, 6, -16, 9, -10, 8), (2, 22, 18, 34, 38, 38), (28, 26, 20, 14, 14, 6),
    (22, 2, 32, -4, 44, -12), (32, -8, 22, -6, 12, -5), (4, -14, -4, -28, -18, -36),
    (-14, -24, -13, -12, -12, -2), (-20, -3, -28, 0, -34, 2),
]


def curve(canvas: Canvas, points: Curve, x: float, y: float, size: float, line: bool = False) -> None:
    """Fill a closed curve, or draw a line along it."""
    path = canvas.beginPath()
    path.moveTo(x + points[0][0] * size * mm, y + points[0][1] * size * mm)
    for p in points[1:]:
        if len(p) == 2:
            path.lineTo(x + p[0] * size * mm, y + p[1] * size * mm)
        else:
            flat = [(x if i % 2 == 0 else y) + v * size * mm for i, v in enumerate(p)]
            path.curveTo(*flat)
    path.close()
    canvas.drawPath(path, stroke=line, fill=not line)


def lettered(
    canvas: Canvas, words: str, font: str, size: float, x: float, y: float, line: bool = False
) -> None:
    """Words as the outlines of their letters, about the middle x, filled or drawn; size in points."""
    face = FontFile(FONTS / f"{font}.ttf")
    glyphs, known, k = face.getGlyphSet(), face.getBestCmap(), size / face["head"].unitsPerEm
    names = [known[ord(letter)] for letter in words]
    at = x - sum(glyphs[name].width for name in names) * k / 2
    path = canvas.beginPath()
    for name in names:
        whole, pen = DecomposingRecordingPen(glyphs), RecordingPen()
        glyphs[name].draw(whole)
        whole.replay(Qu2CuPen(pen, 1.0, all_cubic=True))
        for verb, points in pen.value:
            flat = [v for px, py in points for v in (at + px * k, y + py * k)]
            {"moveTo": path.moveTo, "lineTo": path.lineTo, "curveTo": path.curveTo}.get(verb, lambda *_: path.close())(
                *flat
            )
        at += glyphs[name].width * k
    canvas.drawPath(path, stroke=line, fill=not line)


def shore(width: int, height: int) -> Image.Image:
    """A picture of a mudflat at dusk, RGB, as a camera would send it."""
    rng = np.random.default_rng(7)
    y = np.linspace(0, 1, height)[:, None]
    x = np.linspace(0, 1, width)[None, :]
    sky = np.stack([242 - 70 * y + 0 * x, 196 - 30 * y + 0 * x, 150 + 40 * y + 0 * x], axis=-1)
    wave = 0.55 + 0.03 * np.sin(9 * x) + 0.012 * np.sin(31 * x + 1)
    mud = np.stack([96 - 40 * y + 12 * np.sin(60 * y + 8 * x), 92 - 30 * y + 10 * np.sin(60 * y + 8 * x),
                    96 - 10 * y + 14 * np.sin(60 * y + 8 * x)], axis=-1)
    image = np.where((y > wave)[..., None], mud, sky)
    ripples = 0.5 + 0.5 * np.sin(240 * y + 6 * np.sin(20 * x))
    shine = np.exp(-((x - 0.62) ** 2) / 0.02) * (y > wave) * ripples
    image += shine[..., None] * np.array([120, 90, 50])
    image += rng.normal(0, 5, image.shape)
    pixels = Image.fromarray(np.clip(image, 0, 255).astype(np.uint8))
    return pixels.filter(ImageFilter.GaussianBlur(1.2))


def page(canvas: Canvas, width: float, height: float, bleed: float) -> None:
    """Trim and bleed boxes; the drawing's origin is the trim's lower left corner."""
    box = (bleed * mm, bleed * mm, (width + bleed) * mm, (height + bleed) * mm)
    canvas.setTrimBox(box)
    canvas.setBleedBox((0, 0, (width + 2 * bleed) * mm, (height + 2 * bleed) * mm))
    canvas.translate(bleed * mm, bleed * mm)


def line(canvas: Canvas, name: str, cmyk: tuple[float, float, float, float], overprint: bool,
         width: float, draw: Callable[[], None]) -> None:
    """A line in a spot ink."""
    canvas.saveState()
    canvas.setStrokeColor(CMYKColorSep(*cmyk, spotName=name))
    canvas.setLineWidth(width)
    canvas.setStrokeOverprint(overprint)
    canvas.setFillOverprint(overprint)
    canvas.setOverprintMask(overprint)
    draw()
    canvas.restoreState()


def wader_trail() -> bytes:
    """Job 1: a round floor graphic with names one letter off, an RGB photo and short bleed."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(320 * mm, 320 * mm), invariant=1)
    canvas.setTitle("Wader trail")
    page(canvas, 310, 310, 5)
    cx = cy = 155 * mm
    canvas.saveState()
    clip = canvas.beginPath()
    clip.circle(cx, cy, 151.2 * mm)
    canvas.clipPath(clip, stroke=0, fill=0)
    canvas.drawImage(ImageReader(shore(1300, 1300)), 3 * mm, 3 * mm, 304 * mm, 304 * mm)
    canvas.restoreState()
    canvas.setFillColor(CMYKColor(0.6, 0.4, 0.3, 0.75))
    curve(canvas, WADER, cx, cy + 6 * mm, 1.25)
    canvas.setStrokeColor(CMYKColor(0.6, 0.4, 0.3, 0.75))
    canvas.setLineWidth(2.6 * mm)
    canvas.setLineCap(1)
    for dx, foot in ((2, 10), (14, 24)):
        canvas.line(cx + dx * mm, cy - 12 * mm, cx + (dx + 4) * mm, cy - 48 * mm)
        canvas.line(cx + (dx + 4) * mm, cy - 48 * mm, cx + foot * mm - 14 * mm, cy - 52 * mm)
    canvas.setFillColor(CMYKColor(0, 0, 0, 0))
    lettered(canvas, "WADER TRAIL", BOLD, 46, cx, cy + 88 * mm)
    lettered(canvas, "Follow the curlew to the hide", PLAIN, 22, cx, cy - 92 * mm)
    for step in range(6):
        angle = math.radians(215 + step * 22)
        x, y = cx + 122 * mm * math.cos(angle), cy + 122 * mm * math.sin(angle)
        canvas.setFillColor(CMYKColor(0.05, 0.25, 0.75, 0))
        canvas.circle(x, y, 5 * mm, stroke=0, fill=1)
    line(canvas, "Kis Cut", (0, 1, 0, 0), False, 0.25, lambda: canvas.circle(cx, cy, 150 * mm))
    line(canvas, "Trough-cut", (1, 0, 0, 0), False, 1.0, lambda: canvas.circle(cx, cy, 154.5 * mm))
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def tern_stickers(corrected: bool = False) -> bytes:
    """Job 7: a door sticker that is clean and ready; ``corrected``, with another sun and its kiss cut moved inwards."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(110 * mm, 110 * mm), invariant=1)
    canvas.setTitle("Tern door stickers")
    page(canvas, 102, 102, 4)
    cx = cy = 51 * mm
    canvas.setFillColor(CMYKColor(0.75, 0.25, 0.15, 0))
    canvas.circle(cx, cy, 48.5 * mm, stroke=0, fill=1)
    canvas.saveState()
    clip = canvas.beginPath()
    clip.circle(cx, cy, 48.5 * mm)
    canvas.clipPath(clip, stroke=0, fill=0)
    for i, tone in enumerate((0.35, 0.55, 0.8)):
        path = canvas.beginPath()
        base = (26 - 11 * i) * mm
        path.moveTo(-5 * mm, base)
        for k in range(6):
            x = (-5 + k * 20) * mm
            path.curveTo(x + 6 * mm, base + 6 * mm, x + 14 * mm, base - 6 * mm, x + 20 * mm, base)
        path.lineTo(120 * mm, -10 * mm)
        path.lineTo(-5 * mm, -10 * mm)
        path.close()
        canvas.setFillColor(CMYKColor(0.9, tone, 0.3, 0.15 + 0.2 * i))
        canvas.drawPath(path, stroke=0, fill=1)
    canvas.setFillColor(CMYKColor(0, 0.18, 0.75, 0))
    canvas.circle(cx + (24 if corrected else 20) * mm, cy + 20 * mm, (6 if corrected else 9) * mm, stroke=0, fill=1)
    canvas.restoreState()
    canvas.setFillColor(CMYKColor(0.02, 0.02, 0.04, 0))
    curve(canvas, TERN, cx - 2 * mm, cy + 2 * mm, 0.78)
    canvas.setFillColor(CMYKColor(0.6, 0.5, 0.4, 0.9))
    cap: Curve = [(-34, 2), (-28, 6, -20, 9, -14, 8.4), (-16, 5, -20, 3, -34, 2)]
    curve(canvas, cap, cx - 2 * mm, cy + 2 * mm, 0.78)
    line(canvas, "Kiss Cut", (0, 1, 0, 0), True, 0.25, lambda: canvas.circle(cx, cy, (44.6 if corrected else 45) * mm))
    line(canvas, "Through Cut", (1, 0, 0, 0), True, 0.25, lambda: canvas.rect(0, 0, 102 * mm, 102 * mm))
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def seed_seals() -> bytes:
    """Job 3: a small perforated sheet of seals: one left open, one drawn twice in part, one a star with sharp tips."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(126 * mm, 90 * mm), invariant=1)
    canvas.setTitle("Seed packet seals")
    page(canvas, 120, 84, 3)
    tones = ((0.6, 0, 0.8, 0.1), (0, 0.35, 0.9, 0), (0.1, 0.8, 0.5, 0), (0.7, 0.5, 0, 0),
             (0.3, 0, 0.9, 0.2), (0, 0.6, 0.8, 0.05))
    centres = [(20 + 40 * (i % 3), 22 + 40 * (i // 3)) for i in range(6)]
    for (x, y), tone in zip(centres, tones, strict=True):
        canvas.setFillColor(CMYKColor(*tone))
        canvas.circle(x * mm, y * mm, 18.5 * mm, stroke=0, fill=1)
        canvas.setFillColor(CMYKColor(0, 0, 0.1, 0))
        for k in range(7):
            canvas.saveState()
            canvas.translate(x * mm, y * mm)
            canvas.rotate(k * 360 / 7)
            canvas.ellipse(-2.2 * mm, 3 * mm, 2.2 * mm, 12 * mm, stroke=0, fill=1)
            canvas.restoreState()

    def seals() -> None:
        for x, y in (centres[0], *centres[2:5]):
            canvas.circle(x * mm, y * mm, 15.4 * mm)
        x, y = centres[1]
        star = canvas.beginPath()
        for k in range(18):
            r, angle = (15.4 if k % 2 == 0 else 9) * mm, math.radians(90 + 20 * k)
            (star.lineTo if k else star.moveTo)(x * mm + r * math.cos(angle), y * mm + r * math.sin(angle))
        star.close()
        canvas.drawPath(star)
        x, y = centres[3]
        canvas.arc((x - 15.4) * mm, (y - 15.4) * mm, (x + 15.4) * mm, (y + 15.4) * mm, 20, 55)
        x, y = centres[5]
        canvas.arc((x - 15.4) * mm, (y - 15.4) * mm, (x + 15.4) * mm, (y + 15.4) * mm, 0, 356)

    line(canvas, "Kiss Cut", (0, 1, 0, 0), True, 0.25, seals)
    line(canvas, "Perforation", (0.5, 1, 0, 0), True, 0.25,
         lambda: canvas.roundRect(1 * mm, 1 * mm, 118 * mm, 82 * mm, 4 * mm))
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def warden_badge() -> bytes:
    """Job 5: a badge as a transparent picture without a resolution; its cut line has to be made."""
    side = 1400
    y, x = np.mgrid[0:side, 0:side]
    u, v = (x - side / 2) / (side / 2), (side / 2 - y) / (side / 2)
    radius = np.hypot(u, v)
    angle = np.arctan2(v, u)
    rim = 0.9 + 0.045 * np.cos(14 * angle)
    pixels = np.zeros((side, side, 4), np.float32)

    def lay(mask: np.ndarray, colour: tuple[int, int, int]) -> None:
        pixels[mask, :3] = colour
        pixels[mask, 3] = 255

    lay(radius < rim, (32, 92, 84))
    lay((radius < rim - 0.06) & (radius > rim - 0.085), (238, 226, 190))
    inner = radius < 0.72
    lay(inner, (246, 214, 140))
    lay(inner & (v < -0.05 + 0.05 * np.sin(9 * u)), (70, 138, 150))
    lay(inner & (v < -0.28 + 0.04 * np.sin(11 * u + 1)), (44, 98, 120))
    lay(inner & (np.hypot(u - 0.3, v - 0.32) < 0.15), (224, 108, 64))
    body = ((u + 0.08) / 0.34) ** 2 + ((v + 0.02) / 0.17) ** 2 < 1
    head = np.hypot(u + 0.36, v - 0.2) < 0.11
    neck = np.abs(u + 0.3 - 0.35 * (0.2 - v) * 0.3) + np.abs(v - 0.09) * 0.5 < 0.1
    bill = (u < -0.44) & (u > -0.66) & (np.abs(v - 0.19 + 0.18 * (u + 0.44) ** 2) < 0.022 + 0.05 * (u + 0.66) * 0.5)
    legs = ((np.abs(u + 0.02) < 0.014) | (np.abs(u + 0.13) < 0.014)) & (v < -0.1) & (v > -0.46)
    lay(legs | bill, (150, 66, 40))
    lay(body | head | neck, (250, 248, 240))
    lay(((u - 0.12) / 0.24) ** 2 + ((v + 0.03) / 0.11) ** 2 < 1, (88, 92, 100))
    lay(np.hypot(u + 0.39, v - 0.23) < 0.017, (20, 20, 24))
    soft = Image.fromarray(pixels.astype(np.uint8)).resize((side // 2, side // 2), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    soft.save(out, "PNG")
    return out.getvalue()


def boardwalk_panel() -> bytes:
    """Job 4: a long panel for outdoors, drawn at 1:10, with a back cut."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(252 * mm, 82 * mm), invariant=1)
    canvas.setTitle("Boardwalk panels")
    page(canvas, 240, 70, 6)
    canvas.setFillColor(CMYKColor(0.35, 0.05, 0.12, 0))
    canvas.rect(-2 * mm, -2 * mm, 244 * mm, 74 * mm, stroke=0, fill=1)
    for i, (tone, base) in enumerate(((0.25, 34), (0.45, 26), (0.7, 17), (0.9, 8))):
        path = canvas.beginPath()
        path.moveTo(-2 * mm, base * mm)
        for k in range(6):
            x = (-2 + 41 * k) * mm
            path.curveTo(x + 12 * mm, (base + 7 - i) * mm, x + 28 * mm, (base - 6 + i) * mm, x + 41 * mm, base * mm)
        path.lineTo(244 * mm, -2 * mm)
        path.lineTo(-2 * mm, -2 * mm)
        path.close()
        canvas.setFillColor(CMYKColor(0.8, 0.3, 0.6 - 0.1 * i, tone * 0.6))
        canvas.drawPath(path, stroke=0, fill=1)
    canvas.setFillColor(CMYKColor(0, 0.12, 0.5, 0))
    canvas.circle(204 * mm, 52 * mm, 8 * mm, stroke=0, fill=1)
    canvas.setFillColor(CMYKColor(0.02, 0.02, 0.05, 0))
    for x, y, size in ((60, 50, 0.28), (88, 57, 0.2), (109, 51, 0.16), (36, 56, 0.14)):
        curve(canvas, TERN, x * mm, y * mm, size)
    canvas.setFont(BOLD, 30)
    canvas.drawString(112 * mm, 17 * mm, "Boardwalk to the hide")
    canvas.setFont(PLAIN, 13)
    canvas.drawString(112 * mm, 9 * mm, "650 m, level, benches every 100 m")
    line(canvas, "Through Cut", (1, 0, 0, 0), True, 0.25, lambda: canvas.roundRect(0, 0, 240 * mm, 70 * mm, 6 * mm))
    line(canvas, "Back Cut", (0.5, 0, 1, 0), True, 0.25, lambda: canvas.line(-3 * mm, 35 * mm, 243 * mm, 35 * mm))
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def tide_clock() -> bytes:
    """Job 2: a clock face on clear film, looked at through glass; its white is larger than the colour in places."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(250 * mm, 250 * mm), invariant=1)
    canvas.setTitle("Tide clock")
    page(canvas, 240, 240, 5)
    cx = cy = 120 * mm
    canvas.setFillColor(CMYKColor(0.8, 0.42, 0.25, 0.2))
    canvas.circle(cx, cy, 104 * mm, stroke=0, fill=1)
    for i, (reach, tone) in enumerate(((92, 0.35), (78, 0.2), (63, 0.1))):
        path = canvas.beginPath()
        for k in range(145):
            angle = math.radians(2.5 * k)
            r = (reach + (3.2 - 0.6 * i) * math.sin(12 * angle + i)) * mm
            (path.lineTo if k else path.moveTo)(cx + r * math.cos(angle), cy + r * math.sin(angle))
        path.close()
        canvas.setFillColor(CMYKColor(0.7 - 0.18 * i, tone, 0.22, 0.05))
        canvas.drawPath(path, stroke=0, fill=1)
    canvas.setFillColor(CMYKColor(0, 0.08, 0.3, 0))
    canvas.circle(cx, cy, 46 * mm, stroke=0, fill=1)
    canvas.setFillColor(CMYKColor(0.7, 0.4, 0.2, 0.35))
    curve(canvas, WADER, cx, cy + 5 * mm, 0.5)
    canvas.setFont(BOLD, 21)
    canvas.drawCentredString(cx, cy - 24 * mm, "TIDE CLOCK")
    for hour in range(12):
        angle = math.radians(90 - 30 * hour)
        canvas.setFillColor(CMYKColor(0, 0.3, 0.85, 0) if hour % 6 == 0 else CMYKColor(0.02, 0.02, 0.08, 0))
        x, y = cx + 97 * mm * math.cos(angle), cy + 97 * mm * math.sin(angle)
        canvas.circle(x, y, (3.6 if hour % 3 == 0 else 2.2) * mm, stroke=0, fill=1)
    canvas.setFillColor(CMYKColor(0.02, 0.02, 0.08, 0))
    canvas.setFont(BOLD, 26)
    canvas.drawCentredString(cx, cy + 74 * mm, "HIGH")
    canvas.drawCentredString(cx, cy - 81 * mm, "LOW")
    canvas.saveState()
    canvas.setFillColor(CMYKColorSep(0.1, 0, 0.03, 0, spotName="White"))
    canvas.setFillOverprint(True)
    canvas.setOverprintMask(True)
    path = canvas.beginPath()
    for k in range(361):
        angle = math.radians(k)
        # pulled in under the colour but for the lower right, where it was drawn off its place
        r = (103.7 + 0.7 * max(0.0, math.cos(angle + math.radians(40))) ** 2) * mm
        (path.lineTo if k else path.moveTo)(cx + r * math.cos(angle), cy + r * math.sin(angle))
    path.close()
    canvas.drawPath(path, stroke=0, fill=1)
    canvas.restoreState()
    line(canvas, "Through Cut", (1, 0, 0, 0), True, 0.25, lambda: canvas.circle(cx, cy, 112 * mm))
    canvas.showPage()
    canvas.save()
    return out.getvalue()


def tabard_emblem() -> bytes:
    """Job 6: a word and a bird for stacked fabrics; their cut is a hairline in an ordinary green, on their edges."""
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(200 * mm, 150 * mm), invariant=1)
    canvas.setTitle("Volunteer tabards")
    page(canvas, 190, 140, 5)
    middle, word = 95 * mm, (30 * mm, 88)
    canvas.setFillColor(CMYKColor(0.85, 0.6, 0.25, 0.45))
    lettered(canvas, "VOLUNTEER", BOLD, word[1], middle, word[0])
    canvas.setFillColor(CMYKColor(0.7, 0.25, 0.35, 0.1))
    curve(canvas, TERN, middle - 4 * mm, 89 * mm, 0.85)
    canvas.setStrokeColor(CMYKColor(0.8, 0, 1, 0))
    canvas.setLineWidth(0.25)
    lettered(canvas, "VOLUNTEER", BOLD, word[1], middle, word[0], line=True)
    curve(canvas, TERN, middle - 4 * mm, 89 * mm, 0.85, line=True)
    canvas.showPage()
    canvas.save()
    return out.getvalue()
