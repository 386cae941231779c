"""Make cut lines from the art of a file; the original stays as it is."""

import argparse
import sys
from pathlib import Path
from typing import Any

from horismos.cli.common import case_of
from horismos.cli.file import OK, file_options, plain_json, print_json
from horismos.errors import BadValue
from horismos.making import Made, Make
from horismos.workflow.make import Lined, lines_file, make_lines

__all__ = ["options", "run"]

FORMS = (".pdf", ".svg", ".dxf", ".plt")


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    file_options(parser)
    parser.add_argument("--make", type=Path, required=True, help="a JSON file that says what is made of what")
    parser.add_argument("--out", type=Path, required=True, help=f"one of {', '.join(FORMS)}")
    parser.add_argument("--order", type=Path)
    parser.add_argument("--page", type=int, default=1)
    parser.add_argument("--json", action="store_true")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    if args.out.resolve() == args.file.resolve():
        raise BadValue("The original is never overwritten.", "Give --out another name.")
    if args.out.suffix.lower() not in FORMS:
        raise BadValue(f"“{args.out.suffix}” is no form that lines are written in.", f"Give one of {', '.join(FORMS)}.")
    wanted = Make.from_json(plain_json(args.make))
    lined = make_lines(case_of(args), wanted, args.page)
    args.out.write_bytes(lines_file(lined, args.out.suffix.lower()))
    if args.json:
        print_json(_json(lined))
    else:
        _tell(lined.made, args.out)
    return OK


def _json(lined: Lined) -> dict[str, Any]:
    report = lined.report.to_json()
    return {**lined.made.to_json(), "findings": report["findings"], "verdict": report["verdict"]}


def _tell(made: Made, out: Path) -> None:
    print(made.why)
    for line in made.to_json()["lines"]:
        ties = f", {line['ties']} ties" if line["ties"] else ""
        print(f"{line['role']:12} {line['nodes']:4} nodes  {line['length_mm']:9.1f} mm{ties}")
    for note in made.notes:
        print(note, file=sys.stderr)
    print(f"{out}: lines at most {made.deviation_mm:.3f} mm from what was meant")
