"""The way of a job: take in, look, mend, try a check sheet, release, and the RIP."""

import hashlib
import io
import json
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, replace
from typing import Any

import numpy as np

from horismos.artwork import Artwork, read_bytes
from horismos.artwork.kinds import FileKind
from horismos.artwork.lines import line_objects, lines_by_role
from horismos.artwork.model import PROCESS_INKS
from horismos.artwork.read import read_boxes
from horismos.artwork.sorting import colour_on_white
from horismos.checking import Checked, CheckSheet, Report, check_whole
from horismos.checking.measuring.edge_map import EdgeMap
from horismos.comparing.difference import compare
from horismos.destinations import DEFAULT, Destination
from horismos.errors import Asks, CannotRead, HorismosError, NotFound, NothingToDo
from horismos.intake import Answers, kind_of
from horismos.intake.answers import ART
from horismos.intake.pages import unlocked
from horismos.intake.suggest import finished_size
from horismos.mending import Recipe, Step
from horismos.names import recognise
from horismos.paths import length
from horismos.release import Package
from horismos.rendering import PageView
from horismos.rendering.load import DEFAULT_LIMIT
from horismos.rendering.plates import PlateSet
from horismos.rendering.png import png_of
from horismos.sheet import Turn
from horismos.simulation import rip as rip_plates
from horismos.workflow.analyse import Analysis, Earlier, analyse
from horismos.workflow.analyse import plates_of as plates_of_analysis
from horismos.workflow.case import Case
from horismos.workflow.fitting import Shop, fitting
from horismos.workflow.mend import Course, mend_all, mend_checked
from horismos.workflow.mend import mend_safely as mend_all_safely
from horismos.workflow.nest import nesting_of
from horismos.workflow.pile import CustomerHabits, mended_by_itself
from horismos.workflow.rehearse import rehearse as rehearse_files
from horismos.workflow.release import release as release_case
from horismos.workflow.showing.findings import findings_shown
from horismos.workflow.showing.inks import plates_shown
from horismos.workflow.showing.page import page_seen
from horismos.workflow.showing.pointed import pointed_at
from horismos.workflow.showing.sheet import cuts_shown, sheets_shown
from horismos.workflow.steps.stored import (
    Content,
    StoredCase,
    artwork_of,
    case_of,
    checked_before,
    keep_checked,
    remember,
)
from horismos.workflow.take_in import Arrival, second_opinion
from horismos.workflow.take_in import take_in as take_in_file
from horismos.workflow.trial import try_otherwise as try_cases
from horismos.workflow.trial import try_sheet as try_case

__all__ = [
    "fits", "glance", "kind", "look", "mend", "mend_by_recipe", "mend_safely", "nesting", "opinion", "packed",
    "pointed", "rehearse", "rehearsed", "release", "rip", "sort", "spot_names", "take_in", "try_otherwise", "try_sheet",
    "unlock",
]

MOST_PLACES = 50
GLANCE_MM, GLANCE_PIXELS, MOST_ASKED = 100.0, 300_000, 4
"""What a file is shown at that has no size yet, and how often it may ask."""
Plain = dict[str, Any]
Tell = Callable[[float, str], None]


def kind(content: Content, name: str, tell: Tell) -> str:
    """What kind of file it is. Raises CannotRead."""
    return kind_of(content.read(), name).value


def unlock(content: Content, password: str, tell: Tell) -> bytes:
    """What a file holds that opens only with a password. Raises Locked where it is not the file's."""
    return unlocked(content.read(), password)


def spot_names(content: Content, name: str, tell: Tell) -> list[Plain]:
    """The spot inks of a PDF by their names, each with the role that it seems to say. Raises CannotRead."""
    if kind_of(content.read(), name) is not FileKind.PDF:
        raise CannotRead(f"{name} is no PDF.", "Choose a PDF that went through the RIP before.")
    found = dict.fromkeys(ink for page in read_bytes(content.read()).pages for ink in page.ink_names)
    said = {ink: recognise(ink, DEFAULT) for ink in found if ink not in PROCESS_INKS}
    return [{"name": ink, "role": one.role.value if one and one.role else None} for ink, one in said.items()]


def take_in(content: Content, arrival: Arrival, page_number: int, tell: Tell) -> Plain:
    """Take a file in (``arrival`` without its bytes). ``pdf`` is None where the file is its own working form."""
    data = content.read()
    found = take_in_file(replace(arrival, data=data), tell)
    taken, artwork = found.taken, found.artwork
    sha256 = hashlib.sha256(taken.pdf).hexdigest()
    remember(sha256, artwork)
    case = Case(artwork=artwork, order=found.suggestion.order, destination=arrival.destination, page_number=page_number)
    return {
        "sha256": sha256, "pdf": None if sha256 == content.sha256 else taken.pdf, "kind": taken.kind.value,
        "pages": taken.pages, "notes": [asdict(note) for note in taken.notes],
        "choices": [asdict(choice) for choice in taken.choices], "order": found.suggestion.order.to_json(),
        "said": list(found.suggestion.said), "warnings": list(found.suggestion.warnings), **_page(case),
    }


def glance(content: Content, arrival: Arrival, tell: Tell) -> bytes:
    """What a file shows that has still to be asked about: taken in as if each question had its first answer, as PNG.

    Raises NotFound where that cannot be told, as of a file that only a password opens.
    """
    data = content.read()
    answers = replace(arrival.answers, width_mm=arrival.answers.width_mm or GLANCE_MM)
    for _ in range(MOST_ASKED):
        try:
            taken = take_in_file(replace(arrival, data=data, answers=answers)).taken
        except Asks as asks:
            answers = _first_answers(answers, asks)
            continue
        except HorismosError:
            break
        boxes, user_unit = read_boxes(taken.pdf, 1)
        with PageView(taken.pdf, boxes, user_unit, 1) as opened:
            return png_of(opened.overview(GLANCE_PIXELS)[0])
    raise NotFound("There is no picture of it yet.")


def _first_answers(answers: Answers, asks: Asks) -> Answers:
    for question in asks.questions:
        if question.id == "pages":
            answers = replace(answers, pages=(1,))
        elif question.id == "unit":
            answers = replace(answers, unit=question.choices[0].key)
        elif question.id == "binding":
            art = {choice.key: ART for choice in question.choices if not choice.said}
            answers = replace(answers, binding={**answers.binding, **art})
    return answers


def opinion(content: Content, arrival: Arrival, tell: Tell) -> float:
    """The share of an SVG in which two renderers differ."""
    tell(0.0, "drawing it a second time, to compare")
    return second_opinion(replace(arrival, data=content.read()))


def _page(case: Case) -> Plain:
    """The page as the stage shows it before anything is checked."""
    return {"seen": asdict(page_seen(case)), "art": _seen(case)}


def _seen(case: Case) -> bytes:
    return colour_on_white(case.artwork, case.page, case.lines, case.destination)


def look(stored: StoredCase, checked: Content | None, before: Mapping[str, Any] | None, tell: Tell) -> Plain:
    """Check, lay out and plan. ``checked`` and ``before`` are the content and the report of the last check.

    ``edges`` and ``plates`` are None where those of before hold.
    """
    tell(0.0, "reading the artwork")
    case = case_of(stored)
    earlier = _earlier(case, checked, before)
    known = checked_before(stored.content.sha256, case.terms, before) if earlier else None
    analysis = analyse(case, earlier, lambda share, what: tell(0.05 + share * 0.85, what), known)
    report = analysis.report
    return {
        "seen": asdict(page_seen(case)), "art": _seen(case), "report": report.to_json(),
        "cards": [asdict(card) for card in findings_shown(report, case.artwork, case.destination, case.order)],
        **_sheets(analysis),
        "edges": _edges(case, analysis.checked.edges), "edges_stand": "edge.risk" in report.carried,
        "plates": None if _plates_stand(analysis, earlier) else _plates(case, analysis, tell),
    }


def fits(stored: StoredCase, shop: Shop, tell: Tell) -> list[Plain]:
    """By which changes a job that fits nowhere would fit."""
    return [asdict(one) for one in fitting(case_of(stored), shop)]


def _sheets(analysis: Analysis) -> Plain:
    """The sheets and how they are cut: the first, and what comes behind it."""
    sheet, *sheets = map(asdict, sheets_shown(analysis.planned, analysis.refused, analysis.case))
    cut, *cuts = map(asdict, cuts_shown(analysis.planned))
    return {"sheet": sheet, "cut": cut, "more": {"sheets": sheets, "cuts": cuts}}


def _earlier(case: Case, checked: Content | None, before: Mapping[str, Any] | None) -> Earlier | None:
    """The last check where a new one can build on it."""
    if checked is None or before is None:
        return None
    try:
        old = replace(artwork_of(checked), taken_in=case.artwork.taken_in, made_from=case.artwork.made_from)
        return Earlier(old, Report.from_json(before))
    except (HorismosError, ValueError, KeyError):
        return None


def _edges(case: Case, found: EdgeMap | None) -> bytes | None:
    return None if found is None else json.dumps(found.to_json(case.terms.edge)).encode()


def _limit(sheet: CheckSheet) -> float:
    return sheet.limits.get("ink.load", DEFAULT_LIMIT)


def _plates_stand(analysis: Analysis, earlier: Earlier | None) -> bool:
    """Whether the plates of before hold: they show the line inks too, so nothing at all may have been touched."""
    untouched = analysis.touched is not None and not analysis.touched
    return untouched and earlier is not None and _limit(earlier.report.sheet) == _limit(analysis.case.check_sheet)


def _plates(case: Case, analysis: Analysis, tell: Tell) -> Plain:
    """The plates as one array with what the screen needs to know of them, or why there are none."""
    tell(0.95, "making plates")
    try:
        made = plates_of_analysis(analysis)
    except HorismosError as error:
        return {"error": str(error)}
    data = _array(made)
    shown = plates_shown(case, made, _limit(case.check_sheet), hashlib.sha256(data).hexdigest())
    return {"shown": asdict(shown), "array": data}


def _array(made: PlateSet) -> bytes:
    out = io.BytesIO()
    np.save(out, np.stack([plate.tint for plate in made.plates]))
    return out.getvalue()


def mend(
    stored: StoredCase, step: Step, report: Mapping[str, Any] | None, then: Sequence[Step], tell: Tell
) -> Plain:
    """Carry out one step, and those that come ``then``, as one.

    ``report`` is that of the check of the case as it is, where there is one.

    ``places`` are where the art was meant to change on the case's page, the largest first; before them the one to
    look at closely, where there is such.
    """
    case = case_of(stored)
    _, done, after = mend_checked(case, step, tell, Report.from_json(report) if report else None, then)
    boxes = sorted(done.places.get(stored.page_number, ()), key=lambda b: -(b[2] - b[0]) * (b[3] - b[1]))
    close = [done.look_at[stored.page_number]] if stored.page_number in done.look_at else []
    return {
        **_made(done.artwork, case, report, after), "said": done.said, "proof": done.difference.to_json(),
        "steps": [one.to_json() for one in (step, *then)],
        "lines": _figures(done.artwork, stored), "finished": _finished(done.artwork, stored),
        "places": [[round(v, 3) for v in box] for box in (*close, *boxes[:MOST_PLACES])],
    }


def _figures(artwork: Artwork, stored: StoredCase) -> dict[str, list[float]]:
    """Nodes and length in mm of the lines of a page, by role."""
    page = artwork.pages[stored.page_number - 1]
    return {
        role.value: [sum(c.node_count for line in of for c in line.contours),
                     round(sum(length(c) for line in of for c in line.contours), 2)]
        for role, of in lines_by_role(line_objects(artwork, page, stored.destination)).items()
    }


def _finished(artwork: Artwork, stored: StoredCase) -> list[float]:
    """Width and height in mm that an order would be guessed to have."""
    page = artwork.pages[stored.page_number - 1]
    size, _ = finished_size(page, lines_by_role(line_objects(artwork, page, stored.destination)))
    return [round(v, 2) for v in size]


def _made(artwork: Artwork, case: Case, before: Mapping[str, Any] | None, after: Checked | None) -> Plain:
    """What was made of a case; remembered with its check, since it is looked at next."""
    sha256 = hashlib.sha256(artwork.data).hexdigest()
    remember(sha256, artwork)
    if after is not None:
        keep_checked(sha256, case.terms, before, after)
    return {"sha256": sha256, "pdf": artwork.data}


def mend_safely(stored: StoredCase, report: Mapping[str, Any] | None, tell: Tell) -> Plain:
    """Carry out every mend that needs no decision, as one change with one proof."""
    case = case_of(stored)
    course = mend_all_safely(case, tell, Report.from_json(report) if report else None)
    if not course.done:
        why = f" {course.refused[0][1]}" if course.refused else ""
        raise NothingToDo(f"There is nothing that can be mended without a person.{why}")
    return _course(case, course, report, "")


def mend_by_recipe(stored: StoredCase, report: Mapping[str, Any] | None, recipe: Recipe, tell: Tell) -> Plain:
    """Carry out a recipe as one change with one proof. Raises NothingToDo where none of its steps did anything."""
    case = case_of(stored)
    course = mend_all(case, recipe.steps, tell, Report.from_json(report) if report else None)
    if not course.done:
        why = next((why for _, why in (*course.refused, *course.skipped)), "")
        raise NothingToDo(f"“{recipe.name}” changed nothing. {why}")
    return _course(case, course, report, f"Recipe “{recipe.name}”, version {recipe.version}: ")


def sort(stored: StoredCase, report: Mapping[str, Any], habits: CustomerHabits, tell: Tell) -> Plain | None:
    """All that needs no person, as one change with one proof; None where nothing was done."""
    case = case_of(stored)
    course = mended_by_itself(case, habits, Report.from_json(report), tell)
    return _course(case, course, report, "") if course.done else None


def _course(case: Case, course: Course, before: Mapping[str, Any] | None, begin: str) -> Plain:
    """Several mends as one change: what each said, one proof of them all, and what was not done."""
    said = [one.said for one in course.done] + [f"Set aside: {why}" for _, why in course.refused]
    proof = compare(case.artwork, course.case.artwork, case.destination)
    return {
        **_made(course.case.artwork, case, before, course.checked), "said": begin + " ".join(said),
        "proof": proof.to_json(),
        "steps": [one.step.to_json() for one in course.done],
        "skipped": [{"label": step.label, "why": why} for step, why in course.skipped],
        "refused": [{"label": step.label, "why": why} for step, why in course.refused],
    }


def pointed(stored: StoredCase, at: tuple[float, float], within: float, tell: Tell) -> list[Plain]:
    """What lies at a place in mm, the topmost first."""
    return [asdict(thing) for thing in pointed_at(case_of(stored), at, within)]


def try_sheet(stored: StoredCase, before: Mapping[str, Any], tell: Tell) -> Plain:
    """What a check sheet, that of the case, would change in the report of before."""
    return try_case(case_of(stored), Report.from_json(before), tell).to_json()


def try_otherwise(stored: StoredCase, otherwise: StoredCase, before: Mapping[str, Any], tell: Tell) -> Plain:
    """What changes when a job goes by something else of the Shelf."""
    return try_cases(case_of(stored), case_of(otherwise), Report.from_json(before), tell).to_json()


def nesting(stored: StoredCase, turn: str, tell: Tell) -> Plain:
    """What nesting the copies of a job takes, without its artwork, as ``Nesting.to_json`` gives it."""
    return nesting_of(case_of(stored), Turn(turn)).to_json()


def release(stored: StoredCase, also: Sequence[str], tell: Tell) -> list[Plain]:
    """Check once more and write the packages, one a sheet; ``files`` are its names with their bytes."""
    case = case_of(stored)
    report = check_whole(case.artwork, case.terms, lambda share, what: tell(share * 0.4, what)).report
    return packed(release_case(case, report, lambda share, what: tell(0.4 + share * 0.55, what), also))


def rehearse(stored: StoredCase, loads: int, seed: int, tell: Tell) -> Plain:
    """Write the package as it would be released, and print, load and cut it so many times.

    A stop that is open does not keep it from being rehearsed.
    """
    case = case_of(stored)
    packages = release_case(case, Report(()), lambda share, what: tell(share * 0.4, what))
    return rehearsed(packages, loads, seed, lambda share, what: tell(0.4 + share * 0.6, what))


def rehearsed(packages: Sequence[Package], loads: int, seed: int, tell: Tell) -> Plain:
    """What comes of packages as a server keeps it; ``worst`` is the worst piece with its print."""
    files = {name: data for one in packages for name, data in one.files.items()}
    found = rehearse_files(files, loads, seed, None, tell)
    worst = found.worst
    return {
        "counts": asdict(found.rehearsed), "figures": found.to_json(),
        "worst": None if worst is None else {
            "copy": worst.copy + 1, "box": [round(v, 3) for v in worst.box], "landed": worst.landed.round(3).tolist(),
            "png": worst.picture,
        },
    }


def packed(packages: Sequence[Package]) -> list[Plain]:
    """Packages as a server keeps them."""
    return [
        {"files": dict(one.files), "ticket": _jsonable(one.ticket), "worst_off_mm": one.worst_off_mm}
        for one in packages
    ]


def _jsonable(value: Any) -> Any:
    return json.loads(json.dumps(value))


def rip(
    content: Content, destination: Destination, ticket: Mapping[str, Any], preset: str, seed: int, tell: Tell
) -> Plain:
    """What the simulated RIP makes of a print PDF and its ticket in one of its hot folders."""
    result = rip_plates(content.read(), destination, ticket, preset, seed)
    return {
        "refused": result.refused, "picture": result.picture, "longer": result.longer, "time_s": result.time_s,
        "ink_percent": result.ink_percent,
        "plates": [
            {
                "ink": p.ink, "role": p.role.value if p.role else None, "prints": p.prints,
                "coverage": p.coverage, "png": p.png,
            }
            for p in result.plates
        ],
    }
