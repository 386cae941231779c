"""Mend a file; the original stays as it is."""

import argparse
import sys
from pathlib import Path
from typing import Any

from horismos.cli.common import case_of
from horismos.cli.file import OK, STOP, file_options, plain_json, print_json
from horismos.errors import BadValue
from horismos.mending import Mend, Recipe, SettingKind, Step, registered, step, step_from
from horismos.workflow.case import Case
from horismos.workflow.mend import Course, mend_all, mend_safely

__all__ = ["options", "run"]


def options(parser: argparse.ArgumentParser) -> None:
    """The options of the command; for each mend that is registered there is a short one as well."""
    file_options(parser)
    parser.add_argument("--out", type=Path, required=True)
    parser.add_argument("--order", type=Path)
    parser.add_argument("--sheet", type=Path, help="a check sheet, as the Shelf exports it")
    parser.add_argument("--safe", "--offered", action="store_true", help="every mend that needs no decision")
    parser.add_argument("--steps", type=Path, help='a JSON file: [{"mend": …, settings}, …]')
    parser.add_argument("--recipe", type=Path, help='a JSON file: {"name", "version", "steps"}')
    parser.add_argument("--json", action="store_true")
    for mend in registered().values():
        bare: dict[str, Any] = {"nargs": "?", "const": ""} if _bare(mend) else {}
        parser.add_argument(
            f"--{mend.id}", *OLD_NAMES.get(mend.id, ()), action="append", default=[], metavar=_form(mend), **bare,
            help=f"answers {', '.join(mend.answers) or 'no check'}",
        )


OLD_NAMES = {"close-line": ("--close",)}


def _bare(mend: Mend) -> bool:
    """Whether a mend may be asked for by its name alone."""
    return all(setting.may_be_left_out for setting in mend.settings)


def _named(mend: Mend) -> list[str]:
    """The settings that are written without their name: what a step needs, and the role."""
    needed = [s.name for s in mend.settings if not s.may_be_left_out]
    return needed or [s.name for s in mend.settings if s.kind is SettingKind.ROLE]


def _form(mend: Mend) -> str:
    """How a mend's settings are written: names as OLD=NEW or ROLE, then what has a default as ,name=value."""
    known = {"ink": "OLD", "to": "NEW"}
    named = _named(mend)
    first = "=".join(known.get(name, name.upper()) for name in named)
    return first + "".join(f"[,{s.name}={s.unit or 'VALUE'}]" for s in mend.settings if s.name not in named)


def run(args: argparse.Namespace) -> int:
    """Carry the command out; gives the exit code."""
    if args.out.resolve() == args.file.resolve():
        raise BadValue("The original is never overwritten.", "Give --out another name.")
    steps = _asked(args)
    if not steps and not args.safe:
        raise BadValue("No mend was asked for.", "Say which, or --safe for all that need no decision.")
    course = _course(case_of(args), steps, args.safe)
    args.out.write_bytes(course.case.artwork.data)
    if args.json:
        print_json(course.to_json())
    else:
        _tell(course, args.out)
    return STOP if course.refused else OK


def _course(case: Case, steps: list[Step], safe: bool) -> Course:
    asked = mend_all(case, steps) if steps else None
    if not safe:
        assert asked is not None
        return asked
    found = mend_safely(asked.case if asked else case)
    if asked is None:
        return found
    return Course(
        found.case, asked.done + found.done, asked.skipped + found.skipped, asked.refused + found.refused,
        asked.before, found.after,
    )


def _tell(course: Course, out: Path) -> None:
    for mended in course.done:
        print(mended.said)
    for skipped, why in course.skipped:
        print(f"{skipped.label}: {why}", file=sys.stderr)
    for refused, why in course.refused:
        print(f"{refused.label} was set aside. {why}", file=sys.stderr)
    count = len(course.done)
    print(f"{out}: {count} mend{'s' if count != 1 else ''}; {course.before.verdict} before, {course.after.verdict} now")


def _asked(args: argparse.Namespace) -> list[Step]:
    steps = [] if args.steps is None else _listed(plain_json(args.steps))
    if args.recipe is not None:
        steps += Recipe.from_json(plain_json(args.recipe)).steps
    return steps + [
        _read(mend, text) for mend in registered().values() for text in getattr(args, mend.id.replace("-", "_"))
    ]


def _listed(value: object) -> list[Step]:
    if not isinstance(value, list):
        raise BadValue("The steps are no list.", 'Write [{"mend": …}, …].')
    return [step_from(one) for one in value]


def _read(mend: Mend, text: str) -> Step:
    """A step from how it is written in the call."""
    named = _named(mend)
    others = [setting.name for setting in mend.settings if setting.name not in named]
    given: dict[str, str] = {}
    while others and text:  # from the end on, so that a name may hold commas
        head, comma, last = text.rpartition(",")
        key, equals, value = last.partition("=")
        if not equals or key not in others or (not comma and not _bare(mend)):
            break
        text, given[key] = head, value
    if text or not _bare(mend):
        values = text.split("=", len(named) - 1)
        if len(values) != len(named):
            what = "no renaming" if "ink" in named else f"not how “{mend.id}” is written"
            raise BadValue(f"“{text}” is {what}.", f"Write {_form(mend)}.")
        given |= dict(zip(named, values, strict=True))
    return step(mend.id, **given)
