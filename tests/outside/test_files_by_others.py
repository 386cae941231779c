"""What we read from files by other hands is what other tools say of them."""

import contextlib
import subprocess
from collections import Counter
from pathlib import Path

import pikepdf
import pypdfium2
import pytest

from horismos.artwork import Artwork, ImageObject, Page, TextObject, art_alone, line_objects, read
from horismos.artwork.extent import bounds_of
from horismos.artwork.paints import paints_of
from horismos.artwork.read import printing_annotations
from horismos.checking import CheckInputs, CheckSheet
from horismos.checking.engine.context import Context
from horismos.checking.inks.disguised import candidates
from horismos.errors import HorismosError, Locked
from horismos.orders import Order
from horismos.paths import union_bounds
from horismos.rendering import plates
from horismos.units import MM_PER_POINT
from tests.breadth import breadth
from tests.known import HOUSE
from tests.outside import others
from tests.outside.test_against_peers import CHROMIUM

pytestmark = breadth(0.1)

FILES = others.files()
REFUSED = {
    "small.pdf": "a fuzzer's find: no page tree", "378014596.pdf": "a fuzzer's find: no page tree",
    "newline-buffer-test.pdf": "a page tree without pages",
}
CYCLES = {"cyclic-toc.pdf": "its outline goes round in a circle, on which Poppler and Ghostscript give up"}
BY_NAME = pytest.mark.parametrize("path", FILES, ids=lambda p: p.name)


@pytest.fixture(scope="session")
def made(tmp_path_factory: pytest.TempPathFactory, drawings: dict[str, Path]) -> list[Path]:
    """PDFs made by cairo, Ghostscript and Chromium out of drawings by other hands."""
    folder = tmp_path_factory.mktemp("made")
    out = list(drawings.values())
    for name, path in drawings.items():
        through = folder / f"{name}-through-postscript.pdf"
        subprocess.run(["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=eps2write",
                        f"-sOutputFile={folder / name}.eps", path], check=True)
        subprocess.run(["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-dEPSCrop", "-sDEVICE=pdfwrite",
                        f"-sOutputFile={through}", f"{folder / name}.eps"], check=True)
        printed = folder / f"{name}-printed.pdf"
        svg = Path(__file__).parents[1] / "data" / f"{name}.svg"
        command = ["chromium", *CHROMIUM, "--headless", "--no-pdf-header-footer",
                   f"--user-data-dir={folder / 'profile'}", f"--print-to-pdf={printed}", svg.as_uri()]
        subprocess.run(command, check=True, capture_output=True, timeout=120)
        out += [through, printed]
    return out


def opened(path: Path) -> Artwork:
    """The file, or a skip for the few that nobody can read without more than the file."""
    try:
        return read(path, others.PASSWORDS.get(path.name, ""))
    except Locked:
        pytest.skip("opens only with a password that is not ours to know")
    except HorismosError as error:
        assert path.name in REFUSED, error
        pytest.skip(REFUSED[path.name])


def some_pages(artwork: Artwork) -> tuple[Page, ...]:
    return artwork.pages[: others.MOST_PAGES]


def test_there_are_at_least_sixty_of_them() -> None:
    assert len(FILES) >= 100


@BY_NAME
def test_boxes_are_those_of_pdfinfo(path: Path) -> None:
    artwork = opened(path)
    if path.name in others.PASSWORDS or artwork.encrypted:
        pytest.skip("pdfinfo is not given the password")
    for page in some_pages(artwork):
        theirs = others.boxes_by_poppler(path, page.number)
        if not theirs and path.name in CYCLES:
            pytest.skip(CYCLES[path.name])
        assert theirs, "pdfinfo says nothing"
        for name in ("media", "crop", "bleed", "trim"):
            assert page.boxes.raw[name] == pytest.approx(theirs[name], abs=0.02), name


@BY_NAME
def test_fonts_and_their_embedding_are_those_of_pdffonts(path: Path) -> None:
    artwork = opened(path)
    for page in some_pages(artwork):
        theirs = others.fonts_by_poppler(path, page.number)
        for font in page.fonts:
            if font.name in theirs:
                assert font.embedded == theirs[font.name], font
        named = {f.name for f in page.fonts if f.name not in ("unnamed",)}
        # A font that an annotation alone uses is ours to see, since what prints becomes part of the page.
        if not page.annotations and not artwork.encrypted:
            unnamed = {n for n in named if n.startswith("F")} if "[none]" in theirs else set()
            assert named <= set(theirs) | unnamed, theirs


@BY_NAME
def test_images_are_those_of_pdfimages(path: Path) -> None:
    artwork = opened(path)
    if artwork.encrypted or path.name in CYCLES:
        pytest.skip("pdfimages cannot open it")
    for page in some_pages(artwork):
        if _draws_what_does_not_print(path, page.number):
            continue  # pdfimages counts pictures in annotations whether they print or not
        # pdfimages leaves out pictures of one pixel here and there, which draw rules and grounds.
        rows = others.images_by_poppler(path, page.number)
        theirs = [p for p in rows if p.kind in ("image", "stencil") and p.size != (1, 1)]
        ours = [o for o in page.objects if isinstance(o, ImageObject) and o.pixels != (1, 1)]
        assert Counter(o.pixels for o in ours) == Counter(p.size for p in theirs)
        wanted = sorted((p.size, round(min(p.ppi)), round(max(p.ppi))) for p in theirs)
        found = sorted((o.pixels, min(o.ppi), max(o.ppi)) for o in ours)
        for (_, low, high), (_, lowest, highest) in zip(wanted, found, strict=True):
            # pdfimages gives whole ppi.
            assert lowest / page.user_unit ** -1 == pytest.approx(low, abs=0.51 + low * 0.002)
            assert highest / page.user_unit ** -1 == pytest.approx(high, abs=0.51 + high * 0.002)
        spaces = Counter(_space(o) for o in ours)
        assert spaces == Counter(p.colour if p.kind == "image" else "stencil" for p in theirs)


def _draws_what_does_not_print(path: Path, number: int) -> bool:
    """Whether a page has annotations with a look that are not printed."""
    with pikepdf.open(path) as pdf:
        page = pdf.pages[number - 1].obj
        return sum("/AP" in a for a in page.get("/Annots", [])) > printing_annotations(page)


def _space(image: ImageObject) -> str:
    """The word of pdfimages for the colour space of an image."""
    if image.stencil:
        return "stencil"
    return {
        "DeviceGray": "gray", "CalGray": "gray", "DeviceRGB": "rgb", "CalRGB": "rgb", "DeviceCMYK": "cmyk",
        "Lab": "lab", "ICCBased": "icc", "Indexed": "index", "Separation": "sep", "DeviceN": "devn", "JPXDecode": "rgb",
    }[image.space]


@BY_NAME
def test_inks_are_the_plates_of_ghostscript(path: Path) -> None:
    artwork = opened(path)
    page = artwork.pages[0]
    named = {ink for ink in page.ink_names if ink not in ("Cyan", "Magenta", "Yellow", "Black", "All")}
    if artwork.encrypted or path.name in CYCLES:
        pytest.skip("Ghostscript cannot open it")
    theirs = {p.ink for p in plates(path.read_bytes(), 20)} - {"Cyan", "Magenta", "Yellow", "Black"}
    assert named == theirs


WHITE_PICTURES = {"1biticc.pdf", "imagemagick-ASCII85Decode.pdf", "imagemagick-images.pdf", "imagemagick-lzw.pdf"}
"""Ghostscript leaves out the white rows of their pictures, which lie in the pixels and not in the page."""
NO_APPEARANCE = {"form.pdf", "form_evince.pdf", "pdflatex-forms.pdf", "libreoffice-form.pdf"}
"""Ghostscript invents a look for form fields that have none."""


def _bounds_agree(path: Path, page: Page) -> float | None:
    """The greatest distance in mm between the union of our bounds and Ghostscript's; None: nothing to compare."""
    theirs = others.painted_by_ghostscript(path, page.number)
    if theirs is None or page.rotate or any(isinstance(o, TextObject) and not o.embedded for o in page.objects):
        return None
    inked = [
        o for o in page.objects
        if o.state.prints and not (not isinstance(o, ImageObject) and all(p.white for p, _ in paints_of(o)))
    ]
    box = union_bounds(b for o in inked if (b := bounds_of(page, o)))
    if box is None:
        return max(theirs) if theirs != [0, 0, 0, 0] else None
    media = page.boxes.media
    at = (max(box[0], media[0]), max(box[1], media[1]), min(box[2], media[2]), min(box[3], media[3]))
    ours = [v - media[i % 2] for i, v in enumerate(at)]
    return max(abs(a - b * MM_PER_POINT * page.user_unit) for a, b in zip(ours, theirs, strict=True))


@BY_NAME
def test_the_union_of_painted_bounds_is_that_of_ghostscript(path: Path) -> None:
    artwork = opened(path)
    if artwork.encrypted or path.name in WHITE_PICTURES | NO_APPEARANCE:
        pytest.skip("cannot be compared; see above")
    page = artwork.pages[0]
    far = _bounds_agree(path, page)
    if far is None:
        pytest.skip("turned, or its fonts are another program's choice")
    assert far <= SPACES.get(path.name, 0.1)


SPACES: dict[str, float] = {"pdfx.pdf": 0.2, "missing_info.pdf": 13.1}
"""Files in which Ghostscript counts the places of mere spaces as painted, and how far these lie out, in mm."""


@breadth(0.12, "long ones")
def test_what_other_programs_make_of_drawings_is_read_alike(made: list[Path]) -> None:
    """Source: pdfinfo, Ghostscript's bbox and PDFium, on PDFs from cairo, Ghostscript and Chromium."""
    assert len(made) >= 12
    for path in made:
        artwork = read(path)
        page = artwork.pages[0]
        theirs = others.boxes_by_poppler(path, 1)
        assert page.boxes.raw["media"] == pytest.approx(theirs["media"], abs=0.02), path.name
        far = _bounds_agree(path, page)
        assert far is None or far <= 0.1, path.name
        art = art_alone(artwork, page, line_objects(artwork, page, HOUSE))
        before = pypdfium2.PdfDocument(path)[0].render(scale=1).to_numpy()
        after = pypdfium2.PdfDocument(art)[0].render(scale=1).to_numpy()
        assert before.shape == after.shape and (before == after).all(), path.name


@BY_NAME
def test_the_art_alone_of_a_page_without_lines_is_the_page(path: Path) -> None:
    """Source: PDFium's picture of the file as it came, annotations that print drawn."""
    artwork = opened(path)
    page = artwork.pages[0]
    lines = line_objects(artwork, page, HOUSE)
    if lines or artwork.encrypted or ("crop" in page.boxes.stated and page.boxes.crop != page.boxes.media):
        pytest.skip("shows another part of the page on purpose")
    art = art_alone(artwork, page, lines)
    with pikepdf.open(path) as pdf:
        drawn = [a for a in pdf.pages[0].obj.get("/Annots", []) if a.get("/Subtype") != pikepdf.Name.Link]
        if "/AcroForm" in pdf.Root or len(drawn) > page.annotations:
            pytest.skip("form fields, and annotations without a look, are drawn by each program in its own way")
    ours = pypdfium2.PdfDocument(art)[0].render(scale=0.5, may_draw_forms=False).to_numpy().astype(int)
    theirs = pypdfium2.PdfDocument(path)[0].render(scale=0.5, may_draw_forms=False).to_numpy().astype(int)
    assert ours.shape == theirs.shape
    assert (abs(ours - theirs) > 8).mean() <= 0.002


@breadth(0.12, "long ones")
def test_hardly_anything_by_other_hands_is_taken_for_a_line_in_disguise() -> None:
    """Source: the sample files, which hold no cut lines. Two of some 120 have a hairline frame round all they show."""
    named = []
    for path in FILES:
        with contextlib.suppress(HorismosError):
            artwork = read(path, others.PASSWORDS.get(path.name, ""))
            for page in artwork.pages[: others.MOST_PAGES]:
                context = Context(artwork, page, CheckInputs(Order(), HOUSE, CheckSheet()))
                named += [path.name for one in candidates(context) if one.sure > 0]
                context.close()
    assert len(set(named)) <= 2, named
