"""inspect, check, mend and release a file from the shell."""

import argparse
import sys
from types import ModuleType

from horismos.cli import check, inspect, mend, release
from horismos.cli.common import UNREADABLE
from horismos.errors import HorismosError

__all__ = ["main"]

COMMANDS: dict[str, ModuleType] = {"inspect": inspect, "check": check, "mend": mend, "release": release}


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="horismos", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)
    for name, module in COMMANDS.items():
        about = str(module.__doc__).splitlines()[0]
        module.options(commands.add_parser(name, help=about, description=about))
    return parser


def main(argv: list[str] | None = None) -> int:
    """Run a command; gives 0 for clean or look, 1 for a stop, 2 for what could not be done."""
    args = _parser().parse_args(argv)
    try:
        return int(COMMANDS[args.command].run(args))
    except (HorismosError, OSError) as error:
        print(error, file=sys.stderr)
    return UNREADABLE
