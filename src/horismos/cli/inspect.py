"""Say what a file holds."""

import argparse

from horismos.artwork.inspect import inspect
from horismos.cli.file import OK, artwork_of, destination_asked, file_options, print_json

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    file_options(parser)
    parser.add_argument("--json", action="store_true")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    found = inspect(artwork_of(args), destination_asked(args))
    if args.json:
        print_json(found)
        return OK
    for number, page in enumerate(found["pages"], 1):
        w, h = page["size_mm"]
        print(f"page {number}: {w:.1f} × {h:.1f} mm")
        for ink in page["inks"]:
            print(f"  ink   {ink['name']}  {ink['kind']} {ink['role'] or ''}")
        for line in page["lines"]:
            print(
                f"  line  {line['role'] or 'which?'} in “{line['ink']}”: {line['contours']} "
                f"contours, {line['closed_contours']} closed, {line['length_mm']:.1f} mm"
            )
    for repair in found["repairs"]:
        print(f"mended on reading: {repair}")
    return OK
