"""Which part? Transparent scoring of failure modes: a prior, and a log-odds weight per piece of
evidence (the-trade 3.13).

The score orders; it is not a probability, and is never called one. Evidence nobody has counts
nothing and is listed as a check, ranked by how far it would pull the leading modes apart per hour
it costs.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cache

import numpy as np

from .. import tables
from ..errors import CoreError
from ..record import Engine

LEADING = 4  # modes a next check is to tell apart; our choice
MOST = 10.0  # log-odds: beyond that one piece of evidence would silence all others; our choice


@dataclass(frozen=True, slots=True)
class Evidence:
    """A piece of evidence. `check` says how to find out and takes `hours`; empty: it comes with the
    sample."""

    code: str
    kind: str
    words: str
    check: str
    hours: float


@dataclass(frozen=True, slots=True)
class Mode:
    """A failure mode. `weights`: evidence → (added when seen, added when known to be absent)."""

    code: str
    channel: str
    words: str
    prior: float
    where: frozenset[str]
    weights: Mapping[str, tuple[float, float]]


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """A mode on one sample's evidence; `for_` and `against` are (evidence, weight), largest
    first."""

    mode: Mode
    score: float
    for_: tuple[tuple[str, float], ...]
    against: tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class Check:
    """What to find out next. `pulls`: log-odds by which it would separate the leading modes,
    `per_hour` it costs."""

    check: str
    evidence: tuple[str, ...]
    hours: float
    pulls: float
    per_hour: float


@cache
def evidence_table() -> dict[str, Evidence]:
    """Every piece of evidence. Source: `tables/evidence.csv`."""
    return {
        r["evidence"]: Evidence(
            r["evidence"], r["kind"], r["words"], r["check"], float(r["hours"] or 0)
        )
        for r in tables.read("evidence")
    }


def _pair(text: str) -> tuple[float, float]:
    seen, absent = text.split("/")
    return float(seen), float(absent)


@cache
def failure_modes() -> tuple[Mode, ...]:
    """Every failure mode. Source: `tables/failure_modes.csv`."""
    out = []
    for r in tables.read("failure_modes"):
        weights = {
            name: _pair(pair) for name, pair in (x.split("=") for x in r["weights"].split(";"))
        }
        out.append(
            Mode(
                r["mode"],
                r["channel"],
                r["words"],
                float(r["prior"]),
                frozenset(r["where"].split("|")) - {""},
                weights,
            )
        )
    return tuple(out)


class BadWeight(CoreError):
    """A weight that cannot be meant."""

    code = "bad_weight"


@dataclass(frozen=True, slots=True)
class WeightRow:
    """One published weight. evidence "prior": `seen` is the mode's prior, `absent` 0."""

    mode: str
    evidence: str
    seen: float
    absent: float
    origin: str

    @property
    def key(self) -> tuple[str, str]:
        return self.mode, self.evidence


def with_weights(rows: Iterable[WeightRow]) -> tuple[Mode, ...]:
    """The shipped modes with published weights in their place. Raises BadWeight for a row that
    means nothing.

    >>> changed = with_weights([WeightRow("piston", "prior", -9.0, 0.0, "ours")])
    >>> next(m.prior for m in changed if m.code == "piston")
    -9.0
    """
    out = {m.code: m for m in failure_modes()}
    for r in rows:
        if r.mode not in out:
            raise BadWeight(f"there is no failure mode {r.mode!r}")
        if r.evidence != "prior" and r.evidence not in evidence_table():
            raise BadWeight(f"there is no evidence {r.evidence!r}")
        if not (abs(r.seen) <= MOST and abs(r.absent) <= MOST):
            raise BadWeight(f"a weight lies between -{MOST:g} and {MOST:g}")
        m = out[r.mode]
        out[r.mode] = (
            replace(m, prior=r.seen)
            if r.evidence == "prior"
            else replace(m, weights={**m.weights, r.evidence: (r.seen, r.absent)})
        )
    return tuple(out.values())


def possible(engine: Engine, bearings: str, every: tuple[Mode, ...] | None = None) -> list[Mode]:
    """The modes an engine can have, by its class, fuel, features and bearings.

    >>> found = {m.code for m in possible(Engine("E", "heavy_diesel"), "leaded")}
    >>> found & {"clutch_lining", "liner_seal"}
    {'liner_seal'}
    """
    has = {engine.engine_class, engine.fuel, bearings} | engine.features
    return [
        m for m in (failure_modes() if every is None else every) if not m.where or m.where & has
    ]


def _total(mode: Mode, known: Mapping[str, bool]) -> float:
    """Prior and the weights of what is known."""
    return mode.prior + sum(
        w[0 if known[code] else 1] for code, w in mode.weights.items() if code in known
    )


def best(
    engine: Engine, bearings: str, known: Mapping[str, bool], every: tuple[Mode, ...] | None = None
) -> Mode:
    """The first of `hypotheses`, without what speaks for and against the others.

    >>> known = {"Pb": True, "Cu": True, "Sn": True, "Si": False}
    >>> best(Engine("E", "heavy_diesel"), "leaded", known).code
    'main_rod_bearing'
    """
    return min(possible(engine, bearings, every), key=lambda m: (-_total(m, known), m.code))


def _score(mode: Mode, known: Mapping[str, bool]) -> Hypothesis:
    told = sorted(
        (
            (code, mode.weights[code][0 if seen else 1])
            for code, seen in known.items()
            if code in mode.weights
        ),
        key=lambda x: -abs(x[1]),
    )
    return Hypothesis(
        mode,
        _total(mode, known),
        tuple(x for x in told if x[1] > 0),
        tuple(x for x in told if x[1] < 0),
    )


def hypotheses(
    engine: Engine, bearings: str, known: Mapping[str, bool], every: tuple[Mode, ...] | None = None
) -> list[Hypothesis]:
    """The modes by their score on what is known: evidence → seen (True) or known to be absent
    (False).

    every : the modes with their weights; those that ship with the program by default

    >>> known = {"Pb": True, "Cu": True, "Sn": True, "Si": False}
    >>> found = hypotheses(Engine("E", "heavy_diesel"), "leaded", known)
    >>> found[0].mode.code
    'main_rod_bearing'
    """
    scored = [_score(m, known) for m in possible(engine, bearings, every)]
    return sorted(scored, key=lambda h: (-h.score, h.mode.code))


def next_checks(found: list[Hypothesis], known: Mapping[str, bool]) -> list[Check]:
    """Checks that would tell the leading modes apart, best per hour first.

    Pull of one piece of evidence: Σ p·|w - w̄| over the leading modes, p their share by score. What
    one look answers (all kinds of debris in a filter) is one check with its pulls added.
    """
    leading = found[:LEADING]
    if len(leading) < 2:
        return []
    share = np.exp([h.score - leading[0].score for h in leading])
    share /= share.sum()
    by_check: dict[str, list[tuple[str, float]]] = {}
    for code, e in evidence_table().items():
        if code in known or not e.check:
            continue
        weight = np.array([h.mode.weights.get(code, (0.0, 0.0))[0] for h in leading])
        pull = float(share @ np.abs(weight - share @ weight))
        if pull > 0.05:
            by_check.setdefault(e.check, []).append((code, pull))
    out = []
    for check, parts in by_check.items():
        hours, pulls = evidence_table()[parts[0][0]].hours, sum(p for _, p in parts)
        out.append(
            Check(
                check, tuple(c for c, _ in parts), hours, round(pulls, 3), round(pulls / hours, 3)
            )
        )
    return sorted(out, key=lambda c: (-c.per_hour, c.check))
