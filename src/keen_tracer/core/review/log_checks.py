"""What does not fit in the log of an engine, with samples or without: each becomes a query to a
person, never a silent correction.

A query names the two values that disagree. Its key changes when they do, so that an answer speaks
for what was asked.
"""

import hashlib
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field
from datetime import date
from itertools import pairwise
from typing import Any

from ..record import (
    Engine,
    Fact,
    History,
    Moment,
    TimeLine,
    build_time_line,
    contradictions,
    facts_of,
)


@dataclass(frozen=True, slots=True)
class Query:
    """One thing that does not fit.

    log : the row of the time line it is about · sample : its bottle, if it is one · numbers : the
        two values and more
    """

    code: str
    log: str
    sample: str
    on: date
    numbers: dict[str, Any] = field(default_factory=dict)

    @property
    def key(self) -> str:
        """Names the query; other values give another key."""
        said = "|".join(f"{k}={self.numbers[k]}" for k in sorted(self.numbers))
        mark = hashlib.blake2b(said.encode(), digest_size=4).hexdigest()
        return f"{self.code}:{self.sample or self.log}:{mark}"


def rounded(x: float) -> float:
    return float(f"{float(x):.4g}")


def of_meter(line: TimeLine, unit: str) -> Iterator[Query]:
    """A dial that falls without a replaced meter, and more than 24 h in a day."""
    for wrong in line.backwards:
        row = wrong.row
        yield Query(
            "meter_falls",
            row.id,
            row.sample.code if row.sample else "",
            row.on,
            {
                "dial": row.dial,
                "before": wrong.before.dial,
                "before_on": wrong.before.on.isoformat(),
            },
        )
    known: list[Moment] = [m for m in line.moments if m.total is not None]
    for a, b in pairwise(known) if unit == "h" else ():
        days = (b.row.on - a.row.on).days + 1  # both days may have been worked in full
        gone = (b.total or 0) - (a.total or 0)
        if gone > 24 * days:
            yield Query(
                "over_24_h",
                b.row.id,
                b.row.sample.code if b.row.sample else "",
                b.row.on,
                {
                    "gone": rounded(gone),
                    "days": days,
                    "dial": b.row.dial,
                    "before": a.row.dial,
                    "before_on": a.row.on.isoformat(),
                },
            )


def of_answers(line: TimeLine, facts: Sequence[Fact]) -> Iterator[Query]:
    """Two answers to one check that cannot both be right."""
    for a, b in contradictions(facts, line):
        row = b.moment.row
        yield Query(
            "answers_contradict",
            row.id,
            "",
            row.on,
            {
                "check": b.answers,
                "now": _answer(b),
                "before": _answer(a),
                "before_on": a.moment.row.on.isoformat(),
                "other": a.moment.row.id,
            },
        )


def _answer(fact: Fact) -> dict[str, str]:
    """The fact and the figures of an answer; the figures are blank where none were written."""
    told = fact.words[0]
    return {"fact": told.fact, "figures": (told.numbers or {}).get("figures", "")}


def log_queries(engine: Engine, line: TimeLine, facts: Sequence[Fact]) -> list[Query]:
    """What does not fit in the log of one engine, with samples or without."""
    return [*of_meter(line, engine.meter_unit), *of_answers(line, facts)]


def unsampled_queries(histories: Iterable[History]) -> dict[str, list[Query]]:
    """Every query of engines nobody draws samples of, by engine code."""
    out = {}
    for h in histories:
        if not any(r.sample is not None for r in h.log):
            line = build_time_line(h)
            out[h.engine.code] = log_queries(h.engine, line, facts_of(h.engine, line))
    return out
