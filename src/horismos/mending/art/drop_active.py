"""Takes out of a file what does something instead of being printed; what prints of it becomes a part of the page."""

import pikepdf

from horismos.comparing.facets import Facet
from horismos.errors import NothingToDo
from horismos.mending.engine.registry import Mend, MendContext, MendSummary, register
from horismos.words import plural

CATALOG = ("/OpenAction", "/AA", "/AcroForm", "/Collection", "/URI")
NAMES = ("/JavaScript", "/EmbeddedFiles", "/AlternatePresentations", "/Renditions")


def _say(before: MendContext) -> MendSummary:
    parts = len(before.artwork.active)
    printing = sum(page.annotations for page in before.artwork.pages)
    if not parts and not printing:
        raise NothingToDo("The file holds nothing that does something.")
    drawn = f" {plural(printing, 'printing annotation')} {'is' if printing == 1 else 'are'} drawn into the page."
    prints = drawn if printing else ""
    return MendSummary(
        f"Takes out {plural(parts, 'part')} such as scripts, links, attachments and form fields.{prints} What is "
        "printed stays as it is.", {"parts": parts, "annotations": printing},
    )


def _do(before: MendContext, pdf: pikepdf.Pdf) -> None:
    pdf.flatten_annotations("print")
    for page in pdf.pages:
        for key in ("/Annots", "/AA"):
            if key in page.obj:
                del page.obj[key]
    for key in CATALOG:
        if key in pdf.Root:
            del pdf.Root[key]
    names = pdf.Root.get("/Names")
    for key in NAMES:
        if isinstance(names, pikepdf.Dictionary) and key in names:
            del names[key]


register(Mend(
    id="drop-active", label="Take out what is active", answers=("file.active",),
    touches=frozenset([Facet.FILE, Facet.ART, Facet.PAINT, Facet.LAYERS]), settings=(), say=_say, do=_do, order=2,
    removes=True
))
