"""An SVG's tree made safe, and what in it can be bound to a line role.

Safe means: no entities beyond plain text, nothing fetched or read from outside the file, no scripts.
"""

import re
from dataclasses import dataclass
from typing import Any

from lxml import etree

from horismos.errors import CannotRead, LimitExceeded
from horismos.units import UNITS_MM

__all__ = ["LEAVES", "SvgTree", "parse_svg", "strands_of"]

SVG = "{http://www.w3.org/2000/svg}"
HREFS = ("href", "{http://www.w3.org/1999/xlink}href")
LABEL = "{http://www.inkscape.org/namespaces/inkscape}label"
LEAVES = frozenset(["path", "rect", "circle", "ellipse", "line", "polyline", "polygon", "text", "image", "use"])
DROPPED = frozenset(["script", "foreignObject", "animate", "animateTransform", "animateMotion", "set", "handler"])
MOST_BYTES = 60_000_000
MOST_ELEMENTS = 1_000_000
MOST_ENTITIES, LONGEST_ENTITY = 200, 2_000
CSS_UNITS = {
    "mm": "mm", "cm": "cm", "in": "inch", "pt": "point", "pc": "pica", "q": "quarter", "px": "pixel", "": "pixel",
}
"""[standard] CSS Values and Units 3, 6.2: absolute lengths; a number alone is in pixels of 1/96 inch."""


@dataclass(frozen=True, eq=False)
class SvgTree:
    """A parsed file. ``size_mm`` is None where it has no size of its own; ``in_pixels`` says that
    the size is stated in pixels only. ``units`` are its width and height in its own.
    """

    root: Any
    size_mm: tuple[float, float] | None
    in_pixels: bool
    ratio: float
    notes: tuple[str, ...]
    units: tuple[float, float] = (1.0, 1.0)

    def bytes(self) -> bytes:
        """The file, safe."""
        out: bytes = etree.tostring(self.root, encoding="utf-8", xml_declaration=True)
        return out


def parse_svg(data: bytes) -> SvgTree:
    """Read an SVG. Raises CannotRead or LimitExceeded, in words."""
    if len(data) > MOST_BYTES:
        raise LimitExceeded("The SVG is larger than 60 MB.", "Ask for a PDF.")
    text = _decoded(data)
    parser = etree.XMLParser(
        resolve_entities=False, no_network=True, load_dtd=False, dtd_validation=False, huge_tree=False,
        remove_comments=True, remove_pis=True,
    )
    try:
        root = etree.fromstring(_without_doctype(text).encode("utf-8"), parser)
    except etree.XMLSyntaxError as error:
        reason = str(error).splitlines()[0][:140]
        raise CannotRead(f"The SVG is broken ({reason}).", "Ask for it to be sent again.") from None
    if etree.QName(root).localname != "svg":
        raise CannotRead("The file's first element is no svg.", "Ask for it to be sent again.")
    notes = _cleaned(root)
    sides = [_length(root.get(name)) for name in ("width", "height")]
    view = _view_box(root)
    if view is None and sides[0] and sides[1]:
        view = (0.0, 0.0, sides[0][0] / UNITS_MM["pixel"], sides[1][0] / UNITS_MM["pixel"])
        root.set("viewBox", " ".join(f"{v:.6f}" for v in view))
    ratio = view[2] / view[3] if view else 1.0
    size = None
    if sides[0] and sides[1]:
        size = sides[0][0], sides[1][0]
        ratio = size[0] / size[1]
    in_pixels = bool(sides[0] and sides[0][1] in ("px", ""))
    units = (view[2], view[3]) if view else (ratio, 1.0)
    return SvgTree(root, size, in_pixels, ratio, tuple(notes), units)


def _decoded(data: bytes) -> str:
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        text = data.decode("utf-16", "replace")
    else:
        declared = re.match(rb"\s*<\?xml[^>]*encoding=[\"']([\w.-]+)", data[:200])
        try:
            text = data.decode(declared[1].decode() if declared else "utf-8-sig")
        except (UnicodeDecodeError, LookupError):
            text = data.decode("utf-8", "replace")
    return re.sub(r"^\s*<\?xml[^>]*\?>", "", text.lstrip("\ufeff"))


def _without_doctype(text: str) -> str:
    """The text without its document type; its plain entities written out. Raises CannotRead for others."""
    begins = text.find("<!DOCTYPE")  # there is one, or the parser refuses the rest
    found = re.compile(r"<!DOCTYPE[^\[>]*(?:\[(.*?)\])?\s*>", re.DOTALL).match(text, begins) if begins >= 0 else None
    if not found:
        return text
    inside = found[1] or ""
    entities = dict(re.findall(r"<!ENTITY\s+([\w.:-]+)\s+[\"']([^\"'<]*)[\"']\s*>", inside))
    said = len(re.findall(r"<!ENTITY", inside))
    if said != len(entities) or said > MOST_ENTITIES or any(
        "&" in value or len(value) > LONGEST_ENTITY for value in entities.values()
    ):
        raise CannotRead(
            "The SVG defines entities that refer to files or to each other.", "Ask for it to be written again without."
        )
    text = text[: found.start()] + text[found.end() :]
    return re.sub(r"&([\w.:-]+);", lambda m: entities.get(m[1], m[0]), text)


def _cleaned(root: Any) -> list[str]:
    notes: dict[str, None] = {}
    count = 0
    for element in list(root.iter()):
        count += 1
        if count > MOST_ELEMENTS:
            raise LimitExceeded("The SVG has more than a million elements.", "Ask for a PDF.")
        if not isinstance(element.tag, str):
            _remove(element)
            continue
        name = etree.QName(element).localname
        if name in DROPPED:
            notes.setdefault(f"The SVG's “{name}” was left out: it does not print.")
            _remove(element)
            continue
        for key in HREFS:
            value = (element.get(key) or "").strip()
            if value and not value.startswith(("#", "data:")):
                notes.setdefault("A picture or style that the SVG only links to is missing; it has to be embedded.")
                del element.attrib[key]
        for key in [k for k in element.attrib if k.lower().startswith("on")]:
            del element.attrib[key]
        style = element.get("style")
        if style and _reaches_out(style):
            element.set("style", _inside_only(style))
        if name == "style" and element.text and _reaches_out(element.text):
            element.text = _inside_only(element.text)
            notes.setdefault("A picture or style that the SVG only links to is missing; it has to be embedded.")
    return list(notes)


def _reaches_out(style: str) -> bool:
    return "@import" in style or bool(re.search(r"url\(\s*[\"']?(?!#|data:)", style))


def _inside_only(style: str) -> str:
    style = re.sub(r"@import[^;]*;?", "", style)
    return re.sub(r"url\(\s*[\"']?(?!#|data:)[^)]*(?:\)|$)", "none", style)


def _remove(element: Any) -> None:
    parent = element.getparent()
    if parent is not None:
        parent.remove(element)


def _length(text: str | None) -> tuple[float, str] | None:
    """An absolute length in mm and its unit; None for a share or nothing."""
    found = re.fullmatch(r"\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*([A-Za-z]*)\s*", text or "")
    if not found or found[2].lower() not in CSS_UNITS or float(found[1]) <= 0:
        return None
    unit = found[2].lower()
    return float(found[1]) * UNITS_MM[CSS_UNITS[unit]], unit


def _view_box(root: Any) -> tuple[float, float, float, float] | None:
    try:
        x, y, w, h = (float(v) for v in re.split(r"[\s,]+", (root.get("viewBox") or "").strip()))
    except ValueError:
        return None
    return (x, y, w, h) if w > 0 and h > 0 else None


def _properties(element: Any) -> dict[str, str]:
    own = {key: element.get(key).strip() for key in ("stroke", "fill", "display") if element.get(key)}
    return own | _declared(element.get("style") or "")


def _class_rules(root: Any) -> dict[str, dict[str, str]]:
    """Properties by class, from plain rules such as ``.cut{stroke:#f0f}``; each sign is read once."""
    rules: dict[str, dict[str, str]] = {}
    for sheet in root.iter(f"{SVG}style", "style"):
        for rule in (sheet.text or "").split("}")[:-1]:
            selectors, opens, body = rule.rpartition("{")
            values = _declared(body)
            for selector in selectors.rpartition("{")[2].split(",") if opens and values else ():
                name = re.fullmatch(r"\w*\.([\w-]+)", selector.strip())
                if name:
                    rules.setdefault(name[1], {}).update(values)
    return rules


def _declared(text: str) -> dict[str, str]:
    """The properties that are asked for, out of ``key: value; key: value``."""
    out: dict[str, str] = {}
    for part in text.split(";"):
        key, _, value = part.partition(":")
        if key.strip() in ("stroke", "fill", "display"):
            out[key.strip()] = value.partition("!")[0].strip()
    return out


def _given_name(identity: str | None) -> str | None:
    """An id that a person gave; a drawing program numbers its own."""
    return None if identity is None or re.fullmatch(r"(?:g|group|svg|layer|_)?[\d_.-]+", identity, re.I) else identity


def strands_of(root: Any) -> dict[str, list[Any]]:
    """What can be bound, with the shapes that belong to it, in drawing order.

    Keys are ``layer:NAME`` for named groups, ``id:NAME`` for named shapes, ``class:NAME``, and
    ``stroke:COLOUR`` for shapes that are stroked and not filled.
    """
    rules = _class_rules(root)
    out: dict[str, list[Any]] = {}

    def visit(element: Any, layers: tuple[str, ...], inherited: dict[str, str], depth: int) -> None:
        if not isinstance(element.tag, str) or depth > 200:
            return
        name = etree.QName(element).localname
        if name in ("defs", "symbol", "clipPath", "mask", "pattern", "marker"):
            return
        classes = (element.get("class") or "").split()
        properties = dict(inherited)
        for one in classes:
            properties.update(rules.get(one, {}))
        properties.update(_properties(element))
        if properties.get("display") == "none":
            return
        if name == "g":
            label = element.get(LABEL) or element.get("data-name") or _given_name(element.get("id"))
            layers = (*layers, label) if label else layers
        if name in LEAVES:
            keys = [f"layer:{layer}" for layer in dict.fromkeys(layers)]
            keys += [f"class:{one}" for one in classes]
            if element.get("id"):
                keys.append(f"id:{element.get('id')}")
            stroke = properties.get("stroke", "none")
            if stroke not in ("none", "transparent") and properties.get("fill", "black") in ("none", "transparent"):
                keys.append(f"stroke:{stroke.lower()}")
            for key in keys:
                out.setdefault(key, []).append(element)
        for child in element:
            visit(child, layers, properties, depth + 1)

    visit(root, (), {}, 0)
    return out
