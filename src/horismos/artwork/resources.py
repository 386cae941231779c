"""Named resources of a content stream (ISO 32000-1, 7.8.3), each made once and kept."""

from typing import Any

import pikepdf

from horismos.artwork.fonts import UsedFont, font_of
from horismos.artwork.spaces import Space, space_of

__all__ = ["ResourceCache", "Resources", "same_object"]


def same_object(obj: Any) -> tuple[int, ...]:
    """The object and generation number of an object of the file; (0, 0) for a direct one."""
    return tuple(obj.objgen)


class ResourceCache:
    """What was already made of the objects of one file, by object number."""

    def __init__(self, layer_numbers: dict[tuple[int, ...], int]) -> None:
        self.spaces: dict[tuple[int, ...], Space] = {}
        self.fonts: dict[tuple[int, ...], UsedFont] = {}
        self.layer_numbers = layer_numbers


class Resources:
    """One resource dictionary. Missing or broken entries give None."""

    def __init__(self, dictionary: Any, cache: ResourceCache) -> None:
        self.dictionary = dictionary
        self.cache = cache
        self._made: dict[tuple[str, str], Any] = {}

    def entry(self, category: str, name: str) -> Any:
        """The object under a category and a name, or None."""
        key = (category, name)
        if key not in self._made:
            self._made[key] = self._find(category, name)
        return self._made[key]

    def _find(self, category: str, name: str) -> Any:
        try:
            found = self.dictionary[category]["/" + name]
        except (KeyError, TypeError, ValueError, AttributeError):
            return None
        return found

    def space(self, name: str) -> Space:
        """The colour space that ``cs`` with this name chooses."""
        key = ("space", name)
        if key not in self._made:
            self._made[key] = space_of(pikepdf.Name("/" + name), self._space_resource)
        made: Space = self._made[key]
        return made

    def _space_resource(self, name: str) -> Any:
        return self.entry("/ColorSpace", name)

    def space_object(self, obj: Any) -> Space:
        """The colour space that an object, such as an image's, describes."""
        return space_of(obj, self._space_resource)

    def font(self, name: str) -> UsedFont | None:
        """The font that ``Tf`` with this name chooses."""
        obj = self.entry("/Font", name)
        if obj is None:
            return None
        key = same_object(obj)
        if not key[0]:
            key = (0, id(self), *name.encode())
        if key not in self.cache.fonts:
            try:
                self.cache.fonts[key] = font_of(obj)
            except (KeyError, TypeError, ValueError, AttributeError, IndexError):
                return None
        return self.cache.fonts[key]

    def layers(self, obj: Any, depth: int = 0) -> tuple[int, ...]:
        """The layers that an optional-content group or membership dictionary names."""
        if obj is None or depth > 4:
            return ()
        if isinstance(obj, pikepdf.Array):
            return tuple(i for item in obj for i in self.layers(item, depth + 1))
        if not isinstance(obj, pikepdf.Dictionary):
            return ()
        number = self.cache.layer_numbers.get(same_object(obj))
        if number is not None:
            return (number,)
        return self.layers(obj.get("/OCGs"), depth + 1)
