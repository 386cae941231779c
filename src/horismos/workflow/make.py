"""Makes lines for a job: found, made, put into the file as a mend is, and checked."""

import json
from dataclasses import dataclass, replace

from horismos.checking import Report, check_whole
from horismos.comparing.facets import Facet, changed
from horismos.cutting import DEFAULT_TOOLS
from horismos.errors import CannotWrite
from horismos.formats.dxf_write import write_dxf
from horismos.formats.hpgl import StrokeSegment, ToolRun, write_hpgl
from horismos.formats.svg import svg_path
from horismos.making import Made, Make, make
from horismos.mending import mend as mend_artwork
from horismos.mending import step
from horismos.mending.engine.run import done_unproved
from horismos.paths import bounds, flatten, union_bounds
from horismos.paths.box import grow
from horismos.paths.polyline_parts import parts_along
from horismos.workflow.case import Case, Progress

__all__ = ["Lined", "lines_file", "make_lines", "tried"]

FLATTEN_MM = 0.01
OF_LINES = frozenset([Facet.GEOMETRY, Facet.PAINT, Facet.NAMES, Facet.LAYERS])
ROOM_MM = 1.0


@dataclass(frozen=True, eq=False)
class Lined:
    """A case with lines that were made, and what the check says of it."""

    case: Case
    made: Made
    report: Report


def make_lines(
    case: Case, wanted: Make, page: int = 1, progress: Progress = lambda share, what: None, report: Report | None = None
) -> Lined:
    """Make lines on a page. ``report`` is the check of the case as it is, where there is one.

    Raises NothingToDo where there is nothing to make them of, CannotWrite where the proof fails: something else than
    lines would change.
    """
    case = replace(case, page_number=page)
    made = make(case.artwork, case.page, case.lines, wanted)
    asked = step("make-lines", make=json.dumps(wanted.to_json()), page=page)
    mended = mend_artwork(case.artwork, asked, case.destination, lambda share, what: progress(share * 0.6, what))
    artwork = replace(mended.artwork, taken_in=case.artwork.taken_in, made_from=case.artwork.made_from)
    after = replace(case, artwork=artwork)
    checked = check_whole(
        artwork, case.terms, lambda share, what: progress(0.6 + share * 0.4, what), report,
        changed(case.artwork, artwork, case.destination) if report else None,
    ).report
    return Lined(after, made, checked)


def tried(case: Case, wanted: Make, report: Report | None, progress: Progress = lambda share, what: None) -> Lined:
    """The same without its proof, and checked only for what lines can change: soon enough to be looked at live."""
    made = make(case.artwork, case.page, case.lines, wanted)
    asked = step("make-lines", make=json.dumps(wanted.to_json()), page=case.page_number)
    artwork = replace(
        done_unproved(case.artwork, asked, case.destination), taken_in=case.artwork.taken_in,
        made_from=case.artwork.made_from,
    )
    checked = check_whole(artwork, case.terms, progress, report, OF_LINES if report else None).report
    return Lined(replace(case, artwork=artwork), made, checked)


def lines_file(lined: Lined, form: str) -> bytes:
    """The whole file (.pdf), or the lines alone (.svg, .dxf, .plt), where perforations are cut by cut.

    HP-GL has its zero at the lower left of all lines, in the order of cutting.
    """
    if form == ".pdf":
        return lined.case.artwork.data
    made = lined.made
    if form == ".dxf":
        return write_dxf({role.value: contours for role, contours in made.by_role.items()})
    box = union_bounds(bounds(line.contour) for line in made.lines)
    if box is None:
        raise CannotWrite("There is no line to write.")
    if form == ".svg":
        return _svg(made, grow(box, ROOM_MM)).encode("utf-8")
    runs = []
    for role in sorted(made.by_role, key=lambda role: role.facts.order):
        strokes = []
        for line in made.lines:
            if line.role is role:
                points = flatten(line.contour, FLATTEN_MM)
                strokes += parts_along(points, line.pattern.parts) if line.pattern else [points]
        tool = DEFAULT_TOOLS[role]
        runs.append(
            ToolRun(tool.number, tool.force_gf, tool.speed_mm_s, [[StrokeSegment(stroke)] for stroke in strokes])
        )
    return write_hpgl(runs, (box[0], box[1]))


def _svg(made: Made, box: tuple[float, float, float, float]) -> str:
    x0, y0, x1, y1 = box
    groups = "".join(
        f'<g id="{role.value}" fill="none" stroke="{role.facts.colour}" stroke-width="0.1">'
        f'<path d="{svg_path(contours)}"/></g>\n'
        for role, contours in made.by_role.items()
    )
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{x1 - x0:g}mm" height="{y1 - y0:g}mm" '
        f'viewBox="{x0:g} {-y1:g} {x1 - x0:g} {y1 - y0:g}">\n<g transform="scale(1 -1)">\n{groups}</g>\n</svg>\n'
    )
