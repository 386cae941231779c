"""Mend a file; the original stays as it is."""

import argparse
import sys
from pathlib import Path

from horismos.checking import check_whole
from horismos.cli.common import case_of
from horismos.cli.file import OK, file_options
from horismos.errors import BadValue, NothingToDo
from horismos.mending import Kind, Mend, Step, apply_all, offered, registered, step
from horismos.workflow.case import Case

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command: one for each mend that is registered."""
    file_options(parser)
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--order", type=Path)
    for mend in registered().values():
        parser.add_argument(
            f"--{mend.id}", action="append", default=[], metavar=_form(mend), help=f"answers {', '.join(mend.answers)}"
        )
    parser.add_argument("--offered", action="store_true", help="all safe mends that the check offers")


def _form(mend: Mend) -> str:
    """How a mend's settings are written: names as OLD=NEW or ROLE, then what has a default as ,name=value."""
    named = {"ink": "OLD", "to": "NEW"}
    first = "=".join(named.get(s.name, s.name.upper()) for s in mend.settings if s.default is None)
    return first + "".join(f"[,{s.name}={s.unit or 'VALUE'}]" for s in mend.settings if s.default is not None)


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    if args.out.resolve() == args.file.resolve():
        raise BadValue("The original is never overwritten.", "Give --out another name.")
    steps = _asked(args)
    if not steps and not args.offered:
        raise BadValue("No mend was asked for.", "Say which, or --offered for all.")
    case = case_of(args)
    done = apply_all(case.artwork, [*steps, *_offered(args, case, steps)], case.destination, _tell)
    if not done and not args.offered:
        raise NothingToDo("Nothing of what was asked for needs mending.", "No file was written.")
    args.out.write_bytes(done[-1].artwork.data if done else case.artwork.data)
    for mended in done:
        print(mended.said)
    print(f"{args.out}: {len(done)} mend{'s' if len(done) != 1 else ''}")
    return OK


def _tell(step: Step, why: NothingToDo) -> None:
    print(f"{step.label}: {why}", file=sys.stderr)


def _offered(args: argparse.Namespace, case: Case, asked: list[Step]) -> list[Step]:
    if not args.offered:
        return []
    return [found for found in offered(check_whole(case.artwork, case.terms).report) if found not in asked]


def _asked(args: argparse.Namespace) -> list[Step]:
    return [
        _read(mend, text) for mend in registered().values() for text in getattr(args, mend.id.replace("-", "_"))
    ]


def _read(mend: Mend, text: str) -> Step:
    """A step from how it is written in the call."""
    names = [setting for setting in mend.settings if setting.default is None]
    others = [setting.name for setting in mend.settings if setting.default is not None]
    given: dict[str, str] = {}
    while others:  # from the end on, so that a name may hold commas
        head, comma, last = text.rpartition(",")
        key, equals, value = last.partition("=")
        if not comma or not equals or key not in others:
            break
        text, given[key] = head, value
    values = text.split("=", len(names) - 1)
    if len(values) != len(names):
        what = "no renaming" if names[0].kind is Kind.NAME else f"not how “{mend.id}” is written"
        raise BadValue(f"“{text}” is {what}.", f"Write {_form(mend)}.")
    return step(mend.id, **dict(zip((s.name for s in names), values, strict=True)), **given)
