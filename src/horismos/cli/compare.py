"""Say in what a later file differs from an earlier one: size, art, lines, inks and layers."""

import argparse
from pathlib import Path

from horismos.cli.file import OK, STOP, artwork_of, destination_asked, file_options, print_json
from horismos.comparing.files import FilesApart, files_apart

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command; what they say goes for both files."""
    file_options(parser)
    parser.add_argument("new", type=Path, help="the later file")
    parser.add_argument("--json", action="store_true")


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives 0 where the files are the same, else 1."""
    old, new = (artwork_of(argparse.Namespace(**{**vars(args), "file": path})) for path in (args.file, args.new))
    found = files_apart(old, new, destination_asked(args))
    if args.json:
        print_json(found.to_json())
    else:
        _tell(found)
    return OK if found.same else STOP


def _tell(found: FilesApart) -> None:
    """Print what differs, a line a thing."""
    said = found.to_json()
    if found.same:
        print("Nothing differs.")
    if said["pages"]["old"] != said["pages"]["new"]:
        print(f"pages: {said['pages']['old']} before, {said['pages']['new']} now; nothing else was compared")
    if said["size"]["old_mm"] != said["size"]["new_mm"]:
        before, now = (" × ".join(f"{side:g}" for side in said["size"][key]) for key in ("old_mm", "new_mm"))
        print(f"size: {before} mm before, {now} mm now")
    for x0, y0, x1, y1 in said["art"]["areas_mm"]:
        print(f"art: {x1 - x0:.2f} × {y1 - y0:.2f} mm at {x0:.2f}, {y0:.2f}")
    for role, moves in said["lines"]["by_role"].items():
        print(f"{role}: {', '.join(f'{count} {what}' for what, count in moves.items() if count)}")
    if said["lines"]["by_role"]:
        print(f"lines moved by {said['lines']['moved_mm']:g} mm at most")
    for what in ("inks", "layers"):
        for key in ("added", "removed"):
            if said[what][key]:
                print(f"{what} {key}: {', '.join(said[what][key])}")
