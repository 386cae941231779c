"""Tells what a file is by its content; the name counts only where the content leaves it open."""

import re

from horismos.artwork.kinds import FileKind
from horismos.errors import CannotRead
from horismos.formats.hpgl import looks_like_hpgl

__all__ = ["KINDS", "kind_of"]

HEAD = 4096


KINDS = tuple(FileKind)
ASK = "Ask for the artwork as PDF, EPS, SVG, PNG, JPEG or TIFF, or the lines as DXF or HP-GL."
REFUSED: tuple[tuple[bytes, str], ...] = (
    (b"PK\x03\x04", "an archive or an office document"),
    (b"PK\x05\x06", "an empty archive"),
    (b"Rar!", "an archive"),
    (b"7z\xbc\xaf", "an archive"),
    (b"\x1f\x8b", "a compressed file"),
    (b"BZh", "a compressed file"),
    (b"\xfd7zXZ", "a compressed file"),
    (b"GIF8", "a GIF picture"),
    (b"BM", "a BMP picture"),
    (b"8BPS", "a layered picture of an image editor"),
    (b"RIFF", "a WebP picture or a sound or film"),
    (b"\xd0\xcf\x11\xe0", "an office document"),
    (b"MZ", "a program"),
    (b"\x7fELF", "a program"),
    (b"AC10", "a drawing in a CAD program's own format"),
    (b"{\\rtf", "a text document"),
)


def kind_of(data: bytes, name: str = "") -> FileKind:
    """The kind of a file. Raises CannotRead naming what it is instead, with the next step."""
    if not data:
        raise CannotRead("The file is empty.", "Ask for it to be sent again.")
    head = data[:HEAD]
    for magic, kind in (
        (b"\x89PNG\r\n\x1a\n", FileKind.PNG), (b"\xff\xd8\xff", FileKind.JPEG), (b"II*\0", FileKind.TIFF),
        (b"MM\0*", FileKind.TIFF), (b"II+\0", FileKind.TIFF), (b"MM\0+", FileKind.TIFF), (
            b"\xc5\xd0\xd3\xc6", FileKind.POSTSCRIPT
        ),
    ):
        if head.startswith(magic):
            return kind
    if b"%PDF-" in head[:1024]:
        return FileKind.PDF
    if b"%!PS" in head[:1024] or head.lstrip(b"\x04\x1b \r\n\t").startswith(b"%!"):
        return FileKind.POSTSCRIPT
    for magic, words in REFUSED:
        if head.startswith(magic):
            raise CannotRead(f"This is {words}.", ASK)
    if _is_svg(data):
        return FileKind.SVG
    if _is_dxf(head) or head.startswith(b"AutoCAD Binary DXF"):
        return FileKind.DXF
    if looks_like_hpgl(head):
        return FileKind.HPGL
    if head.lstrip(b"\xef\xbb\xbf \r\n\t").startswith(b"<"):
        raise CannotRead("This is XML or a web page, but no SVG.", ASK)
    suffix = name.rsplit(".", 1)[-1].lower() if "." in name else ""
    called = f" although it is called .{suffix}" if suffix in {"pdf", "eps", "svg", "png", "jpg", "tif", "dxf"} else ""
    raise CannotRead(f"This is no kind of file that can be printed or cut{called}.", ASK)


def _is_dxf(head: bytes) -> bool:
    """Whether group codes and values stand in turn, and the first that is no comment begins a section."""
    lines = [line.strip() for line in head.lstrip().splitlines()]
    first = next((i for i in range(0, len(lines), 2) if lines[i] != b"999"), len(lines))
    return lines[first : first + 2] == [b"0", b"SECTION"]


def _is_svg(data: bytes) -> bool:
    head = data[:200_000]
    for encoding in ("utf-8", "utf-16"):
        if encoding == "utf-16" and head[:2] not in (b"\xff\xfe", b"\xfe\xff"):
            continue
        text = head.decode(encoding, "replace")
        if re.search(r"<(?:[A-Za-z_][\w.-]*:)?svg[\s>]", text):
            return True
    return False
