"""What a picture file holds, its pixels as they came: nothing is resampled or recompressed with loss.

PNG without transparency and JPEG keep their own compressed bytes; everything else is decoded and deflated.
"""

import io
import zlib
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import imagecodecs
import numpy as np
from PIL import Image

from horismos.artwork.kinds import FileKind
from horismos.errors import CannotRead, LimitExceeded
from horismos.intake.picture import Picture, check_size, exif_said, from_samples
from horismos.intake.tiff import tiff_pictures

__all__ = ["pictures_of"]


def pictures_of(data: bytes, kind: FileKind) -> list[Picture]:
    """The pictures in a file: one, or the frames of a TIFF.

    Raises CannotRead for a broken file, LimitExceeded for one that claims too much.
    """
    try:
        if kind is FileKind.PNG:
            found = [_png(data)]
        elif kind is FileKind.JPEG:
            found = [_jpeg(data)]
        else:
            found = tiff_pictures(data)
    except CannotRead:
        raise
    except MemoryError:
        raise LimitExceeded("The picture asks for more memory than a file may.", "Ask for a smaller one.") from None
    except Exception as error:  # the codecs' own errors are many and not listed
        reason = str(error).strip().splitlines()[0][:120] if str(error).strip() else type(error).__name__
        raise CannotRead(f"The {kind.words} picture is broken ({reason}).", "Ask for it to be sent again.") from None
    return [_with_good_profile(picture) for picture in found]


def _with_good_profile(picture: Picture) -> Picture:
    """Without an ICC profile that is for another colour space than the picture's."""
    wanted = {"gray": b"GRAY", "rgb": b"RGB ", "indexed": b"RGB ", "cmyk": b"CMYK"}.get(picture.space)
    if picture.icc and picture.icc[16:20] != wanted:
        said = "The picture's colour profile is for another colour space and was left out."
        return replace(picture, icc=b"", notes=(*picture.notes, said))
    return picture


# -- PNG (ISO/IEC 15948) -----------------------------------------------------------------------------


def _chunks(data: bytes) -> Iterator[tuple[bytes, bytes]]:
    at = 8
    while at + 12 <= len(data):
        size = int.from_bytes(data[at : at + 4], "big")
        kind, body = data[at + 4 : at + 8], data[at + 8 : at + 8 + size]
        if len(body) < size:
            break
        if zlib.crc32(kind + body) != int.from_bytes(data[at + 8 + size : at + 12 + size], "big"):
            raise CannotRead(f"The PNG picture is damaged (its part {kind.decode('latin-1')} fails its check sum).",
                             "Ask for it to be sent again.")
        yield kind, body
        if kind == b"IEND":
            return
        at += 12 + size
    raise CannotRead("The PNG picture ends too early.", "Ask for it to be sent again.")


def _png(data: bytes) -> Picture:
    parts: dict[bytes, bytes] = {}
    packed: list[bytes] = []
    for kind, body in _chunks(data):
        if kind == b"IHDR":
            pixel_bytes = {2: 3, 4: 2, 6: 4}.get(body[9], 1) * body[8] / 8
            check_size(int.from_bytes(body[:4], "big"), int.from_bytes(body[4:8], "big"), len(data), pixel_bytes)
        if kind == b"IDAT":
            packed.append(body)
        else:
            parts.setdefault(kind, body)
    head = parts[b"IHDR"]
    width, height, bits, colour, interlaced = (
        int.from_bytes(head[:4], "big"), int.from_bytes(head[4:8], "big"), head[8], head[9], head[12],
    )
    icc = b""
    if b"iCCP" in parts:
        _, _, rest = parts[b"iCCP"].partition(b"\0")
        icc = zlib.decompressobj().decompress(rest[1:], 20_000_000)
    ppi = None
    if len(parts.get(b"pHYs", b"")) == 9 and parts[b"pHYs"][8] == 1:
        x, y = (int.from_bytes(parts[b"pHYs"][i : i + 4], "big") * 0.0254 for i in (0, 4))
        ppi = (x, y) if x > 1 and y > 1 else None
    orientation = 1
    if b"eXIf" in parts:
        exif = Image.Exif()
        exif.load(b"Exif\0\0" + parts[b"eXIf"])
        orientation, _ = exif_said(exif)
    space = {0: "gray", 2: "rgb", 3: "indexed", 4: "gray", 6: "rgb"}[colour]
    common: dict[str, Any] = {"icc": icc, "ppi": ppi, "orientation": orientation}
    if colour in (0, 2, 3) and b"tRNS" not in parts and not interlaced:
        components = 3 if colour == 2 else 1
        _verify(packed, height * (1 + (width * components * bits + 7) // 8))
        return Picture(
            pixels=(width, height), bits=bits, space=space, filter="FlateDecode", packed=b"".join(packed),
            predictor=15, palette=parts.get(b"PLTE", b""), **common,
        )
    samples = imagecodecs.png_decode(data)
    with_alpha = samples.ndim == 3 and samples.shape[2] in (2, 4)
    return replace(from_samples(np.asarray(samples), with_alpha), **common)


def _verify(packed: list[bytes], expected: int) -> None:
    """The deflated rows have to unpack to just what the head claims. Raises CannotRead."""
    unpacker = zlib.decompressobj()
    count = 0
    for part in packed:
        rest = part
        while rest:
            count += len(unpacker.decompress(rest, 1 << 22))
            rest = unpacker.unconsumed_tail
            if count > expected:
                raise LimitExceeded("The PNG picture unpacks to more than it claims.", "Ask for it to be sent again.")
    if count + len(unpacker.flush()) < expected:
        raise CannotRead("The PNG picture has fewer rows than it claims.", "Ask for it to be sent again.")


# -- JPEG (ISO/IEC 10918-1) ---------------------------------------------------------------------------


def _jpeg(data: bytes) -> Picture:
    frame, adobe = _jpeg_frame(data)
    bits, height, width, components = frame
    check_size(width, height, len(data), components)
    if bits != 8 or components not in (1, 3, 4):
        raise CannotRead(f"The JPEG has {components} components of {bits} bits.", "Ask for 8 bits, grey, RGB or CMYK.")
    with Image.open(io.BytesIO(data)) as image:
        orientation, ppi = exif_said(image.getexif())
        density = image.info.get("dpi")
        if density and image.info.get("jfif_unit"):
            ppi = (float(density[0]), float(density[1]))
        icc = image.info.get("icc_profile") or b""
        image.draft(image.mode, (width // 8 or 1, height // 8 or 1))
        image.load()  # a file that ends early is found here
    space = {1: "gray", 3: "rgb", 4: "cmyk"}[components]
    # [practice] a CMYK JPEG with an Adobe marker holds its samples inverted.
    return Picture(
        pixels=(width, height), bits=8, space=space, filter="DCTDecode", packed=data, icc=icc,
        inverted=components == 4 and adobe, orientation=orientation, ppi=ppi,
    )


def _jpeg_frame(data: bytes) -> tuple[tuple[int, int, int, int], bool]:
    """Bits, height, width and components of the frame, and whether an Adobe marker is there."""
    at, adobe = 2, False
    while at + 4 <= len(data):
        if data[at] != 0xFF:
            at += 1
            continue
        marker = data[at + 1]
        if marker in (0xFF, 0x00, 0x01) or 0xD0 <= marker <= 0xD8:
            at += 1 if marker == 0xFF else 2
            continue
        size = int.from_bytes(data[at + 2 : at + 4], "big")
        body = data[at + 4 : at + 2 + size]
        if marker == 0xEE and body.startswith(b"Adobe"):
            adobe = True
        if marker in (0xC0, 0xC1, 0xC2):
            if len(body) < 6:
                break
            return (body[0], int.from_bytes(body[1:3], "big"), int.from_bytes(body[3:5], "big"), body[5]), adobe
        if 0xC3 <= marker <= 0xCF and marker not in (0xC4, 0xC8, 0xCC):
            raise CannotRead("The JPEG is coded in a way that RIPs cannot read.", "Ask for a plain JPEG or a TIFF.")
        at += 2 + size
    raise CannotRead("The JPEG picture has no frame.", "Ask for it to be sent again.")
