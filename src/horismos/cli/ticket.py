"""Write the shop ticket of a released sheet: one page for who stands at the cutter."""

import argparse
from pathlib import Path

from horismos.cli.file import OK
from horismos.cli.package import package_files, package_option
from horismos.release.following import released_in
from horismos.workflow.shop_ticket import shop_ticket_of

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    package_option(parser)
    parser.add_argument("--out", type=Path, required=True, help="a PDF")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    made = shop_ticket_of(released_in(package_files(args.package), args.sheet))
    args.out.write_bytes(made)
    print(args.out)
    return OK
