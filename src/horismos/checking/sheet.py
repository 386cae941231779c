"""Check sheets: the limits and severities that a shop works with."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from horismos.checking.findings import Severity

__all__ = ["CheckSheet"]


@dataclass(frozen=True)
class CheckSheet:
    """Limits and severities by check id, where they differ from the shipped ones."""

    name: str = "Shipped"
    limits: Mapping[str, float] = field(default_factory=dict)
    severities: Mapping[str, Severity] = field(default_factory=dict)
