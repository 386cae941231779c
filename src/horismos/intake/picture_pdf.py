"""Puts pictures on pages of their finished size."""

from collections.abc import Sequence

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.edit import save
from horismos.intake.picture import Picture
from horismos.paths.matrix import Matrix
from horismos.units import points_from_mm, user_unit_for

__all__ = ["pdf_of_pictures"]

DEVICE = {"gray": Name.DeviceGray, "rgb": Name.DeviceRGB, "cmyk": Name.DeviceCMYK}
COMPONENTS = {"gray": 1, "rgb": 3, "indexed": 3, "cmyk": 4, "lab": 3}
D50 = [0.9642, 1.0, 0.8249]
"""[standard] ICC.1: the white of the profile connection space."""


def _turned(orientation: int, w: float, h: float) -> Matrix:
    """The matrix that places the unit square of an image so as it is meant to be seen.

    Source: TIFF 6.0, Orientation, as EXIF uses it; ``w`` and ``h`` are the sides as seen.
    """
    table: dict[int, Matrix] = {
        1: (w, 0, 0, h, 0, 0), 2: (-w, 0, 0, h, w, 0), 3: (-w, 0, 0, -h, w, h), 4: (w, 0, 0, -h, 0, h),
        5: (0, -h, -w, 0, w, h), 6: (0, -h, w, 0, 0, h), 7: (0, h, w, 0, 0, 0), 8: (0, h, -w, 0, w, 0),
    }
    return table[orientation]


def pdf_of_pictures(pictures: Sequence[Picture], sizes_mm: Sequence[tuple[float, float]]) -> bytes:
    """One page a picture, each as large as its picture, the samples as they came."""
    with pikepdf.new() as pdf:
        for picture, (width_mm, height_mm) in zip(pictures, sizes_mm, strict=True):
            w, h = points_from_mm(width_mm), points_from_mm(height_mm)
            unit = user_unit_for(max(width_mm, height_mm))
            matrix = " ".join(f"{v:.6f}" for v in _turned(picture.orientation, w / unit, h / unit))
            box = Array([0, 0, w / unit, h / unit])
            page = Dictionary(
                Type=Name.Page, MediaBox=box, TrimBox=box, BleedBox=box,
                Resources=Dictionary(XObject=Dictionary(Picture=_image(pdf, picture))),
                Contents=pdf.make_stream(f"q {matrix} cm /Picture Do Q".encode()),
            )
            if unit > 1:
                page.UserUnit = unit
            pdf.pages.append(pikepdf.Page(pdf.make_indirect(page)))
        return save(pdf)


def _image(pdf: pikepdf.Pdf, picture: Picture) -> pikepdf.Object:
    image = pdf.make_stream(b"")
    image.write(picture.packed, filter=Name("/" + picture.filter))
    if picture.predictor > 1:
        image.DecodeParms = Dictionary(
            Predictor=picture.predictor, Columns=picture.pixels[0], BitsPerComponent=picture.bits,
            Colors=3 if picture.space == "rgb" else 1,
        )
    image.Type, image.Subtype = Name.XObject, Name.Image
    image.Width, image.Height = picture.pixels
    image.BitsPerComponent = picture.bits
    image.ColorSpace = _space(pdf, picture)
    if picture.inverted:
        image.Decode = Array([1, 0] * 4)
    if picture.alpha:
        mask = pdf.make_stream(b"")
        mask.write(picture.alpha, filter=Name.FlateDecode)
        mask.Type, mask.Subtype, mask.ColorSpace = Name.XObject, Name.Image, Name.DeviceGray
        mask.Width, mask.Height = picture.pixels
        mask.BitsPerComponent = picture.alpha_bits
        image.SMask = pdf.make_indirect(mask)
    return pdf.make_indirect(image)


def _space(pdf: pikepdf.Pdf, picture: Picture) -> pikepdf.Object:
    if picture.space == "lab":
        return Array([Name.Lab, Dictionary(WhitePoint=D50, Range=[-128, 127, -128, 127])])
    base: pikepdf.Object = DEVICE.get(picture.space, Name.DeviceRGB)
    if picture.icc:
        profile = pdf.make_stream(picture.icc)
        profile.N, profile.Alternate = COMPONENTS[picture.space], base
        base = Array([Name.ICCBased, pdf.make_indirect(profile)])
    if picture.space == "indexed":
        return Array([Name.Indexed, base, len(picture.palette) // 3 - 1, pikepdf.String(picture.palette)])
    return base
