"""Answers of Inspect."""

from datetime import date
from typing import Literal
from uuid import UUID

from typing_extensions import TypedDict

from ...core.terms import LayoutKind, WorkKind, WorkState
from .levels import LevelNumber
from .standing import CheckOut


class Range(TypedDict):
    """A figure with its 95 % interval."""

    value: float
    low: float
    high: float


class RateOut(TypedDict):
    """One type: scaled to the whole, and per 100 meter units where the hours are known; `own` and
    `others` are medians of this engine's earlier looks and of its class."""

    type: str
    whole: Range
    per_100: Range | None
    own: float | None
    others: float | None
    word: str


class LookPart(TypedDict):
    """A part it can come from, and the evidence of this look that points there."""

    code: str
    words: str
    why: list[str]


class TraySays(TypedDict):
    """The verdict on the debris in a tray. `hours`: meter units in which it gathered; `keep`: some
    pieces are worth a bag."""

    hours: float | None
    rates: list[RateOut]
    parts: list[LookPart]
    checks: list[CheckOut]
    clears_iron_only: bool
    keep: bool


class LookSays(TraySays):
    """What a look comes to, with its level in sentences."""

    level: LevelNumber
    says: list[str]


class LookLine(TypedDict):
    """A look in a list; `found` in one line."""

    id: UUID
    engine: str
    engine_name: str
    on_date: date
    dial: float | None
    place: str
    tool: str
    note: str
    by: str
    pictures: int
    found: str


class CountOut(TypedDict):
    type: str
    size_class: str
    count: int
    amount: str
    mass_mg: float | None


class LineOut(TypedDict):
    """A line on a picture, in its points. A particle has its length and the half width of its 95 %
    interval [mm] once there is a scale."""

    id: UUID
    kind: Literal["scale", "particle"]
    type: str
    x1: float
    y1: float
    x2: float
    y2: float
    known_mm: float | None
    known_sd_mm: float | None
    known_from: str
    drawn_by: str
    mm: float | None
    half: float | None
    size_class: str


class PictureOut(TypedDict):
    id: UUID
    sha256: str
    caption: str
    width: int
    height: int
    lines: list[LineOut]


class OwnPicture(PictureOut):
    taken_by: str


class EarlierPicture(PictureOut):
    """A picture of another look of the engine."""

    on_date: date
    place: str


class MeasuredOut(TypedDict):
    """How many of one type and size were measured on the pictures: they count at least."""

    type: str
    size_class: str
    count: int


class PictureBeside(TypedDict):
    """One photograph of an engine, and the others to lay beside it; `words`: what it is of."""

    engine: str
    engine_name: str
    on: date
    words: str
    note: str
    picture: OwnPicture
    others: list[EarlierPicture]


class LookOut(TypedDict):
    """One look that was kept."""

    id: UUID
    engine: str
    engine_name: str
    unit: str
    on_date: date
    dial: float | None
    by: str
    place: str
    tool: str
    area_cm2: float | None
    area_total_cm2: float | None
    pleats: int | None
    pleats_total: int | None
    both_sides: bool
    drained_min: float | None
    hours: float | None
    note: str
    counts: list[CountOut]
    measured: list[MeasuredOut]
    pictures: list[OwnPicture]
    earlier: list[EarlierPicture]
    tells: LookSays


class PictureLines(TypedDict):
    lines: list[LineOut]


class LayoutOut(TypedDict):
    kind: LayoutKind
    cylinders: int


class FigureOut(TypedDict):
    """A computed figure [mm] with the half width of its 95 % interval, against the limits typed."""

    what: str
    mm: float
    half: float
    low: float | None
    high: float | None
    verdict: Literal["", "within", "outside", "at its limit"]


class PictureKey(TypedDict):
    id: UUID
    sha256: str


class FindingOut(TypedDict):
    """A finding of the opened engine, numbered in the order found; `wrong`: why its readings come
    to nothing."""

    id: str
    number: int
    on: date
    part: str
    where: str
    position: str
    side: str
    condition: str
    words: str
    grade: LevelNumber
    share_pct: str
    source: str
    note: str
    figures: list[FigureOut]
    wrong: str
    pictures: list[PictureKey]


class LinkOut(TypedDict):
    """One finding led to another; `why` in words, "" where a person drew it."""

    cause: str
    effect: str
    why: str


class WorkOut(TypedDict):
    """A piece of work as it is now; `id` is the row that the next decision replaces."""

    id: UUID
    finding: str | None
    kind: WorkKind
    words: str
    state: WorkState
    who: str
    due: date | None
    hours: float | None
    estimate: float | None
    cost: float | None
    by: str
    decided_on: date


class WorkList(TypedDict):
    """Work with its sums: first estimated, estimated now, hours to do, how many have no figure."""

    items: list[WorkOut]
    first: float
    now: float
    hours: float
    unknown: int


class AskedWork(TypedDict):
    """Work a finding asks for that nobody decided yet."""

    finding: str
    kind: WorkKind
    words: str


class OpenedOut(TypedDict):
    """An opened engine. `roots`: findings led to by none, those that explain most first."""

    engine: str
    engine_name: str
    layout: LayoutOut | None
    layout_words: str
    findings: list[FindingOut]
    links: list[LinkOut]
    cut: list[LinkOut]
    roots: list[str]
    work: WorkList
    asked: list[AskedWork]


class FiguresTried(TypedDict):
    figures: list[FigureOut]
