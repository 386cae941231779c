"""What a list of jobs shows of each, kept small beside the analysis, and read with few questions."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from horismos.checking import Verdict
from horismos.checking.engine.check_sheet import Severity, graver
from horismos.workflow.pile import State, wants_of
from jobs import models

__all__ = ["Summary", "summary_of", "summary_row", "thumb_of"]

NO_LINE = "line.none"
OFFERED = 4
"""Where in a row of before it may not stand yet whether a mend is offered."""
THUMB_CHARS = 60_000
"""Path data beyond this is not sent with a list of jobs; a thumbnail does without it."""


@dataclass(frozen=True)
class Summary:
    """What is known of a job without its report. ``stops`` and ``looks`` are None while it was never checked.

    ``wants`` is what the findings ask of a person, ``open`` what has to be said first, in words.
    """

    roles: tuple[str, ...] = ()
    size_mm: tuple[float, ...] = ()
    media_box_mm: tuple[float, ...] = ()
    stops: int | None = None
    looks: int | None = None
    stop: str = ""
    wants: State = State.READY
    open: str = ""
    sheet_error: str = ""
    inks: tuple[str, ...] = ()

    @property
    def verdict(self) -> Verdict | None:
        """As a report's; None while there is none."""
        return None if self.stops is None else Verdict.of(self.stops, self.looks or 0)


def summary_row(
    seen: Mapping[str, Any], report: Mapping[str, Any] | None, sheet: Mapping[str, Any],
    cards: Sequence[Mapping[str, Any]] = (),
) -> dict[str, Any]:
    """What is kept of an analysis for lists."""
    answered = {card["key"] for card in cards if card["mends"]}
    return {
        "roles": sorted({line["role"] for line in seen["lines"] if line["role"]}),
        "size_mm": list(seen["size_mm"]), "media_box_mm": list(seen["media_box_mm"]),
        "findings": None if report is None else [
            [f["key"], f["severity"], f["id"],
             f["message"] if f["severity"] == Severity.STOP or f["id"] == NO_LINE else "", f["key"] in answered]
            for f in report["findings"] if f["severity"] in (Severity.STOP, Severity.LOOK)
        ],
        "sheet_error": sheet.get("error", ""), "inks": [ink["name"] for ink in seen["inks"]],
    }


def thumb_of(seen: Mapping[str, Any]) -> list[dict[str, Any]]:
    """The lines of a small picture, where they are not too many."""
    drawn = list(seen["drawn"])
    return drawn if sum(len(line["path"]) for line in drawn) < THUMB_CHARS else []


def summary_of(row: models.Analysis | None, decisions: Sequence[models.Decision]) -> Summary:
    """What is known of a job, without the findings that people let stand."""
    if row is None or not row.summary:
        return Summary()
    kept = row.summary
    shape = tuple(kept["roles"]), tuple(kept["size_mm"]), tuple(kept["media_box_mm"])
    inks = tuple(kept.get("inks", ()))
    if kept["findings"] is None:
        return Summary(*shape, inks=inks)
    decided = {decision.key: decision.severity for decision in decisions}
    left = [f for f in kept["findings"] if f[0] not in decided or graver(f[1], decided[f[0]])]
    stops = sorted((f for f in left if f[1] == Severity.STOP), key=lambda f: f[2] != "page.size")
    looks = sum(f[1] == Severity.LOOK for f in left)
    wants = wants_of((f[1], f[4] if len(f) > OFFERED else True) for f in left)
    open_ = next((f[3] for f in left if f[2] == NO_LINE), "")
    return Summary(*shape, len(stops), looks, stops[0][3] if stops else "", wants, open_, kept["sheet_error"], inks)
