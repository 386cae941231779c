"""What a ticket may say, in one table each: reader and published schema are made from it."""

import json
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from horismos.checking import CheckSheet
from horismos.checking.engine.check_sheet import check_sheet_schema
from horismos.checking.engine.rules import all_limits
from horismos.cutting.tools import FIELDS as TOOL
from horismos.destinations import FIELDS as MACHINES
from horismos.destinations import READ as READ_MACHINES
from horismos.errors import BadValue, CannotRead
from horismos.json_readers import (
    Field,
    Reader,
    choice,
    fixed_schema,
    number,
    object_schema,
    optional,
    place,
    read_fields,
    schema_of,
    sequence_of,
    text,
    yes,
)
from horismos.machines import DIALECT_FIELDS
from horismos.materials import FIELDS as MATERIAL
from horismos.materials import READ as READ_MATERIAL
from horismos.orders import Order, order_schema
from horismos.roles import LineRole
from horismos.sheet.layout import Makes
from horismos.sheet.mark_kinds import registered

__all__ = ["FIELDS", "read_ticket", "ticket_schema"]

MOST = 100_000
_TEXT, _WORDS, _SHA = text(1_000), text(4_000), text(64, least=64)
_MM, _LENGTH, _COUNT = number(-1e6, 1e6), number(0, 1e7), number(0, 1e7, whole=True)
_TIME, _SHARE = number(0, 1e9), number(-1e6, 1e6)


def _fixed(count: int, words: str) -> Reader:
    read = sequence_of(_MM, count, count, words)
    return Reader(read.read, fixed_schema(_MM.schema, count))


def _object(table: Mapping[str, Field], needs: tuple[str, ...] | None = None) -> Reader:
    """An object by its table, left as it is said; what it does not need may be left out."""
    wanted = tuple(table) if needs is None else needs

    def read(name: str, value: object) -> Mapping[str, Any]:
        read_fields(name, value, table, wanted)
        assert isinstance(value, Mapping)
        return value

    return Reader(read, object_schema(table, needs=wanted))


def _list(table: Mapping[str, Field], words: str, needs: tuple[str, ...] | None = None) -> Reader:
    return sequence_of(_object(table, needs), 0, MOST, words)


def _as_said(read: Any, schema: Mapping[str, Any]) -> Reader:
    """What another reader has to understand, left as it is said."""

    def said(name: str, value: object) -> object:
        read(name, value)
        return value

    return Reader(said, schema)


def _kind(name: str, value: object) -> str:
    if not isinstance(value, str) or value not in registered():
        raise BadValue(f"{name}: there is no kind of mark “{value}”.", f"Known: {', '.join(registered())}.")
    return str(value)


_ORDER = _as_said(lambda name, value: Order.from_json(value), order_schema())
_CHECK_SHEET = _as_said(lambda name, value: CheckSheet.from_json(value), check_sheet_schema(all_limits()))
_ROLE = choice(LineRole)
_RUN = sequence_of(number(-1, 1e7, whole=True), 2, 2, "numbers")
_WAY = Reader(sequence_of(number(-1, 1, whole=True), 2, 2, "ways").read, fixed_schema({"enum": [-1, 0, 1]}, 2))

LET_PASS: Mapping[str, Field] = MappingProxyType({
    "id": Field(_TEXT, "the check"),
    "message": Field(_WORDS, "what was found"),
    "reason": Field(_WORDS, "why it may stand"),
    "who": Field(_TEXT, "who said so"),
})
REHEARSED: Mapping[str, Field] = MappingProxyType({
    "loads": Field(_COUNT, "how often it was rehearsed"),
    "missed": Field(_COUNT, "in how many a mark was not found"),
    "pieces": Field(_COUNT, "pieces cut in all"),
    "spoilt": Field(_COUNT, "of these spoilt"),
})
JOB: Mapping[str, Field] = MappingProxyType({
    "job": Field(_TEXT, "what it is called"),
    "order": Field(_ORDER, "what was asked for"),
    "check_sheet": Field(_CHECK_SHEET, "the limits that it was checked by"),
    "let_pass": Field(_list(LET_PASS, "findings"), "what was found and may stand"),
    "rehearsed": Field(optional(_object(REHEARSED)), "what came of rehearsing it; null: nobody has"),
})
PIECE: Mapping[str, Field] = MappingProxyType({
    "job": Field(_TEXT, "of which job"),
    "artwork_sha256": Field(_SHA, "the artwork that it is made of"),
    "copies": Field(_COUNT, "how often it lies on the sheet"),
    "size_mm": Field(_fixed(2, "lengths"), "width and height of its page", "mm"),
})
PDF_X: Mapping[str, Field] = MappingProxyType({
    "standard": Field(_TEXT, "which one"),
    "follows": Field(yes, "whether the print PDF follows it"),
    "hindered_by": Field(sequence_of(_WORDS, 0, MOST, "reasons"), "what keeps it from that"),
})
SHEET: Mapping[str, Field] = MappingProxyType({
    "width_mm": Field(number(1, 1e6), "the media across", "mm"),
    "length_mm": Field(number(1, 1e7), "how long the sheet is", "mm"),
    "used_length_mm": Field(_LENGTH, "what of it is used", "mm"),
    "columns": Field(optional(_COUNT), "of copies; null: they lie otherwise"),
    "rows": Field(optional(_COUNT), "of copies"),
    "copies": Field(_COUNT, "in all"),
    "gap_mm": Field(optional(_MM), "between copies", "mm"),
    "turned": Field(optional(yes), "whether they lie across"),
    "leader_mm": Field(_LENGTH, "the room before the work", "mm"),
    "trailer_mm": Field(_LENGTH, "the room behind it", "mm"),
    "waste_percent": Field(_SHARE, "what is in no piece", "%"),
    "frame_mm": Field(optional(_fixed(4, "lengths")), "the weeding frame: left, lower, right, upper; null: none", "mm"),
})
MARK: Mapping[str, Field] = MappingProxyType({
    "number": Field(_COUNT, "counted from 1"),
    "kind": Field(Reader(_kind, {"enum": list(registered())}), "what it looks like"),
    "x_mm": Field(_MM, "its place from the left edge of the media", "mm"),
    "y_mm": Field(_MM, "from its leading edge", "mm"),
    "opens": Field(_WAY, "which way its arms go, across and along"),
    "arm_mm": Field(number(0.01, 1e4), "its size", "mm"),
    "weight_mm": Field(number(0.001, 1e4), "how thick its lines are", "mm"),
})
PLACEMENT: Mapping[str, Field] = MappingProxyType({
    "piece": Field(_COUNT, "which of the pieces, counted from 0"),
    "matrix": Field(_fixed(6, "numbers"), "from the piece's mm to the sheet's, as ISO 32000 writes it"),
    "bounds": Field(_fixed(4, "lengths"), "its cuts on the sheet: left, lower, right, upper", "mm"),
})
TESTED: Mapping[str, Field] = MappingProxyType({
    "who": Field(_TEXT, "who saw it come out right"),
    "when": Field(_TEXT, "when"),
})
PERFORATION: Mapping[str, Field] = MappingProxyType({
    "cut_mm": Field(_LENGTH, "a cut", "mm"),
    "tie_mm": Field(_LENGTH, "a tie", "mm"),
})
OPERATION: Mapping[str, Field] = MappingProxyType({
    "role": Field(_ROLE, "which line"),
    "ink": Field(_TEXT, "its exact name at the destination"),
    "tool": Field(number(1, 8, whole=True), "the holder or slot"),
    "force_gf": Field(optional(_LENGTH), "the force; null: left to the machine", "gf"),
    "speed_mm_s": Field(optional(_LENGTH), "the speed; null: left to the machine", "mm/s"),
    "passes": Field(number(1, 10, whole=True), "how often it goes over"),
    "perforation": Field(optional(_object(PERFORATION)), "cut and tie; null: a whole cut"),
    "setting": Field(_object(TOOL, ("number",)), "the tool in full"),
    "tested": Field(optional(_object(TESTED)), "the test cut of just this setting; null: none"),
    "contours": Field(_COUNT, "how many lines"),
    "strokes": Field(_COUNT, "how many strokes"),
    "cut_mm": Field(_LENGTH, "what is cut, all passes", "mm"),
    "travel_mm": Field(_LENGTH, "what is travelled", "mm"),
    "time_s": Field(_TIME, "how long it takes", "s"),
    "side": Field(Reader(
        lambda name, value: _one_of(name, value, "front", "back"), {"enum": ["front", "back"]}
    ), "the side that looks up"),
    "aligning": Field(yes, "whether it cuts only the figure by which the turned sheet is aligned"),
    "copies": Field(sequence_of(_RUN, 0, 10 * MOST, "runs"), "whose the strokes are: a copy, or -1, and how many"),
})
PAUSE: Mapping[str, Field] = MappingProxyType({
    "before": Field(_COUNT, "the operation that it stands before, from 0"),
    "words": Field(_WORDS, "what a person does; empty: nothing"),
    "time_s": Field(_TIME, "how long it takes", "s"),
})
DRYING: Mapping[str, Field] = MappingProxyType({
    "dry_h": Field(number(0, 1_000), "before it may be cut", "h"),
    "laminate_h": Field(number(0, 1_000), "before it may be laminated", "h"),
})
FILE: Mapping[str, Field] = MappingProxyType({
    "name": Field(text(400, least=1), "what it is called"),
    "bytes": Field(number(0, 1e12, whole=True), "its size"),
    "sha256": Field(_SHA, "its check sum"),
})


def _one_of(name: str, value: object, *words: str) -> str:
    if not isinstance(value, str) or value not in words:
        raise BadValue(f"{name} is “{value}”.", f"Give one of {', '.join(words)}.")
    return str(value)


def _off(name: str, value: object) -> Mapping[str, float]:
    if not isinstance(value, Mapping):
        raise BadValue(f"{name} must say how far each file lies off.")
    return {text(400)(name, key): _LENGTH(f"{name}: {key}", one) for key, one in value.items()}


FIELDS: Mapping[str, Field] = MappingProxyType({
    "job": Field(_TEXT, "what the sheet is called"),
    "made_by": Field(_TEXT, "what wrote it"),
    "order": Field(_ORDER, "what was asked for, of the first job"),
    "jobs": Field(_list(JOB, "jobs"), "the jobs on the sheet"),
    "sheet_number": Field(number(1, 1e6, whole=True), "which sheet"),
    "sheets_in_all": Field(number(1, 1e6, whole=True), "of how many"),
    "scale_percent": Field(number(0.01, 1e5), "at which scale it is printed", "%"),
    "destination": Field(text(80), "where it goes, by its id"),
    "machines": Field(_as_said(READ_MACHINES, object_schema(MACHINES, needs=MACHINES)), "the RIP and the cutter"),
    "material": Field(_as_said(READ_MATERIAL, object_schema(MATERIAL, needs=("id",))), "what is printed and cut"),
    "kept_at": Field(_TEXT, "where the roll or sheets of it are kept; empty: nobody said"),
    "laminate": Field(_TEXT, "what is laminated over the print; empty: nothing"),
    "drying": Field(_object(DRYING), "how long the print dries, where it goes by the usual hot folder"),
    "artwork_sha256": Field(_SHA, "the artwork of the first piece"),
    "pieces": Field(_list(PIECE, "pieces"), "what is repeated on the sheet"),
    "verdict": Field(Reader(
        lambda name, value: _one_of(name, value, "clean", "look", "stop"), {"enum": ["clean", "look", "stop"]}
    ), "what the check came to"),
    "looks": Field(sequence_of(_TEXT, 0, MOST, "checks"), "what a person was to look at, by the ids of checks"),
    "makes": Field(choice(Makes), "whether it is printed, cut, or both"),
    "ink_order": Field(sequence_of(_TEXT, 0, 100, "inks"), "the inks as they are laid down"),
    "pdf_x": Field(optional(_object(PDF_X)), "the print PDF and PDF/X; null: nothing is printed"),
    "sheet": Field(_object(SHEET), "the sheet"),
    "marks": Field(_list(MARK, "marks"), "the registration marks"),
    "code": Field(optional(_TEXT), "what the code on the sheet says; null: it has none"),
    "code_box": Field(optional(_fixed(4, "lengths")), "where the code lies: left, lower, right, upper", "mm"),
    "aligning": Field(
        sequence_of(_fixed(3, "lengths"), 0, 100, "corners"), "the aligning figure's corners, and its sides", "mm"
    ),
    "mirrored": Field(yes, "whether it is printed to be seen from behind"),
    "origin_mm": Field(place, "the zero of the cut files, on the sheet", "mm"),
    "dialect": Field(_object(DIALECT_FIELDS, ()), "how the cutter takes HP-GL"),
    "cutter": Field(text(80), "the cutter, by its id"),
    "placements": Field(_list(PLACEMENT, "copies"), "the copies on the sheet"),
    "operations": Field(_list(OPERATION, "operations"), "what is cut, in its order"),
    "pauses": Field(_list(PAUSE, "pauses"), "where the cutter waits"),
    "left_out_roles": Field(sequence_of(_ROLE, 0, 20, "roles"), "lines of the artwork that the order does not want"),
    "time_s": Field(_TIME, "how long the cut takes", "s"),
    "files": Field(_list(FILE, "files"), "the files of the package"),
    "worst_off_mm": Field(
        Reader(_off, {"type": "object", "additionalProperties": {"type": "number", "minimum": 0, "maximum": 1e7}}),
        "how far each cut file, read back, lies from what was meant", "mm",
    ),
    "print_lines_off_mm": Field(_LENGTH, "the same of the print PDF's lines", "mm"),
    "notes": Field(sequence_of(_WORDS, 0, 1_000, "notes"), "what else is to be known"),
})
"""All of it is said."""


def ticket_schema() -> dict[str, Any]:
    """What a ticket may be, as JSON Schema 2020-12."""
    return schema_of("Ticket", FIELDS, needs=FIELDS)


def read_ticket(data: bytes, name: str = "The ticket") -> Mapping[str, Any]:
    """A ticket as plain values, all of it understood. Raises CannotRead or BadValue, naming what it says wrong."""
    try:
        said = json.loads(data)
    except (ValueError, RecursionError) as error:
        raise CannotRead(f"{name} is not JSON: {error}.", "Release the job again.") from None
    read_fields(name, said, FIELDS, FIELDS)
    return dict(said)
