"""Plan the cut of files laid out on sheets, and write the cut files."""

import argparse
import sys
from pathlib import Path

from horismos.cli.file import OK, plain_json, print_json
from horismos.release.cut_formats import registered
from horismos.workflow.plan_files import plan_files

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    parser.add_argument("plan", type=Path, help="a JSON file that says what is laid out, and how it is cut")
    parser.add_argument("--out", type=Path, required=True, help="a folder")
    parser.add_argument("--format", choices=list(registered()), default="hpgl")
    parser.add_argument("--json", action="store_true")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code. Nothing is written where anything is refused."""
    planned = plan_files(plain_json(args.plan), args.plan.parent, args.format)
    args.out.mkdir(parents=True, exist_ok=True)
    for file in planned.files:
        (args.out / file.name).write_bytes(file.data)
    told = planned.to_json()
    if args.json:
        print_json(told)
        return OK
    for op in told["operations"]:
        print(
            f"{op['role']:12} tool {op['tool']}  {op['contours']} contours, {op['cut_mm'] / 1000:.2f} m cut, "
            f"{op['travel_mm'] / 1000:.2f} m travel, {op['time_s']:.0f} s{'  from behind' if op['mirrored'] else ''}"
        )
    for file in told["files"]:
        print(args.out / file["name"])
    for said in told["notes"]:
        print(said, file=sys.stderr)
    print(f"cut as written lies at most {told['worst_off_mm']:.4f} mm from cut as meant; {told['time_s']:.0f} s in all")
    return OK
