"""A printed sheet on the floor: whether its cut may begin, and what becomes of it and of its pieces."""

from collections.abc import Collection
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from enum import StrEnum

from horismos.errors import BadValue, NotReady
from horismos.workflow.floor.stages import SheetEvent, SheetStage, sheet_after

__all__ = ["Early", "PrintedSheet", "Wait"]

MOST_REASON = 1_000


class Wait(StrEnum):
    """What a sheet waits for before it may be cut."""

    PRINT = "print"
    DRYING = "drying"
    LAMINATING = "laminating"


@dataclass(frozen=True)
class Early:
    """That a person did not wait until a sheet was dry, and why: it stays."""

    who: str
    reason: str
    when: datetime


@dataclass(frozen=True, kw_only=True)
class PrintedSheet:
    """A sheet, one for each repeat of a print.

    ``code`` is what its code says, None where it has none. ``dries`` is how long it dries after printing before it may
    be cut, or, where it ``laminates``, before it may be laminated. ``known`` says that what lies in the cutter was
    found to be this one, by its code or by a person's eye. ``pieces`` are its copies by number, ``cut`` those that are
    cut to the end, ``spoilt`` those of them that are no good. ``unsure`` says that nobody knows how far its cut has
    come: the power was gone.
    """

    code: str | None
    pieces: frozenset[int]
    dries: timedelta
    laminates: bool = False
    stage: SheetStage = SheetStage.UNPRINTED
    printed: datetime | None = None
    laminated: datetime | None = None
    early: Early | None = None
    known: bool = False
    unsure: bool = False
    cut: frozenset[int] = field(default_factory=frozenset)
    spoilt: frozenset[int] = field(default_factory=frozenset)

    # -- what it waits for -----------------------------------------------------------------------------

    @property
    def dry_at(self) -> datetime | None:
        """From when on it is dry enough for what comes next; None while it is not printed."""
        return None if self.printed is None else self.printed + self.dries

    def waits_for(self, now: datetime) -> Wait | None:
        """What has to come before it is cut; None where nothing has to."""
        if self.dry_at is None:
            return Wait.PRINT
        if self.laminated is None and self.early is None and now < self.dry_at:
            return Wait.DRYING
        if self.laminates and self.laminated is None:
            return Wait.LAMINATING
        return None

    def must_not_wait(self, now: datetime, what: str) -> None:
        """Raise NotReady, in words, while something has to come before it is cut."""
        waits = self.waits_for(now)
        if waits is Wait.PRINT:
            raise NotReady("It is not printed yet.", "Let the RIP take it first.")
        if waits is Wait.DRYING:
            assert self.dry_at is not None
            raise NotReady(
                f"The print is wet until {self.dry_at:%H:%M} UTC on {self.dry_at.day} {self.dry_at:%B}.",
                f"Wait until it is dry, or say why it may be {what} now.",
            )
        if waits is Wait.LAMINATING:
            raise NotReady("It is not laminated yet, and its order asks for that.", "Laminate it first.")

    # -- what happens to it ----------------------------------------------------------------------------

    def is_printed(self, now: datetime) -> "PrintedSheet":
        """It has come out of the printer. Raises NotReady where it did before."""
        return replace(self, stage=sheet_after(self.stage, SheetEvent.PRINTED), printed=now)

    def may_go_early(self, who: str, reason: str, now: datetime) -> "PrintedSheet":
        """A person says why it need not dry. Raises BadValue without a reason, NotReady where it does not dry."""
        if self.waits_for(now) is not Wait.DRYING or self.stage.is_over:
            raise NotReady("It is not drying.", "There is nothing to override.")
        if not 3 <= len(reason.strip()) <= MOST_REASON:
            raise BadValue("Say in a few words why it may be cut before it is dry.")
        return replace(self, early=Early(who, reason.strip(), now))

    def is_laminated(self, now: datetime) -> "PrintedSheet":
        """It was laminated. Raises NotReady where its order asks for no laminate, or it is wet."""
        if not self.laminates:
            raise NotReady("Its order asks for no laminate.", "Cut it as it is.")
        stage = sheet_after(self.stage, SheetEvent.LAMINATED)
        if self.waits_for(now) is not Wait.LAMINATING:
            self.must_not_wait(now, "laminated")
        return replace(self, stage=stage, laminated=now)

    def is_loaded(self, now: datetime) -> "PrintedSheet":
        """Something was loaded for it; what that is, nobody knows yet."""
        if self.stage is SheetStage.LOADED:
            return replace(self, known=False)  # laid in anew
        stage = sheet_after(self.stage, SheetEvent.LOADED)
        self.must_not_wait(now, "cut")
        return replace(self, stage=stage, known=False)

    def is_read(self, code: str) -> "PrintedSheet":
        """What its code says was read in the cutter; an empty one is none that could be read.

        Raises NotReady where it is another sheet, or none that can be known by its code.
        """
        if not self.stage.on_cutter:
            raise NotReady("Nothing is loaded for it.", "Load it first.")
        if self.code is None or code == self.code:
            return replace(self, known=self.code is not None or self.known)
        if code:
            raise NotReady(
                f"The code on this sheet is {code}; this job is {self.code}.", f"Fetch the job of {code}."
            )
        raise NotReady(
            f"No code can be read where {self.code} should be: it lies the other way round, is scratched, or is "
            "another sheet.", "Look at it, and say that it is this one, or print it again.",
        )

    def is_opened(self) -> "PrintedSheet":
        """The rollers were lifted: what lies in the cutter may be another sheet since. Raises NotReady while it cuts.
        """
        if self.stage is SheetStage.CUTTING:
            raise NotReady("It is being cut.", "Stop it first.")
        return replace(self, known=False)

    def is_known(self) -> "PrintedSheet":
        """A person has looked and says that it is this sheet."""
        if not self.stage.on_cutter:
            raise NotReady("Nothing is loaded for it.", "Load it first.")
        return replace(self, known=True)

    def is_taken_off(self) -> "PrintedSheet":
        """It was taken out of the cutter: whole where nothing of it is cut, done where all is."""
        if self.unsure:
            raise NotReady("Nobody knows how far its cut has come.", "Look at the sheet, and say it.")
        if self.stage is SheetStage.STOPPED and not self.left:
            return replace(self, stage=SheetStage.CUT, known=False)
        if self.stage is SheetStage.LOADED:
            back = SheetStage.LAMINATED if self.laminated else SheetStage.PRINTED
            return replace(self, stage=back, known=False)
        return replace(self, stage=sheet_after(self.stage, SheetEvent.TAKEN_OFF), known=False)

    def is_begun(self, now: datetime) -> "PrintedSheet":
        """The cut begins, or goes on with what is left. Raises NotReady while it is wet, or not known to be this one.
        """
        stage = sheet_after(self.stage, SheetEvent.BEGUN)
        self.must_not_wait(now, "cut")
        if self.unsure:
            raise NotReady("Nobody knows how far its cut has come.", "Look at the sheet, and say it.")
        if not self.known:
            raise NotReady(
                "Nobody knows yet which sheet lies in the cutter.", "Read its code, or say that it is this one."
            )
        return replace(self, stage=stage)

    @property
    def left(self) -> frozenset[int]:
        """The pieces that are not cut yet."""
        return self.pieces - self.cut

    def is_stopped(self, cut: Collection[int]) -> "PrintedSheet":
        """The cut has stopped, by a person, a fault or for want of power; these pieces are cut to the end."""
        return self._cut_more(cut, SheetEvent.STOPPED)

    def lost_power(self) -> "PrintedSheet":
        """All stood still while it was cut: how far that has come has to be looked at."""
        return replace(self._cut_more((), SheetEvent.STOPPED), unsure=True)

    def had_come(self, cut: Collection[int]) -> "PrintedSheet":
        """A person has looked how far its cut has come. Raises NotReady where that is known."""
        if not self.unsure:
            raise NotReady("It is known how far its cut has come.")
        return replace(self, cut=self.cut | (frozenset(cut) & self.pieces), unsure=False)

    def is_cut(self, spoilt: Collection[int] = ()) -> "PrintedSheet":
        """All of it is cut; some pieces may be no good. Raises BadValue for one that it has not."""
        return self._cut_more(self.left, SheetEvent.ENDED).is_spoilt(spoilt)

    def is_spoilt(self, pieces: Collection[int]) -> "PrintedSheet":
        """These of the pieces that are cut are no good."""
        wrong = sorted(set(pieces) - self.cut)
        if wrong:
            raise BadValue(f"Piece {wrong[0]} of this sheet is not cut.", "Give the numbers as on the ticket.")
        return replace(self, spoilt=self.spoilt | frozenset(pieces))

    def is_cancelled(self) -> "PrintedSheet":
        """Nothing more is done to it."""
        return replace(self, stage=sheet_after(self.stage, SheetEvent.CANCELLED), known=False)

    def _cut_more(self, cut: Collection[int], event: SheetEvent) -> "PrintedSheet":
        more = frozenset(cut)
        wrong = sorted(more - self.pieces)
        if wrong:
            raise BadValue(f"This sheet has no piece {wrong[0]}.")
        stage = sheet_after(self.stage, event)
        return replace(self, stage=stage, cut=self.cut | more, known=self.known and event is SheetEvent.STOPPED)
