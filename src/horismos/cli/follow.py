"""Write the cut files of a released sheet anew for where its print lies, by what the RIP reports."""

import argparse
import sys
from pathlib import Path
from typing import Any

from horismos.cli.file import OK, STOP, plain_json, print_json
from horismos.cli.package import package_files, package_option
from horismos.errors import DoesNotFit
from horismos.release.following import RipReport, released_in
from horismos.workflow.follow import followed

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    package_option(parser)
    parser.add_argument("--report", type=Path, required=True, help="what the RIP did, as JSON")
    parser.add_argument("--out", type=Path, required=True, help="a folder")
    parser.add_argument("--json", action="store_true")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code. Nothing is written where the cut cannot follow."""
    released = released_in(package_files(args.package), args.sheet)
    report = RipReport.from_json(plain_json(args.report))
    try:
        made = followed(released, report)
    except DoesNotFit as why:
        if args.json:
            print_json(_refused(report, str(why)))
        print(why, file=sys.stderr)
        return STOP
    args.out.mkdir(parents=True, exist_ok=True)
    for file in made.followed.files:
        (args.out / file.name).write_bytes(file.data)
    if args.json:
        print_json(made.to_json())
        return OK
    for file in made.followed.files:
        print(f"{args.out / file.name}  repeat {file.repeat}, {file.contours} contours")
    for id in made.findings:
        print(f"at this scale: {id}")
    print(f"the cut lies at most {made.followed.worst_off_mm:.4f} mm from where the print lies")
    return OK


def _refused(report: RipReport, words: str) -> dict[str, Any]:
    return {
        "files": [], "turn_deg": report.turn_deg, "scale": report.scale_said, "refused": words, "findings": [],
        "worst_off_mm": None,
    }
