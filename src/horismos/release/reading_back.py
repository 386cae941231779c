"""Reads drawings of lines back, by libraries that share nothing with what wrote them; polylines in mm by layer.

DXF by its tags alone, SVG by fontTools' reader of paths, PDF by pikepdf's reader of content.
"""

import io
from collections.abc import Mapping
from typing import Any

import numpy as np
import pikepdf
from fontTools.pens.recordingPen import RecordingPen
from fontTools.svgLib.path import parse_path
from lxml import etree

from horismos.paths.contour import Floats
from horismos.units import MM_PER_POINT

__all__ = ["dxf_polylines", "pdf_polylines", "svg_polylines"]

Polylines = dict[str, list[Floats]]


def dxf_polylines(data: bytes, origin_mm: tuple[float, float]) -> Polylines:
    """The LWPOLYLINE entities of a drawing in mm: group 8 is the layer, 10 and 20 are the vertices [standard]."""
    rows = data.decode("utf-8").splitlines()
    out: Polylines = {}
    layer, inside = "", False
    points: list[float] = []
    for code, value in [*zip(map(str.strip, rows[::2]), rows[1::2], strict=False), ("0", "EOF")]:
        if code == "0":
            if inside and points:
                out.setdefault(layer, []).append(np.array(points).reshape(-1, 2) + origin_mm)
            inside, points = value.strip() == "LWPOLYLINE", []
        elif inside and code == "8":
            layer = value.strip()
        elif inside and code in ("10", "20"):
            points.append(float(value))
    return out


def svg_polylines(data: bytes, origin_mm: tuple[float, float]) -> Polylines:
    """The paths of a drawing's groups, y downwards there."""
    out: Polylines = {}
    safe = etree.XMLParser(resolve_entities=False, no_network=True, huge_tree=True)
    for group in etree.fromstring(data, safe).iter("{http://www.w3.org/2000/svg}g"):
        for path in group.iter("{http://www.w3.org/2000/svg}path"):
            pen = RecordingPen()
            parse_path(path.get("d"), pen)
            points = [places[0] for operator, places in pen.value if operator in ("moveTo", "lineTo")]
            line = np.array(points) * (1, -1) + origin_mm
            out.setdefault(str(group.get("data-layer")), []).append(line)
    return out


def pdf_polylines(data: bytes, origin_mm: tuple[float, float]) -> Polylines:
    """The straight paths of a page by the layers that they lie on (marked content, ISO 32000-1, 14.6)."""
    with pikepdf.open(io.BytesIO(data)) as pdf:
        page: Any = pdf.pages[0].obj
        k = MM_PER_POINT * float(page.get("/UserUnit", 1))
        names: Mapping[str, str] = {key: str(layer.Name) for key, layer in page.Resources.Properties.items()}
        out: Polylines = {}
        layer = ""
        points: list[list[float]] = []
        for instruction in pikepdf.parse_content_stream(page):
            word, operands = str(instruction.operator), instruction.operands
            if word == "BDC":
                layer = names[str(operands[1])]
            elif word in ("m", "l"):
                points.append([float(v) for v in operands])
            elif word == "S":
                out.setdefault(layer, []).append(np.array(points) * k + origin_mm)
                points = []
        return out






