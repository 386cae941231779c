"""Broken and hostile files are refused in words; nothing crashes, nothing hangs."""

import random
import zlib
from collections.abc import Callable
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from horismos.artwork import art_alone, line_objects, read, read_bytes
from horismos.artwork.read import stream_bytes
from horismos.errors import HorismosError, LimitExceeded
from tests.known import HOUSE
from tests.shapes import Drawing, circle, line_in, write

Pdf = Callable[..., Path]


def read_whole(data: bytes) -> None:
    """Read a file, its lines and its art, or be refused in words."""
    try:
        artwork = read_bytes(data)
        for page in artwork.pages:
            lines = line_objects(artwork, page, HOUSE)
            assert all(c.segments.ndim == 3 for line in lines for c in line.contours)
            art_alone(artwork, page, lines)
    except HorismosError as error:
        assert error.message


def test_truncated_and_flipped_copies_of_a_real_file(drawings: dict[str, Path]) -> None:
    rng = random.Random(3)
    for name in ("swan", "loach"):
        data = drawings[name].read_bytes()
        for _ in range(25):
            read_whole(data[: rng.randrange(len(data))])
            flipped = bytearray(data)
            for _ in range(8):
                flipped[rng.randrange(len(data))] ^= 1 << rng.randrange(8)
            read_whole(bytes(flipped))


@settings(max_examples=150, deadline=None)
@given(st.text(alphabet="0123456789.-/KqQcmlhreSfnBsTjJgsdoDWbEIMC()[]<>% \n", max_size=120))
def test_no_content_breaks_the_reader(content: str) -> None:
    read_whole(write(Drawing(content)))


def test_a_form_that_draws_itself_is_left_out_and_said(pdf: Pdf) -> None:
    path = pdf("/Me Do " + line_in(circle(50, 50, 9)), extra_resources="/XObject << /Me 4 0 R >>")
    data = path.read_bytes().replace(b"<< /Length", b"<< /Subtype /Form /BBox [0 0 9 9] /Length")
    artwork = read_bytes(data)
    assert len(line_objects(artwork, artwork.pages[0], HOUSE)) >= 1
    assert any("draws itself" in repair.words for repair in artwork.repairs)


def test_a_small_stream_cannot_fill_the_memory() -> None:
    import pikepdf

    with pikepdf.new() as pdf:
        bomb = pikepdf.Stream(pdf, zlib.compress(b"0" * 50_000_000))
        bomb.Filter = pikepdf.Name.FlateDecode
        with pytest.raises(LimitExceeded):
            stream_bytes(bomb, 1_000_000)


def test_states_without_end_are_a_limit() -> None:
    with pytest.raises(LimitExceeded):
        read_bytes(write(Drawing("q " * 100_000)))


@pytest.mark.parametrize("data", [b"", b"no pdf at all", b"%PDF-1.7", b"%PDF-1.7\n%%EOF"])
def test_what_is_no_pdf_is_refused_with_a_next_step(data: bytes) -> None:
    with pytest.raises(HorismosError) as refused:
        read_bytes(data)
    assert refused.value.next_step


def test_reading_never_touches_the_file(pdf: Pdf) -> None:
    path = pdf(line_in(circle(50, 50, 9)))
    before = path.read_bytes()
    read_whole(read(path).data)
    assert path.read_bytes() == before
