"""Takes a file in: tells its kind, asks what only a person can say, makes the working PDF.

What reads one kind only is imported where such a file comes: most are PDF, and start at once.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from horismos.artwork.boxes import inherited
from horismos.artwork.kinds import FileKind
from horismos.artwork.model import Artwork
from horismos.artwork.read import opened, read_open
from horismos.destinations import DEFAULT, Destination
from horismos.errors import Asks, Locked
from horismos.formats.svg import svg_path
from horismos.intake.answers import ART, UNITS, Answers, unbound
from horismos.intake.kinds import kind_of
from horismos.intake.pages import chosen_pages
from horismos.names import recognise, roles_in_words
from horismos.orders import Order
from horismos.paths import Contour, bounds, union_bounds
from horismos.questions import Choice, Question
from horismos.roles import LineRole
from horismos.units import MM_PER_INCH, MM_PER_POINT, UNITS_MM

if TYPE_CHECKING:
    from horismos.intake.picture import Picture
    from horismos.intake.svg import SvgWanted

__all__ = ["Note", "Taken", "svg_render_difference", "take_in"]

Tell = Callable[[float, str], None]
PASSWORD = Question("password", "The file opens only with a password. Ask the customer for it and type it here.")
MOST_SAMPLE = 30_000


@dataclass(frozen=True)
class Note:
    """Something that taking in changed or could not keep. ``severity`` is look or note."""

    severity: str
    words: str


@dataclass(frozen=True, eq=False)
class Taken:
    """The working form of a file. ``choices`` are what can be bound to a line role, with what is
    bound now; ``pages`` is how many pages the file has. ``artwork`` is the working form where it was read on the way.
    """

    kind: FileKind
    pdf: bytes
    notes: tuple[Note, ...] = ()
    choices: tuple[Choice, ...] = ()
    pages: int = 1
    artwork: Artwork | None = None


def take_in(
    data: bytes, name: str = "", answers: Answers | None = None, order: Order | None = None,
    destination: Destination = DEFAULT, tell: Tell = lambda share, what: None, render_difference: float | None = None,
) -> Taken:
    """Make the working PDF of a file.

    ``render_difference`` is what ``svg_render_difference`` gives of an SVG, where it is known or is still to be heard
    (0); None: it is measured on the way. Raises Asks where something has to be said first, CannotRead (or Locked,
    LimitExceeded) where the file cannot be taken in.
    """
    answers, order = answers or Answers(), order or Order()
    kind = kind_of(data, name)
    tell(0.1, f"reading {kind.words}")
    if kind is FileKind.PDF:
        return _pdf(data, kind, answers, ())
    if kind is FileKind.POSTSCRIPT:
        from horismos.intake.postscript import pdf_from_postscript

        tell(0.2, "running the PostScript")
        made = pdf_from_postscript(data)
        note = Note("note", "PostScript was made into PDF; its spot inks were kept.")
        return _pdf(made, kind, answers, (note,))
    if kind is FileKind.SVG:
        tell(0.3, "converting the SVG")
        return _svg(data, answers, order, destination, render_difference)
    if kind in (FileKind.HPGL, FileKind.DXF):
        return _drawing(data, kind, answers, destination)
    return _picture(data, kind, answers, order)


def _pdf(data: bytes, kind: FileKind, answers: Answers, notes: tuple[Note, ...]) -> Taken:
    try:
        artwork = None
        with opened(data, answers.password) as pdf:
            count = len(pdf.pages)
            sizes = [inherited(page.obj, "/MediaBox") for page in pdf.pages]
            sides = [_side_words(box) for box in sizes if box is not None]
            locked_open = pdf.is_encrypted and bool(answers.password)
            if count == 1 and not locked_open:
                artwork = read_open(pdf, data)
    except Locked:
        if answers.password:
            raise Asks(Question("password", "That is not the file's password. Ask the customer again.")) from None
        raise Asks(PASSWORD) from None
    if count > 1 and not answers.pages:
        choices = tuple(Choice(str(i), f"page {i}, {side}") for i, side in enumerate(sides, 1))
        raise Asks(Question("pages", f"The file has {count} pages. Which are for this job?", choices))
    if count > 1 or locked_open:
        pages = answers.pages or (1,)
        data = chosen_pages(data, pages, answers.password)
        if count > 1:
            chosen = ", ".join(map(str, pages[:12])) + (" …" if len(pages) > 12 else "")
            some = f"pages {chosen} as pieces of this job" if len(pages) > 1 else f"page {chosen}"
            notes = (*notes, Note("note", f"Of {count} pages {some} {'were' if len(pages) > 1 else 'was'} taken."))
    return Taken(kind, data, notes, pages=count, artwork=artwork)


def _side_words(box: Any) -> str:
    """The size of a media box in mm, to tell pages apart by."""
    x0, y0, x1, y1 = map(float, box)
    return f"{abs(x1 - x0) * MM_PER_POINT:.0f} × {abs(y1 - y0) * MM_PER_POINT:.0f} mm"


def _suggested(key: str, destination: Destination) -> str:
    """The role that a layer, id or class says by its name, or nothing."""
    found = recognise(key.partition(":")[2], destination)
    return found.role.value if found and isinstance(found.role, LineRole) else ""


def _choices(
    strands: Mapping[str, Sequence[Any]], answers: Answers, destination: Destination, thing: str
) -> tuple[Choice, ...]:
    """What can be bound in a file, with what is bound now or what its name says."""
    out = []
    for key, members in strands.items():
        what, _, name = key.partition(":")
        said = answers.binding.get(key) or ("" if what in ("stroke", "pen") else _suggested(key, destination))
        if what == "id" and not said:
            continue
        sample = name if what == "stroke" else ""
        words = f"{what} {name}" if what != "stroke" else f"outlines in {name}"
        out.append(Choice(key, f"{words}, {len(members)} {thing}{'s' if len(members) != 1 else ''}", said, sample))
    return tuple(out)


def _svg(
    data: bytes, answers: Answers, order: Order, destination: Destination, render_difference: float | None
) -> Taken:
    from horismos.intake.svg import pdf_from_svg

    wanted, notes, choices = _svg_wanted(data, answers, order, destination)
    made = pdf_from_svg(wanted, destination, render_difference)
    if made.as_pixels:
        notes.append(Note(
            "look",
            f"Two renderers draw {made.render_difference * 100:.2f} % of this SVG differently, so that its art came in "
            f"as pixels at {wanted.ppi:.0f} ppi. Lines stayed vectors.",
        ))
    for role, elements in wanted.bound.items():
        if role is not None and elements:
            ink = destination.name_of(role)
            shapes = "1 shape" if len(elements) == 1 else f"{len(elements)} shapes"
            notes.append(Note("note", f"{shapes} became the {role.words}, in the ink “{ink}”."))
    return Taken(FileKind.SVG, made.pdf, tuple(notes), choices)


def svg_render_difference(data: bytes, answers: Answers, order: Order, destination: Destination) -> float:
    """The share of an SVG's art, 0 to 1, in which two renderers visibly differ.

    Raises Asks, CannotRead or LimitExceeded as taking in does.
    """
    from horismos.intake.svg import render_difference_of

    return render_difference_of(_svg_wanted(data, answers, order, destination)[0])


def _svg_wanted(
    data: bytes, answers: Answers, order: Order, destination: Destination
) -> tuple["SvgWanted", list[Note], tuple[Choice, ...]]:
    """An SVG with its size and bound shapes, what there is to say of it, and what can be bound."""
    from horismos.intake.svg import SvgWanted, answered_size, art_ppi
    from horismos.intake.svg_tree import parse_svg, strands_of

    tree = parse_svg(data)
    notes = [Note("look", words) for words in tree.notes]
    strands = strands_of(tree.root)
    choices = _choices(strands, answers, destination, "shape")
    size = answered_size(tree, answers)
    if size is None and tree.size_mm is not None:
        size = tree.size_mm
        if tree.in_pixels:
            words = f"The SVG gives its size in pixels; at 96 to the inch it is {size[0]:.1f} × {size[1]:.1f} mm."
            notes.append(Note("look", words))
    if size is None and order.width_mm and order.height_mm:
        size = answered_size(tree, Answers(width_mm=order.width_mm, height_mm=order.height_mm))
        notes.append(Note("note", "The SVG has no size; it took the order's."))
    if size is None:
        words = "The SVG has no size. How large is the whole drawing when it is finished?"
        raise Asks(Question("size", words, extent=tree.units, extent_in="units"))
    bound: dict[LineRole | None, list[Any]] = {}
    taken: set[int] = set()
    for choice in choices:
        role = LineRole(choice.said) if choice.said in set(LineRole) else None
        if choice.said and choice.said != ART:
            new = [element for element in strands[choice.key] if id(element) not in taken]
            taken.update(map(id, new))
            bound.setdefault(role, []).extend(new)
    named = {
        key.partition(":")[2]: [element for element in members if id(element) not in taken]
        for key, members in strands.items()
        if key.startswith(("layer:", "id:")) and roles_in_words(key.partition(":")[2]) and key not in answers.binding
    }
    named = {name: members for name, members in named.items() if members}
    return SvgWanted(tree, size, bound, art_ppi(order.viewing_distance_m), named), notes, choices


def _pictures_of(strands: Mapping[str, Sequence[Contour]]) -> dict[str, str]:
    """Each strand as SVG path data within 100 × 100, y upwards, all to one scale; none for heavy ones."""
    box = union_bounds(bounds(c) for of in strands.values() for c in of)
    if box is None:
        return {}
    k = 96 / max(box[2] - box[0], box[3] - box[1], 1e-9)
    matrix = (k, 0.0, 0.0, k, 2 - k * box[0], 2 - k * box[1])
    drawn = {key: svg_path((c.transformed(matrix) for c in of), 1) for key, of in strands.items()}
    return {key: path for key, path in drawn.items() if len(path) < MOST_SAMPLE}


def _in_unit(unit: str, strands: Mapping[str, Sequence[Contour]]) -> str:
    """A unit, and how large the drawing is in it."""
    box = union_bounds(bounds(contour) for strand in strands.values() for contour in strand)
    if box is None:
        return unit
    wide, high = ((box[i + 2] - box[i]) * UNITS_MM[unit] for i in (0, 1))
    sides = (f"{mm:.0f}" if mm >= 1000 else f"{mm:.4g}" for mm in (wide, high))
    return f"{unit}: the drawing is {' × '.join(sides)} mm"


def _drawing(data: bytes, kind: FileKind, answers: Answers, destination: Destination) -> Taken:
    from horismos.intake.drawings import pdf_of_lines, read_drawing

    drawing = read_drawing(data, kind)
    pictures = _pictures_of(drawing.strands)
    choices = tuple(
        replace(choice, sample=pictures.get(choice.key, ""))
        for choice in _choices(drawing.strands, answers, destination, "line")
    )
    questions = []
    unit = UNITS_MM[answers.unit] if answers.unit else drawing.unit_mm
    if unit is None:
        questions.append(Question("unit", "The drawing does not say its unit. What is one unit?", tuple(
            Choice(key, _in_unit(key, drawing.strands)) for key in UNITS
        )))
    if unbound(choices, answers):
        words = "Which cut is each of these? What is no cut is left out or printed."
        questions.append(Question("binding", words, choices))
    if questions:
        raise Asks(*questions)
    lines: dict[LineRole, list[Any]] = {}
    art: dict[str, list[Any]] = {}
    for choice in choices:
        if choice.said in set(LineRole):
            lines.setdefault(LineRole(choice.said), []).extend(drawing.strands[choice.key])
        elif choice.said == ART:
            what, _, name = choice.key.partition(":")
            art[f"{what} {name}" if what == "pen" else name] = drawing.strands[choice.key]
    assert unit is not None
    pdf = pdf_of_lines(lines, art, unit, destination)
    notes = [Note("look" if "Left out" in words or "scaled" in words else "note", words) for words in drawing.notes]
    return Taken(kind, pdf, tuple(notes), choices)


def _picture(data: bytes, kind: FileKind, answers: Answers, order: Order) -> Taken:
    from horismos.intake.picture_pdf import pdf_of_pictures
    from horismos.intake.pictures import pictures_of

    pictures = pictures_of(data, kind)
    notes = [Note("look", words) for picture in pictures for words in picture.notes]
    if len(pictures) > 1 and not answers.pages:
        choices = tuple(
            Choice(str(i), f"picture {i}, {p.shown_pixels[0]} × {p.shown_pixels[1]} px")
            for i, p in enumerate(pictures, 1)
        )
        raise Asks(Question("pages", f"The file holds {len(pictures)} pictures. Which is for this job?", choices))
    chosen = pictures if len(pictures) == 1 else [pictures[n - 1] for n in answers.pages if n <= len(pictures)][:1]
    picture = (chosen or pictures)[0]
    size, note = _picture_size(picture, answers, order)
    return Taken(kind, pdf_of_pictures([picture], [size]), (*notes, *([note] if note else [])), pages=len(pictures))


def _picture_size(picture: "Picture", answers: Answers, order: Order) -> tuple[tuple[float, float], Note | None]:
    """The finished size of a picture: as answered, as it says, or as the order says. Raises Asks."""
    w, h = picture.shown_pixels
    ratio = w / h
    if answers.width_mm or answers.height_mm:
        return _fitted(ratio, answers.width_mm, answers.height_mm), None
    if picture.ppi:
        x, y = picture.ppi if picture.orientation < 5 else picture.ppi[::-1]
        return (w / x * MM_PER_INCH, h / y * MM_PER_INCH), None
    if order.width_mm and order.height_mm:
        size = _fitted(ratio, order.width_mm, order.height_mm)
        off = abs(ratio / (order.width_mm / order.height_mm) - 1)
        words = f"The picture has no resolution; it took the order's size and is {size[0]:.1f} × {size[1]:.1f} mm."
        if off > 0.01:
            words += f" Its proportions differ from the order's by {off * 100:.0f} %."
        return size, Note("look" if off > 0.01 else "note", words)
    words = f"The picture of {w} × {h} px does not say how large it is. How large is it when it is finished?"
    if picture.orientation > 1:
        words += " It is turned upright, as the camera noted."
    raise Asks(Question("size", words, extent=(float(w), float(h)), extent_in="px"))


def _fitted(ratio: float, width: float | None, height: float | None) -> tuple[float, float]:
    """The largest size of a ratio within a width, a height or both, in mm."""
    if width and height:
        width = min(width, height * ratio)
    elif height:
        width = height * ratio
    assert width
    return width, width / ratio
