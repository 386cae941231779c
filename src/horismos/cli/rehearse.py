"""Print, load and cut a released package many times on the simulated machines, and say what came of it."""

import argparse
from pathlib import Path

from horismos.cli.file import OK, print_json
from horismos.errors import NotFound
from horismos.words import plural
from horismos.workflow.rehearse import rehearse

__all__ = ["options", "run"]

SPREADS = (
    ("shift-mm", "of where the sheet is laid"), ("turn-deg", "of how it is turned"),
    ("stretch", "of how it is stretched along either axis, a fraction"), ("skew-deg", "of how it is skewed"),
    ("reading-mm", "with which a mark is read"), ("local-mm", "of the bend and stretch between two rows of marks"),
    ("repeats-mm", "with which the cutter comes back"),
)


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command."""
    parser.add_argument("folder", type=Path, help="what `release` has written")
    parser.add_argument("--loads", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    for name, what in SPREADS:
        parser.add_argument(f"--{name}", type=_spread, help=f"standard deviation {what}; else the shipped machines'")
    parser.add_argument("--json", action="store_true")


def _spread(text: str) -> float:
    value = float(text)
    if not 0 <= value < 1e4:
        raise argparse.ArgumentTypeError(f"{text} is no standard deviation; give 0 or more.")
    return value


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    if not args.folder.is_dir():
        raise NotFound(f"There is no folder {args.folder}.", "Give the one that `release` has written.")
    files = {path.name: path.read_bytes() for path in sorted(args.folder.iterdir()) if path.is_file()}
    given = {name.replace("-", "_"): getattr(args, name.replace("-", "_")) for name, _ in SPREADS}
    outcome = rehearse(files, args.loads, args.seed, given)
    if args.json:
        print_json(outcome.to_json())
        return OK
    print(f"{plural(outcome.loads, 'load')}, {plural(outcome.pieces, 'piece')} cut")
    print(f"  a mark was not found   {plural(outcome.marks_missed, 'load')}, not cut")
    print(f"  bare media shows       {plural(outcome.bare, 'piece')}")
    print(f"  art is trimmed         {plural(outcome.trimmed, 'piece')}")
    if outcome.worst_at:
        x, y = outcome.worst_at
        print(
            f"  cuts land within {outcome.p95_mm:.2f} mm in 95 of 100 pieces; at worst {outcome.worst_mm:.2f} mm, "
            f"in load {outcome.worst_load} at {x:.0f}, {y:.0f} mm"
        )
    return OK
