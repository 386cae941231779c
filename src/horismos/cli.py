"""The same work without the web: inspect, check, mend and release a file from the shell."""

import argparse
import hashlib
import json
import sys
from dataclasses import replace
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from horismos.artwork import Artwork, read, read_bytes
from horismos.checking import CheckSheet, Report, all_limits, check
from horismos.destinations import HOUSE, SHIPPED
from horismos.errors import Asks, BadValue, CannotRead, HorismosError, Locked, NotFound, NothingToDo
from horismos.inspect import inspect
from horismos.intake import Answers, Kind, kind_of, take_in_within
from horismos.mending import apply_all, offered
from horismos.orders import Order
from horismos.release import prepare, release
from horismos.reporting.evidence import Evidence
from horismos.reporting.letter import write_letter
from horismos.reporting.report import About, report_pdf
from horismos.roles import LineRole
from horismos.sheet import MATERIALS, Layout
from horismos.steps import Step, StepKind

__all__ = ["main"]

OK, STOP, UNREADABLE = 0, 1, 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="horismos", description=__doc__)
    commands = parser.add_subparsers(dest="command", required=True)

    def command(name: str, help: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=help, description=help)
        sub.add_argument("file", type=Path, help="the customer's file: PDF, EPS, SVG, PNG, JPEG, TIFF, HP-GL or DXF")
        sub.add_argument("--destination", choices=sorted(SHIPPED), default=HOUSE.id)
        sub.add_argument("--password", default="", help="for a file that opens with one")
        sub.add_argument("--width", type=float, metavar="MM", help="finished width of a file without a size")
        sub.add_argument("--height", type=float, metavar="MM", help="finished height of a file without a size")
        sub.add_argument("--unit", default="", help="of a drawing that does not say: mm, cm, m, inch, foot, point")
        sub.add_argument("--bind", action="append", default=[], metavar="KEY=ROLE", help="such as pen:1=kiss-cut")
        return sub

    sub = command("inspect", "say what a file holds")
    sub.add_argument("--json", action="store_true")
    sub = command("check", "check a file against an order")
    sub.add_argument("--order", type=Path, help="a JSON file; see the README")
    sub.add_argument("--json", action="store_true")
    sub.add_argument("--sheet", type=Path, help="a check sheet, as the Shelf exports it")
    sub.add_argument("--material", choices=sorted(MATERIALS))
    sub.add_argument("--report", type=Path, metavar="OUT.pdf", help="write the preflight report")
    sub.add_argument("--letter", type=Path, metavar="OUT.txt", help="write a letter about all stops and looks")
    sub = command("mend", "mend a file; the original stays as it is")
    sub.add_argument("--out", type=Path, required=True)
    sub.add_argument("--order", type=Path)
    sub.add_argument("--rename", action="append", default=[], metavar="OLD=NEW")
    for kind in (StepKind.HAIRLINE, StepKind.CLOSE, StepKind.OVERPRINT):
        sub.add_argument(f"--{kind}", action="append", default=[], choices=list(LineRole))
    sub.add_argument("--offered", action="store_true", help="all mends that the check offers")
    sub = command("release", "lay out, plan and write the package")
    sub.add_argument("--order", type=Path, required=True)
    sub.add_argument("--out", type=Path, required=True, help="a folder")
    sub.add_argument("--material", choices=sorted(MATERIALS))
    sub.add_argument("--columns", type=int)
    sub.add_argument("--gap", type=float, metavar="MM")
    sub.add_argument("--page", type=int, default=1)
    return parser


def _artwork(args: argparse.Namespace) -> Artwork:
    """The file in its working form; what it leaves open has to be said in the call."""
    try:
        data = args.file.read_bytes()
    except OSError as error:
        raise CannotRead(f"{args.file.name} cannot be opened: {error.strerror}.") from None
    if kind_of(data, args.file.name) is Kind.PDF:
        return read(args.file, args.password)
    binding = dict(pair.split("=", 1) if "=" in pair else (pair, "") for pair in args.bind)
    answers = Answers(args.password, (), args.width, args.height, args.unit, binding)
    try:
        order = _order(getattr(args, "order", None))
        taken = take_in_within(data, args.file.name, answers, order, SHIPPED[args.destination])
    except Asks as asks:
        raise HorismosError(asks.message, _how_to_say(asks)) from None
    return replace(read_bytes(taken.pdf), taken_in=tuple((note.severity, note.words) for note in taken.notes))


def _how_to_say(asks: Asks) -> str:
    """The options that answer what a file asks."""
    parts = []
    for question in asks.questions:
        if question.id == "binding":
            keys = ", ".join(f"--bind {choice.key}=ROLE" for choice in question.choices if not choice.said)
            parts.append(f"Say {keys}; a role, art or leave-out.")
        else:
            said = {"size": "--width or --height", "unit": "--unit", "pages": "which page, in the web application"}
            parts.append(f"Say {said.get(question.id, '--' + question.id)}.")
    return " ".join(parts)


def _order(path: Path | None) -> Order:
    if path is None:
        return Order()
    try:
        return Order.from_json(json.loads(path.read_text(encoding="utf-8")))
    except OSError as error:
        raise CannotRead(f"{path} cannot be opened: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise BadValue(f"{path} is not JSON: {error}.") from None


def _print(value: Any) -> None:
    print(json.dumps(value, ensure_ascii=False, indent=2))


def _inspect(args: argparse.Namespace, artwork: Artwork) -> int:
    found = inspect(artwork, SHIPPED[args.destination])
    if args.json:
        _print(found)
        return OK
    for number, page in enumerate(found["pages"], 1):
        w, h = page["size_mm"]
        print(f"page {number}: {w:.1f} × {h:.1f} mm")
        for ink in page["inks"]:
            print(f"  ink   {ink['name']}  {ink['kind']} {ink['role'] or ''}")
        for line in page["lines"]:
            print(
                f"  line  {line['role'] or 'which?'} in “{line['ink']}”: {line['contours']} "
                f"contours, {line['closed_contours']} closed, {line['length_mm']:.1f} mm"
            )
    for repair in found["repairs"]:
        print(f"mended on reading: {repair}")
    return OK


def _show(report: Report) -> None:
    for finding in report.findings:
        measured = "" if finding.measured is None else f"  {finding.measured:.3g} {finding.unit}"
        print(f"{finding.severity:4}  {finding.id:18}{measured}  {finding.message}")
    print(report.verdict)


def _sheet(path: Path | None) -> CheckSheet:
    if path is None:
        return CheckSheet()
    try:
        return CheckSheet.from_json(json.loads(path.read_text(encoding="utf-8")), all_limits())
    except OSError as error:
        raise CannotRead(f"{path} cannot be opened: {error.strerror}.") from None
    except (ValueError, RecursionError) as error:
        raise BadValue(f"{path} is not JSON: {error}.") from None


def _write_papers(args: argparse.Namespace, artwork: Artwork, report: Report) -> None:
    """The report and the letter, where they were asked for."""
    destination, order = SHIPPED[args.destination], _order(args.order)
    material = MATERIALS.get(args.material or order.material or "")
    if args.report is not None:
        print_ = hashlib.sha256(artwork.data).hexdigest()
        about = About(
            args.file.stem, "", args.file.name, hashlib.sha256(args.file.read_bytes()).hexdigest(), print_, 1,
            artwork.pages[0].size_mm, order, material.title if material else "not said", destination.title,
            f"{datetime.now(UTC):%Y-%m-%d %H:%M} UTC", "",
        )
        with Evidence(artwork, artwork.pages[0], destination) as pictures:
            args.report.write_bytes(report_pdf(about, report, {}, pictures))
    if args.letter is not None:
        chosen = [f for f in report.findings if f.severity != "note"]
        letter = write_letter(chosen, args.file.stem, args.file.name, "", "", destination)
        args.letter.write_text(letter.text(), encoding="utf-8")


def _check(args: argparse.Namespace, artwork: Artwork) -> int:
    order = _order(args.order)
    material = MATERIALS.get(args.material or order.material or "")
    report = check(artwork, order, SHIPPED[args.destination], _sheet(args.sheet), material=material)
    _write_papers(args, artwork, report)
    if args.json:
        _print(report.to_json())
    else:
        _show(report)
    return STOP if report.verdict == "stop" else OK


def _steps(args: argparse.Namespace, artwork: Artwork) -> list[Step]:
    steps = []
    for pair in args.rename:
        ink, equals, to = pair.partition("=")
        if not equals:
            raise BadValue(f"“{pair}” is no renaming.", "Write OLD=NEW.")
        steps.append(Step(StepKind.RENAME, ink=ink, to=to))
    for kind in (StepKind.HAIRLINE, StepKind.CLOSE, StepKind.OVERPRINT):
        steps += [Step(kind, LineRole(role)) for role in getattr(args, kind)]
    if args.offered:
        report = check(artwork, _order(args.order), SHIPPED[args.destination])
        steps += [step for step in offered(report) if step not in steps]
    if not steps and not args.offered:
        raise BadValue("No mend was asked for.", "Say which, or --offered for all.")
    return steps


def _mend(args: argparse.Namespace, artwork: Artwork) -> int:
    if args.out.resolve() == args.file.resolve():
        raise BadValue("The original is never overwritten.", "Give --out another name.")
    steps = _steps(args, artwork)
    done = apply_all(artwork, steps, SHIPPED[args.destination])
    if not done and not args.offered:
        raise NothingToDo("Nothing of what was asked for needs mending.", "No file was written.")
    args.out.write_bytes(done[-1].artwork.data if done else artwork.data)
    for mended in done:
        print(mended.said)
    print(f"{args.out}: {len(done)} mend{'s' if len(done) != 1 else ''}")
    return OK


def _release(args: argparse.Namespace, artwork: Artwork) -> int:
    order, destination = _order(args.order), SHIPPED[args.destination]
    material_id = args.material or order.material or next(iter(MATERIALS))
    if material_id not in MATERIALS:
        raise NotFound(
            f"There is no material “{material_id}”.", f"Known: {', '.join(MATERIALS)}."
        )
    report = check(artwork, order, destination)
    if report.verdict == "stop":
        _show(report)
        print("Nothing was released.", file=sys.stderr)
        return STOP
    layout = Layout(columns=args.columns, gap_mm=args.gap)
    prepared = prepare(
        artwork, order, destination, MATERIALS[material_id], layout, page_number=args.page
    )
    package = release(artwork, order, destination, report, prepared, args.file.stem)
    args.out.mkdir(parents=True, exist_ok=True)
    for name, data in package.files.items():
        (args.out / name).write_bytes(data)
        print(args.out / name)
    print(f"cut as written lies at most {package.worst_off_mm:.4f} mm from cut as meant")
    return OK


def main(argv: list[str] | None = None) -> int:
    """Run a command; gives 0 for clean or look, 1 for a stop, 2 for what could not be done."""
    args = _parser().parse_args(argv)
    run = {"inspect": _inspect, "check": _check, "mend": _mend, "release": _release}[args.command]
    try:
        return run(args, _artwork(args))
    except Locked as error:
        if args.command == "check" and args.json:
            _print(_locked(error))
        print(error, file=sys.stderr)
    except (HorismosError, OSError) as error:
        print(error, file=sys.stderr)
    return UNREADABLE


def _locked(error: Locked) -> dict[str, Any]:
    """The report on a file that nobody could open."""
    return {
        "verdict": "stop",
        "findings": [
            {
                "id": "file.locked", "severity": "stop", "page": None, "message": str(error),
                "detail": "", "measured": 1, "limit": 0, "unit": "locks", "count": 1, "where": [],
                "mends": [],
            }
        ],
    }


if __name__ == "__main__":
    sys.exit(main())
