"""The ticket as XJDF, which systems of other makers read: media, copies, size, inks and what they mean.

[standard, from memory] CIP4's XJDF 2.1: a root ``XJDF`` with the processes in ``Types``, products, and resource sets;
lengths of media in points (1/72 inch), thickness in micrometres. What the standard has no word for (roles, forces, the
marks) stays with the JSON, which is named as a file beside.
"""

from collections.abc import Mapping
from typing import Any

from lxml import etree
from lxml.builder import ElementMaker

from horismos.materials import material_of
from horismos.roles import LineRole
from horismos.units import MM_PER_POINT

__all__ = ["NAMESPACE", "xjdf"]

NAMESPACE = "http://www.CIP4.org/JDFSchema_2_0"
VERSION = "2.1"
_SUFFIXES = {".pdf": "application/pdf", ".json": "application/json"}


def xjdf(ticket: Mapping[str, Any]) -> bytes:
    """The ticket of a released sheet as XJDF."""
    e = ElementMaker(namespace=NAMESPACE, nsmap={None: NAMESPACE})
    makes, sheet = ticket["makes"], ticket["sheet"]
    types = [*(["DigitalPrinting"] if makes != "cut" else []), *(["Laminating"] if ticket["laminate"] else []),
             *(["Cutting"] if ticket["operations"] else [])]
    number, count = ticket["sheet_number"], ticket["sheets_in_all"]
    root = e.XJDF(
        e.AuditPool(e.AuditCreated(e.Header(DeviceID="horismos", AgentName="Horismos", AgentVersion=_version(ticket)))),
        e.ProductList(*[_product(e, piece, n) for n, piece in enumerate(ticket["pieces"], 1)]),
        _media(e, ticket),
        _set(e, "RunList", "Input", e.Resource(e.RunList(*[_file(e, one) for one in ticket["files"]]))),
        _set(e, "Color", "Input", *[_ink(e, *one) for one in _inks(ticket)]),
        _set(e, "Component", "Output", e.Resource(
            e.AmountPool(e.PartAmount(Amount=str(sheet["copies"]))),
            e.Component(ProductType="Label", Dimensions=_points(sheet["width_mm"], sheet["length_mm"])),
        )),
        JobID=str(ticket["job"]), JobPartID=str(ticket["code"] or f"{number}-of-{count}"), Version=VERSION,
        Types=" ".join(types),
    )
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True))


def _version(ticket: Mapping[str, Any]) -> str:
    return str(ticket["made_by"]).rpartition(" ")[2]


def _points(*lengths_mm: float) -> str:
    return " ".join(f"{length / MM_PER_POINT:.4f}".rstrip("0").rstrip(".") for length in lengths_mm)


def _set(e: ElementMaker, name: str, usage: str, *resources: Any) -> Any:
    return e.ResourceSet(*resources, Name=name, Usage=usage)


def _product(e: ElementMaker, piece: Mapping[str, Any], number: int) -> Any:
    size = e.Intent(e.LayoutIntent(FinishedDimensions=f"{_points(*piece['size_mm'])} 0"), Name="LayoutIntent")
    return e.Product(size, ID=f"Piece{number}", Amount=str(piece["copies"]), DescriptiveName=str(piece["job"]))


def _media(e: ElementMaker, ticket: Mapping[str, Any]) -> Any:
    material = material_of(ticket)
    thick = sum(stratum.thickness_um for stratum in material.strata)
    roll = material.length_mm is None
    length = 0.0 if material.length_mm is None else material.length_mm
    media = e.Media(
        MediaType="SelfAdhesive" if len(material.strata) > 1 else "Other", MediaUnit="Roll" if roll else "Sheet",
        Dimension=_points(material.width_mm, length), Thickness=f"{thick:g}",
    )
    return _set(e, "Media", "Input", e.Resource(media, DescriptiveName=material.title, ExternalID=material.id))


def _file(e: ElementMaker, file: Mapping[str, Any]) -> Any:
    name = str(file["name"])
    kind = next((mime for end, mime in _SUFFIXES.items() if name.endswith(end)), "application/octet-stream")
    return e.FileSpec(URL=name, MimeType=kind, CheckSum=str(file["sha256"]))


def _inks(ticket: Mapping[str, Any]) -> list[tuple[str, str, str]]:
    """The inks by name, what each is, and what it means."""
    printed = [(ink, "Normal", "printed") for ink in ticket["ink_order"]]
    roles = {op["role"]: op["ink"] for op in ticket["operations"] if not op["aligning"]}
    lines = [(ink, "DieLine", LineRole(role).words) for role, ink in roles.items()]
    return [*printed, *lines]


def _ink(e: ElementMaker, name: str, kind: str, means: str) -> Any:
    color = e.Color(ActualColorName=name, ColorType=kind)
    return e.Resource(e.Part(Separation=name), color, DescriptiveName=means)
