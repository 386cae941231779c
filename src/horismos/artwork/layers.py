"""Optional content (ISO 32000-1, 8.11): groups, memberships, their states; ISO 19593-1 metadata."""

from collections.abc import Sequence
from typing import Any, NamedTuple

import pikepdf

from horismos.artwork import limits
from horismos.artwork.model import Layer
from horismos.errors import LimitExceeded
from horismos.roles import role_of_step

__all__ = ["EVERYWHERE", "Membership", "layers_of", "membership", "same_object"]

MAX_DEPTH = 8


class Membership(NamedTuple):
    """What optional content says of a place in the content: its layers, and whether it shows."""

    layers: tuple[int, ...]
    visible: bool
    prints: bool

    def inside(self, outer: "Membership") -> "Membership":
        """This membership within another one: both have to show."""
        new = tuple(i for i in self.layers if i not in outer.layers)
        if not new and self.visible >= outer.visible and self.prints >= outer.prints:
            return outer
        return Membership(
            outer.layers + new, outer.visible and self.visible, outer.prints and self.prints
        )


EVERYWHERE = Membership((), True, True)


def same_object(obj: Any) -> tuple[int, ...]:
    """The object and generation number of an object of the file; (0, 0) for a direct one."""
    return tuple(obj.objgen)


def _members(obj: Any) -> set[tuple[int, ...]]:
    return {same_object(o) for o in obj} if isinstance(obj, pikepdf.Array) else set()


def _usage(group: Any, category: str, key: str) -> bool | None:
    """What a group's usage dictionary says of a category (table 102), or None."""
    try:
        return bool(group["/Usage"][category][key] != pikepdf.Name.OFF)
    except (KeyError, TypeError, ValueError, AttributeError):
        return None


def _automatic(default: Any, event: str) -> set[tuple[int, ...]] | None:
    """The groups whose usage counts at an event (table 103); None where the file does not say."""
    listed = default.get("/AS")
    if not isinstance(listed, pikepdf.Array):
        return None
    out: set[tuple[int, ...]] = set()
    for entry in listed:
        if isinstance(entry, pikepdf.Dictionary) and str(entry.get("/Event")) == event:
            out |= _members(entry.get("/OCGs"))
    return out


def _step(group: Any) -> tuple[str, str | None] | None:
    """The processing step that a group declares."""
    metadata = group.get("/GTS_Metadata")
    if not isinstance(metadata, pikepdf.Dictionary) or "/GTS_ProcStepsGroup" not in metadata:
        return None
    kind = metadata.get("/GTS_ProcStepsType")
    name = str(metadata["/GTS_ProcStepsGroup"]).removeprefix("/")
    return name, str(kind).removeprefix("/") if kind is not None else None


def layers_of(pdf: pikepdf.Pdf) -> tuple[list[Layer], dict[tuple[int, ...], int]]:
    """The layers of a file in its default configuration, and their index by object number.

    A usage dictionary counts where the configuration's ``AS`` names the group for the event
    (8.11.4.4). Where there is no ``AS`` at all the usage is taken at its word, since programs
    forget it [ours].
    """
    properties = pdf.Root.get("/OCProperties")
    if not isinstance(properties, pikepdf.Dictionary):
        return [], {}
    default = properties.get("/D", pikepdf.Dictionary())
    on, off = _members(default.get("/ON")), _members(default.get("/OFF"))
    locked = _members(default.get("/Locked"))
    base_on = str(default.get("/BaseState", "/ON")) != "/OFF"
    at_print, at_view = _automatic(default, "/Print"), _automatic(default, "/View")
    layers: list[Layer] = []
    numbers: dict[tuple[int, ...], int] = {}
    groups: Any = properties.get("/OCGs", [])
    if isinstance(groups, pikepdf.Array) and len(groups) > limits.MAX_LAYERS:
        raise LimitExceeded(f"The file has more than {limits.MAX_LAYERS:,} layers.", "Ask for it with fewer.")
    for group in groups:
        number = same_object(group)
        if number in numbers or not isinstance(group, pikepdf.Dictionary):
            continue
        state = number not in off if base_on else number in on
        printing = _usage(group, "/Print", "/PrintState")
        viewing = _usage(group, "/View", "/ViewState")
        prints = visible = state
        if printing is not None and at_print is None:
            prints = state and printing
        elif printing is not None and at_print is not None and number in at_print:
            prints = printing
        if viewing is not None and at_view is not None and number in at_view:
            visible = viewing
        step = _step(group)
        role = role_of_step(*step) if step else None
        numbers[number] = len(layers)
        name = str(group.get("/Name", "unnamed"))
        layers.append(Layer(name, visible, prints, role, step, number in locked))
    return layers, numbers


def membership(
    obj: Any, numbers: dict[tuple[int, ...], int], states: Sequence[Layer]
) -> Membership:
    """What a group or a membership dictionary (8.11.2.2) says; EVERYWHERE for what is neither."""
    if not isinstance(obj, pikepdf.Dictionary):
        return EVERYWHERE
    number = numbers.get(same_object(obj))
    if number is not None:
        return Membership((number,), states[number].visible, states[number].prints)
    groups = obj.get("/OCGs")
    listed = list(groups) if isinstance(groups, pikepdf.Array) else [groups]
    indices = tuple(
        numbers[same_object(o)] for o in listed
        if isinstance(o, pikepdf.Dictionary) and same_object(o) in numbers
    )
    expression = obj.get("/VE")
    if isinstance(expression, pikepdf.Array):
        found: dict[int, None] = {}
        visible = _evaluate(expression, numbers, [s.visible for s in states], found)
        prints = _evaluate(expression, numbers, [s.prints for s in states], found)
        return Membership(tuple(found) or indices, visible, prints)
    if not indices:
        return EVERYWHERE
    policy = str(obj.get("/P", "/AnyOn"))

    def shows(flags: list[bool]) -> bool:
        if policy == "/AllOn":
            return all(flags)
        if policy == "/AnyOff":
            return not all(flags)
        return not any(flags) if policy == "/AllOff" else any(flags)

    return Membership(
        indices, shows([states[i].visible for i in indices]), shows([states[i].prints for i in indices])
    )


def _evaluate(
    obj: Any, numbers: dict[tuple[int, ...], int], flags: list[bool], found: dict[int, None],
    depth: int = 0,
) -> bool:
    """A visibility expression: an array of And, Or or Not and its operands."""
    if isinstance(obj, pikepdf.Dictionary):
        number = numbers.get(same_object(obj))
        if number is None:
            return True
        found.setdefault(number)
        return flags[number]
    if not isinstance(obj, pikepdf.Array) or not len(obj) or depth > MAX_DEPTH:
        return True
    values = [_evaluate(o, numbers, flags, found, depth + 1) for o in list(obj)[1:]]
    operator = str(obj[0])
    if operator == "/Not":
        return not (values and values[0])
    return any(values) if operator == "/Or" else all(values)
