"""Files that others have written anew are the same files: qpdf (by pikepdf), and Ghostscript's pdfwrite.

qpdf and Ghostscript are libraries and programs of their own; neither shares a line with the product.
"""

import io
import subprocess
from pathlib import Path

import pikepdf
import pytest

from horismos.artwork import read_bytes
from horismos.comparing.files import files_apart
from horismos.destinations import DEFAULT
from tests.shapes import Drawing, circle, line_in, write

INKS = {"K": "Kiss Cut", "T": "Through Cut", "S": "Harbour Blue"}
PAGE = write(Drawing(
    f"0.2 0.1 0.6 0 k 5 5 90 90 re f 0.9 0.4 0 0 k {circle(40, 60, 12)} f /S cs 0.6 scn {circle(60, 40, 9)} f\n"
    + line_in(circle(50, 50, 40)) + line_in("12 12 m 88 12 l 88 88 l 12 88 l h", "T"), inks=INKS,
))


@pytest.mark.parametrize("how", [
    {"object_stream_mode": pikepdf.ObjectStreamMode.generate}, {"normalize_content": True, "compress_streams": False},
    {"linearize": True}, {"recompress_flate": True},
])
def test_nothing_is_found_in_what_qpdf_wrote_anew(how: dict[str, object]) -> None:
    out = io.BytesIO()
    with pikepdf.open(io.BytesIO(PAGE)) as pdf:
        pdf.save(out, **how)  # type: ignore[arg-type]
    assert files_apart(read_bytes(PAGE), read_bytes(out.getvalue()), DEFAULT).same


def test_nothing_is_found_in_what_ghostscript_wrote_anew_but_a_tenth_of_a_thousandth(tmp_path: Path) -> None:
    (tmp_path / "in.pdf").write_bytes(PAGE)
    subprocess.run(
        ["gs", "-q", "-dNOPAUSE", "-dBATCH", "-sDEVICE=pdfwrite", "-sOutputFile=out.pdf", "in.pdf"], cwd=tmp_path,
        check=True, timeout=60,
    )
    found = files_apart(read_bytes(PAGE), read_bytes((tmp_path / "out.pdf").read_bytes()), DEFAULT)
    assert found.same, found.to_json()
    assert found.lines.moved_mm < 0.01
