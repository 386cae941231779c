"""Lay files out on sheets with marks and a code, and write the print PDF, a page a sheet."""

import argparse
import sys
from pathlib import Path

from horismos.cli.file import OK, plain_json, print_json
from horismos.errors import BadValue
from horismos.workflow.lay_out import lay_out_files

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    parser.add_argument("plan", type=Path, help="a JSON file that says what is laid out, on what and how")
    parser.add_argument("--out", type=Path, required=True, help="the print PDF")
    parser.add_argument("--json", action="store_true")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    data = plain_json(args.plan)
    laid = lay_out_files(data, args.plan.parent)
    if args.out.resolve() in {(args.plan.parent / item.file).resolve() for item in laid.plan.items}:
        raise BadValue("The original is never overwritten.", "Give --out another name.")
    told = laid.to_json()
    args.out.write_bytes(laid.pdf)
    if args.json:
        print_json(told)
        return OK
    for sheet in told["sheets"]:
        print(
            f"sheet {sheet['number']}: {sheet['pieces']} pieces on {sheet['width_mm']:g} × "
            f"{sheet['length_mm']:.1f} mm, {sheet['waste']:.0%} waste, "
            f"cuts expected within {sheet['misplacement']['worst_mm']:.2f} mm"
        )
        for note in sheet["notes"]:
            print(note, file=sys.stderr)
    for left in told["left_over"]:
        print(f"left over: {left['copies']} of {laid.plan.items[left['item']].file}", file=sys.stderr)
    return OK
