"""The Shelf's materials, machines and destinations: rows, and the core's values that they are."""

from collections.abc import Mapping
from typing import Any

from horismos import destinations, machines, materials
from horismos.destinations import Destination
from horismos.errors import NotFound
from horismos.json_readers import plain
from horismos.materials import Material
from jobs import models
from jobs.store.reading import memo

__all__ = [
    "MACHINES", "destination_called", "destination_of", "fill", "known_destinations", "known_materials",
    "material_called", "material_of", "shelf_key",
]

MACHINES = ("destination__printer", "destination__cutter")
"""What is read with a row that has a destination."""
NAMED = ("id", "title")


def destination_of(row: models.Destination) -> Destination:
    """A destination with its machines."""
    said = {"id": row.pk, "title": row.title, "names": row.names, **{
        kind: {**machine.data, "id": machine.pk, "title": machine.title}
        for kind, machine in (("printer", row.printer), ("cutter", row.cutter))
    }}
    found: Destination = destinations.READ(f"The destination “{row.title}”", said)
    return found


def material_of(row: models.Material) -> Material:
    """A material."""
    said = {**row.data, "id": row.pk, "title": row.title, "width_mm": row.width_mm}
    found: Material = materials.READ(f"The material “{row.title}”", said)
    return found


def known_destinations() -> dict[str, Destination]:
    """All destinations by their ids, the usual one first."""
    rows = models.Destination.objects.select_related("printer", "cutter")
    return memo("destinations", lambda: {row.pk: destination_of(row) for row in rows})


def known_materials() -> dict[str, Material]:
    """All materials by their ids, the usual one first."""
    return memo("materials", lambda: {row.pk: material_of(row) for row in models.Material.objects.all()})


def destination_called(id: str) -> Destination:
    """The destination of an id. Raises NotFound."""
    found: Destination = _called(known_destinations(), id, "destination")
    return found


def material_called(id: str) -> Material:
    """The material of an id. Raises NotFound."""
    found: Material = _called(known_materials(), id, "material")
    return found


def _called(known: Mapping[str, Any], id: str, what: str) -> Any:
    if id not in known:
        raise NotFound(f"There is no {what} “{id}” on the Shelf.", "Choose one of those that are there.")
    return known[id]


def shelf_key(destination: Destination, material: Material) -> list[object]:
    """What of them differs from what ships; what depends on them depends on this too."""
    shipped = destinations.SHIPPED.get(destination.id), materials.MATERIALS.get(material.id)
    return [plain(one) for one, was in zip((destination, material), shipped, strict=True) if one != was]


def fill() -> None:
    """Put on the Shelf what ships and is not there yet; what the shop has changed or named stays as it is."""
    for kind, known in (("printer", machines.PRINTERS), ("cutter", machines.CUTTERS)):
        for machine in known.values():
            models.Machine.objects.get_or_create(
                id=machine.id, defaults={"kind": kind, "title": machine.title, "data": _data(machine)}
            )
    for place, destination in enumerate(destinations.SHIPPED.values()):
        models.Destination.objects.get_or_create(id=destination.id, defaults={
            "title": destination.title, "names": plain(destination.names), "printer_id": destination.rip.id,
            "cutter_id": destination.cutter.id, "position": place,
        })
    for place, material in enumerate(materials.MATERIALS.values()):
        row, made = models.Material.objects.get_or_create(id=material.id, defaults={
            "title": material.title, "width_mm": material.width_mm, "data": _data(material, "width_mm"),
            "position": place,
        })
        if made:
            row.media.create(
                title=material.title, width_mm=material.width_mm, length_mm=material.length_mm,
                roll=material.length_mm is None, loaded=True,
            )


def _data(value: object, *but: str) -> dict[str, Any]:
    return {key: one for key, one in plain(value).items() if key not in (*NAMED, *but)}
