"""The register of mends. A mend is one file: it registers what it is, and the engine does the rest."""

import json
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any, TypeVar

import pikepdf

from horismos.artwork.extent import bounds_of
from horismos.artwork.lines import Line, lines_by_role
from horismos.artwork.model import Artwork, Page, PaintedObject, TextObject
from horismos.checking.engine.findings import Candidate, Finding
from horismos.comparing.difference import Difference
from horismos.comparing.facets import Facet
from horismos.destinations import Destination
from horismos.errors import BadValue
from horismos.making import Make
from horismos.mending.engine.settings import Setting, SettingKind, Value, plain, read_settings
from horismos.orders import Order
from horismos.paths.box import Bounds
from horismos.roles import LineRole

__all__ = [
    "Mend",
    "MendContext",
    "MendSummary",
    "Places",
    "Step",
    "by_proposal",
    "offers",
    "places_of",
    "register",
    "registered",
    "step",
    "step_from",
    "where",
]


Found = TypeVar("Found")


@dataclass(frozen=True)
class Step:
    """A mend with its settings: what is asked for, kept in recipes, and can be done again."""

    mend: str
    settings: tuple[tuple[str, Value], ...] = ()

    def __getitem__(self, name: str) -> Any:
        """The value of a setting. Raises KeyError."""
        return dict(self.settings)[name]

    @property
    def role(self) -> LineRole | None:
        """The line role that the step works on; None: all. Raises KeyError where it has no such setting."""
        return LineRole(self["role"]) if self["role"] else None

    @property
    def role_words(self) -> str:
        """The lines that the step works on, as they are called in sentences."""
        return self.role.words if self.role else "lines"

    @property
    def label(self) -> str:
        """What a button for the step says."""
        values: dict[str, Any] = dict(self.settings)
        if "role" in values:
            values["role"] = self.role_words
        if values.get("make"):
            values["made"] = Make.from_json(json.loads(values["make"])).words
        for by in ("ink", "colour", "layer"):
            if values.get(by):
                values["what"] = Candidate(by, values[by], ()).words
        label = registered()[self.mend].label
        return label(values) if callable(label) else label.format(**values)

    def to_json(self) -> dict[str, Any]:
        """The step as plain values; what stays open is left out."""
        return {"mend": self.mend, **plain(registered()[self.mend].settings, self.settings)}


Places = Mapping[int, Sequence[Bounds]]


@dataclass(frozen=True)
class MendSummary:
    """What a mend will change: in a sentence, counted, and where the art will look otherwise (mm, by page).

    The places are asked for only when it is done: cards say what a mend would do each time that a job is looked at.
    ``look_at`` is the one place of a page at which a person should look closely, where there is such.
    """

    words: str
    changed: Mapping[str, float] = field(default_factory=dict)
    places: Callable[[], Places] = dict
    look_at: Callable[[], Mapping[int, Bounds]] = dict


@dataclass(frozen=True)
class MendContext:
    """What a mend sees: the artwork, its lines on all pages, where it goes, what was ordered, and the step."""

    artwork: Artwork
    lines: tuple[Line, ...]
    destination: Destination
    step: Step
    order: Order = field(default_factory=Order)
    kept: dict[str, Any] = field(default_factory=dict, compare=False, repr=False)

    def cached(self, name: str, find: Callable[[], Found]) -> Found:
        """What saying, doing and proving all need, found once."""
        if name not in self.kept:
            self.kept[name] = find()
        found: Found = self.kept[name]
        return found

    @property
    def of_role(self) -> list[Line]:
        """The lines of the step's role; where it says none, all whose role is clear."""
        role = self.step.role
        return [line for line in self.lines if (line.role is role if role else line.role is not None)]

    def by_role(self) -> Iterator[tuple[Page, LineRole, list[Line]]]:
        """The same, page by page and role by role."""
        for page in self.artwork.pages:
            for role, lines in lines_by_role(line for line in self.of_role if line.page is page).items():
                yield page, role, lines


def places_of(before: MendContext, objects: Mapping[int, Iterable[int]]) -> Places:
    """Where objects lie that are known by page and index."""
    return where((page, page.objects[i]) for page in before.artwork.pages for i in objects.get(page.number, ()))


def where(found: Iterable[tuple[Page, PaintedObject]]) -> Places:
    """Where objects of pages lie, by page; a text whose letters are not in the file can lie anywhere."""
    out: dict[int, list[Bounds]] = {}
    for page, obj in found:
        strange = isinstance(obj, TextObject) and not obj.embedded
        box = page.boxes.media if strange else bounds_of(page, obj)
        out.setdefault(page.number, []).extend([box] if box else [])
    return out


def _by_subject(mend: "Mend", finding: Finding) -> Iterable[Mapping[str, Value]]:
    """The settings that answer a finding: the line role that it is about; otherwise what the mend does by itself."""
    has_role = any(setting.kind is SettingKind.ROLE for setting in mend.settings)
    if has_role and finding.subject in set(LineRole):
        yield {"role": finding.subject}
    elif not has_role and all(setting.may_be_left_out for setting in mend.settings):
        yield {}


def by_proposal(mend: "Mend", finding: Finding) -> Iterable[Mapping[str, Value]]:
    """The settings that the check itself has worked out."""
    return finding.proposed(mend.id)


@dataclass(frozen=True, kw_only=True)
class Mend:
    """A mend.

    ``answers`` are the checks whose findings it mends, ``touches`` the facets of the artwork that it may change:
    anything else that differs afterwards makes it fail. ``safe`` says that it may be done without a person
    having looked: it takes nothing away and moves nothing that is seen. ``order`` counts from what is done
    first. ``label`` is what a button says, with settings in braces, or made of them.

    ``say`` tells beforehand what the mend will change, ``do`` does it to an open copy of the file; both raise
    NothingToDo where there is nothing to change. ``prove`` raises CannotWrite where the difference is not what
    was said. ``offer`` gives the settings that answer a finding, several where a person has to choose. One that
    ``repeats`` changes something each time that it is done; one that ``reveals`` brings to light what was not
    checked before, so that new stops after it are no fault of its own. ``settled`` says that a person has chosen
    this very step before. One that ``removes`` something from the file must leave no trace of it there.
    ``on_card`` is what a card says where finding out what it would do takes longer than a card may.
    """

    id: str
    label: str | Callable[[Mapping[str, Any]], str]
    answers: tuple[str, ...]
    touches: frozenset[Facet]
    settings: tuple[Setting, ...]
    say: Callable[[MendContext], MendSummary]
    do: Callable[[MendContext, pikepdf.Pdf], None]
    prove: Callable[[MendContext, Difference], None] = lambda before, difference: None
    offer: Callable[["Mend", Finding], Iterable[Mapping[str, Value]]] = _by_subject
    safe: bool = True
    order: int = 100
    repeats: bool = False
    reveals: bool = False
    settled: Callable[[Finding, Step], bool] = lambda finding, step: False
    removes: bool = False
    on_card: str = ""

    @property
    def may_append(self) -> bool:
        """Whether what it changes may stand behind the old file: nothing large is left there that nobody needs."""
        return not self.removes and Facet.LOOK not in self.touches


_MENDS: dict[str, Mend] = {}


def register(mend: Mend) -> Mend:
    """Register a mend under its id."""
    if mend.id in _MENDS:
        raise ValueError(f"Two mends are called {mend.id}.")
    _MENDS[mend.id] = mend
    return mend


def registered() -> dict[str, Mend]:
    """All mends by id, in the order in which they are done."""
    return dict(sorted(_MENDS.items(), key=lambda item: item[1].order))


def step(mend: str, **settings: object) -> Step:
    """A step. Raises BadValue for a mend that there is none, or a setting that cannot be meant."""
    if mend not in _MENDS:
        raise BadValue(f"There is no mend “{mend}”.", f"Known: {', '.join(registered())}.")
    return Step(mend, read_settings(_MENDS[mend].settings, settings))


def step_from(data: object) -> Step:
    """A step from its plain values. Raises BadValue for what is none."""
    if not isinstance(data, Mapping):
        raise BadValue(f"{data!r} is no step.", 'Write {"mend": …} with its settings.')
    values = {str(key): value for key, value in data.items() if key != "mend"}
    return step(str(data.get("mend", "")), **values)


def offers(finding: Finding) -> list[Step]:
    """The mends that answer a finding: the safe ones first, then in the order in which they are done."""
    answering = [mend for mend in registered().values() if finding.id in mend.answers]
    return [
        step(mend.id, **settings)
        for mend in sorted(answering, key=lambda mend: not mend.safe) for settings in mend.offer(mend, finding)
    ]
