"""What in a file does something instead of being printed: scripts, actions, attachments, form fields."""

from typing import Any

import pikepdf
from pikepdf import Array, Dictionary

__all__ = ["active_parts"]

ACTIONS = {
    "/JavaScript": "script", "/Launch": "action that starts a program", "/SubmitForm": "action that sends data",
    "/ImportData": "action that loads data", "/GoToR": "link to another file", "/GoToE": "link to another file",
    "/RichMediaExecute": "action in rich media", "/Movie": "movie", "/Sound": "sound", "/Rendition": "movie",
}
"""[standard] ISO 32000-1, table 198: the action types that do more than move on the page."""
MEDIA = {"/FileAttachment": "attached file", "/Movie": "movie", "/Sound": "sound", "/Screen": "movie",
         "/RichMedia": "rich media", "/3D": "3D model"}
"""[standard] table 169: annotation types that carry something of their own."""
MOST_ACTIONS = 1000


def active_parts(pdf: pikepdf.Pdf) -> tuple[str, ...]:
    """What the file holds of it, in words, one entry for each."""
    root = pdf.Root
    found: list[str] = []
    names = root.get("/Names")
    if isinstance(names, Dictionary):
        found += ["script"] * _tree(names.get("/JavaScript"), 0)
        found += ["attached file"] * _tree(names.get("/EmbeddedFiles"), 0)
    found += _action(root.get("/OpenAction"), 0) + _triggers(root.get("/AA"))
    form = root.get("/AcroForm")
    fields = form.get("/Fields") if isinstance(form, Dictionary) else None
    if isinstance(fields, Array):
        found += ["form field"] * len(fields)
    if isinstance(form, Dictionary) and "/XFA" in form:
        found.append("XFA form")
    for page in pdf.pages:
        found += _triggers(page.obj.get("/AA"))
        annotations = page.obj.get("/Annots")
        for annotation in annotations if isinstance(annotations, Array) else Array():
            if isinstance(annotation, Dictionary):
                kind = str(annotation.get("/Subtype", ""))
                found += [MEDIA[kind]] if kind in MEDIA else []
                found += _action(annotation.get("/A"), 0) + _triggers(annotation.get("/AA"))
        if len(found) > MOST_ACTIONS:
            break
    return tuple(found)


def _tree(node: Any, depth: int) -> int:
    """How many entries a name tree has (7.9.6)."""
    if not isinstance(node, Dictionary) or depth > 12:
        return 0
    own, kids = node.get("/Names"), node.get("/Kids")
    count = len(own) // 2 if isinstance(own, Array) else 0
    return count + sum(_tree(kid, depth + 1) for kid in (kids if isinstance(kids, Array) else []))


def _action(action: Any, depth: int) -> list[str]:
    """An action and those that follow it (12.6.2); a destination is none."""
    if not isinstance(action, Dictionary) or depth > 12:
        return []
    kind = str(action.get("/S", ""))
    found = [ACTIONS[kind]] if kind in ACTIONS else []
    following = action.get("/Next")
    for nxt in following if isinstance(following, Array) else [following]:
        found += _action(nxt, depth + 1)
    return found


def _triggers(triggers: Any) -> list[str]:
    """Additional actions (12.6.3)."""
    if not isinstance(triggers, Dictionary):
        return []
    return [said for key in triggers.keys() for said in _action(triggers.get(key), 0)]
