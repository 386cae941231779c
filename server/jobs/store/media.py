"""The rolls and sheets of the shop: what is loaded, and what a release leaves of it."""

from collections.abc import Iterable

from horismos.media import Media, offcut_of
from jobs import models

__all__ = ["use_up"]


def use_up(material: models.ShelfItem, media: Media | None, used_mm: Iterable[float], by: str) -> None:
    """Take off the Shelf what sheets have used: a roll gets shorter, of a sheet an offcut is left.

    ``used_mm`` are the lengths of the sheets that were cut off. What nobody keeps on the Shelf stays as it is.
    """
    if media is None or media.length_mm is None:
        return
    kept = material.media.filter(title=media.title, width_mm=media.width_mm, length_mm=media.length_mm).first()
    if kept is None:
        return
    used = list(used_mm)
    if kept.roll:
        left = offcut_of(media, sum(used))
        if left is None:
            kept.delete()
        else:
            kept.length_mm = left.length_mm
            kept.save(update_fields=["length_mm"])
        return
    if kept.left_by:  # an offcut is used up; of whole sheets there are more
        kept.delete()
    for length in used:
        left = offcut_of(media, length)
        if left is not None:
            material.media.create(
                title=left.title, width_mm=left.width_mm, length_mm=left.length_mm, roll=False, left_by=by[:200]
            )
