"""Makes one ink out of two: what is drawn in the one is drawn in the other, in that one's colour on screen."""

from collections.abc import Iterable, Mapping

import pikepdf
from pikepdf import Array, Name

from horismos.checking.engine.findings import Finding
from horismos.comparing.facets import Facet
from horismos.errors import CannotWrite, NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.mending.engine.settings import Setting, SettingKind, Value
from horismos.mending.lines.rename import colour_arrays, pdf_name
from horismos.words import plural


def _say(before: MendContext) -> MendSummary:
    old, new = before.step["ink"], before.step["to"]
    named = {name for page in before.artwork.pages for name in page.ink_names}
    if old not in named or old == new:
        raise NothingToDo(f"No ink is called “{old}”." if old not in named else "Both are the same ink.")
    if new not in named:
        raise NothingToDo(f"No ink is called “{new}”; to give an ink that name is a renaming.")
    count = sum(line.ink == old for line in before.lines)
    what = plural(count, "line") if count else "the art in it"
    return MendSummary(f"Draws {what} of “{old}” in “{new}”, on one plate. Shapes and tints stay.", {"lines": count})


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    old, new = pdf_name(before.step["ink"]), pdf_name(before.step["to"])
    arrays = list(colour_arrays(pdf))
    model = next((a for a in arrays if a[0] == Name.Separation and a[1] == new), None)
    for array in arrays:
        if array[0] == Name.Separation and array[1] == old:
            array[1] = new
            if model is not None:
                array[2], array[3] = model[2], model[3]
        elif array[0] == Name.DeviceN and old in list(array[1]):
            if new in list(array[1]):
                raise CannotWrite("A colour mixes both inks.", "Nothing was changed; ask for a new file.")
            array[1] = Array([new if name == old else name for name in array[1]])
            if len(array) > 4:
                del array[4]


def _offer(mend: Mend, finding: Finding) -> Iterable[Mapping[str, Value]]:
    return ({"ink": ink, "to": wanted} for ink in finding.inks for wanted in finding.wanted)


register(Mend(
    id="merge-inks", label="Merge {ink} into {to}", answers=("ink.same-role",),
    touches=frozenset([Facet.NAMES, Facet.ART, Facet.LOOK]),
    settings=(
        Setting("ink", SettingKind.NAME, "The ink that goes"), Setting("to", SettingKind.NAME, "The ink that stays"),
    ),
    say=_say, do=_do, offer=_offer, order=11, safe=False, reveals=True,
))
