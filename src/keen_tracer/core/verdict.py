"""What a verdict is made of (the-trade 3.12): findings as codes and numbers, channel levels,
actions.

Nothing here is a sentence; `sentences` writes those when a verdict is read.
"""

from dataclasses import dataclass
from enum import IntEnum

from .findings import Finding

RULES_VERSION = "expectation 2"


class Level(IntEnum):
    """Verdict levels. Stored: never renumber."""

    STEADY = 0
    WATCH = 1
    ACT = 2
    STOP = 3


@dataclass(frozen=True, slots=True)
class Action:
    """What to do next. `due_dial` is on the engine's dial as of the sample; None: at once."""

    code: str
    due_dial: float | None = None
    within: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Verdict:
    """What the figures say of one sample. A person's decision is another record.

    channels: level per channel in the order of CHANNELS, None where not measured.
    level: the worst of them, None when nothing could be judged.
    """

    sample: str
    level: int | None
    channels: tuple[int | None, ...]
    findings: tuple[Finding, ...]
    actions: tuple[Action, ...]
    may_run: str
    may_run_until: float | None
    input_hash: str
    policy: str
    rules: str = RULES_VERSION
    lead: str = ""
