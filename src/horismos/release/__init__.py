"""The package: print PDF, cut files and ticket, each proved by reading it back."""

from horismos.release.package import Package, write_package
from horismos.release.ticket import Ordered, SheetNumber, ShopFacts, Tested

__all__ = ["Ordered", "Package", "SheetNumber", "ShopFacts", "Tested", "write_package"]
