"""Lays several files out on as many sheets as it takes, and says of each how far its cuts may land off."""

import json
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from horismos.artwork import read_bytes
from horismos.artwork.kinds import FileKind
from horismos.checking import CheckSheet, edge_limits
from horismos.destinations import Destination
from horismos.errors import CannotRead, HorismosError
from horismos.intake import Answers, kind_of, take_in
from horismos.orders import Order
from horismos.release.printpdf import print_sheets
from horismos.sheet import Sheet, piece_of
from horismos.sheet.filling import MOST_NESTED, Filled, Item, fill_sheets
from horismos.sheet.layout import How
from horismos.sheet.misplacement import Misplacement, advice, misplacement_on
from horismos.sheet.rows import Packed
from horismos.sheet.spec import ItemWanted, LayoutPlan

__all__ = ["TOOLS", "LaidOut", "item_of", "lay_out_files"]

TOOLS = "tools"
"""What a plan says of the tools: nothing that the sheets depend on."""


@dataclass(frozen=True, eq=False)
class LaidOut:
    """The sheets with what is expected of each, what is on none, and the items in their order."""

    plan: LayoutPlan
    items: tuple[Item, ...]
    filled: Filled

    @property
    def pdf(self) -> bytes:
        """The print PDF: a page a sheet."""
        return print_sheets(self.filled.sheets, self.plan.destination, "Sheets").data

    def to_json(self) -> dict[str, Any]:
        """The sheets as plain values, as docs/layouts.md tells them."""
        numbers = {id(item.piece): i for i, item in enumerate(self.items)}
        known = [0] * len(self.items)
        sheets = []
        for number, sheet in enumerate(self.filled.sheets, 1):
            copies = []
            for copy in sheet.placements:
                i = numbers[id(copy.piece)]
                copies.append({"item": i, "copy": known[i], "matrix": list(copy.matrix)})
                known[i] += 1
            sheets.append(self._sheet(number, sheet, copies))
        left = [{"item": i, "copies": count} for i, count in enumerate(self.filled.left) if count]
        return {"sheets": sheets, "left_over": left}

    def _sheet(self, number: int, sheet: Sheet, copies: list[dict[str, Any]]) -> dict[str, Any]:
        expected = misplacement_on(sheet)
        code = sheet.code
        return {
            "number": number, "width_mm": sheet.material.width_mm, "length_mm": sheet.length_mm,
            "used_mm2": sheet.used_area_mm2, "waste": sheet.waste, "pieces": len(copies), "placements": copies,
            "marks": [{"kind": m.kind.id, "x_mm": m.x_mm, "y_mm": m.y_mm} for m in sheet.marks],
            "code": {"text": code.text, "x_mm": code.x_mm, "y_mm": code.y_mm} if code else None,
            "misplacement": {
                "worst_mm": round(expected.worst_mm, 4), "mean_mm": round(expected.mean_mm, 4),
                "at": list(expected.at),
            } if expected else None,
            "notes": [
                *sheet.notes, *self._said_of_pages(sheet), *self._said_of_nesting(sheet),
                *self._advice(sheet, expected),
            ],
        }

    def _said_of_pages(self, sheet: Sheet) -> list[str]:
        many = [(piece.job, len(piece.artwork.pages)) for piece in sheet.pieces if len(piece.artwork.pages) > 1]
        return [f"“{name}” has {count} pages; the first is laid out." for name, count in many]

    def _said_of_nesting(self, sheet: Sheet) -> list[str]:
        if self.plan.layout.how is not How.NEST or len(sheet.placements) <= MOST_NESTED:
            return []
        return [f"{len(sheet.placements):,} copies lie in rows: at most {MOST_NESTED:,} are nested on a sheet."]

    def _advice(self, sheet: Sheet, expected: Misplacement | None) -> list[str]:
        on = {id(copy.piece) for copy in sheet.placements}
        strict = min((item for item in self.items if id(item.piece) in on), key=lambda item: item.tolerance_mm)
        return advice(sheet, expected, strict.tolerance_mm, strict.piece.job)


def lay_out_files(
    data: Any, folder: Path, better: Callable[[Packed], None] = lambda packed: None,
    enough: Callable[[], bool] = lambda: False,
) -> LaidOut:
    """Lay the files of a plan out; paths are relative to the folder.

    Raises BadValue and NotFound for a plan that cannot be meant, what taking in raises for a file, DoesNotFit.
    """
    of_sheets = {k: v for k, v in data.items() if k != TOOLS} if isinstance(data, Mapping) else data
    plan = LayoutPlan.from_json(of_sheets)
    items = tuple(item_of(wanted, folder, plan.destination) for wanted in plan.items)
    return LaidOut(plan, items, fill_sheets(items, plan.material, plan.destination, plan.layout, better, enough))


def item_of(wanted: ItemWanted, folder: Path, destination: Destination) -> Item:
    """The item that a file makes under its order. Raises what taking in raises, with the file's name."""
    order = _order(wanted.order, folder)
    path = folder / wanted.file
    data = _bytes(path)
    try:
        if kind_of(data, path.name) is FileKind.PDF:
            artwork = read_bytes(data)
        else:
            artwork = read_bytes(take_in(data, path.name, Answers(), order, destination).pdf)
    except HorismosError as error:
        raise CannotRead(f"{wanted.file}: {error.message}", error.next_step) from error
    limits = edge_limits(order, CheckSheet())
    piece = piece_of(artwork, artwork.pages[0], order, destination, limits.bleed, path.stem)
    return Item(piece, wanted.quantity or order.quantity, wanted.turn, limits.tolerance)


def _order(wanted: Mapping[str, Any] | str | None, folder: Path) -> Order:
    if wanted is None:
        return Order()
    if isinstance(wanted, str):
        try:
            return Order.from_json(json.loads(_bytes(folder / wanted)))
        except ValueError as error:
            raise CannotRead(f"{wanted} is not JSON: {error}.") from error
    return Order.from_json(wanted)


def _bytes(path: Path) -> bytes:
    try:
        return path.read_bytes()
    except OSError as error:
        raise CannotRead(f"{path.name} cannot be read: {error.strerror}.") from error
