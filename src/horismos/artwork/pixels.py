"""The samples of pictures (ISO 32000-1, 8.9.5): unpacked as the file means them, and written back.

Only for changing pictures: whoever looks at a page lets a renderer draw it.
"""

import re
from collections.abc import Callable, Iterator, Sequence
from typing import Any

import imagecodecs
import numpy as np
import pikepdf
from numpy.typing import NDArray
from pikepdf import Array, Dictionary, Name, Stream

from horismos.artwork.edit import Edit, edit_page, is_inline, resources_of_run, unused_names
from horismos.artwork.functions import run_function
from horismos.artwork.limits import MAX_PICTURE_PIXELS
from horismos.artwork.model import ImageObject, Page
from horismos.artwork.spaces import Space, space_of
from horismos.errors import CannotRead

__all__ = [
    "carriers", "colours_through", "edit_pages", "inline_pictures", "mask_of_key", "packed", "picture_drawn",
    "put_samples", "run_through", "samples_of", "stencil",
]

UNREADABLE = (
    pikepdf.PdfError, pikepdf.DependencyError, pikepdf.UnsupportedImageTypeError, ValueError, NotImplementedError,
    OSError,
)
STEPS = 256
"""[ours] samples of a shading's colours; between them it runs straight."""
LONG = {
    "/BPC": "/BitsPerComponent", "/CS": "/ColorSpace", "/D": "/Decode", "/DP": "/DecodeParms", "/F": "/Filter",
    "/H": "/Height", "/IM": "/ImageMask", "/I": "/Interpolate", "/W": "/Width",
}
LONG_NAMES = {
    "/G": "/DeviceGray", "/RGB": "/DeviceRGB", "/CMYK": "/DeviceCMYK", "/I": "/Indexed", "/AHx": "/ASCIIHexDecode",
    "/A85": "/ASCII85Decode", "/LZW": "/LZWDecode", "/Fl": "/FlateDecode", "/RL": "/RunLengthDecode",
    "/CCF": "/CCITTFaxDecode", "/DCT": "/DCTDecode",
}
"""[standard] ISO 32000-1, tables 93 and 94."""

Samples = NDArray[np.uint8]


def samples_of(picture: Any) -> tuple[Samples, Space, Any]:
    """The samples of a picture, shape (height, width, components), with its space and that as the file has it.

    They run from 0 to 255 over the range of each component, with the Decode array and the table of an Indexed
    space seen to: the space is then its base. Raises CannotRead for a picture that is not read here.
    """
    found, space, written = _raw(picture)
    if space.family == "Indexed" and space.base is not None:
        return _looked_up(found, space), space.base, written[1]
    return _decoded(found, picture.get("/Decode")), space, written


def mask_of_key(pdf: pikepdf.Pdf, picture: Any) -> Any:
    """A stencil that hides what the colour key of a picture hides (8.9.6.4): its key means nothing in another space.

    Raises CannotRead.
    """
    found, _, _ = _raw(picture)
    ranges = np.array([int(v) for v in picture["/Mask"]])
    hidden = ((found >= ranges[::2]) & (found <= ranges[1::2])).all(axis=2)
    return stencil(pdf, np.asarray(hidden))


def stencil(pdf: pikepdf.Pdf, hidden: NDArray[np.bool_]) -> Any:
    """An explicit mask (8.9.6.3) that hides some pixels, shape (height, width), and shows the others."""
    made = pdf.make_stream(np.packbits(hidden, axis=1).tobytes())
    made.Type, made.Subtype, made.ImageMask = Name.XObject, Name.Image, True
    made.Height, made.Width, made.BitsPerComponent = *hidden.shape, 1
    return made


def _raw(picture: Any) -> tuple[Samples, Space, Any]:
    """The samples as they are packed, but spread to eight bits unless they are indices."""
    width, height = int(picture.get("/Width", 0)), int(picture.get("/Height", 0))
    if not 0 < width * height <= MAX_PICTURE_PIXELS:
        raise CannotRead(f"A picture of {width} × {height} pixels is too large.", "Make it smaller first.")
    stencil = picture.get("/ImageMask", False)
    written = Name.DeviceGray if stencil else picture.get("/ColorSpace")
    space = space_of(written, lambda name: None)
    bits = 1 if stencil else int(picture.get("/BitsPerComponent", 8))
    drawn = _last_filter(picture) in (Name.DCTDecode, Name.JPXDecode)
    try:
        found = _jpeg(picture) if drawn else _plain(picture, width, height, space.components, bits)
    except UNREADABLE as error:
        raise CannotRead(f"A picture cannot be unpacked ({error}).", "Ask for another file.") from None
    if found.shape != (height, width, space.components):
        raise CannotRead("A picture is not what its dictionary says.", "Ask for another file.")
    return found, space, written


def _last_filter(picture: Any) -> Any:
    filters = picture.get("/Filter")
    return filters[-1] if isinstance(filters, Array) and len(filters) else filters


def _jpeg(picture: Any) -> Samples:
    image = pikepdf.PdfImage(picture).as_pil_image()
    found = np.asarray(image)
    if image.mode == "CMYK":
        found = 255 - found  # Pillow turns them over, as if there were a Decode array
    return found[..., None] if found.ndim == 2 else found


def _plain(picture: Any, width: int, height: int, depth: int, bits: int) -> Samples:
    """Samples of whatever width, packed row by row (8.9.5.2); those of an Indexed space as they are."""
    row = (width * depth * bits + 7) // 8
    data = np.frombuffer(picture.read_bytes(pikepdf.StreamDecodeLevel.all), np.uint8)
    if len(data) < row * height:
        raise ValueError("too little data")
    lines = data[: row * height].reshape(height, row)
    if bits == 16:
        return lines[:, ::2].reshape(height, width, depth)
    if bits == 8:
        return lines.reshape(height, width, depth)
    parts = [(lines >> shift) & (2**bits - 1) for shift in range(8 - bits, -1, -bits)]
    values = np.stack(parts, axis=2).reshape(height, -1)[:, : width * depth].reshape(height, width, depth)
    indexed = isinstance(picture.get("/ColorSpace"), Array) and picture["/ColorSpace"][0] == Name.Indexed
    return values if indexed else (values * (255 // (2**bits - 1))).astype(np.uint8)


def _looked_up(found: Samples, space: Space) -> Samples:
    assert space.base is not None
    table = np.zeros((256, space.base.components), np.uint8)
    given = np.frombuffer(space.table, np.uint8)
    rows = min(len(given) // space.base.components, 256)
    table[:rows] = given[: rows * space.base.components].reshape(rows, -1)
    out: Samples = table[found[..., 0]]
    return out


def _decoded(found: Samples, decode: Any) -> Samples:
    """Samples as a Decode array means them (8.9.5.2), for components that run from 0 to 1."""
    if decode is None:
        return found
    ends = np.array([float(v) for v in decode]).reshape(-1, 2)
    if len(ends) != found.shape[2] or np.abs(ends - (0, 1)).max() < 1e-9 or ends.min() < 0 or ends.max() > 1:
        return found
    out = np.empty(found.shape, np.uint8)
    for i, (low, high) in enumerate(ends):
        table = np.clip(np.round((low + np.arange(256) / 255 * (high - low)) * 255), 0, 255).astype(np.uint8)
        out[..., i] = table[found[..., i]]
    return out


def packed(samples: Samples) -> bytes:
    """Samples as FlateDecode takes them: packed quickly rather than small."""
    return bytes(imagecodecs.deflate_encode(samples.tobytes(), level=1))


def put_samples(picture: Any, samples: Samples, space: Any) -> None:
    """Write samples of eight bits, shape (height, width, components), in a space of the file, without loss."""
    picture.write(packed(samples), filter=Name.FlateDecode)
    picture.Height, picture.Width = samples.shape[:2]
    picture.BitsPerComponent, picture.ColorSpace = 8, space
    for key in ("/Decode", "/DecodeParms"):
        if isinstance(picture, Stream) and key in picture:
            del picture[key]


def carriers(pdf: pikepdf.Pdf) -> Iterator[Any]:
    """Every picture and shading of a file that has colours of its own, each once."""
    seen: set[tuple[int, int]] = set()
    for obj in pdf.objects:
        if not isinstance(obj, Dictionary | Stream):
            continue
        resources = obj.get("/Resources")
        within = resources.get("/Shading") if isinstance(resources, Dictionary) else None
        for one in (obj, obj.get("/Shading"), *_values(within), *_values(obj.get("/Shading"))):
            if not isinstance(one, Dictionary | Stream) or "/ColorSpace" not in one or one.objgen in seen:
                continue
            if "/ShadingType" in one or one.get("/Subtype") == Name.Image:
                if one.is_indirect:
                    seen.add(one.objgen)
                yield one


def _values(obj: Any) -> list[Any]:
    return [obj[key] for key in obj.keys()] if isinstance(obj, Dictionary) else []


def colours_through(shading: Any) -> NDArray[np.float64] | None:
    """The colours that an axial or radial shading runs through, shape (n, components); None for another kind."""
    function = shading.get("/Function")
    if int(shading["/ShadingType"]) not in (2, 3) or function is None:
        return None
    first, last = (float(v) for v in shading.get("/Domain", [0, 1]))
    return run_function(function, np.linspace(first, last, STEPS))


def run_through(
    pdf: pikepdf.Pdf, shading: Any, new: Callable[[NDArray[np.float64]], NDArray[np.float64]], space: Any
) -> bool:
    """Give an axial or radial shading other colours, in a space of as many inks as ``new`` gives, each 0 to 1.

    ``new`` gets the colours that it runs through, shape (n, components). False for another kind, which stays.
    """
    values = colours_through(shading)
    if values is None:
        return False
    domain, tints = shading.get("/Domain", [0, 1]), new(values)
    made = pdf.make_stream(np.round(tints * 65535).astype(">u2").tobytes())
    made.FunctionType, made.Domain, made.Range = 0, Array([float(v) for v in domain]), Array([0, 1] * tints.shape[1])
    made.Size, made.BitsPerSample = Array([STEPS]), 16
    shading.Function, shading.ColorSpace = made, space
    if "/Background" in shading:
        del shading["/Background"]
    return True


def inline_pictures(pdf: pikepdf.Pdf, page: Page) -> Iterator[tuple[ImageObject, Any]]:
    """The pictures that stand in the content of a page, each as one of its own.

    Those whose space is named by the resources are passed over.
    """
    for obj in page.objects:
        if isinstance(obj, ImageObject) and is_inline(page, obj):
            made = _from_inline(pdf, page.streams[obj.stream].data[obj.start : obj.end])
            if made is not None:
                yield obj, made


def picture_drawn(pdf: pikepdf.Pdf, page: Page, obj: ImageObject) -> Any:
    """The picture of an open copy of the file that an object of the page draws; None where it stands in the content."""
    if is_inline(page, obj):
        return None
    name = page.streams[obj.stream].data[obj.start : obj.end].split()[0]
    resources = resources_of_run(pdf, page, obj.stream)
    return resources.XObject[pikepdf.Object.parse(name)]


def _from_inline(pdf: pikepdf.Pdf, written: bytes) -> Any:
    head = re.match(rb"\s*BI\b(.*?)\bID[\s\0]", written, re.DOTALL)
    tail = written.rstrip().removesuffix(b"EI")
    if head is None:
        return None
    try:
        given = pikepdf.Object.parse(b"<<" + head[1] + b">>")
    except pikepdf.PdfError:
        return None
    made = pdf.make_stream(tail[head.end() :])
    made.Type, made.Subtype = Name.XObject, Name.Image
    for key in given.keys():
        long = LONG.get(key, key)
        value = given[key]
        listed = [_long(v) for v in value] if isinstance(value, Array) else _long(value)
        made[long] = Array(listed) if isinstance(listed, list) else listed
    return made


def _long(value: Any) -> Any:
    return Name(LONG_NAMES[str(value)]) if isinstance(value, Name) and str(value) in LONG_NAMES else value


def edit_pages(
    pdf: pikepdf.Pdf, pages: Sequence[Page], change: Callable[[ImageObject, Any], bool],
    edits_of: Callable[[Page], dict[int, list[Edit]]] = lambda page: {},
) -> None:
    """Carry out the edits of every page, and put the pictures in its content that ``change`` changes in their place.

    ``change`` gets an object with its picture, alters that, and says whether it did.
    """
    names = unused_names(pages, "HzPicture")
    for page in pages:
        edits, resources = edits_of(page), dict[tuple[str, str], Any]()
        for obj, picture in inline_pictures(pdf, page):
            if change(obj, picture):
                name = next(names)
                resources["/XObject", name] = picture
                edits.setdefault(obj.stream, []).append(Edit(obj.start, obj.end, f" /{name} Do ".encode()))
        if edits:
            edit_page(pdf, page, edits, resources)
