"""Writes DXF drawings of lines: one layer a role, straight segments as polylines, curves as splines. In mm."""

import io
from collections.abc import Mapping, Sequence

from ezdxf.filemanagement import new
from ezdxf.math import Bezier4P, BSpline, Vec3, bezier_to_bspline

from horismos.paths import Contour
from horismos.paths.contour import Floats

__all__ = ["write_dxf", "write_polylines"]

MM = 4
"""[standard, from memory] $INSUNITS for mm."""


def write_dxf(layers: Mapping[str, Sequence[Contour]]) -> bytes:
    """A drawing with the contours of each layer, in mm; curves stay the cubics that they are."""
    document = new("R2010")
    document.header["$INSUNITS"] = MM
    space = document.modelspace()
    for name, contours in layers.items():
        document.layers.add(name)
        for contour in contours:
            if contour.straight.all():
                points = contour.segments[:, 0].tolist()
                points += [] if contour.closed else [contour.end.tolist()]
                space.add_lwpolyline(points, close=contour.closed, dxfattribs={"layer": name})
            else:
                space.add_spline(dxfattribs={"layer": name}).apply_construction_tool(_spline(contour))
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8")


def _spline(contour: Contour) -> BSpline:
    curves = [Bezier4P([Vec3(*point) for point in segment]) for segment in contour.segments.tolist()]
    return bezier_to_bspline(curves)


def write_polylines(layers: Mapping[str, Sequence[Floats]], origin_mm: tuple[float, float]) -> bytes:
    """A drawing of polylines in mm on a sheet, by the names of their layers; its zero is the origin."""
    document = new("R2010")
    document.header["$INSUNITS"] = MM
    space = document.modelspace()
    for name, lines in layers.items():
        document.layers.add(name)
        for line in lines:
            space.add_lwpolyline((line - origin_mm).round(5).tolist(), dxfattribs={"layer": name})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode("utf-8")
