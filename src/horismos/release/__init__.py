"""The package: print PDF, cut files and ticket, each proved by reading it back."""

from horismos.release.package import Package, write_package
from horismos.release.ticket import Ordered, SheetNumber

__all__ = ["Ordered", "Package", "SheetNumber", "write_package"]
