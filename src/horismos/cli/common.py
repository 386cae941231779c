"""The case that a command works on, and its report for people."""

import argparse
import hashlib
from datetime import UTC, datetime
from pathlib import Path

from horismos.checking import CheckSheet, Report, all_limits
from horismos.cli.file import artwork_of, destination_asked, material_asked, order_of, plain_json
from horismos.materials import MATERIALS, laminated
from horismos.orders import Laminate
from horismos.workflow.case import Case, JobFacts

__all__ = ["case_of", "show"]

def case_of(args: argparse.Namespace) -> Case:
    """The case that a command works on: the file, and what the call says of the order, material and check sheet."""
    order = order_of(getattr(args, "order", None))
    material = material_asked(getattr(args, "material", None) or order.material)
    if order.laminate:
        material = laminated(material or next(iter(MATERIALS.values())), order.laminate is Laminate.GLOSSY)
    artwork = artwork_of(args)
    facts = JobFacts(
        args.file.stem, "", args.file.name, hashlib.sha256(args.file.read_bytes()).hexdigest(),
        when=f"{datetime.now(UTC):%Y-%m-%d %H:%M} UTC",
    )
    sheet = _check_sheet(getattr(args, "sheet", None))
    return Case(
        artwork=artwork, order=order, destination=destination_asked(args), material=material, check_sheet=sheet,
        facts=facts
    )


def _check_sheet(path: Path | None) -> CheckSheet:
    return CheckSheet() if path is None else CheckSheet.from_json(plain_json(path), all_limits())


def show(report: Report) -> None:
    """Print a report for people, a line a finding."""
    for finding in report.findings:
        measured = "" if finding.measured is None else f"  {finding.measured:.3g} {finding.unit}"
        print(f"{finding.severity:4}  {finding.id:18}{measured}  {finding.message}")
    print(report.verdict)
