"""Makes lines from the art, as a step like any other: said, proved, kept in recipes, and made anew when asked again.

What they were made of is noted on the page, so that it can be changed later; a perforation is whole in the file, and
its pattern stands in the note.
"""

import json
from collections.abc import Iterable, Mapping
from typing import Any

import pikepdf
from pikepdf import Array, Dictionary

from horismos.artwork.boxes import KEYS, inherited
from horismos.artwork.edit import edit_page
from horismos.artwork.extent import bounds_of
from horismos.artwork.layering import add_layers, line_form, line_layer, on_top
from horismos.artwork.lines import Line
from horismos.artwork.model import Page
from horismos.artwork.notes import MADE, note
from horismos.artwork.parting import edits_without
from horismos.checking.engine.findings import Finding
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.making import Made, Make, make
from horismos.making.note import lines_replaced, note_for, note_on
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.paths import bounds, flatten, greatest_distance, length, union_bounds
from horismos.paths.box import grow, placed
from horismos.paths.matrix import inverse
from horismos.roles import LineRole
from horismos.words import plural

MAKE = Setting("make", SettingKind.MAKE, "What is made")
PAGE = Setting("page", SettingKind.NUMBER, "The page", 1.0, "", 1.0, 10_000.0)
SEAM_POINTS = 0.1
"""[ours] so far beyond the page is still shown: a clip right on its edge would show as a seam."""
MOST_MEAN_DELTA_E = 0.1
SAME_MM = 0.005
SPARE_MM = 1.0
"""[ours] what a page that has to grow for its lines gets beyond them."""
OFFERED_MM: Mapping[LineRole, float] = {
    LineRole.KISS_CUT: 2.0, LineRole.THROUGH_CUT: 2.0, LineRole.PERFORATION: 4.0, LineRole.BACK_CUT: 3.3,
}
"""[practice] 1.3 to 3.2 mm of border; a back cut about 1.3 mm outside the front cut."""


def _page(before: MendContext) -> Page:
    number = int(before.step["page"])
    if number > len(before.artwork.pages):
        raise NothingToDo(f"There is no page {number}.")
    return before.artwork.pages[number - 1]


def _make(before: MendContext) -> Make:
    return Make.from_json(json.loads(before.step["make"]))


def _made(before: MendContext) -> Made:
    page = _page(before)
    own = [line for line in before.lines if line.page is page]
    return before.cached("made", lambda: make(before.artwork, page, own, _make(before)))


def _replaced(before: MendContext) -> list[Line]:
    """The lines that the new ones take the place of."""
    return lines_replaced(_page(before), before.lines, _make(before))


def _beside(before: MendContext, gone: list[Line]) -> list[Line]:
    """The lines of the page that stay."""
    return [line for line in before.lines if line.page is _page(before) and line not in gone]


def _say(before: MendContext) -> MendSummary:
    made = _made(before)
    if _stands(before, made):
        raise NothingToDo("Just these lines were made of the art already.")
    counts: dict[str, float] = {}
    parts = []
    for role, contours in made.by_role.items():
        count = len(contours)
        nodes = sum(c.node_count for c in contours)
        long = sum(map(length, contours))
        counts[role.value] = count
        parts.append(f"{plural(count, role.words + ' contour')} with {plural(nodes, 'node')}, {long / 1000:.2f} m")
    gone = _replaced(before)
    go = "was there goes" if len(gone) == 1 else "were there go"
    instead = f" {plural(len(gone), 'line')} that {go}." if gone else ""
    stays = [line for line in _beside(before, gone) if line.role in made.by_role]
    if stays:
        instead += f" {plural(len(stays), 'line')} of the same role {'stays' if len(stays) == 1 else 'stay'} beside it."
    return MendSummary(
        f"Makes {', '.join(parts)}. {made.why}{instead} {' '.join(made.notes)}".strip(),
        {**counts, "replaced": len(gone)}, lambda: {page.number: [page.boxes.media] for page in before.artwork.pages},
    )


def _stands(before: MendContext, made: Made) -> bool:
    """Whether the lines that are there are those that would be made, and were made of the same."""
    there = [c for line in _replaced(before) for c in line.contours]
    same = note_on(_page(before)).make == json.loads(before.step["make"])
    if not same or len(there) != len(made.lines):
        return False
    both = [flatten(c) for c in there], [flatten(line.contour) for line in made.lines]
    return greatest_distance(*both) < SAME_MM


def _layer(before: MendContext, pdf: pikepdf.Pdf, role: LineRole) -> Any:
    """The layer of a role: the one that is there already, or a new one."""
    name = before.destination.name_of(role)
    known = next((i for i, one in enumerate(before.artwork.layers) if one.role is role and one.name == name), None)
    if known is not None and before.artwork.layers[known].visible and before.artwork.layers[known].prints:
        return pdf.Root.OCProperties.OCGs[known]
    layer = line_layer(pdf, role, before.destination)
    del layer["/Usage"]  # a RIP leaves out what does not print, and the line with it
    add_layers(pdf, [layer], [])
    return layer


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    made, page = _made(before), _page(before)
    gone = _replaced(before)
    if gone:
        edit_page(pdf, page, edits_without(gone), {})
    resources = Dictionary(XObject=Dictionary(), Properties=Dictionary())
    drawn = []
    to_user = " ".join(f"{v:.9f}" for v in inverse(page.matrix))
    for role, contours in made.by_role.items():
        key = "HzMade" + role.value.replace("-", "")
        resources.Properties["/" + key] = _layer(before, pdf, role)
        resources.XObject["/" + key] = line_form(pdf, role, contours, before.destination)
        drawn.append(f"/OC /{key} BDC q {to_user} cm /{key} Do Q EMC")
    grown = _grow(pdf, page, made)
    # what lay beyond the page was not seen, and is not to be seen now
    x0, y0, x1, y1 = grow(page.boxes.raw["media"], SEAM_POINTS)
    hides = grown and _goes_beyond(page)
    clip = f"q {x0:g} {y0:g} {x1 - x0:g} {y1 - y0:g} re W n".encode() if hides else b""
    on_top(pdf, page, "\n".join(drawn).encode(), resources, clip, b" Q" if hides else b"")
    noted = note_for(made, json.loads(before.step["make"]), _beside(before, gone))
    note(pdf.pages[page.number - 1].obj, MADE, json.dumps(noted.to_json()))


def _grow(pdf: pikepdf.Pdf, page: Page, made: Made) -> bool:
    """Make room on the page for lines that go beyond it; whether it had to grow. The trim box stays where it is.

    What the file left to be guessed of its boxes is stated then: what we write names its finished size.
    """
    target = pdf.pages[page.number - 1].obj
    box = union_bounds(bounds(line.contour) for line in made.lines)
    media, bleed = page.boxes.media, page.boxes.bleed
    for name in ("trim", "bleed"):
        if name not in page.boxes.stated:
            target[KEYS[name]] = Array([float(v) for v in page.boxes.raw[name]])
    if box is None or union_bounds([box, bleed]) == bleed:
        return False
    whole = union_bounds([grow(box, SPARE_MM), media])
    assert whole is not None
    wanted = placed(whole, inverse(page.matrix))
    wanted_lines = placed(box, inverse(page.matrix))
    # the trim box may have fallen back on the media box; what is cut belongs to the bleed box, or it is cropped away
    target.TrimBox = Array([float(v) for v in page.boxes.raw["trim"]])
    target.BleedBox = Array([round(v, 6) for v in union_bounds([wanted_lines, page.boxes.raw["bleed"]]) or ()])
    for key in ("/MediaBox", "/CropBox"):
        if key == "/MediaBox" or inherited(target, key) is not None:
            target[key] = Array([round(v, 6) for v in wanted])
    return True


def _goes_beyond(page: Page) -> bool:
    """Whether any art lies outside of the media box, where it is not seen."""
    media = page.boxes.media
    boxes = (bounds_of(page, obj) for obj in page.objects)
    return any(box is not None and union_bounds([box, media]) != media for box in boxes)


def _prove(before: MendContext, difference: Difference) -> None:
    """The art is the same objects, or looks the same where these are clipped to the page as it was.

    On a page that grew a renderer smooths edges from another pixel on, so what looks otherwise by that is no fault.
    """
    changed = Facet.ART in difference.facets
    if changed and (not _goes_beyond(_page(before)) or difference.art_mean_delta_e > MOST_MEAN_DELTA_E):
        raise CannotWrite("Making lines would also change the art.", "Nothing was changed; ask for a new file.")


def _offer(mend: Mend, finding: Finding) -> Iterable[Mapping[str, Value]]:
    """The role that is missing, at a usual distance."""
    if finding.subject in {role.value for role in OFFERED_MM} and not finding.candidates:
        line = {"role": finding.subject, "offset_mm": OFFERED_MM[LineRole(finding.subject)]}
        yield {"make": json.dumps({"lines": [line]})}


register(Mend(
    id="make-lines", label="Make {made}", answers=("line.missing",),
    touches=frozenset([
        Facet.GEOMETRY, Facet.PAINT, Facet.LAYERS, Facet.NAMES, Facet.BOXES, Facet.ART, Facet.LOOK,
    ]),
    settings=(MAKE, PAGE), say=_say, do=_do, prove=_prove, offer=_offer, safe=False, order=60, repeats=True,
    reveals=True, on_card="Finds the outline of the art and makes it a line there. The Lines station shows it first."
))
