"""What goes over the wire of Inspect."""

from datetime import date
from typing import Annotated, Literal
from uuid import UUID

from pydantic import BaseModel, Field

from ..core.terms import LayoutKind, WorkKind, WorkState
from .fields import (
    Count,
    Day,
    HoursDown,
    KnownMm,
    KnownSdMm,
    Mass,
    Meter,
    Minutes,
    Money,
    Point,
    Said,
    Surface,
    Text,
    Word,
)
from .models import CheckOut, LevelNumber


class NewCount(BaseModel):
    """What was found of one type and size; `amount` where nobody could count."""

    type: Word
    size_class: Word = ""
    count: Count = 0
    amount: Literal["", "dusting", "covers"] = ""
    mass_mg: Mass | None = None


class NewLook(BaseModel):
    """A look at filter, plug, pan, strainer or cooler; nothing counted means nothing was there.
    `seen` of `whole` pleats or cm², as the place has them."""

    id: UUID
    on: Day
    dial: Meter | None = None
    place: Word
    tool: Word = ""
    seen: Surface | None = None
    whole: Surface | None = None
    both_sides: bool = True
    drained_min: Minutes | None = None
    hours: Meter | None = None
    counts: list[NewCount] = Field(default=[], max_length=80)
    note: Text = ""


class Range(BaseModel):
    """A figure with its 95 % interval."""

    value: float
    low: float
    high: float


class RateOut(BaseModel):
    """One type: scaled to the whole, and per 100 meter units where the hours are known; `own` and
    `others` are medians of this engine's earlier looks and of its class."""

    type: str
    whole: Range
    per_100: Range | None
    own: float | None
    others: float | None
    word: str


class LookPart(BaseModel):
    """A part it can come from, and the evidence of this look that points there."""

    code: str
    words: str
    why: list[str]


class LookSays(BaseModel):
    """What a look comes to. `hours`: meter units it speaks for; `keep`: there are pieces worth a
    bag."""

    level: LevelNumber
    says: list[str]
    hours: float | None
    rates: list[RateOut]
    parts: list[LookPart]
    checks: list[CheckOut]
    clears_iron_only: bool
    keep: bool


class LookLine(BaseModel):
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


class CountOut(BaseModel):
    type: str
    size_class: str
    count: int
    amount: str
    mass_mg: float | None


class LineOut(BaseModel):
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


class PictureOut(BaseModel):
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


class MeasuredOut(BaseModel):
    """How many of one type and size were measured on the pictures: they count at least."""

    type: str
    size_class: str
    count: int


class PictureBeside(BaseModel):
    """One photograph of an engine, and the others to lay beside it; `words`: what it is of."""

    engine: str
    engine_name: str
    on: date
    words: str
    note: str
    picture: OwnPicture
    others: list[EarlierPicture]


class LookOut(BaseModel):
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


class NewLine(BaseModel):
    """A line drawn on a picture. `withdraws` takes an earlier one back."""

    id: UUID
    kind: Literal["scale", "particle", "withdraw"]
    type: Word = ""
    x1: Point | None = None
    y1: Point | None = None
    x2: Point | None = None
    y2: Point | None = None
    known_mm: KnownMm | None = None
    known_sd_mm: KnownSdMm | None = None
    known_from: Word = ""
    withdraws: UUID | None = None


class PictureLines(BaseModel):
    lines: list[LineOut]


class LayoutOut(BaseModel):
    kind: LayoutKind
    cylinders: int


class FigureOut(BaseModel):
    """A computed figure [mm] with the half width of its 95 % interval, against the limits typed."""

    what: str
    mm: float
    half: float
    low: float | None
    high: float | None
    verdict: Literal["", "within", "outside", "at its limit"]


class PictureKey(BaseModel):
    id: UUID
    sha256: str


class FindingOut(BaseModel):
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


class LinkOut(BaseModel):
    """One finding led to another; `why` in words, "" where a person drew it."""

    cause: str
    effect: str
    why: str


class WorkOut(BaseModel):
    """A piece of work as it stands; `id` is the row a decision of it replaces."""

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


class WorkList(BaseModel):
    """Work with its sums: first estimated, as it stands, hours to do, how many have no figure."""

    items: list[WorkOut]
    first: float
    now: float
    hours: float
    unknown: int


class AskedWork(BaseModel):
    """Work a finding asks for that nobody decided yet."""

    finding: str
    kind: WorkKind
    words: str


class NewRow(BaseModel):
    """The identity of a row to be written, made by the client."""

    id: UUID


class NewWork(BaseModel):
    """A piece of work as it is decided. `replaces`: the row seen standing, None for a new one."""

    id: UUID
    kind: WorkKind
    words: Annotated[Text, Field(min_length=1)]
    state: WorkState
    who: Word = ""
    due: Day | None = None
    hours: HoursDown | None = None
    estimate: Money | None = None
    cost: Money | None = None
    replaces: UUID | None = None
    finding: UUID | None = None
    case: UUID | None = None


class OpenedOut(BaseModel):
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


class NewLink(BaseModel):
    """A link kept or drawn (`keep`), or cut; kept one way it is cut the other way round."""

    id: UUID
    cause: UUID
    effect: UUID
    keep: bool


class TriedFinding(BaseModel):
    """Readings as they would be written down."""

    part: Word
    details: dict[Word, Said] = Field(default={}, max_length=40)


class FiguresTried(BaseModel):
    figures: list[FigureOut]
