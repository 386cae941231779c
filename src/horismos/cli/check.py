"""Check a file against an order."""

import argparse
import sys
from pathlib import Path
from typing import Any

from horismos.checking import Report, check_whole
from horismos.cli.common import case_of, show
from horismos.cli.file import OK, STOP, UNREADABLE, file_options, material_option, print_json
from horismos.errors import Locked
from horismos.workflow.case import Case
from horismos.workflow.showing.findings import report_document

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    file_options(parser)
    parser.add_argument("--order", type=Path, help="a JSON file; see docs/orders.md")
    parser.add_argument("--json", action="store_true")
    parser.add_argument("--sheet", type=Path, help="a check sheet, as the Shelf exports it")
    material_option(parser)
    parser.add_argument("--report", type=Path, metavar="OUT.pdf", help="write the preflight report")
    parser.add_argument("--letter", type=Path, metavar="OUT.txt", help="write a letter about all stops and looks")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    try:
        case = case_of(args)
    except Locked as error:
        if args.json:
            print_json(_locked(error))
        print(error, file=sys.stderr)
        return UNREADABLE
    report = check_whole(case.artwork, case.terms).report
    _write_papers(args, case, report)
    if args.json:
        print_json(report_document(report))
    else:
        show(report)
    return STOP if report.verdict == "stop" else OK


def _write_papers(args: argparse.Namespace, case: Case, report: Report) -> None:
    """The report and the letter, where they were asked for."""
    if args.report is None and args.letter is None:
        return
    from horismos.workflow.documents import letter_of, preflight_pdf

    if args.report is not None:
        args.report.write_bytes(preflight_pdf(case, report))
    if args.letter is not None:
        chosen = [finding.key for finding in report.findings if finding.severity != "note"]
        if chosen:
            args.letter.write_text(letter_of(case, report, chosen).text(), encoding="utf-8")
        else:
            print("There is nothing to write a letter about.", file=sys.stderr)


def _locked(error: Locked) -> dict[str, Any]:
    """The report on a file that nobody could open."""
    return {
        "verdict": "stop",
        "findings": [
            {
                "id": "file.locked", "severity": "stop", "page": None, "message": str(error),
                "detail": "", "measured": 1, "limit": 0, "unit": "locks", "count": 1, "where": [],
                "mends": [],
            }
        ],
    }
