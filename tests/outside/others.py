"""Files that we did not write, and what other tools say of them."""

import functools
import re
import subprocess
from dataclasses import dataclass
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
FOLDER = ROOT / ".setup" / "by-others"
"""Sample files of two PDF libraries' source packages; ``./horismos test`` fetches them."""
MOST_PAGES = 3
PASSWORDS = {"encrypted-file.pdf": "test", "libreoffice-writer-password.pdf": "openpassword"}


def files() -> list[Path]:
    """The sample files, each name once."""
    found = {path.name: path for path in sorted(FOLDER.rglob("*.pdf"))}
    return list(found.values())


@functools.cache
def _said(*command: str) -> str:
    done = subprocess.run(command, capture_output=True, timeout=120)
    return (done.stdout + done.stderr).decode("utf-8", "replace")


def boxes_by_poppler(path: Path, page: int) -> dict[str, list[float]]:
    """Source: Poppler's `pdfinfo -box`, in points, as the file gives them."""
    text = _said("pdfinfo", "-box", "-f", str(page), "-l", str(page), str(path))
    return {
        name.lower(): [float(v) for v in values.split()]
        for name, values in re.findall(r"^Page\s+\d+ (Media|Crop|Bleed|Trim)Box:\s+([-\d. ]+)$", text, re.MULTILINE)
    }


def fonts_by_poppler(path: Path, page: int) -> dict[str, bool]:
    """Source: Poppler's `pdffonts`: names and embedding."""
    text = _said("pdffonts", "-f", str(page), "-l", str(page), str(path))
    kind = r"(?:Type 1C?|Type 1C \(OT\)|Type 3|TrueType(?: \(OT\))?|CID \S+(?: \S+)??(?: \(OT\))?)"
    flags = r"(yes|no)\s+(?:yes|no)\s+(?:yes|no)\s"
    rows = re.findall(rf"^(.+?)\s+{kind}\s+\S.*?\s{flags}", text, re.MULTILINE)
    out: dict[str, bool] = {}
    for name, embedded in rows:
        out[name.strip()] = out.get(name.strip(), True) and embedded == "yes"
    return out


@dataclass(frozen=True)
class Picture:
    """A row of Poppler's `pdfimages -list`."""

    kind: str
    size: tuple[int, int]
    colour: str
    bits: int
    ppi: tuple[float, float]


def images_by_poppler(path: Path, page: int) -> list[Picture]:
    """Source: Poppler's `pdfimages -list`: size, space, bits and effective ppi of each image."""
    out = []
    for line in _said("pdfimages", "-list", "-f", str(page), "-l", str(page), str(path)).splitlines():
        part = line.split()
        if len(part) >= 14 and part[0].isdigit():
            ppi = float(part[-4]), float(part[-3])
            out.append(Picture(part[2], (int(part[3]), int(part[4])), part[5], int(part[7]), ppi))
    return out


def painted_by_ghostscript(path: Path, page: int) -> list[float] | None:
    """Source: Ghostscript's `bbox` device at 2,880 ppi, in points; None where it failed."""
    text = _said("gs", "-q", "-dSAFER", "-dBATCH", "-dNOPAUSE", "-sDEVICE=bbox", "-r2880", "-dUseCropBox=false",
                 f"-dFirstPage={page}", f"-dLastPage={page}", str(path))
    found = re.findall(r"%%HiResBoundingBox: ([-\d. ]+)", text)
    return [float(v) for v in found[-1].split()] if found else None
