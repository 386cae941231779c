"""An update behind a large file is read by others like a file that was written anew, and leaves the old bytes."""

import io
import subprocess
from pathlib import Path

import pikepdf
import pytest

from horismos.artwork import append, read_bytes
from horismos.artwork.append import updated_numbers
from horismos.comparing.facets import Facet, touched
from horismos.errors import NothingToDo
from horismos.mending import mend, registered, step
from horismos.rendering import plates
from tests.breadth import breadth
from tests.faults import FAULTS
from tests.known import HOUSE
from tests.shapes import write

pytestmark = breadth(0.1)

LIGHT = [name for name in FAULTS if registered()[name].may_append]


@pytest.fixture()
def any_size(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(append, "LEAST_BYTES", 0)


def laid_out(data: bytes, packed: bool) -> bytes:
    """The same file as qpdf lays it out: with a cross-reference table, or with object streams."""
    out = io.BytesIO()
    mode = pikepdf.ObjectStreamMode.generate if packed else pikepdf.ObjectStreamMode.disable
    with pikepdf.open(io.BytesIO(data)) as pdf:
        pdf.save(out, object_stream_mode=mode, static_id=True)
    return out.getvalue()


@pytest.mark.usefixtures("any_size")
@pytest.mark.parametrize("packed", [False, True])
@pytest.mark.parametrize("name", LIGHT)
def test_an_update_says_what_a_new_file_says_and_others_read_it(name: str, packed: bool, tmp_path: Path) -> None:
    """Source: qpdf's check, Poppler's pdfinfo, Ghostscript's plates, beside the file that qpdf writes anew."""
    data = laid_out(write(FAULTS[name].page), packed)
    done = mend(read_bytes(data), step(name, **FAULTS[name].settings), HOUSE).artwork
    assert done.data.startswith(data) and not done.repairs
    assert updated_numbers(data, done.data)
    if not registered()[name].repeats:
        with pytest.raises(NothingToDo):
            mend(done, step(name, **FAULTS[name].settings), HOUSE)
    with pikepdf.open(io.BytesIO(done.data)) as pdf:
        assert pdf.check_pdf_syntax() == []
        anew = io.BytesIO()
        pdf.save(anew)
    assert not touched(done, read_bytes(anew.getvalue()), HOUSE) - {Facet.FILE}
    path = tmp_path / "updated.pdf"
    path.write_bytes(done.data)
    info = subprocess.run(["pdfinfo", path], capture_output=True, text=True, check=True)
    assert not info.stderr and "Pages:           1" in info.stdout
    ours, theirs = plates(done.data, 72), plates(anew.getvalue(), 72)
    assert [(p.ink, p.tint.tobytes()) for p in ours] == [(p.ink, p.tint.tobytes()) for p in theirs]


@pytest.mark.usefixtures("any_size")
def test_updates_go_on_updates_and_the_same_mend_gives_the_same_bytes() -> None:
    data = laid_out(write(FAULTS["rename"].page), True)
    first = mend(read_bytes(data), step("rename", **FAULTS["rename"].settings), HOUSE).artwork
    again = mend(read_bytes(data), step("rename", **FAULTS["rename"].settings), HOUSE).artwork
    second = mend(first, step("sort-layers"), HOUSE).artwork
    assert first.data == again.data and second.data.startswith(first.data) and not second.repairs


@pytest.mark.usefixtures("any_size")
def test_what_is_taken_out_of_a_file_is_not_left_in_front_of_the_update() -> None:
    for name in ("drop-active", "drop-hidden", "to-cmyk"):
        data = laid_out(write(FAULTS[name].page), False)
        done = mend(read_bytes(data), step(name, **FAULTS[name].settings), HOUSE).artwork
        assert not done.data.startswith(data) and b"JavaScript" not in done.data


@pytest.mark.usefixtures("any_size")
def test_a_file_that_is_locked_damaged_or_begins_with_something_else_is_written_anew() -> None:
    data = laid_out(write(FAULTS["rename"].page), False)
    for strange in (b"junk\n" + data, data.replace(b"startxref", b"startxxxx")):
        done = mend(read_bytes(strange), step("rename", **FAULTS["rename"].settings), HOUSE).artwork
        assert done.data.startswith(b"%PDF-") and not done.data.startswith(strange[:400] + strange[400:800])
