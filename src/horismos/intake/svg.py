"""SVG into PDF: vectors through librsvg, measured against resvg; bound shapes become line inks.

Where the two renderers differ visibly the art comes in as pixels, drawn by resvg, and a note says so. The vectors
are there long before the measure is: whoever cannot wait takes them first, and asks for the measure beside.
"""

import contextlib
import copy
import io
import tempfile
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
import pikepdf
from pikepdf import Name
from PIL import Image

from horismos.artwork.boxes import boxes_of
from horismos.artwork.edit import save
from horismos.artwork.kinds import FileKind
from horismos.artwork.layering import add_layers, plain_layer, put_lines
from horismos.artwork.model import PathObject
from horismos.artwork.read import open_pdf, read_bytes
from horismos.destinations import Destination
from horismos.errors import CannotRead
from horismos.intake.answers import Answers
from horismos.intake.pages import state_boxes
from horismos.intake.picture import MOST_PIXELS
from horismos.intake.picture_pdf import pdf_of_pictures
from horismos.intake.pictures import pictures_of
from horismos.intake.svg_tree import LEAVES, SvgTree
from horismos.paths import Contour
from horismos.rendering import PageView
from horismos.rendering.composite import Pixels
from horismos.rendering.svg_crosscheck import differing_share, drawn_by_resvg
from horismos.roles import LineRole
from horismos.sandbox.aside import seconds_for
from horismos.sandbox.programs import run_limited
from horismos.units import MM_PER_INCH

__all__ = ["SvgTaken", "SvgWanted", "answered_size", "art_ppi", "pdf_from_svg", "render_difference_of"]

COMPARED_PIXELS = 600_000
AROUND = 2
SPAN = 2 * AROUND + 1
"""[ours] so many pages are looked at on each side for what lies beyond, and across."""
LOOKED_PX, LEAST_PX = 1_000, 4
FINER = (2, 4)
"""PDFium draws no stroke thinner than a pixel; drawn so much finer, thin strokes come out as pale as elsewhere."""
MOST_UNLIKE = 0.0005
"""[ours] a larger share of the picture that differs is seen."""
LINE_STYLE = (
    "fill:none !important;stroke:#000 !important;stroke-width:0.2 !important;stroke-dasharray:none !important;"
    "opacity:1 !important;stroke-opacity:1 !important;clip-path:none !important;mask:none !important;"
    "filter:none !important;marker:none !important"
)


@dataclass(frozen=True, eq=False)
class SvgWanted:
    """An SVG with what is to become of it: its finished size in mm and the shapes that are bound, by line role.

    None among the roles: left out altogether. ``ppi`` is the resolution of the art where it comes in as pixels.
    ``named`` are shapes of groups whose name says a cut, though nobody has bound them: they keep it as a layer.
    """

    tree: SvgTree
    size_mm: tuple[float, float]
    bound: Mapping[LineRole | None, Sequence[Any]]
    ppi: float
    named: Mapping[str, Sequence[Any]] = field(default_factory=dict)

    def part(self, elements: Sequence[Any]) -> bytes:
        """The file with some shapes alone, drawn as they are."""
        kept = {id(element) for element in elements}
        return _with_shapes(self._sized(), lambda element: id(element) in kept, None)

    def rest(self) -> list[Any] | None:
        """The shapes of the art below those that keep a name; None where some lie over them."""
        taken = {id(element) for elements in self.bound.values() for element in elements}
        named = {id(element) for elements in self.named.values() for element in elements}
        shapes = [e for e in self.tree.root.iter() if _is_shape(e) and id(e) not in taken]
        first = next((i for i, e in enumerate(shapes) if id(e) in named), len(shapes))
        return shapes[:first] if all(id(e) in named for e in shapes[first:]) else None

    def art(self) -> bytes:
        """The file without what is bound."""
        taken = {id(element) for elements in self.bound.values() for element in elements}
        return _with_shapes(self._sized(), lambda element: id(element) not in taken, None)

    def alone(self, role: LineRole) -> bytes:
        """The shapes of a role alone, as thin lines."""
        taken = {id(element) for element in self.bound[role]}
        return _with_shapes(self._sized(), lambda element: id(element) in taken, LINE_STYLE)

    def _sized(self) -> Any:
        self.tree.root.set("width", f"{self.size_mm[0]:.6f}mm")
        self.tree.root.set("height", f"{self.size_mm[1]:.6f}mm")
        return self.tree.root


@dataclass(frozen=True, eq=False)
class SvgTaken:
    """The PDF of an SVG. ``render_difference`` is the share of the picture in which the renderers differ."""

    pdf: bytes
    render_difference: float
    as_pixels: bool


def pdf_from_svg(wanted: SvgWanted, destination: Destination, render_difference: float | None = None) -> SvgTaken:
    """Convert at a finished size.

    ``render_difference`` is what ``share_unlike`` gives where it is known; None: it is measured now. Raises
    CannotRead or LimitExceeded.
    """
    art, size_mm = wanted.art(), wanted.size_mm
    vectors = None if render_difference else _whole(art)
    if render_difference is None:
        render_difference = render_difference_of(wanted, vectors)
    if vectors and not render_difference and wanted.named and (rest := wanted.rest()) is not None:
        vectors = _with_layers(_vectors(wanted.part(rest)), wanted)
    pdf = vectors if vectors and not render_difference else _pixels(art, size_mm, wanted.ppi)
    lines: dict[LineRole, list[Contour]] = {}
    for role in [r for r in wanted.bound if r is not None and wanted.bound[r]]:
        contours = _contours(_vectors(wanted.alone(role)))
        if contours:
            lines[role] = contours
    return SvgTaken(_finished(pdf, lines, destination), render_difference, bool(render_difference))


def render_difference_of(wanted: SvgWanted, vectors: bytes | None = None) -> float:
    """The share of the art, 0 to 1, in which the two renderers visibly differ; 0 where nobody would see it.

    ``vectors`` are those of the one, where they are there. Raises CannotRead or LimitExceeded.
    """
    art = wanted.art()
    share = _render_difference(vectors or _vectors(art), _witness(art, wanted.size_mm))
    return share if share > MOST_UNLIKE else 0.0


def _with_shapes(root: Any, stays: Callable[[Any], bool], style: str | None) -> bytes:
    """The file with only those shapes that stay; a style put on them and off what is round them."""
    from lxml import etree

    twin = copy.deepcopy(root)
    for old, new in zip(list(root.iter()), list(twin.iter()), strict=True):
        if not isinstance(old.tag, str):
            continue
        name = etree.QName(old).localname
        inside = any(
            etree.QName(parent).localname in ("defs", "symbol", "clipPath", "mask", "pattern", "marker")
            for parent in old.iterancestors()
        )
        if name in LEAVES and not inside:
            if not stays(old):
                new.getparent().remove(new)
            elif style:
                new.set("style", f"{new.get('style') or ''};{style}")
        elif style and name == "g":
            for key in ("opacity", "clip-path", "mask", "filter"):
                new.attrib.pop(key, None)
            new.set("style", f"{new.get('style') or ''};opacity:1;clip-path:none;mask:none;filter:none")
    out: bytes = etree.tostring(twin, encoding="utf-8", xml_declaration=True)
    return out


def _vectors(svg: bytes) -> bytes:
    with tempfile.TemporaryDirectory() as folder:
        here = Path(folder)
        (here / "in.svg").write_bytes(svg)
        run_limited(["rsvg-convert", "-f", "pdf", "-o", "out.pdf", "in.svg"], here, seconds_for(len(svg)))
        if not (here / "out.pdf").exists():
            raise CannotRead("The SVG could not be converted.", "Ask for a PDF.")
        return (here / "out.pdf").read_bytes()


def _whole(svg: bytes) -> bytes:
    """The vectors of an SVG with what lies beyond its page: the page shows less than is drawn."""
    wider = _wider(svg)
    if wider is None:
        return _vectors(svg)
    with open_pdf(_vectors(wider)) as pdf:
        page = pdf.pages[0]
        x0, y0, x1, y1 = (float(v) for v in page.mediabox)
        w, h = (x1 - x0) / SPAN, (y1 - y0) / SPAN
        page.contents_add(f"q 1 0 0 1 {-x0 - w * AROUND:.6f} {-y0 - h * AROUND:.6f} cm".encode(), prepend=True)
        page.contents_add(b"Q")
        page.mediabox = page.cropbox = pikepdf.Rectangle(0, 0, w, h)
        return save(pdf)


def _wider(svg: bytes) -> bytes | None:
    """The SVG on a page that reaches as far round it as it is wide and high; None where nothing is drawn there."""
    from lxml import etree

    root = etree.fromstring(svg)
    view = [float(v) for v in (root.get("viewBox") or "").replace(",", " ").split()]
    if len(view) != 4 or (root.get("preserveAspectRatio") or "").strip() == "none":
        return None
    x, y, w, h = view
    root.set("viewBox", f"{x - w * AROUND:.6f} {y - h * AROUND:.6f} {w * SPAN:.6f} {h * SPAN:.6f}")
    for side in ("width", "height"):
        root.set(side, f"{float((root.get(side) or '0mm').removesuffix('mm')) * SPAN:.6f}mm")
    wider: bytes = etree.tostring(root, encoding="utf-8", xml_declaration=True)
    with Image.open(io.BytesIO(drawn_by_resvg(wider, LOOKED_PX, clear=True))) as image:
        seen = np.asarray(image.convert("RGBA"))[:, :, 3] > 8
    rows, columns = (np.arange(n) * SPAN // n != AROUND for n in seen.shape)
    return wider if seen[rows].sum() + seen[:, columns].sum() >= LEAST_PX else None


def _witness(svg: bytes, size_mm: tuple[float, float]) -> Pixels:
    """Resvg's picture of an SVG, to compare with."""
    ratio = size_mm[0] / size_mm[1]
    width = max(16, min(int((COMPARED_PIXELS * ratio) ** 0.5), 4_000))
    with Image.open(io.BytesIO(drawn_by_resvg(svg, width))) as image:
        return np.asarray(image.convert("RGB"))


def _render_difference(pdf: bytes, theirs: Pixels) -> float:
    """The share in which PDFium's picture of the PDF differs from another; drawn finer only where it seems to."""
    with open_pdf(pdf) as opened:
        boxes, _, unit, _, _ = boxes_of(opened.pages[0].obj)
    x0, _, x1, _ = boxes.media
    share = 1.0
    with PageView(pdf, boxes, unit) as view:
        for finer in FINER:
            large = view.render(boxes.media, finer * theirs.shape[1] / (x1 - x0) * MM_PER_INCH)
            ours = np.asarray(Image.fromarray(large).reduce(finer))
            rows, columns = min(ours.shape[0], theirs.shape[0]), min(ours.shape[1], theirs.shape[1])
            share = min(share, differing_share(ours[:rows, :columns], theirs[:rows, :columns]))
            if share <= MOST_UNLIKE:
                break
    return share


def _pixels(svg: bytes, size_mm: tuple[float, float], ppi: float) -> bytes:
    most = (MOST_PIXELS / 8 / (size_mm[0] * size_mm[1])) ** 0.5 * MM_PER_INCH
    width = max(1, round(size_mm[0] / MM_PER_INCH * min(ppi, most)))
    (picture,) = pictures_of(drawn_by_resvg(svg, width, clear=True), FileKind.PNG)
    return pdf_of_pictures([picture], [size_mm])


def _contours(pdf: bytes) -> list[Contour]:
    page = read_bytes(pdf).pages[0]
    return [c for o in page.objects if isinstance(o, PathObject) and o.strokes for c in page.contours(o)]


def _is_shape(element: Any) -> bool:
    from lxml import etree

    return isinstance(element.tag, str) and etree.QName(element).localname in LEAVES


def _with_layers(pdf: bytes, wanted: SvgWanted) -> bytes:
    """The art with the shapes that keep a name drawn over it, each on a layer of that name."""
    with open_pdf(pdf) as target, contextlib.ExitStack() as opened:
        for name, elements in wanted.named.items():
            source = opened.enter_context(open_pdf(_vectors(wanted.part(elements))))
            form = target.copy_foreign(source.pages[0].as_form_xobject())
            layer = plain_layer(target, name)
            form.OC = layer
            add_layers(target, [layer], [])
            page = target.pages[0]
            page.contents_add(b"q", prepend=True)
            page.contents_add(f"Q q {page.add_resource(form, Name.XObject)} Do Q".encode())
        return save(target)


def _finished(pdf: bytes, lines: Mapping[LineRole, Sequence[Contour]], destination: Destination) -> bytes:
    """The art with its lines, on a page that states its finished size."""
    with open_pdf(pdf) as opened:
        page = opened.pages[0].obj
        state_boxes(page)
        if lines:
            put_lines(opened, page, lines, destination)
        return save(opened)


def art_ppi(distance_m: float | None) -> float:
    """The resolution that art needs as pixels: what the eye resolves, at least 150 and at most 600.

    Source: 1 arc minute, 87 ppi at one metre (acuity 20/20); 300 ppi where no distance is known [ours].
    """
    return 300.0 if distance_m is None else min(max(2 * 87.0 / distance_m, 150.0), 600.0)


def answered_size(tree: SvgTree, answers: Answers) -> tuple[float, float] | None:
    """The size that was said for the whole drawing, in its own proportions; None where nothing was."""
    w, h = answers.width_mm, answers.height_mm
    if w and h:
        width = min(w, h * tree.ratio)
        return width, width / tree.ratio
    if w or h:
        return (w, w / tree.ratio) if w else (float(h or 0) * tree.ratio, float(h or 0))
    return None
