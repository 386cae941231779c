"""Changes to artwork. Each says beforehand what it will do, does it, and proves what changed."""

import horismos.mending.art.clear_ground
import horismos.mending.art.drop_active
import horismos.mending.art.flatten
import horismos.mending.art.outlines
import horismos.mending.art.resample
import horismos.mending.art.take_out
import horismos.mending.colour.blacken
import horismos.mending.colour.limit_ink
import horismos.mending.colour.overprinting
import horismos.mending.colour.recolour
import horismos.mending.colour.to_cmyk
import horismos.mending.edge.extend_bleed
import horismos.mending.edge.pull_in
import horismos.mending.edge.spread
import horismos.mending.layers.hidden
import horismos.mending.layers.sort_layers
import horismos.mending.lines.assign_role
import horismos.mending.lines.close
import horismos.mending.lines.drop_doubled
import horismos.mending.lines.drop_inner
import horismos.mending.lines.drop_leftovers
import horismos.mending.lines.full_tint
import horismos.mending.lines.hairline
import horismos.mending.lines.lift
import horismos.mending.lines.make_lines
import horismos.mending.lines.merge_inks
import horismos.mending.lines.overprint
import horismos.mending.lines.rename
import horismos.mending.lines.round_corners
import horismos.mending.lines.smooth
import horismos.mending.lines.solid
import horismos.mending.lines.to_centreline
import horismos.mending.lines.to_stroke
import horismos.mending.lines.weld
import horismos.mending.page.fit_page
import horismos.mending.page.mirror
import horismos.mending.page.scale
import horismos.mending.page.set_boxes
import horismos.mending.page.turn
import horismos.mending.white.build_white
import horismos.mending.white.choke_white  # noqa: F401
from horismos.mending.engine.habits import as_before
from horismos.mending.engine.recipe import Recipe
from horismos.mending.engine.registry import Mend, MendSummary, Step, offers, registered, step, step_from
from horismos.mending.engine.run import Mended, mend, offered, say
from horismos.mending.engine.settings import Setting, SettingKind

__all__ = [
    "Mend",
    "MendSummary",
    "Mended",
    "Recipe",
    "Setting",
    "SettingKind",
    "Step",
    "as_before",
    "mend",
    "offered",
    "offers",
    "registered",
    "say",
    "step",
    "step_from",
]
