"""The shapes that the API takes and gives; the front end's types are made of them."""

from datetime import date, datetime
from typing import Any

from ninja import Schema


class Problem(Schema):
    message: str
    code: str = ""


class Me(Schema):
    name: str


class Login(Schema):
    name: str
    password: str


class OrderShape(Schema):
    width_mm: float | None = None
    height_mm: float | None = None
    quantity: int = 1
    roles: list[str] | None = None
    edge: str = "either"
    bleed_mm: float | None = None
    border_mm: float | None = None
    tolerance_mm: float | None = None
    viewing_distance_m: float | None = None
    seen: str = "front"
    material: str | None = None
    white: bool | None = None
    holes: int | None = None


class Mend(Schema):
    kind: str
    role: str = ""
    ink: str = ""
    to: str = ""
    label: str = ""
    says: str = ""


class DecidedShape(Schema):
    verb: str
    who: str
    when: str
    reason: str


class FindingShape(Schema):
    id: str
    key: str
    subject: str = ""
    carried: bool = False
    decision: DecidedShape | None = None
    before: DecidedShape | None = None
    severity: str
    page: int | None
    message: str
    detail: str
    measured: float | None
    limit: float
    unit: str
    count: int
    where: list[list[float]]
    mends: list[Mend]


class Run(Schema):
    text: str
    kind: str


class InkShape(Schema):
    name: str
    kind: str
    role: str | None
    objects: int = 0
    wanted: str
    spelling: list[Run]


class DrawnLine(Schema):
    role: str
    ink: str = ""
    hidden: bool = False
    path: str


class LineRow(Schema):
    role: str | None
    ink: str
    layer: str | None
    contours: int
    closed_contours: int
    nodes: int
    length_mm: float


class LayerShape(Schema):
    name: str
    visible: bool
    prints: bool
    locked: bool
    role: str | None
    objects: int


class Seen(Schema):
    size_mm: list[float]
    media_box_mm: list[float]
    crop_box_mm: list[float]
    bleed_box_mm: list[float]
    trim_box_mm: list[float]
    pages: int
    inks: list[InkShape]
    lines: list[LineRow]
    drawn: list[DrawnLine]
    layers: list[LayerShape] = []
    objects_on_no_layer: int = 0
    annotations: int = 0


class PlateInk(Schema):
    name: str
    colour: str
    prints: bool
    area_cm2: float


class LoadShape(Schema):
    highest: float
    at_mm: list[float]
    limit: float
    above_cm2: float


class PlatesShape(Schema):
    sha256: str
    ppi: float
    box: list[float]
    inks: list[PlateInk]
    load: LoadShape


class ChoiceShape(Schema):
    key: str
    words: str
    said: str = ""
    sample: str = ""


class QuestionShape(Schema):
    id: str
    words: str
    choices: list[ChoiceShape] = []


class NoteShape(Schema):
    severity: str
    words: str


class IntakeShape(Schema):
    kind: str
    pages: int
    notes: list[NoteShape]
    choices: list[ChoiceShape]
    order_said: list[str]
    order_warnings: list[str]
    file_name: str


class AnswersShape(Schema):
    password: str | None = None
    pages: list[int] | None = None
    width_mm: float | None = None
    height_mm: float | None = None
    unit: str | None = None
    binding: dict[str, str] | None = None
    each_page: bool = False


class CrossingShape(Schema):
    role: str
    at_mm: float
    top_um: float
    bottom_um: float


class BandShape(Schema):
    name: str
    colour: str
    tints: list[int]


class StratumShape(Schema):
    kind: str
    thickness_um: float


class MarkShape(Schema):
    number: int
    x_mm: float
    y_mm: float
    along_x: int
    along_y: int
    arm_mm: float
    weight_mm: float


class SheetShape(Schema):
    error: str = ""
    width_mm: float = 0
    length_mm: float = 0
    columns: int = 0
    rows: int = 0
    gap_mm: float = 0
    turned: bool = False
    waste: float = 0
    side_margin_mm: float = 0
    leader_mm: float = 0
    trailer_mm: float = 0
    clip: list[float] = []
    placements: list[list[float]] = []
    marks: list[MarkShape] = []
    lines: list[DrawnLine] = []
    notes: list[str] = []
    left_out: list[str] = []


class ToolShape(Schema):
    role: str
    number: int
    force_gf: float
    speed_mm_s: float
    passes: int = 1
    cut_mm: float | None = None
    tie_mm: float | None = None


class OperationShape(Schema):
    role: str
    tool: ToolShape
    contours: int
    cut_mm: float
    travel_mm: float
    time_s: float
    mirrored: bool


class CutShape(Schema):
    operations: list[OperationShape] = []
    cut_mm: float = 0
    travel_mm: float = 0
    time_s: float = 0


class WorkShape(Schema):
    id: int
    job_id: int
    kind: str
    state: str
    share: float
    what: str
    error: str
    result: dict[str, Any] | None = None


class RevisionShape(Schema):
    id: int
    number: int
    said: str
    sha256: str
    current: bool
    proof: dict[str, Any] | None
    created: datetime


class FileShape(Schema):
    name: str
    sha256: str
    bytes: int


class PlateShape(Schema):
    ink: str
    role: str | None
    prints: bool
    coverage: float
    sha256: str


class ReleaseShape(Schema):
    id: int
    job_id: int
    job_name: str
    files: list[FileShape]
    worst_off_mm: float
    rip_state: str
    rip_refused: str
    plates: list[PlateShape]
    sheet_mm: list[float]
    created: datetime


class DecisionShape(Schema):
    who: str
    what: str
    when: datetime


class JobRow(Schema):
    id: int
    name: str
    customer: str
    due: date | None
    order: OrderShape
    material: str
    roles: list[str]
    verdict: str
    stops: int
    looks: int
    reached: int
    holds: str
    size_mm: list[float]
    has_picture: bool
    asks: int
    art_sha256: str
    media_box_mm: list[float]
    drawn: list[DrawnLine]
    work: WorkShape | None


class EdgeWanted(Schema):
    bleed: float
    border: float
    tolerance: float


class JobShape(JobRow):
    edge_wanted: EdgeWanted
    destination: str
    material_id: str
    layout: dict[str, Any]
    current: bool
    error: str
    revision: int
    questions: list[QuestionShape]
    intake: IntakeShape
    plates: PlatesShape | None
    plates_error: str
    strata: list[StratumShape]
    seen: Seen | None
    findings: list[FindingShape]
    may_waive: bool
    has_edges: bool
    check_sheet: str
    checks_run: int
    checks_carried: int
    sheet: SheetShape
    cut: CutShape
    tools: list[ToolShape]
    revisions: list[RevisionShape]
    releases: list[ReleaseShape]
    decisions: list[DecisionShape]


class JobChange(Schema):
    name: str | None = None
    customer: str | None = None
    due: date | None = None
    order: OrderShape | None = None
    destination: str | None = None
    material: str | None = None
    columns: int | None = None
    gap_mm: float | None = None
    turned: bool | None = None
    tools: list[ToolShape] | None = None


class Titled(Schema):
    id: str
    title: str


class MaterialShape(Titled):
    width_mm: float
    strata: list[StratumShape]


class DestinationShape(Titled):
    names: dict[str, str]


class Shelf(Schema):
    materials: list[MaterialShape]
    destinations: list[DestinationShape]
    tools: list[ToolShape]


class MoveShape(Schema):
    operation: int
    tool: int
    force_gf: float
    speed_mm_s: float
    start_s: float
    end_s: float
    points: list[list[float]]


class SectionShape(Schema):
    length_mm: float
    strata: list[StratumShape]
    crossings: list[CrossingShape]
    inks: list[BandShape]


class TakenIn(Schema):
    job: JobRow
    known: bool


class PlaybackShape(Schema):
    moves: list[MoveShape]
    total_s: float
    cut_mm: float
    travel_mm: float
    width_mm: float
    length_mm: float
    operations: list[dict[str, Any]]
