"""What a step is asked, written for another machine and read there, is the same to the last digit."""

from dataclasses import fields, is_dataclass, replace
from importlib import import_module
from pathlib import Path
from typing import Any

import msgpack
import numpy as np
import pytest

from horismos.artwork.kinds import FileKind
from horismos.checking import CheckSheet, Severity
from horismos.cutting import Tool
from horismos.destinations import DEFAULT
from horismos.errors import BadValue
from horismos.intake import Answers
from horismos.materials import MATERIALS
from horismos.mending import step
from horismos.orders import Order
from horismos.roles import LineRole
from horismos.sandbox.child import refusal
from horismos.sandbox.pool import value_of
from horismos.sheet import Layout
from horismos.simulation.bed import Laying, MarkSeen
from horismos.simulation.camera import Picture
from horismos.workflow.bench import BedState
from horismos.workflow.steps import STEPS, calls
from horismos.workflow.steps.calls import (
    arguments_of,
    asked_content,
    packed_answer,
    packed_arguments,
    unpacked_answer,
)
from horismos.workflow.steps.stored import Content, StoredCase
from horismos.workflow.take_in import Arrival

HASH, OTHER = "ab" * 32, "cd" * 32


def place(sha256: str) -> Path:
    return Path("/store") / sha256


def there_and_back(name: str, *arguments: Any) -> tuple[Any, ...]:
    return arguments_of(name, packed_arguments(name, arguments), place)


def same(one: Any, other: Any) -> bool:
    """Whether two values are of the same types and say the same; lists and tuples are the same."""
    if isinstance(one, list | tuple):
        return isinstance(other, list | tuple) and len(one) == len(other) and all(map(same, one, other))
    if type(one) is not type(other):
        return False
    if is_dataclass(one):
        return all(same(getattr(one, f.name), getattr(other, f.name)) for f in fields(one))
    return bool(np.array_equal(one, other)) if isinstance(one, np.ndarray) else one == other


CASE = StoredCase(
    content=Content(place(HASH), HASH), destination=DEFAULT, material=next(iter(MATERIALS.values())),
    order=replace(Order(), width_mm=80, height_mm=0.1 + 0.2, roles=(LineRole.KISS_CUT,)),
    check_sheet=CheckSheet(limits={"ink.load": 280.5}, severities={"ink.load": Severity.LOOK}),
    layout=Layout(), known=(("K", "kiss-cut"),),
    tools={LineRole.KISS_CUT: Tool(role=LineRole.KISS_CUT, number=2, force_gf=200, speed_mm_s=250.5)},
    made_from=FileKind.SVG, signed=True,
)


def test_a_job_is_read_as_it_was_written() -> None:
    report = {"findings": [{"id": "ink.load", "measured": 300.1}], "x": [1, 2.0, None, "ü"]}
    case, content, before = there_and_back("job:look", CASE, Content(place(OTHER), OTHER), report)
    assert same(case, CASE), (case, CASE)
    assert case.layout.marks.kind is CASE.layout.marks.kind, "functions are not sent: they are looked up"
    assert isinstance(case.tools[LineRole.KISS_CUT].force_gf, int), "200 does not become 200.0"
    assert (content.sha256, content.path) == (OTHER, place(OTHER))
    assert before == report
    assert asked_content("job:look", packed_arguments("job:look", [CASE, None, None])) == [HASH]


@pytest.mark.parametrize("asked", [
    step("rename", ink="Kis Cut", to="Kiss Cut"), step("scale", ratio=0.5),
    step("turn", degrees=90),
])
def test_a_mend_is_read_as_it_was_written(asked: Any) -> None:
    _, read, report, then = there_and_back("job:mend", CASE, asked, None, [asked])
    assert same(read, asked) and same(list(then), [asked]) and report is None


def test_an_arrival_and_what_a_camera_saw_are_read_as_they_were_written() -> None:
    arrival = Arrival(
        data=b"", name="sail.svg", destination=DEFAULT, answers=Answers(width_mm=80.25, binding={"pen:1": "kiss-cut"})
    )
    content, read, page = there_and_back("job:take_in", Content(place(HASH), HASH), arrival, 3)
    assert same(read, arrival) and page == 3 and content.sha256 == HASH
    picture = Picture(np.linspace(0, 255, 12, dtype=np.float32).reshape(3, 4), (1.5, -2))
    front = BedState(ticket={"sheet": {}}, laying=Laying(shift_x_mm=0.5))
    state = replace(front, seen=(MarkSeen(1, (2.5, 3), "camera", picture=picture),), front=front, code="S1")
    _, read_state, first = there_and_back("bench:scan", Content(place(HASH), HASH), state, (1.0, 2.0))
    assert same(read_state, state) and first == (1.0, 2.0)


@pytest.mark.parametrize(("name", "arguments"), [
    ("job:keep", []), ("os:system", [1]), ("job:StoredCase", []), ("stored:remember", [1, 2]), ("job:look", [CASE]),
])
def test_nothing_but_steps_can_be_asked_for(name: str, arguments: list[Any]) -> None:
    with pytest.raises(BadValue):
        packed_arguments(name, arguments)


@pytest.mark.parametrize("change", [
    lambda said: said[0].update(content="../../etc/passwd"), lambda said: said[0].update(page_number="1"),
    lambda said: said[0].update(more=1), lambda said: said[0]["layout"].update(marks=5), lambda said: said.append(1),
    lambda said: said[0]["order"].update(edge="glue"), lambda said: said[0].update(page_number=True),
])
def test_what_no_step_takes_is_refused(change: Any) -> None:
    said = msgpack.unpackb(packed_arguments("job:look", [CASE, None, None]), strict_map_key=False)
    change(said)
    with pytest.raises(BadValue, match="job:look"):
        arguments_of("job:look", msgpack.packb(said), place)


def test_long_bytes_of_an_answer_go_by_their_hash() -> None:
    kept: dict[str, bytes] = {}

    def keep(data: bytes) -> str:
        kept[HASH] = data
        return HASH

    packed = packed_answer({"done": {"pdf": b"x" * 5000, "few": b"y", "list": [b"z", (1, 2.5)]}}, keep)
    assert len(packed) < 200 and kept == {HASH: b"x" * 5000}
    answer = unpacked_answer(packed, place)
    assert answer == {"done": {"pdf": Content(place(HASH), HASH), "few": b"y", "list": [b"z", [1, 2.5]]}}
    with pytest.raises(BadValue):
        unpacked_answer(msgpack.packb({"done": msgpack.ExtType(1, b"short")}), place)


def test_a_refusal_says_the_same_afterwards() -> None:
    error = BadValue("What is wrong.", "What to do.")
    answer = unpacked_answer(packed_answer(refusal(error), lambda data: HASH), place)
    with pytest.raises(BadValue) as caught:
        value_of(answer)
    assert (caught.value.message, caught.value.next_step) == (error.message, error.next_step)


def test_every_step_can_be_asked_from_elsewhere() -> None:
    """All but those that a screen asks for at once, which name files of their own machine."""
    near = {"pictures", "documents", "making"}
    for module in STEPS:
        room = module.rpartition(".")[2]
        for name in set(import_module(module).__all__) if room not in near else ():
            if not isinstance(getattr(import_module(module), name), type) and name not in ("packed", "rehearsed"):
                for of in calls._types_of(f"{room}:{name}"):
                    calls._CONVERTER.get_structure_hook(of)
                    calls._CONVERTER.get_unstructure_hook(of)
