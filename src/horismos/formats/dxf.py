"""Reads DXF drawings as lines only, layer by layer, curves kept as curves.

ezdxf reads the file, in its recovering mode where the strict one gives up; texts, hatches and
dimensions are left out and counted.
"""

import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import ezdxf
import ezdxf.path
import numpy as np
from ezdxf import recover
from ezdxf.disassemble import recursive_decompose
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.lldxf.const import DXFError
from ezdxf.math import Vec3
from ezdxf.path import Curve3To, Curve4To, Path

from horismos.errors import CannotRead, HorismosError, LimitExceeded
from horismos.paths import Contour, chain
from horismos.paths.pen import ContourPen
from horismos.units import UNITS_MM

__all__ = ["Drawing", "read_dxf"]

INSUNITS = {
    1: "inch", 2: "foot", 4: "mm", 5: "cm", 6: "m", 8: "microinch", 9: "mil", 10: "yard", 13: "micron", 14: "decimetre",
}
"""[standard, from memory] $INSUNITS of a drawing's header."""
DRAWN = frozenset(["LINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE", "LWPOLYLINE", "POLYLINE", "HELIX"])
MOST_ENTITIES = 200_000
DEEPEST_BLOCKS = 60


@dataclass(frozen=True, eq=False)
class Drawing:
    """What a drawing holds: contours by layer in drawing units, and how many mm a unit is.

    ``unit_mm`` is None where the file does not say. ``left_out`` counts what is no line, by kind;
    ``repairs`` says what had to be mended to read the file.
    """

    layers: dict[str, list[Contour]]
    unit_mm: float | None
    left_out: dict[str, int]
    repairs: tuple[str, ...]


def read_dxf(data: bytes) -> Drawing:
    """Read a drawing. Raises CannotRead, or LimitExceeded where it holds too much."""
    try:
        return _read(data)
    except (HorismosError, MemoryError):
        raise
    except Exception as error:  # a damaged file fails ezdxf in any way there is, assertions among them
        words = f"The DXF file is too damaged to be read ({error})."
        raise CannotRead(words, "Ask for it to be sent again.") from error


def _read(data: bytes) -> Drawing:
    document, auditor = recover.read(io.BytesIO(data))
    repairs = tuple(dict.fromkeys(str(entry.message)[:120] for entry in auditor.fixes))[:12]
    if _expanded(document) > MOST_ENTITIES:
        raise LimitExceeded(
            f"The drawing comes to more than {MOST_ENTITIES:,} entities, its blocks and arrays laid out.",
            "Ask for the cut lines alone.",
        )
    layers: dict[str, list[Contour]] = {}
    left_out: dict[str, int] = {}
    for entity in recursive_decompose(document.modelspace()):
        kind = entity.dxftype()
        if kind not in DRAWN:
            left_out[kind] = left_out.get(kind, 0) + 1
            continue
        try:
            path = ezdxf.path.make_path(entity)
        except (TypeError, ValueError, DXFError, ZeroDivisionError, ArithmeticError):
            left_out[f"broken {kind}"] = left_out.get(f"broken {kind}", 0) + 1
            continue
        found = _contours(path)
        layers.setdefault(str(entity.dxf.get("layer", "0")), []).extend(found)
    unit = INSUNITS.get(int(document.header.get("$INSUNITS", 0)))
    return Drawing(
        {name: _joined(of) for name, of in layers.items() if of}, UNITS_MM[unit] if unit else None, left_out, repairs
    )


def _expanded(document: ezdxf.document.Drawing) -> int:
    """How many entities a drawing comes to with its blocks laid out, counted without laying any out.

    Blocks hold each other at most so deep as there are blocks; one that holds itself counts as endless.
    """
    known: dict[str, int] = {}

    def count(entities: Iterable[DXFEntity], inside: tuple[str, ...]) -> int:
        total = 0
        for entity in entities:
            kind, times, name = entity.dxftype(), 1, ""
            if kind == "INSERT":
                name, times = str(entity.dxf.get("name", "")), _times(entity)
            elif kind == "DIMENSION":
                name = str(entity.dxf.get("geometry", ""))
            total += 1 + (times * of_block(name, inside) if name in document.blocks else 0)
            if total > MOST_ENTITIES:
                return MOST_ENTITIES + 1
        return total

    def of_block(name: str, inside: tuple[str, ...]) -> int:
        if name in inside or len(inside) > DEEPEST_BLOCKS:
            return MOST_ENTITIES + 1
        if name not in known:
            known[name] = count(document.blocks[name], (*inside, name))
        return known[name]

    return count(document.modelspace(), ())


def _times(entity: DXFEntity) -> int:
    rows, columns = (max(int(entity.dxf.get(key, 1)), 1) for key in ("row_count", "column_count"))
    return rows * columns


def _contours(path: Path) -> list[Contour]:
    """A path of ezdxf as contours, one for each of its runs."""
    pen = ContourPen()
    for run in path.sub_paths() if path.has_sub_paths else [path]:
        pen.moveTo(_xy(run.start))
        for command in run.commands():
            end = _xy(command.end)
            if isinstance(command, Curve4To):
                pen.curveTo(_xy(command.ctrl1), _xy(command.ctrl2), end)
            elif isinstance(command, Curve3To):
                pen.qCurveTo(_xy(command.ctrl), end)
            else:
                pen.lineTo(end)
        if run.is_closed:
            pen.closePath()
    return [contour for contour in pen.contours if np.isfinite(contour.segments).all()]


def _xy(at: Vec3) -> tuple[float, float]:
    return float(at.x), float(at.y)


def _joined(contours: Sequence[Contour]) -> list[Contour]:
    """Lines and arcs that meet end to end, as one contour: a drawing lists them one by one."""
    out = []
    for joined in chain(contours):
        contour = joined.contour
        out.append(Contour(contour.segments, contour.straight, True) if joined.meets else contour)
    return out
