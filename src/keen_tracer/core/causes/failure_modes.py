"""The failure modes and the evidence that speaks for and against them, as tables with published
weights in their place (the-trade 3.13)."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from functools import cache

from .. import tables
from ..errors import CoreError
from ..record import FOUND, FOUND_WATCH, LED_TO, RENEWED, Engine

MOST = 10.0  # log-odds: beyond that one piece of evidence would silence all others; our choice


@dataclass(frozen=True, slots=True)
class Evidence:
    """A piece of evidence. `check` says how to find out, of `record.check_kinds`; empty: it comes
    by itself."""

    code: str
    kind: str
    words: str
    check: str


@dataclass(frozen=True, slots=True)
class Mode:
    """A failure mode. `weights`: evidence → (added when seen, added when known to be absent).

    where, not_where : classes, fuels, features and bearings it needs, and that cannot have it
    """

    code: str
    channel: str
    words: str
    prior: float
    where: frozenset[str]
    not_where: frozenset[str]
    weights: Mapping[str, tuple[float, float]]


@cache
def evidence_table() -> dict[str, Evidence]:
    """Every piece of evidence. Source: `tables/evidence.csv`."""
    return {
        r["evidence"]: Evidence(r["evidence"], r["kind"], r["words"], r["check"])
        for r in tables.read("evidence")
    }


# A failure mode was found at another engine of the model.
EARLIER = "earlier"


def evidence_words(code: str, seen: bool = True) -> str:
    """A piece of evidence in words, as it is known: seen, or known to be absent. One of the opened
    engine is found by eye.

    >>> evidence_words("Pb"), evidence_words("Pb", False), evidence_words("found:piston")
    ('lead up', 'lead as usual', 'found in the opened engine')
    """
    known = evidence_table().get(code)
    if known is not None:
        if seen:
            return known.words
        up = known.words.removesuffix(" up")
        return f"{up} as usual" if up != known.words else f"not found: {known.words}"
    if code == EARLIER:
        return "found at another engine of this model"
    if code.startswith(RENEWED):
        return "it was worked on before, and the trouble went on"
    if code.startswith(LED_TO):
        return "found in the opened engine, led to by another finding"
    return "found in the opened engine" if code.startswith((FOUND, FOUND_WATCH)) else code


def _traits(cell: str) -> frozenset[str]:
    return frozenset(cell.split("|")) - {""}


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
                _traits(r["where"]),
                _traits(r["not_where"]),
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
    has = engine.traits | {bearings}
    return [
        m
        for m in (failure_modes() if every is None else every)
        if (not m.where or m.where & has) and not m.not_where & has
    ]
