"""The package that leaves the house: print PDF, cut files, job ticket."""

from horismos.release.package import Package, Prepared, prepare, release

__all__ = ["Package", "Prepared", "prepare", "release"]
