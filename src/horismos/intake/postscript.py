"""PostScript and EPS into PDF, through Ghostscript, spot inks kept."""

import tempfile
from pathlib import Path

from horismos.artwork.edit import save
from horismos.artwork.read import open_pdf
from horismos.errors import CannotRead
from horismos.intake.pages import state_boxes
from horismos.sandbox.aside import seconds_for
from horismos.sandbox.programs import ghostscript

__all__ = ["pdf_from_postscript"]

MEMORY_BYTES, MEMORY_RATIO = 900_000_000, 10
"""[ours] of addresses, and so many times its size more."""
BINARY_HEAD = b"\xc5\xd0\xd3\xc6"
"""[standard] Encapsulated PostScript 3.0: a binary head, then the places of the parts."""


def _program(data: bytes) -> bytes:
    """The PostScript of a file, without the preview of the binary form."""
    if data[:4] == BINARY_HEAD:
        start, size = (int.from_bytes(data[i : i + 4], "little") for i in (4, 8))
        if start < 30 or start + size > len(data) or not size:
            raise CannotRead("The EPS file's head points outside the file.", "Ask for it to be sent again.")
        return data[start : start + size]
    return data


def pdf_from_postscript(data: bytes) -> bytes:
    """The PDF of a PostScript or EPS file. Raises CannotRead or LimitExceeded."""
    program = _program(data)
    encapsulated = b"EPSF" in program[:200]
    with tempfile.TemporaryDirectory() as folder:
        here = Path(folder)
        (here / "in.ps").write_bytes(program)
        ghostscript(
            [
                "-sDEVICE=pdfwrite", "-dCompatibilityLevel=1.7", "-dAutoRotatePages=/None",
                "-sColorConversionStrategy=LeaveColorUnchanged", "-dPreserveSeparation=true",
                "-dPreserveDeviceN=true", "-dPreserveOverprintSettings=true", "-dPreserveHalftoneInfo=false",
                "-dAutoFilterColorImages=false", "-dAutoFilterGrayImages=false", "-dColorImageFilter=/FlateEncode",
                "-dGrayImageFilter=/FlateEncode", "-dDownsampleColorImages=false", "-dDownsampleGrayImages=false",
                "-dDownsampleMonoImages=false", "-dPassThroughJPEGImages=true", "-dEmbedAllFonts=true",
                *(["-dEPSCrop"] if encapsulated else []),
                "-sOutputFile=out.pdf", "in.ps",
            ],
            here, time_s=seconds_for(len(data)),
            memory_bytes=MEMORY_BYTES + MEMORY_RATIO * len(data),
        )
        out = here / "out.pdf"
        if not out.exists() or not out.stat().st_size:
            raise CannotRead("The PostScript file prints no page.", "Ask for the artwork as a PDF.")
        return _stated(out.read_bytes())


def _stated(data: bytes) -> bytes:
    """What was made, each page with its finished size stated."""
    with open_pdf(data) as pdf:
        for page in pdf.pages:
            state_boxes(page.obj)
        return save(pdf)
