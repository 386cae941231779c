"""Makes a print PDF follow PDF/X-4 (ISO 15930-7) as far as its artwork allows, and says what keeps it from that.

The rules are written down from memory [memory]: output intent and trim box, metadata in XMP, all fonts embedded,
colours that an output intent for CMYK explains, nothing that acts, no transfer curves, no PostScript, no file outside;
layers by their default configuration alone.
"""

import uuid
from collections.abc import Iterable, Iterator, Sequence
from datetime import UTC, datetime
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary, Name

from horismos.artwork.layers import layers_of
from horismos.artwork.mixing_hints import write_printing_order
from horismos.artwork.model import Page
from horismos.artwork.paints import paints_of
from horismos.colour.press import PRESS, PRESS_CONDITION
from horismos.words import plural

__all__ = ["STANDARD", "VERSION", "follow", "hindrances"]

STANDARD = "PDF/X-4"
VERSION = "1.6"
"""The PDF version that the standard stands on."""
KEPT = frozenset(["/Type", "/Pages", "/OCProperties", "/Metadata", "/OutputIntents", "/Version"])
"""What a catalog keeps: everything else may act, or says how to look at another file."""
MOST_WALKED, DEEPEST = 200_000, 12


def follow(pdf: pikepdf.Pdf, title: str, pages: Sequence[Page], order: Sequence[str]) -> tuple[str, ...]:
    """Give the file what the standard asks for; what keeps it from following it is given back.

    ``order`` names the inks in the order in which they are laid down, the process inks beside each other.

    Only where nothing does, the file says that it follows it.
    """
    for key in [key for key in pdf.Root.keys() if key not in KEPT]:
        del pdf.Root[key]
    _layers(pdf)
    _output_intent(pdf)
    write_printing_order(pdf, order)
    keeping, now = hindrances(pdf, pages), f"{datetime.now(UTC):%Y-%m-%dT%H:%M:%SZ}"
    pdf.docinfo["/Title"] = title
    pdf.docinfo["/Trapped"] = Name("/False")
    with pdf.open_metadata(set_pikepdf_as_editor=False) as metadata:
        metadata.register_xml_namespace("http://www.npes.org/pdfx/ns/id/", "pdfxid")
        metadata["dc:title"] = title
        metadata["pdf:Trapped"] = "False"
        for key in ("xmp:CreateDate", "xmp:ModifyDate", "xmp:MetadataDate"):
            metadata[key] = now
        metadata["xmpMM:DocumentID"] = f"uuid:{uuid.uuid4()}"
        metadata["xmpMM:RenditionClass"], metadata["xmpMM:VersionID"] = "default", "1"
        if not keeping:
            metadata["pdfxid:GTS_PDFXVersion"] = STANDARD
    return keeping


def _layers(pdf: pikepdf.Pdf) -> None:
    """Configurations that need no event (AS) to be right: as it is seen, with the lines, and as it is printed.

    That a line layer does not print stands in its usage; what keeps a line from printing is its ink's name.
    """
    properties = pdf.Root.get("/OCProperties")
    if properties is None:
        return
    groups, (layers, _) = list(properties.get("/OCGs", [])), layers_of(pdf)
    lines = [layer.role is not None for layer in layers]
    states = {"Print with lines": [not (layer.prints or line) for layer, line in zip(layers, lines, strict=True)],
              "Print": [not layer.prints for layer in layers]}
    seen, printed = (
        Dictionary(
            Name=pikepdf.String(name), BaseState=Name.ON, Order=Array(groups),
            OFF=Array([group for group, is_off in zip(groups, off, strict=True) if is_off]),
        )
        for name, off in states.items()
    )
    properties.D, properties.Configs = seen, Array([printed])


def _output_intent(pdf: pikepdf.Pdf) -> None:
    """What the colours are meant for: the press profile of the shop."""
    profile = pdf.make_stream(PRESS.read_bytes())
    profile.N = 4
    pdf.Root.OutputIntents = Array([Dictionary(
        Type=Name.OutputIntent, S=Name.GTS_PDFX, OutputConditionIdentifier=pikepdf.String(PRESS_CONDITION),
        RegistryName=pikepdf.String("http://www.color.org"), Info=pikepdf.String(PRESS_CONDITION),
        DestOutputProfile=pdf.make_indirect(profile),
    )])


def hindrances(pdf: pikepdf.Pdf, pages: Iterable[Page]) -> tuple[str, ...]:
    """What keeps a file that is made of these pages from following the standard, in words."""
    fonts = {font.name for page in pages for font in page.fonts if not font.embedded}
    rgb = sum(any(paint.family == "DeviceRGB" for paint, _ in paints_of(o)) for page in pages for o in page.objects)
    said = [f"{plural(len(fonts), 'font is', 'fonts are')} not embedded ({', '.join(sorted(fonts))})"] if fonts else []
    if rgb:
        said.append(f"{plural(rgb, 'object is', 'objects are')} in RGB without a profile")
    found: dict[str, None] = {}
    for number, obj in enumerate(pdf.objects):
        if number > MOST_WALKED:
            said.append(f"it has more than {MOST_WALKED:,} parts, and not all were looked at")
            break
        for part in _parts(obj, 0):
            found.update(dict.fromkeys(_of_object(part)))
    return (*said, *found)


def _parts(obj: Any, depth: int) -> Iterator[Any]:
    """The dictionaries of an object: itself, and those that stand in it and are no objects of their own."""
    if depth > DEEPEST:
        return
    if isinstance(obj, Dictionary | pikepdf.Stream):
        yield obj
        inside = [obj.get(key) for key in obj.keys()]
    else:
        inside = list(obj) if isinstance(obj, Array) else []
    for part in inside:
        if isinstance(part, Dictionary | Array) and not part.is_indirect:
            yield from _parts(part, depth + 1)


def _of_object(obj: Any) -> list[str]:
    out = []
    if "/TR" in obj or str(obj.get("/TR2", "/Default")) != "/Default":
        out.append("a transfer curve is set")
    if str(obj.get("/Subtype", "")) == "/PS" or str(obj.get("/Subtype2", "")) == "/PS":
        out.append("a part is PostScript")
    if "/Ref" in obj and str(obj.get("/Subtype", "")) == "/Form":
        out.append("a part lies in another file")
    if "/OPI" in obj:
        out.append("a picture stands for another one (OPI)")
    group = obj.get("/Group")
    if isinstance(group, Dictionary) and str(group.get("/CS", "")) == "/DeviceRGB":
        out.append("transparency is blended in RGB")
    return out
