"""Children under limits: programs, and work of our own on files that nobody vouches for."""

from horismos.confined.limits import Limits, confine_self
from horismos.confined.pool import Call, Pool
from horismos.confined.programs import ghostscript, run_limited

__all__ = ["Call", "Limits", "Pool", "confine_self", "ghostscript", "run_limited"]
