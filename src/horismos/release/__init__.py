"""The package: print PDF, cut files and ticket, each proved by reading it back."""

from horismos.release.package import Package, write_package

__all__ = ["Package", "write_package"]
