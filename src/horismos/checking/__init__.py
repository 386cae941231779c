"""The checks: each a small function with its id, limit, evidence and the mends that answer it."""

from horismos.checking import (  # noqa: F401
    art,
    edge,
    files,
    images,
    inks,
    layers,
    line_contours,
    line_names,
    line_paint,
    line_places,
    pages,
    white,
)
from horismos.checking.check import Checked, all_limits, check, check_whole, registered
from horismos.checking.context import Terms
from horismos.checking.facets import Facet, changed
from horismos.checking.findings import Finding, Report, Severity
from horismos.checking.sheet import CheckSheet, merged

__all__ = [
    "CheckSheet", "Checked", "Facet", "Finding", "Report", "Severity", "Terms", "all_limits", "changed", "check",
    "check_whole", "merged", "registered",
]
