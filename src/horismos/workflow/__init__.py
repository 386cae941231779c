"""One job's way through the house, as functions from values to values.

The only thing that server, worker and command line call: take in, analyse, mend, lay out and plan, release,
rehearse. ``showing`` has the values that screens show.
"""

from horismos.workflow.analyse import Analysis, Earlier, analyse, plates_of
from horismos.workflow.case import Case, JobFacts
from horismos.workflow.mend import mend
from horismos.workflow.papers import letter_of, letter_pdf_of, preflight_pdf
from horismos.workflow.plan import Planned, plan
from horismos.workflow.rehearse import Rehearsal, rehearse
from horismos.workflow.release import release
from horismos.workflow.take_in import Arrival, TakenIn, take_in
from horismos.workflow.trial import Effect, try_sheet

__all__ = [
    "Analysis", "Arrival", "Case", "Earlier", "Effect", "JobFacts", "Planned", "Rehearsal", "TakenIn", "analyse",
    "letter_of", "letter_pdf_of", "mend", "plan", "plates_of", "preflight_pdf", "rehearse", "release", "take_in",
    "try_sheet",
]
