"""Lay out, plan and write the package."""

import argparse
import sys
from dataclasses import replace
from pathlib import Path

from horismos.checking import check_whole
from horismos.cli.common import case_of, show
from horismos.cli.file import OK, STOP, file_options, material_option
from horismos.sheet import Layout
from horismos.workflow.release import release

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    file_options(parser)
    parser.add_argument("--order", type=Path, required=True)
    parser.add_argument("--out", type=Path, required=True, help="a folder")
    material_option(parser)
    parser.add_argument("--columns", type=int)
    parser.add_argument("--gap", type=float, metavar="MM")
    parser.add_argument("--page", type=int, default=1)


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    case = case_of(args)
    layout = Layout(columns=args.columns, gap_mm=args.gap)
    case = replace(case, material=case.media, layout=layout, page_number=args.page)
    report = check_whole(case.artwork, case.terms).report
    if report.verdict == "stop":
        show(report)
        print("Nothing was released.", file=sys.stderr)
        return STOP
    packages = release(case, report)
    args.out.mkdir(parents=True, exist_ok=True)
    for package in packages:
        for name, data in package.files.items():
            (args.out / name).write_bytes(data)
            print(args.out / name)
    hindered = dict.fromkeys(why for package in packages for why in package.hindered)
    print(f"the print PDF does not follow PDF/X-4: {'; '.join(hindered)}" if hindered else "it follows PDF/X-4")
    worst = max(package.worst_off_mm for package in packages)
    print(f"cut as written lies at most {worst:.4f} mm from cut as meant")
    return OK
