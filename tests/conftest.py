"""Shared makers of test files. They write PDF by a way that is not the product's."""

import os
import subprocess
from collections.abc import Callable
from pathlib import Path

import pytest
from reportlab.lib.colors import CMYKColorSep
from reportlab.lib.units import mm
from reportlab.pdfgen.canvas import Canvas

from tests.breadth import SEED, WHOLE, drawn
from tests.shapes import Drawing, write

DATA = Path(__file__).parent / "data"
LONG = "test_killing.py"
# A browser that was driven in this process has left a loop behind, and Django would refuse its own set-up there.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")


def pytest_report_header() -> str:
    """Which draw it is."""
    return f"breadth: {'all of it' if WHOLE else f'a share, drawn by seed {SEED}'}; --all tries everything"


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave out what was not drawn; what takes longest comes first, or at the end one process would wait."""
    if not WHOLE:
        items[:], left = drawn(items)
        config.hook.pytest_deselected(items=left)
    items.sort(key=lambda item: (item.path.name != LONG, item.path.parent.name != "browser"))


@pytest.fixture()
def pdf(tmp_path: Path) -> Callable[..., Path]:
    """Write a PDF from plain content operators, with named line inks and boxes in mm."""

    def make(content: str, **options: object) -> Path:
        path = tmp_path / f"{len(list(tmp_path.iterdir()))}.pdf"
        path.write_bytes(write(Drawing(content, **options)))  # type: ignore[arg-type]
        return path

    return make


@pytest.fixture(scope="session")
def drawings(tmp_path_factory: pytest.TempPathFactory) -> dict[str, Path]:
    """The drawings by other hands, as PDF made by a tool that is not ours."""
    folder = tmp_path_factory.mktemp("drawings")
    out = {}
    for svg in sorted(DATA.glob("*.svg")):
        out[svg.stem] = folder / f"{svg.stem}.pdf"
        subprocess.run(["rsvg-convert", "-f", "pdf", "-o", out[svg.stem], svg], check=True)
    return out


@pytest.fixture(scope="session")
def swan_with_lines(drawings: dict[str, Path], tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A real drawing with a coloured ground and two lines under near-miss names."""
    import pikepdf

    folder = tmp_path_factory.mktemp("lined")
    side = 120.0
    canvas = Canvas(str(folder / "lines.pdf"), pagesize=(side * mm, side * mm))
    canvas.setTrimBox((10 * mm, 10 * mm, 110 * mm, 110 * mm))
    canvas.setBleedBox((5 * mm, 5 * mm, 115 * mm, 115 * mm))
    canvas.setFillColorCMYK(0.3, 0, 0.1, 0)
    canvas.circle(60 * mm, 60 * mm, 45 * mm, stroke=0, fill=1)
    for name, radius in (("Kis Cut", 40.0), ("Trough-cut", 50.0)):
        canvas.setStrokeColor(CMYKColorSep(0, 1, 0, 0, spotName=name))
        canvas.setLineWidth(0.25)
        canvas.setStrokeOverprint(True)
        canvas.circle(60 * mm, 60 * mm, radius * mm)
    canvas.showPage()
    canvas.save()
    with pikepdf.open(folder / "lines.pdf") as target, pikepdf.open(drawings["swan"]) as source:
        page = target.pages[0]
        page.add_overlay(source.pages[0], pikepdf.Rectangle(110, 110, 230, 230))
        target.save(folder / "swan.pdf")
    return folder / "swan.pdf"
