"""Functions of ISO 32000-1, 7.10, with one input: what the colours of a shading run through."""

from typing import Any

import numpy as np
from numpy.typing import NDArray
from pikepdf import Array, Dictionary, Stream

from horismos.artwork.limits import MAX_PROGRAM_BYTES
from horismos.artwork.unpack import stream_bytes

__all__ = ["run_function"]

MAX_DEPTH = 8
Values = NDArray[np.float64]


def run_function(function: Any, x: Values, depth: int = 0) -> Values | None:
    """The outputs, shape (n, outputs), for inputs, shape (n,); None for a kind of function that is not run here."""
    if depth > MAX_DEPTH:
        return None
    if isinstance(function, Array):
        parts = [run_function(one, x, depth + 1) for one in function]
        known = [part for part in parts if part is not None]
        return np.concatenate(known, axis=1) if len(known) == len(parts) else None
    if not isinstance(function, Dictionary | Stream):
        return None
    low, high = (float(v) for v in function["/Domain"][:2])
    x = np.clip(x, low, high)
    kind = int(function["/FunctionType"])
    if kind == 2:
        return _exponential(function, x)
    if kind == 3:
        return _stitched(function, x, depth)
    return _sampled(function, x) if kind == 0 else None


def _exponential(function: Any, x: Values) -> Values:
    c0 = np.array([float(v) for v in function.get("/C0", [0])])
    c1 = np.array([float(v) for v in function.get("/C1", [1])])
    out: Values = c0 + (x ** float(function["/N"]))[:, None] * (c1 - c0)
    return out


def _stitched(function: Any, x: Values, depth: int) -> Values | None:
    low, high = (float(v) for v in function["/Domain"][:2])
    edges = [low, *(float(v) for v in function["/Bounds"]), high]
    encode = [float(v) for v in function["/Encode"]]
    which = np.clip(np.searchsorted(edges[1:-1], x, side="right"), 0, len(edges) - 2)
    out: Values | None = None
    for i, part in enumerate(function["/Functions"]):
        own = which == i
        wide = edges[i + 1] - edges[i]
        share = (x[own] - edges[i]) / wide if wide else np.zeros(int(own.sum()))
        found = run_function(part, encode[2 * i] + share * (encode[2 * i + 1] - encode[2 * i]), depth + 1)
        if found is None:
            return None
        out = np.zeros((len(x), found.shape[1])) if out is None else out
        out[own] = found
    return out


def _sampled(function: Any, x: Values) -> Values | None:
    size, bits = int(function["/Size"][0]), int(function["/BitsPerSample"])
    if len(function["/Size"]) != 1 or bits not in (8, 16) or size < 2:
        return None
    reach = np.array([float(v) for v in function["/Range"]]).reshape(-1, 2)
    decode = np.array([float(v) for v in function.get("/Decode", function["/Range"])]).reshape(-1, 2)
    raw = np.frombuffer(stream_bytes(function, MAX_PROGRAM_BYTES), ">u1" if bits == 8 else ">u2")
    table = raw[: size * len(reach)].reshape(size, len(reach)) / (2**bits - 1)
    table = decode[:, 0] + table * (decode[:, 1] - decode[:, 0])
    low, high = (float(v) for v in function["/Domain"][:2])
    first, last = (float(v) for v in function.get("/Encode", [0, size - 1]))
    at = np.clip(first + (x - low) / max(high - low, 1e-12) * (last - first), 0, size - 1)
    found = np.column_stack([np.interp(at, np.arange(size), column) for column in table.T])
    out: Values = np.clip(found, reach[:, 0], reach[:, 1])
    return out
