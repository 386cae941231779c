"""The same page written in other ways is read as the same page; coverage is what Ghostscript counts itself."""

import io
import re
import subprocess
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pikepdf
import pytest

from horismos.artwork import line_objects, read, read_bytes
from horismos.paths import bounds, union_bounds
from horismos.rendering import plates
from tests.breadth import breadth
from tests.known import HOUSE
from tests.shapes import circle, line_in

pytestmark = breadth(0.1)

Pdf = Callable[..., Path]
LINED = "0.6 0.3 0 0.1 k 10 10 80 80 re f 0 0.5 1 0 k 30 30 25 25 re f " + line_in(circle(50, 50, 33))


def line_box(data: bytes) -> tuple[float, ...]:
    """The bounds in mm of the kiss cut."""
    artwork = read_bytes(data)
    box = union_bounds(bounds(c) for line in line_objects(artwork, artwork.pages[0], HOUSE) for c in line.contours)
    assert box and not artwork.encrypted
    return tuple(box)


@pytest.mark.parametrize("level", ["1.4", "1.7"])
def test_versions_written_by_ghostscript_keep_the_line(level: str, pdf: Pdf, tmp_path: Path) -> None:
    """Source: Ghostscript's pdfwrite at each level, spot inks kept; the line may move by its rounding."""
    path, out = pdf(LINED), tmp_path / "out.pdf"
    subprocess.run(["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=pdfwrite", f"-dCompatibilityLevel={level}",
                    f"-sOutputFile={out}", path], check=True)
    assert out.read_bytes()[:8] == f"%PDF-{level}".encode()
    assert line_box(out.read_bytes()) == pytest.approx(line_box(path.read_bytes()), abs=0.02)


WAYS = ["objects in streams", "linearised", "version 1.3", "version 2.0", "owner password", "uncompressed"]


@pytest.mark.parametrize("way", WAYS)
def test_ways_of_storing_a_file_do_not_matter(way: str, pdf: Pdf) -> None:
    """Source: qpdf, through pikepdf, writes the same file in each way."""
    out = io.BytesIO()
    path = pdf(LINED)
    with pikepdf.open(path) as opened:
        options: dict[str, object] = {
            "objects in streams": {"object_stream_mode": pikepdf.ObjectStreamMode.generate},
            "linearised": {"linearize": True}, "version 2.0": {"force_version": "2.0"},
            "version 1.3": {"force_version": "1.3", "object_stream_mode": pikepdf.ObjectStreamMode.disable},
            "owner password": {"encryption": pikepdf.Encryption(owner="marram", user="")},
            "uncompressed": {"compress_streams": False},
        }[way]  # type: ignore[assignment]
        opened.save(out, **options)  # type: ignore[arg-type]
    artwork = read_bytes(out.getvalue())
    assert artwork.encrypted is (way == "owner password") and not artwork.repairs
    (line,) = line_objects(artwork, artwork.pages[0], HOUSE)
    assert line.contours[0].segments == pytest.approx(
        line_objects(read(path), read(path).pages[0], HOUSE)[0].contours[0].segments, abs=1e-6
    )


def test_a_later_update_counts_and_the_older_state_does_not(pdf: Pdf) -> None:
    """Source: ISO 32000-1, 7.5.6: an update appended to the file replaces the object that it names."""
    data = pdf(LINED).read_bytes()
    content = re.search(rb"4 0 obj\n<< /Length \d+ >>\nstream\n(.*?)\nendstream", data, re.DOTALL)
    assert content
    smaller = content[1].replace(circle(50, 50, 33).encode(), circle(50, 50, 20).encode())
    place = len(data)
    body = b"4 0 obj\n<< /Length %d >>\nstream\n%s\nendstream\nendobj\n" % (len(smaller), smaller)
    before = re.findall(rb"startxref\n(\d+)", data)[-1]
    table = b"xref\n4 1\n%010d 00000 n \ntrailer << /Size 6 /Root 1 0 R /Prev %s >>\n" % (place, before)
    updated = data + body + table + b"startxref\n%d\n%%%%EOF\n" % (place + len(body))
    box = line_box(updated)
    assert box[2] - box[0] == pytest.approx(40, abs=0.01)
    assert not read_bytes(updated).repairs


def test_a_damaged_cross_reference_is_mended_and_said(pdf: Pdf) -> None:
    """Source: the same file before it was damaged."""
    data = pdf(LINED).read_bytes()
    broken = re.sub(rb"\n\d{10} 00000 n ", b"\n0000000007 00000 n ", data)
    artwork = read_bytes(broken)
    assert artwork.repairs and line_box(broken) == pytest.approx(line_box(data))


def test_coverage_is_what_ghostscript_counts_itself(pdf: Pdf) -> None:
    """Source: Ghostscript's ink coverage device, shares of the page by process ink."""
    path = pdf(LINED.split("/Over")[0])
    said = subprocess.run(["gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=ink_cov", "-r72", "-o", "-", path],
                          check=True, capture_output=True, text=True).stdout
    theirs = [float(v) / 100 for v in re.findall(r"[\d.]+", said)[:4]]
    ours = [p.coverage for p in plates(path.read_bytes(), 72)[:4]]
    assert ours == pytest.approx(theirs, abs=0.004)
    assert np.argmax(ours) == np.argmax(theirs)
