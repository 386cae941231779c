"""In what a later file of an artwork differs from an earlier one: size, art, lines, inks and layers."""

from dataclasses import asdict, dataclass, field
from typing import Any

from horismos.artwork.lines import line_objects
from horismos.artwork.model import Artwork, ImageObject, Page, PathObject
from horismos.comparing.art_areas import ArtAreas, art_areas
from horismos.comparing.facets import Facet, touched
from horismos.comparing.line_moves import LineMoves, RoleMoves, line_moves
from horismos.destinations import Destination

__all__ = ["FilesApart", "NamesApart", "files_apart"]

SIZE_MM = 0.01
Size = tuple[float, float]


@dataclass(frozen=True)
class NamesApart:
    """Names that only the later file has, and those that only the earlier one has."""

    added: tuple[str, ...] = ()
    removed: tuple[str, ...] = ()


@dataclass(frozen=True)
class FilesApart:
    """Two files compared, trim on trim; places in mm from the lower left of the trim, as turned for viewing.

    Files with another number of pages differ, and nothing else of them is compared.
    """

    sizes_mm: tuple[Size, Size]
    pages: tuple[int, int]
    art: ArtAreas = field(default_factory=ArtAreas)
    lines: LineMoves = field(default_factory=LineMoves)
    inks: NamesApart = field(default_factory=NamesApart)
    layers: NamesApart = field(default_factory=NamesApart)

    @property
    def same(self) -> bool:
        """Whether they differ in nothing."""
        none = NamesApart()
        return (
            not _unlike(self.sizes_mm) and self.pages[0] == self.pages[1] and not self.art.areas_mm
            and self.lines.same and self.inks == none and self.layers == none
        )

    def to_json(self) -> dict[str, Any]:
        """The comparison as plain values."""
        old, new = ([round(side, 3) for side in size] for size in self.sizes_mm)
        return {
            "same": self.same, "size": {"old_mm": old, "new_mm": new},
            "pages": {"old": self.pages[0], "new": self.pages[1]},
            "art": {
                "differs": bool(self.art.areas_mm), "delta_e_max": round(self.art.delta_e_max, 2),
                "areas_mm": [[round(side, 3) for side in box] for box in self.art.areas_mm],
            },
            "lines": {
                "moved_mm": round(self.lines.moved_mm, 4),
                "by_role": {name: asdict(moves) for name, moves in self.lines.by_role.items()},
            },
            "inks": {key: list(names) for key, names in asdict(self.inks).items()},
            "layers": {key: list(names) for key, names in asdict(self.layers).items()},
        }


def files_apart(old: Artwork, new: Artwork, destination: Destination) -> FilesApart:
    """Compare two files. Lines are told by the destination's names and near ones, else by their ink.

    Raises CannotRead or LimitExceeded as drawing does.
    """
    both_sizes = [(was.size_mm, now.size_mm) for was, now in zip(old.pages, new.pages, strict=False)]
    sizes = next((sizes for sizes in both_sizes if _unlike(sizes)), both_sizes[0])
    counts = len(old.pages), len(new.pages)
    if counts[0] != counts[1]:
        return FilesApart(sizes, counts)
    drawn_alike = all(_says_all(page) for of in (old, new) for page in of.pages) and not (
        touched(old, new, destination) & {Facet.ART, Facet.BOXES, Facet.LAYERS}
    )
    art, lines = ArtAreas(), LineMoves()
    for was, now in zip(old.pages, new.pages, strict=True):
        both = line_objects(old, was, destination), line_objects(new, now, destination)
        if not drawn_alike:
            found = art_areas((old, was, both[0]), (new, now, both[1]))
            art = ArtAreas(art.areas_mm + found.areas_mm, max(art.delta_e_max, found.delta_e_max))
        lines = _together(lines, line_moves(*both))
    layers = _apart([one.name for one in old.layers], [one.name for one in new.layers])
    return FilesApart(sizes, counts, art, lines, _apart(_inks(old), _inks(new)), layers)


PLAIN = ("DeviceGray", "DeviceCMYK", "DeviceRGB", "Separation")


def _says_all(page: Page) -> bool:
    """Whether what is read of a page's objects is all that they look like: no fonts, patterns, shadings or masks."""
    return all(
        isinstance(obj, PathObject | ImageObject) and not obj.state.transparent and obj.state.group < 0
        and (isinstance(obj, ImageObject) or {obj.state.fill.family, obj.state.stroke.family} <= set(PLAIN))
        for obj in page.objects
    )


def _unlike(sizes: tuple[Size, Size]) -> bool:
    return max(abs(a - b) for a, b in zip(*sizes, strict=True)) > SIZE_MM


def _inks(artwork: Artwork) -> list[str]:
    return [ink for page in artwork.pages for ink in page.ink_names]


def _together(one: LineMoves, other: LineMoves) -> LineMoves:
    none = RoleMoves()
    return LineMoves(max(one.moved_mm, other.moved_mm), {
        name: one.by_role.get(name, none) + other.by_role.get(name, none)
        for name in sorted({*one.by_role, *other.by_role})
    }, one.places + other.places)


def _apart(old: list[str], new: list[str]) -> NamesApart:
    return NamesApart(
        tuple(dict.fromkeys(name for name in new if name not in old)),
        tuple(dict.fromkeys(name for name in old if name not in new)),
    )
