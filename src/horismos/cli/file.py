"""What every command has in common: the file in its working form, the order beside it, plain output."""

import argparse
import json
from dataclasses import replace
from pathlib import Path
from typing import Any

from horismos.artwork import Artwork, read, read_bytes
from horismos.artwork.kinds import FileKind
from horismos.destinations import DEFAULT, SHIPPED, Destination, destination_from_json
from horismos.errors import Asks, BadValue, CannotRead, HorismosError, NotFound
from horismos.intake import Answers, kind_of, take_in
from horismos.materials import MATERIALS, Material, material_from_json
from horismos.orders import Order

__all__ = [
    "OK", "STOP", "UNREADABLE", "artwork_of", "destination_asked", "file_options", "material_asked", "material_option",
    "order_of", "plain_json", "print_json",
]

OK, STOP, UNREADABLE = 0, 1, 2


def file_options(parser: argparse.ArgumentParser) -> None:
    """The options that say what a file leaves open."""
    parser.add_argument("file", type=Path, help="the customer's file: PDF, EPS, SVG, PNG, JPEG, TIFF, HP-GL or DXF")
    parser.add_argument(
        "--destination", default=DEFAULT.id, metavar="ID|FILE.json", help=f"{', '.join(sorted(SHIPPED))}, or a file"
    )
    parser.add_argument("--password", default="", help="for a file that opens with one")
    parser.add_argument("--width", type=float, metavar="MM", help="finished width of a file without a size")
    parser.add_argument("--height", type=float, metavar="MM", help="finished height of a file without a size")
    parser.add_argument("--unit", default="", help="of a drawing that does not say: mm, cm, m, inch, foot, point")
    parser.add_argument("--bind", action="append", default=[], metavar="KEY=ROLE", help="such as pen:1=kiss-cut")


def material_option(parser: argparse.ArgumentParser) -> None:
    """The option that says what is printed and cut."""
    parser.add_argument(
        "--material", metavar="ID|FILE.json", help=f"{', '.join(sorted(MATERIALS))}, or a file"
    )


def destination_asked(args: argparse.Namespace) -> Destination:
    """The destination that was named, or that a file describes. Raises NotFound, BadValue or CannotRead."""
    name = str(args.destination)
    if name.endswith(".json"):
        return destination_from_json(plain_json(Path(name)))
    if name not in SHIPPED:
        raise NotFound(f"There is no destination “{name}”.", f"Known: {', '.join(SHIPPED)}, or a file ending in .json.")
    return SHIPPED[name]


def material_asked(name: str | None) -> Material | None:
    """The material that was named, or that a file describes; None where none was. Raises as above."""
    if not name:
        return None
    if name.endswith(".json"):
        return material_from_json(plain_json(Path(name)))
    if name not in MATERIALS:
        raise NotFound(f"There is no material “{name}”.", f"Known: {', '.join(MATERIALS)}, or a file ending in .json.")
    return MATERIALS[name]


def artwork_of(args: argparse.Namespace) -> Artwork:
    """The file in its working form; what it leaves open has to be said in the call."""
    try:
        data = args.file.read_bytes()
    except OSError as error:
        raise CannotRead(f"{args.file.name} cannot be opened: {error.strerror}.") from None
    if kind_of(data, args.file.name) is FileKind.PDF:
        return read(args.file, args.password)
    binding = dict(pair.split("=", 1) if "=" in pair else (pair, "") for pair in args.bind)
    answers = Answers(args.password, (), args.width, args.height, args.unit, binding)
    try:
        order = order_of(getattr(args, "order", None))
        taken = take_in(data, args.file.name, answers, order, destination_asked(args))
    except Asks as asks:
        raise HorismosError(asks.message, _how_to_say(asks)) from None
    notes = tuple((note.severity, note.words) for note in taken.notes)
    return replace(read_bytes(taken.pdf), taken_in=notes, made_from=taken.kind)


def _how_to_say(asks: Asks) -> str:
    """The options that answer what a file asks."""
    parts = []
    for question in asks.questions:
        if question.id == "binding":
            keys = ", ".join(f"--bind {choice.key}=ROLE" for choice in question.choices if not choice.said)
            parts.append(f"Say {keys}; a role, art or leave-out.")
        else:
            said = {"size": "--width or --height", "unit": "--unit", "pages": "which page, in the web application"}
            parts.append(f"Say {said.get(question.id, '--' + question.id)}.")
    return " ".join(parts)


def plain_json(path: Path) -> Any:
    """The values in a JSON file. Raises CannotRead or BadValue."""
    try:
        return json.loads(path.read_text(encoding="utf-8"))
    except OSError as error:
        raise CannotRead(f"{path} cannot be opened: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise BadValue(f"{path} is not JSON: {error}.") from None


def order_of(path: Path | None) -> Order:
    """The order in a JSON file; an open one where none is named."""
    return Order() if path is None else Order.from_json(plain_json(path))


def print_json(value: Any) -> None:
    """Print plain values as JSON."""
    print(json.dumps(value, ensure_ascii=False, indent=2))
