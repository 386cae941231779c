"""A released package on the disk: a folder with the files of one or more sheets."""

import argparse
from pathlib import Path

from horismos.errors import LimitExceeded, NotFound

__all__ = ["package_files", "package_option"]

MOST_BYTES = 4_000_000_000
"""[ours] more than that no package has."""


def package_option(parser: argparse.ArgumentParser) -> None:
    """The options that say which package, and which sheet of it."""
    parser.add_argument("package", type=Path, help="the folder that a job was released into")
    parser.add_argument("--sheet", type=int, metavar="N", help="which sheet, where there are several")


def package_files(folder: Path) -> dict[str, bytes]:
    """The files of a package by name. Raises NotFound, LimitExceeded."""
    if not folder.is_dir():
        raise NotFound(f"{folder} is no folder.", "Name the folder that a job was released into.")
    paths = [path for path in sorted(folder.iterdir()) if path.is_file() and not path.name.startswith(".")]
    if sum(path.stat().st_size for path in paths) > MOST_BYTES:
        raise LimitExceeded(f"{folder} holds more than a package has.", "Name the folder of one package.")
    return {path.name: path.read_bytes() for path in paths}
