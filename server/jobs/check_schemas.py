"""The shapes of what the check gives beside a job: edge map, landing, letter, check sheets."""

from datetime import datetime

from ninja import Schema


class Settle(Schema):
    key: str
    reason: str


class Keys(Schema):
    keys: list[str]


class LetterShape(Schema):
    text: str


class EdgeProfileShape(Schema):
    hole: bool
    length_mm: float
    points: list[int]
    normals: list[int]
    coloured: list[int]
    outside: list[int]
    inside: list[int]
    beyond: list[int]
    weight: list[int]
    kinds: list[int]
    worst: int


class EdgeShare(Schema):
    kind: str
    mm: float
    share: float


class EdgeLimitsShape(Schema):
    bleed: float
    border: float
    tolerance: float


class EdgesShape(Schema):
    reach_mm: float
    limits: EdgeLimitsShape
    stands_mm: float | None
    layers: dict[str, list[EdgeProfileShape]]
    shares: dict[str, list[EdgeShare]]


class SliverShape(Schema):
    kind: str
    area_mm2: float
    widest_mm: float
    outline: list[list[float]]


class LandingShape(Schema):
    area_mm2: float
    widest_mm: float
    count: int
    by_kind: dict[str, float]
    slivers: list[SliverShape]
    stands_mm: float | None


class LimitShape(Schema):
    key: str
    value: float
    unit: str
    name: str


class CheckShape(Schema):
    id: str
    title: str
    severity: str
    limits: list[LimitShape]


class VersionShape(Schema):
    number: int
    who: str
    when: datetime
    note: str
    limits: dict[str, float]
    severities: dict[str, str]


class CheckSheetShape(Schema):
    scope: str
    subject: str
    title: str
    versions: list[VersionShape]


class CheckSheets(Schema):
    checks: list[CheckShape]
    sheets: list[CheckSheetShape]


class Draft(Schema):
    scope: str
    subject: str = ""
    limits: dict[str, float] = {}
    severities: dict[str, str] = {}
    note: str = ""
    job: int | None = None
