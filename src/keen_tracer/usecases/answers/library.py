"""Answers of the Library: limits."""

from datetime import date, datetime
from typing import Any, Literal

from typing_extensions import TypedDict

from .levels import LevelNumber


class LimitOut(TypedDict):
    scope: Literal["class", "model", "engine"]
    scope_name: str
    analyte: str
    basis: Literal["conc", "rise", "rate", "pct_fresh"]
    watch: float | None
    act: float | None
    unit: str
    origin: str
    symbol: str
    name: str


class LimitsVersion(TypedDict):
    name: str
    published_at: datetime
    published_by: str


class PeersVersion(LimitsVersion):
    """A published version of peers; `changes` is what publishing it changed."""

    changes: dict[str, Any]


class PeersWait(TypedDict):
    """A version of peers that waits for a person, since it would lower engines at Act or Stop."""

    name: str
    on: date
    eased: int


class LimitAnalyte(TypedDict):
    column: str
    name: str
    unit: str


class Limits(TypedDict):
    version: str
    versions: list[LimitsVersion]
    rows: list[LimitOut]
    scopes: dict[str, list[str]]
    analytes: list[LimitAnalyte]
    peers: list[PeersVersion]
    peers_wait: PeersWait | None
    policies: dict[str, dict[str, str]]
    policy_words: dict[str, str]
    default_policy: str
    longest_drain: float
    second_person: bool


class VerdictChange(TypedDict):
    """A verdict a draft would change; a signed one is never altered, it comes back if higher."""

    sample: str
    engine: str
    on: date
    was: LevelNumber | None
    now: LevelNumber | None
    signed: bool


class TriedOut(TypedDict):
    """What other standards would change. `eased`: engines whose newest sample stands at Act or
    Stop and would be lower."""

    engines: int
    tried: int
    samples: int
    raised: int
    lowered: int
    eased: int
    changes: list[VerdictChange]


class PeersOut(TriedOut):
    name: str


class AverageRow(TypedDict):
    """A laboratory's average for a model, with who put it on record."""

    laboratory: str
    model: str
    analyte: str
    average: float
    at_meter: float | None
    origin: str
    said_by: str
    said_at: datetime
