"""Checks of the file itself."""

from collections import Counter
from collections.abc import Iterator

from horismos.checking.engine.context import Context
from horismos.checking.engine.findings import Hit, Severity
from horismos.checking.engine.rules import rule
from horismos.comparing.facets import Facet


@rule("file.damaged", "look", Facet.FILE, unit="repairs", scope="file")
def damaged(c: Context) -> Iterator[Hit]:
    """The structure had to be mended to be read, or part of it is lost."""
    repairs = c.artwork.repairs
    if not repairs:
        return
    lost = any(repair.lost for repair in repairs)
    message = (
        "Part of the file could not be read; what is on screen may lack something."
        if lost
        else "The file was damaged and was mended on reading. Compare it with what was meant."
    )
    severity = Severity.STOP if lost else None
    said = " · ".join(repair.words for repair in repairs[:12])
    yield Hit(message, measured=len(repairs), count=len(repairs), detail=said, severity=severity)


@rule("file.converted", "look", Facet.FILE, unit="notes", scope="file")
def converted(c: Context) -> Iterator[Hit]:
    """What could not be kept when another kind of file was made into the working PDF."""
    looks = [words for severity, words in c.artwork.taken_in if severity == "look"]
    if looks:
        yield Hit(looks[0], measured=len(looks), count=len(looks), detail=" ".join(looks[1:]))


@rule("file.locked", "stop", Facet.FILE, unit="locks", scope="file")
def locked(c: Context) -> Iterator[Hit]:
    """The file forbids changes."""
    if c.artwork.forbids_changes:
        yield Hit(
            "The file is locked against changes. Ask for one without protection.", measured=1,
            detail="It opens without a password but its permissions forbid changing it.",
        )


@rule("file.active", "look", Facet.FILE, unit="parts", scope="file")
def active(c: Context) -> Iterator[Hit]:
    """Scripts, actions that do something, attachments, form fields, and annotations that print."""
    found = Counter(c.artwork.active)
    printing = sum(page.annotations for page in c.artwork.pages)
    if printing:
        found["annotation that prints"] = printing
    if found:
        listed = ", ".join(f"{n} {kind}{'s' if n > 1 else ''}" for kind, n in found.items())
        total = found.total()
        yield Hit(
            f"The file holds {listed}. Nothing of it is run here; what prints of it is part of the page now.",
            measured=total, count=total,
        )
