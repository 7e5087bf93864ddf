"""What a verdict is made of (the-trade 3.12): findings as codes and numbers, channel levels,
actions.

Nothing here is a sentence; `sentences` writes those when a verdict is read.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date
from enum import IntEnum

from .findings import Finding
from .terms import MayRun, RunState

RULES_VERSION = "facts 7"

# Actions that ask for a bottle now, and all that a bottle answers.
BOTTLE_NOW = ("resample", "post_repair", "sample_and_change", "first_sample")
A_BOTTLE = (*BOTTLE_NOW, "sample_sooner")


class Level(IntEnum):
    """Verdict levels. Stored: never renumber."""

    STEADY = 0
    WATCH = 1
    ACT = 2
    STOP = 3


@dataclass(frozen=True, slots=True)
class Action:
    """What to do next, by a figure on the dial and by a day, whichever comes first; neither: at
    once, before anything turns."""

    code: str
    due_dial: float | None = None
    due_on: date | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """What the figures say of one sample. A person's decision is another record.

    channels: level per channel in the order of CHANNELS, None where not measured.
    level: the worst of them, None when nothing could be judged.
    figures: channels that the sample's own figures were judged in, whatever was seen beside it.
    readings: column → the figure as it was judged, of what is raised; other figures, another text.
    """

    sample: str
    level: int | None
    channels: tuple[int | None, ...]
    findings: tuple[Finding, ...]
    actions: tuple[Action, ...]
    may_run: MayRun
    may_run_until: float | None
    may_run_until_on: date | None = None
    input_hash: str
    policy: str
    rules: str = RULES_VERSION
    lead: str = ""
    second: str = ""
    checks: tuple[str, ...] = ()
    figures: frozenset[str] = frozenset()
    readings: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True, slots=True, kw_only=True)
class Reason:
    """One open reason for the state of an engine.

    key : names it for good, whatever else comes: what a release lifts are keys
    source : "sample", "log", "kept" for a Stop whose record was changed since it was raised,
        "agreement" where kinds of evidence agree, "denied" for a sample whose resample says less,
        "doubted" where the next one may not be what it says
    on : the day it was known
    """

    key: str
    source: str
    level: int
    channel: str
    on: date
    dial: float | None
    finding: Finding
    sample: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class RunDecision:
    """What a person decided on an engine. `lifts`: keys of the reasons it lifts; None in records of
    versions that did not name them: it lifts what was known on its day. `found`, `done`: what was
    behind a Stop that it lifts, and what was done."""

    state: RunState
    by: str
    on: date
    reason: str = ""
    until: float | None = None
    until_on: date | None = None
    lifts: frozenset[str] | None = frozenset()
    found: str = ""
    done: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class EngineState:
    """The state of one engine, from every open reason: the same in every place.

    level : the worst open reason; 0 where something was judged and nothing is open; None where
        nothing was ever judged
    may_run : of `terms.MAY_RUN`, before today's meter and day are looked at (`state_now`)
    since : since when the worst reason, or the decision, holds
    channels : level per channel in the order of CHANNELS; None not measured
    undecided : a Stop nobody has decided on
    lead, second : failure modes that explain it; checks : codes of the next best checks
    barred : what its open facts forbid, of "cranked", "running", "heat", "spark"
    cannot : why the program cannot judge the engine; the rest is then of before, and clears nothing
    awaited : the bottle on its way that was asked for; what it answers is no longer among `actions`
    """

    level: int | None
    may_run: MayRun
    since: date | None
    until: float | None
    until_on: date | None
    reasons: tuple[Reason, ...]
    channels: tuple[int | None, ...]
    actions: tuple[Action, ...]
    checks: tuple[str, ...]
    lead: str
    second: str
    decision: RunDecision | None
    undecided: bool
    barred: tuple[str, ...] = ()
    cannot: str = ""
    awaited: str = ""
