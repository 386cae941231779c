"""Make a stack of fabric from a file: a cut file for each layer, and the stitches."""

import argparse
import sys
from dataclasses import replace
from pathlib import Path

from horismos.cli.common import case_of
from horismos.cli.file import OK, file_options, plain_json, print_json
from horismos.stitching.stack import Stack
from horismos.workflow.stack import files_of, make_stack, summary_json

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    file_options(parser)
    parser.add_argument("--make", type=Path, required=True, help="a JSON file that says what the layers are")
    parser.add_argument("--out", type=Path, required=True, help="a folder")
    parser.add_argument("--order", type=Path)
    parser.add_argument("--page", type=int, default=1)
    parser.add_argument("--json", action="store_true")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code. Nothing is written where anything is refused."""
    stack = Stack.from_json(plain_json(args.make))
    case = case_of(args)
    case = replace(case, page_number=args.page)
    made = make_stack(case, stack)
    files = files_of(made, case)
    args.out.mkdir(parents=True, exist_ok=True)
    for file in files:
        (args.out / file.name).write_bytes(file.data)
    said = summary_json(made, files)
    if args.json:
        print_json(said)
        return OK
    print(made.why)
    for layer in reversed(said["layers"]):
        print(
            f"{layer['cut_as']}. {layer['name']:16} {layer['contours']} contours, {layer['cut_mm'] / 1000:.2f} m cut, "
            f"{layer['area_mm2'] / 100:.1f} cm². {layer['lay']}"
        )
    sewn = said["stitches"]
    print(
        f"{sewn['count']} stitches, {sewn['trims']} trims, {sewn['stops']} stops, {sewn['colours']} threads, "
        f"{sewn['thread_mm'] / 1000:.1f} m of thread, {sewn['time_s'] / 60:.0f} min"
    )
    for file in files:
        print(args.out / file.name)
    for note in made.said:
        print(note, file=sys.stderr)
    print(f"files as read back lie at most {said['worst_off_mm']:.4f} mm from what was meant")
    return OK
