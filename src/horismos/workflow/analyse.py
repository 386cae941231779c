"""Looks at a job as it stands: what the file holds, what the check finds, how the sheet lies and is cut."""

from dataclasses import dataclass

from horismos.artwork import Artwork, art_alone
from horismos.artwork.views import page_whole
from horismos.checking import Checked, Report, check_whole
from horismos.comparing.facets import Facet, changed
from horismos.errors import HorismosError
from horismos.rendering.plates import PlateSet, fitting_ppi, plates
from horismos.workflow.case import Case, Progress
from horismos.workflow.plan import Planned, plan

__all__ = ["Analysis", "Earlier", "analyse", "plates_of"]


@dataclass(frozen=True, eq=False)
class Earlier:
    """A check of before under the same order, destination and material, and the artwork that it was made on."""

    artwork: Artwork
    report: Report


@dataclass(frozen=True, eq=False)
class Analysis:
    """What was found on a case.

    ``art`` is the art alone as a PDF. ``planned`` is None where the sheet cannot be laid out; then ``refused``
    says why. ``touched`` is what differs from the earlier artwork, None where there was none.
    """

    case: Case
    checked: Checked
    art: bytes
    planned: Planned | None
    refused: str
    touched: frozenset[Facet] | None

    @property
    def report(self) -> Report:
        """What the check found."""
        return self.checked.report


def analyse(
    case: Case, earlier: Earlier | None = None, progress: Progress = lambda share, what: None,
    known: Checked | None = None,
) -> Analysis:
    """Check, lay out and plan a job. With an earlier check only what can come out otherwise is measured again.

    ``known`` is the check of the case after the earlier one, where it was made already, with its plates.
    """
    progress(0.0, "parting art and lines")
    art = art_alone(case.artwork, case.page, case.lines)
    touched = changed(earlier.artwork, case.artwork, case.destination) if earlier else None
    progress(0.1, "checking")
    checked = known or check_whole(
        case.artwork, case.terms, lambda share, what: progress(0.1 + share * 0.7, what),
        earlier.report if earlier else None, touched, art={case.page_number: art},
        keeps_plates=True,
    )
    progress(0.9, "laying out and planning")
    planned, refused = None, ""
    try:
        planned = plan(case)
    except HorismosError as error:
        refused = str(error)
    return Analysis(case, checked, art, planned, refused, touched)


def plates_of(analysis: Analysis) -> PlateSet:
    """The plates of the case's page: those that the check made, or made now.

    Raises what making them raises.
    """
    case = analysis.case
    checked = analysis.checked
    if checked.plates_error is not None and case.page_number == 1:
        raise checked.plates_error  # trying again would take as long
    if checked.plates is not None and case.page_number == 1:
        return checked.plates
    box = case.page.boxes.media
    ppi = fitting_ppi(box)
    return PlateSet(tuple(plates(page_whole(case.artwork, case.page), ppi, None, inks=case.page.ink_names)), ppi, box)
