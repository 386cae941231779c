"""The kinds of files that artwork comes from. Telling them apart is done in ``intake``."""

from enum import StrEnum

__all__ = ["FileKind"]


class FileKind(StrEnum):
    """The kinds of files that can be taken in."""

    PDF = "pdf"
    POSTSCRIPT = "postscript"
    SVG = "svg"
    PNG = "png"
    JPEG = "jpeg"
    TIFF = "tiff"
    HPGL = "hpgl"
    DXF = "dxf"

    @property
    def words(self) -> str:
        """The kind as it stands in sentences."""
        return {"postscript": "PostScript or EPS", "hpgl": "HP-GL"}.get(self.value, self.value.upper())
