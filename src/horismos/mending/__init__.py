"""Changes to artwork. Each says beforehand what it will do, does it, and proves what changed."""

import horismos.mending.lines.close
import horismos.mending.lines.drop_leftovers
import horismos.mending.lines.hairline
import horismos.mending.lines.overprint
import horismos.mending.lines.rename  # noqa: F401
from horismos.mending.engine.registry import Mend, Step, offers, registered, step, step_from
from horismos.mending.engine.run import Mended, apply_all, mend, offered, say
from horismos.mending.engine.settings import Kind, Setting

__all__ = [
    "Kind", "Mend", "Mended", "Setting", "Step", "apply_all", "mend", "offered", "offers", "registered", "say", "step",
    "step_from",
]
