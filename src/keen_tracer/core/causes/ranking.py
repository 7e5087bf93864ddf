"""Which part? Transparent scoring of failure modes: a prior, and a log-odds weight per piece of
evidence (the-trade 3.13).

The score orders; it is not a probability, and is never called one. Evidence nobody has counts
nothing and is listed as a check, ranked by what its answer is expected to tell of the leading modes
per hour it costs. No mode leads without a piece of its own that was seen; a sampling fault stands
beside the list and never leads.
"""

from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from ..record import FOUND, FOUND_WATCH, LED_TO, RENEWED, Engine, Floats, check_kinds, parts
from .failure_modes import EARLIER, Mode, evidence_table, failure_modes, possible

LEADING = 4  # modes a next check is to tell apart; our choice
TELLS = 0.02  # bits below which a check tells nothing apart; our choice
WAY = 0.3  # hours to get to the engine and lay out the tools, beside those of a check; our choice
WORTH = 0.1  # of what the best check tells per hour, below which one is not named; our choice
WAITING = 0.1  # of an hour's work that an hour of waiting for the answer counts; our choice
# How often a piece of evidence is seen under a mode that does not speak of it; our choice.
ELSEWHERE = 0.1
NONE_OF_THESE = -0.7  # log-odds of a mode nobody listed, beside the best; our choice
LEAST = 0.1  # log-odds a weight of 0 is taken as on its other side, so that a chance follows
# A part found bad in the opened engine, at Act and more, at Watch, and where another finding led to
# it [log-odds]; our choice.
BY_EYE = {FOUND: 5.0, FOUND_WATCH: 1.5, LED_TO: 1.0}
# A part that was worked on while the trouble goes on [log-odds]: shared among the parts of its
# mode, and half of it where an engine has several of the part; our choice.
GOES_ON = -3.0
# A mode that was found at another engine of the same model [log-odds]: it is twice as likely here;
# our choice.
AT_ANOTHER = 0.7
SAMPLING_FAULT = "sampling_fault"


@dataclass(frozen=True, slots=True)
class Hypothesis:
    """A mode on the evidence there is; `for_` and `against` are (evidence, weight), largest
    first."""

    mode: Mode
    score: float
    for_: tuple[tuple[str, float], ...]
    against: tuple[tuple[str, float], ...]


@dataclass(frozen=True, slots=True)
class Check:
    """What to find out next. `bits` its answer is expected to tell of which mode it is, and those
    `per_hour` it costs."""

    check: str
    evidence: tuple[str, ...]
    hours: float
    bits: float
    per_hour: float


def chance(seen: Floats, absent: Floats) -> Floats:
    """How often a piece of evidence is seen where its mode is at work, from its two weights.

    The weights are logs of likelihood ratios: seen s = ln(p1/p0), absent a = ln((1-p1)/(1-p0)), so
    p0 = (1 - e^a)/(e^s - e^a) and p1 = e^s·p0. Weights of 0 and 0 say nothing of it.

    >>> import numpy as np
    >>> chance(np.array([1.4, 0.0]), np.array([-1.2, 0.0])).round(2).tolist()
    [0.75, 0.1]
    """
    speaks = (seen != 0) | (absent != 0)
    sign = np.where(seen - absent >= 0, 1.0, -1.0)
    s = np.where(sign * seen < LEAST, sign * LEAST, seen)
    a = np.where(-sign * absent < LEAST, -sign * LEAST, absent)
    p0 = (1 - np.exp(a)) / (np.exp(s) - np.exp(a))
    return np.where(speaks, np.clip(np.exp(s) * p0, 0.01, 0.99), ELSEWHERE)


def _entropy(p: Floats) -> Floats:
    """Of a yes or no [bits]."""
    return -(p * np.log2(p) + (1 - p) * np.log2(1 - p))


@dataclass(frozen=True, slots=True)
class Weights:
    """The weights of some modes as arrays: `seen` and `absent` are (modes, evidence)."""

    modes: tuple[Mode, ...]
    prior: Floats
    seen: Floats
    absent: Floats
    chance: Floats
    may_lead: NDArray[np.bool_]


_CONTEXT = [e.kind == "history" for e in evidence_table().values()]
_CODES = {code: n for n, code in enumerate(evidence_table())}


def _weights(modes: tuple[Mode, ...]) -> Weights:
    seen, absent = np.zeros((2, len(modes), len(_CODES)))
    for m, mode in enumerate(modes):
        for code, (if_seen, if_absent) in mode.weights.items():
            seen[m, _CODES[code]], absent[m, _CODES[code]] = if_seen, if_absent
    return Weights(
        modes,
        np.array([m.prior for m in modes]),
        seen,
        absent,
        chance(seen, absent),
        np.array([m.code != SAMPLING_FAULT for m in modes]),
    )


@dataclass(eq=False)
class Causes:
    """The modes there are, ready to be held against evidence: one for each version of weights."""

    modes: tuple[Mode, ...] = field(default_factory=failure_modes)
    _possible: dict[tuple[object, ...], Weights] = field(default_factory=dict)

    def of(self, engine: Engine, bearings: str) -> Weights:
        """The weights of the modes an engine can have; made once for engines alike."""
        key = (engine.engine_class, engine.fuel, engine.features, bearings)
        found = self._possible.get(key)
        if found is None:
            found = _weights(tuple(sorted(possible(engine, bearings, self.modes), key=_by_code)))
            self._possible[key] = found
        return found


def _by_code(mode: Mode) -> str:
    return mode.code


@lru_cache(maxsize=1)
def shipped() -> Causes:
    """The modes with the weights that ship with the program."""
    return Causes()


@dataclass(frozen=True, slots=True)
class Ranking:
    """The modes an engine can have, best first, on what is known.

    known : evidence → seen, or known to be absent · scores : (modes,) · order : their places, those
        that may lead first
    leads : how many of them have a seen piece of their own
    """

    engine: Engine
    weights: Weights
    known: Mapping[str, bool]
    scores: Floats
    order: NDArray[np.intp]
    leads: int

    def lead(self, place: int = 0) -> str:
        """The mode that explains it best (0), or second best (1); "" where none may lead."""
        return self.weights.modes[self.order[place]].code if place < self.leads else ""

    def hypotheses(self) -> list[Hypothesis]:
        """Every mode with what speaks for and against it, best first."""
        return [self._hypothesis(int(m)) for m in self.order]

    def _hypothesis(self, m: int) -> Hypothesis:
        mode = self.weights.modes[m]
        weighed = [
            (code, mode.weights[code][0 if seen else 1])
            for code, seen in self.known.items()
            if code in mode.weights
        ]
        weighed += _by_part(self.known).get(mode.code, [])
        if mode.code in self.engine.earlier:
            weighed.append((EARLIER, AT_ANOTHER))
        told = sorted(weighed, key=lambda x: -abs(x[1]))
        return Hypothesis(
            mode,
            float(self.scores[m]),
            tuple(x for x in told if x[1] > 0),
            tuple(x for x in told if x[1] < 0),
        )

    def checks(
        self, barred: frozenset[str] = frozenset(), done: frozenset[str] = frozenset()
    ) -> list[Check]:
        """Checks that would tell the leading modes apart, best per hour first.

        What one piece of evidence tells is its mutual information with the mode: H(Σ q·p) - Σ
        q·H(p), q the shares of the leading modes by score and of "none of these", p how often each
        shows it. What one look answers (all kinds of debris in a filter) is one check with its bits
        added.

        An hour of waiting for an answer counts WAITING of an hour's work.

        barred : what may not be done to the engine (`handling.barred_now`) · done : checks on
            record that are not asked again
        """
        leading = self.order[:LEADING]
        if not self.leads:
            return []
        score = self.scores[leading]
        share = np.exp(np.append(score, score.max() + NONE_OF_THESE) - score.max())
        share /= share.sum()
        none = np.full((1, len(_CODES)), ELSEWHERE)
        p = np.concatenate([self.weights.chance[leading], none])
        bits = _entropy(share @ p) - share @ _entropy(p)
        kinds, by_check = check_kinds(), dict[str, list[tuple[str, float]]]()
        for code, e in evidence_table().items():
            tells = float(bits[_CODES[code]])
            if not e.check or code in self.known or e.check in done or tells <= TELLS:
                continue
            if kinds[e.check].fits(self.engine, barred):
                by_check.setdefault(e.check, []).append((code, tells))
        out = []
        for check, pieces in by_check.items():
            kind, together = kinds[check], sum(p for _, p in pieces)
            codes = tuple(c for c, _ in pieces)
            takes = kind.hours + WAY + WAITING * kind.wait
            out.append(
                Check(check, codes, kind.hours, round(together, 3), round(together / takes, 3))
            )
        best = max((c.per_hour for c in out), default=0.0)
        worth = [c for c in out if c.per_hour >= WORTH * best]
        return sorted(worth, key=lambda c: (-c.per_hour, c.check))


@lru_cache(maxsize=1)
def _goes_on() -> dict[str, tuple[str, float]]:
    """Evidence that a part was worked on and the trouble went on → the mode it speaks against, and
    by how much."""
    count = Counter(p.mode for p in parts().values())
    return {
        RENEWED + p.code: (p.mode, GOES_ON / count[p.mode] / (1 if p.many == "one" else 2))
        for p in parts().values()
        if p.mode
    }


def _by_part(known: Mapping[str, bool]) -> dict[str, list[tuple[str, float]]]:
    """Failure mode → (evidence, weight) of its parts: found bad by eye, which decides over what was
    inferred, or worked on to no avail."""
    out: dict[str, list[tuple[str, float]]] = {}
    for code, is_seen in known.items():
        head, mark, mode = code.partition(":")
        if not (mark and is_seen):
            continue
        weight = BY_EYE.get(head + mark)
        if weight is None:
            mode, weight = _goes_on().get(code, ("", 0.0))
        out.setdefault(mode, []).append((code, weight))
    return out


def ranking(
    engine: Engine, bearings: str, known: Mapping[str, bool], causes: Causes | None = None
) -> Ranking:
    """The modes an engine can have by their score on what is known.

    known : evidence → seen (True) or known to be absent (False) · causes : modes with their
        weights; those that ship with the program by default

    >>> known = {"Pb": True, "Cu": True, "Sn": True, "Si": False}
    >>> ranking(Engine("E", "heavy_diesel"), "leaded", known).lead()
    'main_rod_bearing'
    """
    w = (causes or shipped()).of(engine, bearings)
    # Evidence that no mode weighs (an analyte of one's own) counts nothing.
    seen = [_CODES[c] for c, is_seen in known.items() if is_seen and c in _CODES]
    absent = [_CODES[c] for c, is_seen in known.items() if not is_seen and c in _CODES]
    scores = w.prior + w.seen[:, seen].sum(axis=1) + w.absent[:, absent].sum(axis=1)
    # How an engine lives is no trouble: it weighs, and makes nothing lead by itself.
    trouble = [n for n in seen if not _CONTEXT[n]]
    of_parts = _by_part(known)
    by_part = np.array([sum(x for _, x in of_parts.get(m.code, ())) for m in w.modes])
    of_model = np.array([AT_ANOTHER * (m.code in engine.earlier) for m in w.modes])
    scores = scores + by_part + of_model
    may_lead = w.may_lead & ((w.seen[:, trouble] > 0).any(axis=1) | (by_part > 0))
    # The modes stand in the order of their codes, so that equal scores fall the same way.
    order = np.lexsort((-scores, ~may_lead))
    return Ranking(engine, w, known, scores, order, int(may_lead.sum()))
