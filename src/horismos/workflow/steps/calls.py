"""What a step is asked, and what it answers, as plain values: what goes to a machine elsewhere and comes back.

Content goes by its hash alone. What comes in is read strictly by the types that the step says, so that a message can
do no more than ask a step for what any job asks it.
"""

from collections.abc import Callable, Mapping, Sequence
from contextvars import ContextVar
from enum import Enum
from functools import cache
from importlib import import_module
from pathlib import Path
from types import NoneType, UnionType
from typing import Any, Union, get_args, get_origin, get_type_hints

import msgpack
import numpy as np
from cattrs import BaseValidationError, Converter

from horismos.errors import BadValue
from horismos.sheet.mark_kinds import MarkKind, kind_of
from horismos.workflow.steps import STEPS
from horismos.workflow.steps.stored import Content

__all__ = ["arguments_of", "asked_content", "packed_answer", "packed_arguments", "unpacked_answer"]

Place = Callable[[str], Path]
KEPT_BYTES = 1_000
"""[ours] bytes of an answer that are longer than this go by their hash."""
_CONTENT = 1
"""The type of a MessagePack extension that holds the hash of content."""
_place: ContextVar[Place] = ContextVar("place")
"""Where content lies, for what is being read."""


def packed_arguments(step: str, arguments: Sequence[Any]) -> bytes:
    """What a step (``job:look``) is asked, as bytes. Raises BadValue for a step that there is not."""
    types = _types_of(step)
    if len(types) != len(arguments):
        raise BadValue(f"{step} takes {len(types)} values, not {len(arguments)}.")
    out: bytes = msgpack.packb(
        [_CONVERTER.unstructure(one, unstructure_as=of) for one, of in zip(arguments, types, strict=True)],
        use_bin_type=True, unicode_errors="surrogatepass",
    )
    return out


def arguments_of(step: str, data: bytes, place: Place) -> tuple[Any, ...]:
    """What a step is asked, as it takes it; ``place`` gives the file of a content. Raises BadValue."""
    types = _types_of(step)
    said = _place.set(place)
    try:
        values = _unpacked(data)
        return tuple(_CONVERTER.structure(one, of) for one, of in zip(values, types, strict=True))
    except (BaseValidationError, ValueError, TypeError, KeyError) as error:
        raise BadValue(f"{step} was asked in a way that it does not take ({error}).") from None
    finally:
        _place.reset(said)


def asked_content(step: str, data: bytes) -> list[str]:
    """The hashes of all content that a step is asked about."""
    found: list[str] = []

    def note(sha256: str) -> Path:
        found.append(sha256)
        return Path()

    arguments_of(step, data, note)
    return list(dict.fromkeys(found))


def packed_answer(answer: Mapping[str, Any], keep: Callable[[bytes], str]) -> bytes:
    """What a child answers, as bytes; what is long is kept by ``keep``, which gives its hash."""

    def light(value: Any) -> Any:
        if isinstance(value, bytes) and len(value) > KEPT_BYTES:
            return msgpack.ExtType(_CONTENT, bytes.fromhex(keep(value)))
        if isinstance(value, Mapping):
            return {key: light(one) for key, one in value.items()}
        if isinstance(value, list | tuple):
            return [light(one) for one in value]
        return value

    out: bytes = msgpack.packb(light(answer), use_bin_type=True, unicode_errors="surrogatepass")
    return out


def unpacked_answer(data: bytes, place: Place) -> dict[str, Any]:
    """What a child has answered, with content in place of what was kept. Raises BadValue."""

    def content(kind: int, value: bytes) -> Content:
        if kind != _CONTENT or len(value) != 32:
            raise ValueError("no content")
        return Content(place(value.hex()), value.hex())

    try:
        answer = _unpacked(data, content)
    except ValueError as error:
        raise BadValue(f"A worker answered nonsense ({error}).") from None
    if not isinstance(answer, dict):
        raise BadValue("A worker answered nonsense.")
    return answer


def _unpacked(data: bytes, hook: Callable[[int, bytes], Any] = msgpack.ExtType) -> Any:
    try:
        return msgpack.unpackb(
            data, raw=False, strict_map_key=False, unicode_errors="surrogatepass", ext_hook=hook
        )
    except msgpack.UnpackException as error:
        raise ValueError(str(error)) from None


@cache
def _types_of(step: str) -> tuple[Any, ...]:
    """The types of what a step is asked, but for ``tell``."""
    room, _, name = step.partition(":")
    module = f"{__package__}.{room}"
    if module not in STEPS:
        raise BadValue(f"There is no step {step}.")
    found = import_module(module)
    if name not in found.__all__ or isinstance(getattr(found, name), type):
        raise BadValue(f"There is no step {step}.")
    hints = get_type_hints(getattr(found, name))
    return tuple(of for called, of in hints.items() if called not in ("tell", "return"))


# -- reading and writing by types --------------------------------------------------------------------------


def _made() -> Converter:
    """The reader and writer of all values; it learns each type once, which takes long."""
    out = Converter(forbid_extra_keys=True)
    for kind, taken in ((float, (float, int)), (int, (int,)), (str, (str,)), (bytes, (bytes,)), (bool, (bool,))):
        out.register_structure_hook(kind, _exactly(kind, taken))
    out.register_unstructure_hook(Content, lambda one: one.sha256)
    out.register_structure_hook(Content, lambda value, _: Content(_place.get()(_hash(value)), value))
    out.register_unstructure_hook(MarkKind, lambda one: one.id)
    out.register_structure_hook(MarkKind, lambda value, _: kind_of(value))
    out.register_unstructure_hook_func(_is_array, _array_out)
    out.register_structure_hook_func(_is_array, lambda value, _: _array_in(value))
    out.register_structure_hook_func(_is_choice, lambda value, of: _first(out, value, of))
    return out


def _exactly(kind: type, taken: tuple[type, ...]) -> Callable[[Any, Any], Any]:
    """A reader that changes nothing: 1 does not become 1.0, nor "1" a number. Choices are texts of their own types."""

    def read(value: Any, of: Any) -> Any:
        if issubclass(of, Enum):
            return of(value)
        if not isinstance(value, taken) or (isinstance(value, bool) and kind is not bool):
            raise ValueError(f"{value!r} is no {kind.__name__}")
        return value

    return read


def _hash(value: Any) -> str:
    if not isinstance(value, str) or len(value) != 64 or not set(value) <= set("0123456789abcdef"):
        raise ValueError("no hash")
    return value


def _is_choice(of: Any) -> bool:
    """Whether it is one of several types; None beside one of them is no choice."""
    return get_origin(of) in (Union, UnionType) and len(set(get_args(of)) - {NoneType}) > 1


def _first(reader: Converter, value: Any, of: Any) -> Any:
    """A value as the first of several types that takes it, which are read strictly."""
    for one in get_args(of):
        try:
            return reader.structure(value, one)
        except (BaseValidationError, ValueError, TypeError, KeyError):
            continue
    raise ValueError(f"{value!r} is none of {of}")


def _is_array(of: Any) -> bool:
    return (get_origin(of) or of) is np.ndarray


def _array_out(value: "np.ndarray[Any, Any]") -> list[Any]:
    return [value.dtype.str, list(value.shape), np.ascontiguousarray(value).tobytes()]


def _array_in(value: Any) -> "np.ndarray[Any, Any]":
    kind, shape, data = value
    if np.dtype(kind).hasobject:
        raise ValueError("no numbers")
    return np.frombuffer(data, np.dtype(kind)).reshape(shape)


_CONVERTER = _made()
