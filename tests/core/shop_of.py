"""A shop with a thing of every kind, as its file says it: plain and made up."""

import copy
from typing import Any

from horismos.json_readers import plain
from horismos.shelf import examples

__all__ = ["a_shop"]


def thing(kind: str, id: str, title: str, data: Any) -> dict[str, Any]:
    return {"kind": kind, "id": id, "title": title, "retired": False, "data": data}


OWN = [
    thing("holder", "blade-a", "Blade A", dict(cutter="cutter", number=2, offset_mm=0.3, blade="drag")),
    thing("tool", "kiss-film", "Kiss cut on film", dict(destination="house", material="film-1370", role="kiss-cut",
          holder="blade-a", force_gf=85, speed_mm_s=350)),
    thing("recipe", "tidy", "Tidy", dict(steps=[{"mend": "smooth", "role": "kiss-cut", "tolerance_mm": 0.05}],
          customers=["Dune Press"], destinations=["house"], materials=["film-1370"], findings=["line.nodes"])),
    thing("check-sheet", "checks-shop", "Checks of the shop", dict(scope="shop", limits={"edge.bleed": 2.5},
          severities={"edge.bleed": "look"})),
    thing("check-sheet", "checks-film", "Checks of the film", dict(scope="material", material="film-1370")),
    thing("customer", "dune-press", "Dune Press", dict(order={"edge": "bleed", "material": "film-1370"},
          destination="small", write_to="art@dune.example", letter="short", recipes=["tidy"], lines="kiss-on-the-edge",
          note="Send proofs.")),
    thing("letter", "short", "Short letters", dict(texts={"greeting": "Hello {customer},"},
          checks={"edge.bleed": {"title": "Bleed", "wrong": "It ends {measured} outside.", "change": "Add {limit}."}})),
    thing("watched", "dunes-folder", "Dune's folder", dict(folder="dunes", customer="Dune Press")),
    thing("file-names", "usual-names", "Usual names",
          {"pattern": "{customer}_{title}_{width_mm}x{height_mm}_{copies}x_{material}"}),
]
MEDIA = [
    {"material": "film-1370", "title": "Film", "width_mm": 1370.0, "length_mm": None, "roll": True, "loaded": True,
     "left_by": ""},
    {"material": "paper-a3", "title": "Sheets", "width_mm": 297.0, "length_mm": 420.0, "roll": False, "loaded": False,
     "left_by": "a sheet"},
]


def a_shop() -> dict[str, Any]:
    """All that ships, and a thing of each kind that nothing ships of."""
    shipped = [thing(item.kind.value, item.id, item.title, plain(item.data)) for item in examples().values()]
    return copy.deepcopy({
        "format": "horismos shelf", "version": 1, "shop": {"name": "Harbour Print", "unit": "in", "currency": "EUR"},
        "things": [*shipped, *OWN], "media": MEDIA,
    })
