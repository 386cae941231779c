"""The checks: each a small function with its id, limit and evidence."""

import horismos.checking.art.content
import horismos.checking.art.images
import horismos.checking.art.white
import horismos.checking.edge.bleed
import horismos.checking.edge.rehearsed
import horismos.checking.edge.safe
import horismos.checking.file.proof
import horismos.checking.file.structure
import horismos.checking.inks.names
import horismos.checking.inks.printing
import horismos.checking.lines.contours
import horismos.checking.lines.paint
import horismos.checking.lines.places
import horismos.checking.page.boxes
import horismos.checking.page.layers  # noqa: F401
from horismos.checking.engine.check_sheet import CheckSheet, merged
from horismos.checking.engine.findings import Finding, Report, Severity, Verdict
from horismos.checking.engine.rules import all_limits, registered
from horismos.checking.engine.run import Checked, check, check_whole
from horismos.checking.engine.terms import CheckInputs, Rehearsed, edge_limits

__all__ = [
    "CheckInputs",
    "CheckSheet",
    "Checked",
    "Finding",
    "Rehearsed",
    "Report",
    "Severity",
    "Verdict",
    "all_limits",
    "check",
    "check_whole",
    "edge_limits",
    "merged",
    "registered",
]
