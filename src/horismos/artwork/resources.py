"""Named resources of a content stream (ISO 32000-1, 7.8.3), each made once and kept."""

from collections.abc import Callable, Sequence
from typing import Any, NamedTuple

import pikepdf

from horismos.artwork import limits
from horismos.artwork.fonts import UsedFont, font_of
from horismos.artwork.layers import EVERYWHERE, Membership, membership, same_object
from horismos.artwork.model import Layer, Paint
from horismos.artwork.spaces import Space, space_of
from horismos.artwork.state import matrix_of, rectangle_of
from horismos.paths.box import Bounds
from horismos.paths.matrix import Matrix

__all__ = ["Form", "ResourceCache", "Resources", "form_of"]


class Form(NamedTuple):
    """A form XObject (ISO 32000-1, 8.10) ready to be run: its content and what it is drawn with.

    ``group`` holds isolated and knockout where the form is a transparency group.
    """

    number: tuple[int, int]
    data: bytes
    matrix: Matrix | None
    box: Bounds | None
    group: tuple[bool, bool] | None
    resources: Any


def form_of(xobject: Any, read_stream: Callable[[Any], bytes]) -> Form:
    """A form XObject of the file. Raises what reading its stream raises."""
    group = None
    if "/Group" in xobject:
        entry = xobject["/Group"]
        group = bool(entry.get("/I", False)), bool(entry.get("/K", False))
    return Form(
        (int(xobject.objgen[0]), int(xobject.objgen[1])),
        read_stream(xobject),
        matrix_of(xobject["/Matrix"]) if "/Matrix" in xobject else None,
        rectangle_of(xobject.get("/BBox")),
        group,
        xobject.get("/Resources"),
    )


class ResourceCache:
    """What was already made of the objects of one file, by object number.

    ``most_unpacked`` is to how many bytes a picture of the file may unpack.
    """

    def __init__(
        self, layer_numbers: dict[tuple[int, ...], int], states: Sequence[Layer],
        most_unpacked: int = limits.MAX_UNPACKED_BYTES,
    ) -> None:
        self.most_unpacked = most_unpacked
        self.fonts: dict[tuple[int, ...], UsedFont] = {}
        self.forms: dict[tuple[int, int], Form] = {}
        self.patterns: dict[tuple[int, ...], Paint] = {}
        self.memberships: dict[tuple[int, ...], Membership] = {}
        self.layer_numbers = layer_numbers
        self.states = states

    def membership(self, obj: Any) -> Membership:
        """What an optional-content entry of the file says."""
        if obj is None or not isinstance(obj, pikepdf.Dictionary):
            return EVERYWHERE
        number = same_object(obj)
        if not number[0]:
            return membership(obj, self.layer_numbers, self.states)
        if number not in self.memberships:
            self.memberships[number] = membership(obj, self.layer_numbers, self.states)
        return self.memberships[number]


DEFAULTS = {"DeviceGray": "DefaultGray", "DeviceRGB": "DefaultRGB", "DeviceCMYK": "DefaultCMYK"}


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
            return self.dictionary[category]["/" + name]
        except (KeyError, TypeError, ValueError, AttributeError):
            return None

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
        """The colour space that an object, such as an image's, describes.

        A device space is the default space of its kind where the resources name one (8.6.5.6).
        """
        made = space_of(obj, self._space_resource)
        if made.family in DEFAULTS:
            default = self.entry("/ColorSpace", DEFAULTS[made.family])
            return space_of(default, self._space_resource) if default is not None else made
        return made

    def font(self, name: str) -> UsedFont | None:
        """The font that ``Tf`` with this name chooses."""
        key = ("font", name)
        if key not in self._made:
            self._made[key] = self.font_object(self.entry("/Font", name))
        made: UsedFont | None = self._made[key]
        return made

    def font_object(self, obj: Any) -> UsedFont | None:
        """The font that a font dictionary describes, or None where it is none."""
        if not isinstance(obj, pikepdf.Dictionary):
            return None
        key = same_object(obj)
        if key[0] and key in self.cache.fonts:
            return self.cache.fonts[key]
        try:
            made = font_of(obj)
        except (KeyError, TypeError, ValueError, AttributeError, IndexError, pikepdf.PdfError):
            return None
        if key[0]:
            self.cache.fonts[key] = made
        return made
