"""Files that attack: each is small and asks for far more than it is. Made here, from the formats' own rules."""

import zlib

from tests.shapes import Drawing, circle, line_in, write

__all__ = ["DXF_COMMENTS", "LOOP", "deflated_twice", "nested_forms", "one_tiling", "pdf_of"]

DXF_COMMENTS = b"999\n\n\n" * 40 + b"x"
"""241 bytes of comments that an expression can part in 2^40 ways."""
LOOP = b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 100 100\n{} loop\n"
"""A PostScript program that never ends."""


def pdf_of(objects: list[bytes]) -> bytes:
    """A PDF of numbered objects, the first of them its catalogue."""
    out, places = bytearray(b"%PDF-1.7\n"), []
    for number, body in enumerate(objects, 1):
        places.append(len(out))
        out += b"%d 0 obj\n" % number + body + b"\nendobj\n"
    at = len(out)
    out += b"xref\n0 %d\n0000000000 65535 f \n" % (len(objects) + 1)
    out += b"".join(b"%010d 00000 n \n" % place for place in places)
    return bytes(out + b"trailer << /Size %d /Root 1 0 R >>\nstartxref\n%d\n%%%%EOF\n" % (len(objects) + 1, at))


def stream(body: bytes, extra: bytes = b"") -> bytes:
    return b"<< /Length %d %s >>\nstream\n" % (len(body), extra) + body + b"\nendstream"


HEAD = [b"<< /Type /Catalog /Pages 2 0 R >>", b"<< /Type /Pages /Kids [3 0 R] /Count 1 >>"]


def page(extra: bytes = b"") -> bytes:
    return b"<< /Type /Page /Parent 2 0 R /MediaBox [0 0 300 300] /Contents 4 0 R %s >>" % extra


def deflated_twice(size: int = 5_800_000_000, parms: bytes = b"/DecodeParms [null null]") -> bytes:
    """A page whose content was deflated two times: 5 kB that unpack to ``size`` bytes."""
    packer, block = zlib.compressobj(9, zlib.DEFLATED, -15), bytes(10_000_000)
    part = packer.compress(block) + packer.flush(zlib.Z_FULL_FLUSH)
    count = size // len(block)
    end = (count * len(block) % 65521 << 16 | 1).to_bytes(4, "big")  # RFC 1950: Adler-32, of zeros alone
    packed = b"\x78\xda" + part * count + b"\x03\x00" + end
    return pdf_of([*HEAD, page(), stream(zlib.compress(packed, 9), b"/Filter [/FlateDecode /FlateDecode] " + parms)])


def nested_forms(depth: int = 12, times: int = 10) -> bytes:
    """Forms that each draw the next one ten times: a page of 10^12 squares in 3 kB."""
    forms = []
    for i in range(depth):
        last = i == depth - 1
        body = b"0 0 9 9 re f" if last else b"/F Do " * times
        inner = b"" if last else b"/Resources << /XObject << /F %d 0 R >> >>" % (6 + i)
        forms.append(stream(body, b"/Type /XObject /Subtype /Form /BBox [0 0 300 300] " + inner))
    return pdf_of([*HEAD, page(b"/Resources << /XObject << /F 5 0 R >> >>"), stream(b"/F Do"), *forms])


def one_tiling(step: float = 0.0005) -> bytes:
    """A page filled with tiles half a thousandth of a point apart."""
    pattern = stream(
        b"0 0 1 1 re f", b"/Type /Pattern /PatternType 1 /PaintType 1 /TilingType 1 /BBox [0 0 1 1] "
        b"/XStep %f /YStep %f /Resources << >>" % (step, step),
    )
    content = stream(b"/Pattern cs /P scn 0 0 300 300 re f")
    return pdf_of([*HEAD, page(b"/Resources << /Pattern << /P 5 0 R >> >>"), content, pattern])


def sound() -> bytes:
    """A file that nothing is wrong with."""
    return write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(circle(50, 50, 40))))
