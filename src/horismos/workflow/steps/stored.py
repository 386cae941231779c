"""What a child is told of a job: where its content lies, and everything else as values."""

import hashlib
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from pathlib import Path
from typing import Any

from horismos.artwork import Artwork, read_bytes
from horismos.artwork.kinds import FileKind
from horismos.checking import Checked, CheckInputs, CheckSheet, Rehearsed
from horismos.checking.engine.decisions import Decision
from horismos.cutting import Tool
from horismos.cutting.shop_facts import ShopFacts
from horismos.destinations import DEFAULT, Destination
from horismos.errors import CannotRead
from horismos.materials import Material
from horismos.orders import Order
from horismos.roles import LineRole
from horismos.sheet import Layout
from horismos.workflow.case import Case, JobFacts

__all__ = ["Content", "StoredCase", "artwork_of", "case_of", "checked_before", "keep_checked", "remember"]

OPEN_ARTWORKS = 3
_artworks: OrderedDict[str, Artwork] = OrderedDict()
"""Of this child alone, which meets the files of one job only."""
_last_checked: list[tuple[str, CheckInputs, Mapping[str, Any] | None, Checked]] = []


@dataclass(frozen=True)
class Content:
    """A file by the hash of its content."""

    path: Path
    sha256: str

    def read(self) -> bytes:
        """Its bytes. Raises CannotRead where they are gone, or are not what they were."""
        try:
            data = self.path.read_bytes()
        except OSError:
            raise CannotRead("A file of this job is missing in the store.", "Restore the shop's backup.") from None
        if hashlib.sha256(data).hexdigest() != self.sha256:
            raise CannotRead("A file of this job has changed in the store.", "Restore the shop's backup.")
        return data


@dataclass(frozen=True, kw_only=True)
class StoredCase:
    """A case whose artwork lies in the store; otherwise the fields of ``Case``."""

    content: Content
    order: Order = field(default_factory=Order)
    destination: Destination = DEFAULT
    material: Material | None = None
    check_sheet: CheckSheet = field(default_factory=CheckSheet)
    layout: Layout = field(default_factory=Layout)
    tools: Mapping[LineRole, Tool] = field(default_factory=dict)
    shop_tools: Mapping[LineRole, Tool] = field(default_factory=dict)
    decisions: tuple[Decision, ...] = ()
    page_number: int = 1
    facts: JobFacts = field(default_factory=JobFacts)
    known: tuple[tuple[str, str], ...] = ()
    rehearsed: Rehearsed | None = None
    signed: bool | None = None
    beside: ShopFacts = field(default_factory=ShopFacts)
    taken_in: tuple[tuple[str, str], ...] = ()
    made_from: FileKind = FileKind.PDF


def artwork_of(content: Content) -> Artwork:
    """The artwork of stored content: what is asked about again need not be read again."""
    found = _artworks.get(content.sha256)
    return found if found is not None else remember(content.sha256, read_bytes(content.read()))


def remember(sha256: str, artwork: Artwork) -> Artwork:
    """Remember an artwork that was read already, by the hash of its content."""
    _artworks[sha256] = artwork
    _artworks.move_to_end(sha256)
    while len(_artworks) > OPEN_ARTWORKS:
        _artworks.popitem(last=False)
    return artwork


def keep_checked(sha256: str, terms: CheckInputs, before: Mapping[str, Any] | None, checked: Checked) -> None:
    """Keep the check of mended content, made after a check of ``before`` under these terms: it is looked at next."""
    _last_checked[:] = [(sha256, terms, before, checked)]


def checked_before(sha256: str, terms: CheckInputs, before: Mapping[str, Any] | None) -> Checked | None:
    """The check that was kept for just this, once; None where there is none."""
    kept = _last_checked.pop() if _last_checked else None
    return kept[3] if kept is not None and kept[:3] == (sha256, terms, before) else None


def case_of(stored: StoredCase) -> Case:
    """The case with its artwork."""
    artwork = replace(artwork_of(stored.content), taken_in=stored.taken_in, made_from=stored.made_from)
    same = {f.name: getattr(stored, f.name) for f in fields(Case) if f.name != "artwork"}
    return Case(artwork=artwork, **same)
