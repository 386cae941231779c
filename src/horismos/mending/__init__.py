"""Changes to artwork. Each says beforehand what it will do, does it, and proves what changed."""

from horismos.mending.mend import Mended, apply_all, mend, offered, say
from horismos.mending.proof import Proof

__all__ = ["Mended", "Proof", "apply_all", "mend", "offered", "say"]
