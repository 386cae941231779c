"""All that is done to files, from the shell: inspected, checked, mended, laid out, cut, released, compared, sorted."""

import argparse
import sys
from importlib import import_module

from horismos.errors import HorismosError
from horismos.sandbox.limits import Limits, confine_self

__all__ = ["main"]

COMMANDS = (
    "inspect", "check", "mend", "lines", "layout", "plan", "release", "follow", "ticket", "rehearse", "stack", "pile",
    "compare",
)
UNREADABLE = 2
LIMITS = Limits(seconds=900)
"""[ours] this process handles one file, and is itself the one that is limited."""


def _parser(wanted: list[str]) -> argparse.ArgumentParser:
    """The options of a command; of all where it is none of them. Only what is wanted is imported."""
    parser = argparse.ArgumentParser(prog="horismos", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name in wanted:
        module = import_module(f"horismos.cli.{name}")
        about = str(module.__doc__).splitlines()[0]
        command = commands.add_parser(name, help=about, description=about)
        module.options(command)
        command.set_defaults(run=module.run, confined=getattr(module, "CONFINED", True))
    return parser


def main(argv: list[str] | None = None) -> int:
    """Run a command; gives 0 for clean or look, 1 for a stop, 2 for what could not be done."""
    given = sys.argv[1:] if argv is None else argv
    wanted = [name for name in COMMANDS if given[:1] == [name]]
    args = _parser(wanted or list(COMMANDS)).parse_args(given)
    if argv is None and args.confined:
        confine_self(LIMITS)
    try:
        return int(args.run(args))
    except (HorismosError, OSError) as error:
        print(error, file=sys.stderr)
    except MemoryError:
        print("The file asks for more memory than a file may. Ask for a simpler one.", file=sys.stderr)
    return UNREADABLE
