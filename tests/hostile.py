"""Files that attack: each is small and asks for far more than it is. Made here, from the formats' own rules."""

import random
import struct
import zlib

from tests.shapes import Drawing, circle, line_in, write

__all__ = [
    "ARRAYS", "DXF_COMMENTS", "ENDLESS_FILTER", "LOOP", "PAGES", "crossing", "deep", "deflated_twice", "dxf_array",
    "dxf_nested", "frames", "inks", "layers", "long_picture", "nested_forms", "one_tiling", "pdf_of", "plot", "svg",
    "tiff",
]

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


# -- small files that would hold a worker for minutes ---------------------------------------------------------


def layers(count: int) -> bytes:
    """A page on so many layers."""
    refs = b" ".join(b"%d 0 R" % (5 + i) for i in range(count))
    groups = b"<< /Type /Catalog /Pages 2 0 R /OCProperties << /OCGs [%s] /D << /Order [%s] >> >> >>" % (refs, refs)
    named = b" ".join(b"/L%d %d 0 R" % (i, 5 + i) for i in range(count))
    content = b"\n".join(b"/OC /L%d BDC 0 0 9 9 re f EMC" % i for i in range(count))
    return pdf_of([
        groups, HEAD[1], page(b"/Resources << /Properties << %s >> >>" % named), stream(content),
        *(b"<< /Type /OCG /Name (L%d) >>" % i for i in range(count)),
    ])


def inks(count: int) -> bytes:
    """A page of so many spot inks."""
    spaces = b" ".join(b"/C%d [/Separation /Ink%d /DeviceCMYK 5 0 R]" % (i, i) for i in range(count))
    content = b"\n".join(b"/C%d cs 1 scn %d %d 9 9 re f" % (i, i % 290, i // 290 % 290) for i in range(count))
    tint = b"<< /FunctionType 2 /Domain [0 1] /C0 [0 0 0 0] /C1 [0 1 0 0] /N 1 >>"
    return pdf_of([*HEAD, page(b"/Resources << /ColorSpace << %s >> >>" % spaces), stream(content), tint])


def crossing(count: int) -> bytes:
    """A kiss cut of so many segments from here to there and back."""
    chance = random.Random(1)
    ways = " ".join(f"{chance.uniform(0, 99):.1f} {chance.uniform(0, 99):.1f} l" for _ in range(count))
    return write(Drawing(f"1 0 0 0 k {circle(50, 50, 44)} f " + line_in(f"10 10 m {ways} h")))


def zeros(size: int) -> bytes:
    """So many zero bytes, deflated."""
    packer = zlib.compressobj(9)
    return b"".join(packer.compress(bytes(min(1 << 20, size - at))) for at in range(0, size, 1 << 20)) + packer.flush()


def tiff(width: int, height: int) -> bytes:
    """A deflated RGB TIFF of nothing but black (TIFF 6.0; compression 8)."""
    packed = zeros(width * height * 3)
    tags = [
        (256, 4, 1, width), (257, 4, 1, height), (258, 3, 3, 146), (259, 3, 1, 8), (262, 3, 1, 2), (273, 4, 1, 152),
        (277, 3, 1, 3), (278, 4, 1, height), (279, 4, 1, len(packed)),
    ]
    head = b"II*\0" + struct.pack("<IH", 8, len(tags)) + b"".join(struct.pack("<HHII", *tag) for tag in tags)
    return (head + bytes(4)).ljust(146, b"\0") + struct.pack("<3H", 8, 8, 8) + packed


def frames(count: int) -> bytes:
    """A TIFF of so many pictures of one pixel."""
    kinds = [(256, 3, 1), (257, 3, 1), (258, 3, 8), (259, 3, 1), (262, 3, 1), (273, 4, 4), (277, 3, 1), (278, 3, 1)]
    out = bytearray(b"II*\0" + struct.pack("<I", 8))
    for i in range(count):
        following = len(out) + 2 + 12 * (len(kinds) + 1) + 4
        out += struct.pack("<H", len(kinds) + 1)
        for tag, kind, value in [*kinds, (279, 4, 1)]:
            out += struct.pack("<HHII", tag, kind, 1, value)
        out += struct.pack("<I", following if i < count - 1 else 0)
    return bytes(out)


def long_picture(width: int) -> bytes:
    """A page with a picture that is one pixel high."""
    image = stream(
        zeros(width), b"/Type /XObject /Subtype /Image /Width %d /Height 1 /ColorSpace /DeviceGray /BitsPerComponent 8 "
        b"/Filter /FlateDecode" % width,
    )
    drawn = stream(b"q 200 0 0 200 50 50 cm /I Do Q")
    return pdf_of([*HEAD, page(b"/Resources << /XObject << /I 5 0 R >> >>"), drawn, image])


def _dxf(blocks: str, entities: str) -> bytes:
    parts = (("BLOCKS", blocks), ("ENTITIES", entities))
    sections = "".join(f"0\nSECTION\n2\n{name}\n{text}0\nENDSEC\n" for name, text in parts)
    return (sections + "0\nEOF\n").encode()


def _block(name: str, body: str) -> str:
    return f"0\nBLOCK\n2\n{name}\n70\n0\n10\n0\n20\n0\n{body}0\nENDBLK\n"


def _insert(name: str, more: str = "") -> str:
    return f"0\nINSERT\n8\n0\n2\n{name}\n10\n0\n20\n0\n{more}"


DXF_LINE = "0\nLINE\n8\n0\n10\n0\n20\n0\n11\n5\n21\n5\n"


def dxf_array(side: int = 32_000) -> bytes:
    """One line, in rows and columns."""
    return _dxf(_block("A", DXF_LINE), _insert("A", f"70\n{side}\n71\n{side}\n44\n1\n45\n1\n"))


def dxf_nested(depth: int = 30, times: int = 10) -> bytes:
    """Blocks that each hold the one before ten times."""
    blocks = _block("B0", DXF_LINE)
    blocks += "".join(_block(f"B{i}", _insert(f"B{i - 1}") * times) for i in range(1, depth))
    return _dxf(blocks, _insert(f"B{depth - 1}"))


def svg(inside: str) -> bytes:
    """A small SVG that holds this."""
    head = '<svg xmlns="http://www.w3.org/2000/svg" width="100mm" height="100mm">'
    return f'{head}{inside}<rect width="90" height="90" filter="url(#f)"/></svg>'.encode()


ENDLESS_FILTER = (
    '<filter id="f" x="-1000" y="-1000" width="3000" height="3000"><feGaussianBlur stdDeviation="5000"/>'
    '<feTurbulence numOctaves="1000"/></filter>'
)
ARRAYS = b"%!PS-Adobe-3.0 EPSF-3.0\n%%BoundingBox: 0 0 9 9\n{1e6 cvi array} loop"
PAGES = b"%!PS-Adobe-3.0\n100000 { 0 0 9 9 rectfill showpage } repeat\n"


def plot(strokes: int) -> bytes:
    """An HP-GL plot of so many strokes."""
    moves = "".join(f"PU{i % 9000},{i % 8999};PD{i * 7 % 9000},{i * 13 % 9000};" for i in range(strokes))
    return b"IN;SP1;" + moves.encode()


def deep(nested: int = 100_000) -> bytes:
    """Content with arrays within arrays."""
    return write(Drawing("[" * nested + "]" * nested + " 0 d"))
