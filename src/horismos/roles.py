"""What lines and special inks are for: one table, a row a role. Whoever asks what a role means asks here."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from enum import StrEnum

__all__ = [
    "CUT_ORDER",
    "OUTERMOST_FIRST",
    "ROLES",
    "TRADE_WORDS",
    "CutEffect",
    "InkFacts",
    "InkRole",
    "LineFacts",
    "LineRole",
    "Part",
    "StrokeShape",
    "all_facts",
    "role_of_step",
]


class LineRole(StrEnum):
    """What a line does to the media."""

    KISS_CUT = "kiss-cut"
    THROUGH_CUT = "through-cut"
    PERFORATION = "perforation"
    BACK_CUT = "back-cut"
    CREASE = "crease"

    @property
    def facts(self) -> "LineFacts":
        """The role's row."""
        return ROLES[self]

    @property
    def words(self) -> str:
        """The role in plain words, as it stands in sentences."""
        return self.facts.words


class InkRole(StrEnum):
    """What a printing ink beside the process inks is for."""

    WHITE = "white"
    VARNISH = "varnish"

    @property
    def facts(self) -> "InkFacts":
        """The role's row."""
        return INKS[self]

    @property
    def words(self) -> str:
        """The role in plain words."""
        return self.facts.words


class Part(StrEnum):
    """What a stratum of a material is to a cut: the face that is seen, its adhesive, the carrier below both."""

    FACE = "face"
    ADHESIVE = "adhesive"
    CARRIER = "carrier"


class CutEffect(StrEnum):
    """What a closed line of a role bounds: what becomes of that which lies inside it."""

    FALLS_OUT = "falls-out"
    POPS_OUT = "pops-out"
    PEELS_OFF = "peels-off"
    NOTHING = "nothing"


class StrokeShape(StrEnum):
    """How a line of a role is drawn everywhere, beside its colour."""

    TICKED = "ticked"
    """Plain, with short ticks on the waste side."""
    DOUBLE = "double"
    CUTS_AND_TIES = "cuts-and-ties"
    DOTTED = "dotted"
    """Dots, with ticks outwards."""
    DASH_DOT = "dash-dot"


@dataclass(frozen=True)
class InkFacts:
    """A row for an ink: its words, its ISO 19593-1 step, and the names that the trade gives it.

    ``step`` is GTS_ProcStepsGroup and GTS_ProcStepsType, the latter None where the group says all
    [standard, keys from memory]. ``names`` are whole names that are mistyped as often as the exact ones,
    ``phrases`` words that say the role wherever they stand together, ``alone`` words that say it when nothing
    but fillers stands beside them.
    """

    words: str
    step: tuple[str, str | None]
    names: tuple[str, ...] = ()
    phrases: tuple[str, ...] = ()
    alone: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class LineFacts(InkFacts):
    """A row for a line: beside that of an ink what it does to the media and how it is drawn.

    ``order`` counts the order of cutting from 0. ``through`` are the parts of the media that it goes through.
    ``closes`` says that an open line of the role is a mistake; the others may run straight across a sheet.
    ``from_behind`` says that it is cut on the turned sheet. ``screen_cmyk`` is how viewers show the ink; it
    means nothing to a cutter.
    """

    order: int = 0
    through: frozenset[Part] = frozenset()
    bounds: CutEffect = CutEffect.NOTHING
    closes: bool = False
    from_behind: bool = False
    colour: str = "#1A1A1A"
    shape: StrokeShape = StrokeShape.TICKED
    screen_cmyk: tuple[float, float, float, float] = (0, 0, 0, 1)


WHOLE = frozenset(Part)

ROLES: Mapping[LineRole, LineFacts] = {
    # [practice] depths and order: kiss, then perforation, then through, since a loose piece cannot be cut. A
    # crease is pressed while the sheet is still whole; a back cut is a job of its own on the turned sheet.
    # [ours] colours, shapes and screen colours.
    LineRole.KISS_CUT: LineFacts(
        words="kiss cut", step=("Structural", "PartialCutting"), names=("Kiss Cutting",),
        phrases=("kiss cut", "half cut", "partial cutting"), alone=("kiss", "kisscut", "cut", "cutline"), order=1,
        through=frozenset([Part.FACE, Part.ADHESIVE]), bounds=CutEffect.PEELS_OFF, closes=True, colour="#2F47C2",
        shape=StrokeShape.TICKED, screen_cmyk=(1, 0.7, 0, 0)
    ),
    LineRole.THROUGH_CUT: LineFacts(
        words="through cut", step=("Structural", "Cutting"), names=("Thru Cut", "Die Cut"),
        phrases=("through cut", "thru cut", "die cut", "full cut"),
        alone=("die", "dieline", "diecut", "throughcut", "thrucut", "cutting", "cut", "cutline"),
        order=3, through=WHOLE, bounds=CutEffect.FALLS_OUT, closes=True,
        colour="#C4442A", shape=StrokeShape.DOUBLE, screen_cmyk=(0, 0.8, 0.9, 0),
    ),
    LineRole.PERFORATION: LineFacts(
        words="perforation", step=("Structural", "Perforating"), names=("Perforated", "Perf Cut"),
        phrases=("perf cut",), alone=("perf", "perforate", "perforated", "perforation", "perforations"), order=2,
        through=WHOLE, bounds=CutEffect.POPS_OUT, colour="#8A2F7F", shape=StrokeShape.CUTS_AND_TIES,
        screen_cmyk=(0.4, 1, 0, 0)
    ),
    LineRole.BACK_CUT: LineFacts(
        words="back cut", step=("Structural", "ReversePartialCutting"), names=("Back Slit",),
        phrases=("reverse partial cutting", "back cut", "back slit", "liner cut"), alone=("backcut",),
        order=4, through=frozenset([Part.CARRIER]), from_behind=True,
        colour="#55701C", shape=StrokeShape.DOTTED, screen_cmyk=(0.6, 0.2, 1, 0.2),
    ),
    LineRole.CREASE: LineFacts(
        words="crease", step=("Structural", "Creasing"), names=(), phrases=(), alone=("crease", "creases", "fold"),
        order=0, colour="#A86A00", shape=StrokeShape.DASH_DOT, screen_cmyk=(0, 0.5, 1, 0.2),
    ),
}

INKS: Mapping[InkRole, InkFacts] = {
    InkRole.WHITE: InkFacts("white", ("White", None), alone=("white",)),
    InkRole.VARNISH: InkFacts("varnish", ("Varnish", None), alone=("varnish",)),
}

TRADE_WORDS: Mapping[LineRole, tuple[str, ...]] = {
    LineRole.KISS_CUT: (
        "outline", "contour", "cut", "cut line", "cutline", "cut path", "cutter", "half cut", "kiss",
        "kontur", "konturschnitt", "schnitt", "schnittlinie", "schneidelinie", "anstanzen", "anstanzung",
        "découpe", "coupe", "tracé de découpe", "mi chair", "corte", "contorno", "línea de corte", "medio corte",
        "taglio", "mezzo taglio", "mezzotaglio", "linea di taglio", "recorte", "meio corte", "linha de corte",
        "snijlijn", "snijcontour", "snijden", "skärlinje", "konturskärning", "skärning", "cięcie", "linia cięcia",
        "nacięcie", "řez", "kontura", "nářez", "obrys",
    ),
    LineRole.THROUGH_CUT: (
        "outline", "contour", "cut", "cut line", "cutline", "cut path", "cutter", "die cut", "dieline", "knife",
        "kontur", "schnitt", "schnittlinie", "schneidelinie", "stanze", "stanzen", "stanzform", "stanzkontur",
        "stanzlinie", "durchschnitt", "durchstanzen", "découpe", "coupe", "tracé de découpe", "forme de découpe",
        "pleine chair", "corte", "contorno", "línea de corte", "troquel", "troquelado", "corte completo", "taglio",
        "fustella", "linea di taglio", "taglio passante", "recorte", "faca", "faca de corte", "linha de corte",
        "corte total", "snijlijn", "snijcontour", "snijden", "stans", "stansmes", "stanslijn", "skärlinje",
        "konturskärning", "skärning", "stanskontur", "genomskärning", "cięcie", "linia cięcia", "wykrojnik", "sztanca",
        "řez", "kontura", "výsek", "obrys",
    ),
    LineRole.PERFORATION: (
        "perforation", "perfo", "perforierung", "perforado", "perforación", "perforazione", "picote", "perforação",
        "perforatie", "perforering", "perforacja", "perforace",
    ),
    LineRole.BACK_CUT: (
        "back cut", "back slit", "rückschnitt", "rückseitenschnitt", "coupe dos", "corte trasero", "taglio posteriore",
        "corte traseiro", "rugsnede", "baksnitt", "nacięcie od tyłu", "zadní řez",
    ),
    LineRole.CREASE: (
        "crease", "fold", "score", "rillung", "rillen", "rilllinie", "falz", "pli", "rainage", "rainurage",
        "hendido", "pliegue", "cordonatura", "piega", "vinco", "dobra", "ril", "rillijn", "vouwlijn", "bigning",
        "falsning", "bigowanie", "bigování", "ryl", "ohyb",
    ),
}
"""[memory] words that customers use for a line in English, German, French, Spanish, Italian, Portuguese, Dutch,
Swedish, Polish and Czech; such as stand in two rows do not tell.
"""

CUT_ORDER: tuple[LineRole, ...] = tuple(sorted(ROLES, key=lambda role: ROLES[role].order))

OUTERMOST_FIRST: tuple[LineRole, ...] = tuple(
    role for what in CutEffect if what is not CutEffect.NOTHING for role in ROLES if ROLES[role].bounds is what
)
"""The roles that bound a piece, that which holds the others first."""


def all_facts() -> Iterable[tuple[LineRole | InkRole, InkFacts]]:
    """Every row of both tables."""
    yield from ROLES.items()
    yield from INKS.items()


def role_of_step(group: str, kind: str | None) -> LineRole | InkRole | None:
    """The role that an ISO 19593-1 processing step stands for, or None.

    >>> role_of_step("Structural", "PartialCutting")
    <LineRole.KISS_CUT: 'kiss-cut'>
    """
    for role, facts in all_facts():
        its_group, its_kind = facts.step
        if its_group == group and its_kind in (None, kind):
            return role
    return None
