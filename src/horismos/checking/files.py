"""Checks of the file itself."""

from collections.abc import Iterator

from horismos.checking.check import rule
from horismos.checking.context import Context
from horismos.checking.findings import Hit, Severity

UNREADABLE = ("unreadable", "missing", "could not be carried out")
"""Words in a repair that mean that part of the page is lost, not only mended."""


@rule("file.damaged", "look", unit="repairs", scope="file")
def damaged(c: Context) -> Iterator[Hit]:
    """The structure had to be mended to be read, or part of it is lost."""
    repairs = c.artwork.repairs
    if not repairs:
        return
    lost = [r for r in repairs if any(word in r for word in UNREADABLE)]
    message = (
        "Part of the file could not be read; what is on screen may lack something."
        if lost
        else "The file was damaged and was mended on reading. Compare it with what was meant."
    )
    severity = Severity.STOP if lost else None
    yield Hit(message, len(repairs), len(repairs), detail=" · ".join(repairs[:12]), severity=severity)


@rule("file.converted", "look", unit="notes", scope="file")
def converted(c: Context) -> Iterator[Hit]:
    """What could not be kept when another kind of file was made into the working PDF."""
    looks = [words for severity, words in c.artwork.taken_in if severity == "look"]
    if looks:
        yield Hit(looks[0], len(looks), len(looks), detail=" ".join(looks[1:]))


@rule("file.locked", "stop", unit="locks", scope="file")
def locked(c: Context) -> Iterator[Hit]:
    """The file forbids changes."""
    if c.artwork.forbids_changes:
        yield Hit(
            "The file is locked against changes. Ask for one without protection.", 1,
            detail="It opens without a password but its permissions forbid changing it.",
        )
