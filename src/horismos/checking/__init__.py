"""The checks: each a small function with its id, limit, evidence and the mends that answer it."""

from horismos.checking import art, edge, files, inks, line_names, line_paint, pages  # noqa: F401
from horismos.checking.check import check, registered
from horismos.checking.findings import Finding, Report, Severity
from horismos.checking.sheet import CheckSheet

__all__ = ["CheckSheet", "Finding", "Report", "Severity", "check", "registered"]
