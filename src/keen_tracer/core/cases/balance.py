"""The balance of a case: every explanation with what speaks for it and against it, those of people
beside those of the program, and what to find out next.

Scores are those of `causes.ranking`, in log-odds; what people bring is added to them and keeps
their name. An explanation somebody set aside stays on the list with its score, and leads no more.
"None of these" stays on it too: it starts where an unlisted fault would, and no evidence of the
table moves it, so that it leads where everything speaks against what is listed.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from ..causes import (
    NONE_OF_THESE,
    SAMPLING_FAULT,
    Check,
    Mode,
    Ranking,
    evidence_words,
    failure_modes,
)
from ..errors import NotPossible, UnknownName
from ..terms import WEIGHS

NONE = "none"
NONE_WORDS = "none of these"
LOOKED_AT = 4  # next checks, the most telling per hour first; our choice
SHOWN = 6  # explanations of the program that are shown without unfolding; our choice


@dataclass(frozen=True, slots=True)
class Own:
    """An explanation a person named that is not on the list."""

    key: str
    words: str
    by: str


@dataclass(frozen=True, slots=True)
class Said:
    """Evidence a person brought for or against an explanation [log-odds]; `key` of its entry."""

    key: str
    hypothesis: str
    words: str
    weight: float
    by: str


@dataclass(frozen=True, slots=True)
class Aside:
    """An explanation somebody set aside, and why; `key` of its entry."""

    key: str
    hypothesis: str
    why: str
    by: str


@dataclass(frozen=True, slots=True)
class Piece:
    """One piece on the balance. `origin`: who said it, "" where it stands in the table of weights;
    `key` of the entry that can be taken back."""

    words: str
    weight: float
    origin: str
    key: str = ""


@dataclass(frozen=True, slots=True)
class Unknown:
    """Evidence nobody looked for yet: the check that finds it, and what it would add to an
    explanation [log-odds] where it is found and where it is not."""

    evidence: str
    check: str
    found: float
    absent: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Explanation:
    """A row of the balance, the heaviest pieces first. `unknown`: what would move it most, of what
    the next checks can find."""

    code: str
    words: str
    score: float
    own: bool
    for_: tuple[Piece, ...]
    against: tuple[Piece, ...]
    aside: Aside | None = None
    unknown: Unknown | None = None


@dataclass(frozen=True, slots=True)
class Pull:
    """What a check does to the lead of the first explanation over the second [log-odds]: where its
    most telling piece of evidence is found, and where it is not."""

    evidence: str
    found: float
    absent: float


@dataclass(frozen=True, slots=True)
class Balance:
    """rows: explanations, the likeliest first, those set aside last · checks: what to find out
    next, each with its pull where two explanations lead."""

    rows: tuple[Explanation, ...]
    checks: tuple[tuple[Check, Pull | None], ...]


def check_said(hypothesis: str, own: Sequence[Own]) -> None:
    """Refuse an explanation nobody named. Raises UnknownName."""
    known = {m.code for m in failure_modes()} | {o.key for o in own} | {NONE}
    if hypothesis not in known - {SAMPLING_FAULT}:
        raise UnknownName("explanation", hypothesis, sorted(known))


def check_weight(weight: float | None) -> None:
    """Refuse a weight that is none of terms.WEIGHS."""
    if weight not in WEIGHS:
        raise NotPossible(f"say how it speaks: {', '.join(WEIGHS.values())}")


def weighed(ranked: Ranking, said: Sequence[Said], asides: Sequence[Aside]) -> Ranking:
    """A ranking with what people said added, and without those set aside among the leaders."""
    at = {m.code: n for n, m in enumerate(ranked.weights.modes)}
    scores, away = ranked.scores.copy(), {a.hypothesis for a in asides}
    leads = {int(n) for n in ranked.order[: ranked.leads]}
    for s in said:
        if s.hypothesis in at:
            scores[at[s.hypothesis]] += s.weight
            if s.weight > 0:
                leads.add(at[s.hypothesis])
    leads -= {at[code] for code in away if code in at}
    may_lead = np.array([n in leads for n in range(len(at))], dtype=bool)
    order = np.lexsort((-scores, ~may_lead))
    return replace(ranked, scores=scores, order=order, leads=len(leads))


def _pull(ranked: Ranking, check: Check) -> Pull | None:
    """What a check does to the first two."""
    if ranked.leads < 2:
        return None
    first, second = (ranked.weights.modes[int(n)] for n in ranked.order[:2])
    none = (0.0, 0.0)
    best: Pull | None = None
    for code in check.evidence:
        a, b = first.weights.get(code, none), second.weights.get(code, none)
        pull = Pull(code, a[0] - b[0], a[1] - b[1])
        if best is None or _apart(pull) > _apart(best):
            best = pull
    return best


def _apart(pull: Pull) -> float:
    return abs(pull.found - pull.absent)


def balance(
    ranked: Ranking,
    own: Sequence[Own] = (),
    said: Sequence[Said] = (),
    asides: Sequence[Aside] = (),
    *,
    barred: frozenset[str] = frozenset(),
    done: frozenset[str] = frozenset(),
) -> Balance:
    """The balance of a case.

    ranked : the program's explanations on the case's evidence · own, said, asides : what people
    brought, oldest first · barred : what may not be done to the engine · done : checks on record
    """
    together = weighed(ranked, said, asides)
    aside = {a.hypothesis: a for a in asides}
    pieces: dict[str, list[Piece]] = {}
    for s in said:
        pieces.setdefault(s.hypothesis, []).append(Piece(s.words, s.weight, s.by, s.key))
    rows = _of_program(together, pieces, aside)
    rows += [_of_person(o.key, o.words, pieces, aside) for o in own]
    rows.append(_of_person(NONE, NONE_WORDS, pieces, {}))
    rows.sort(key=lambda r: (r.aside is not None, -r.score))
    checks = together.checks(barred, done)[:LOOKED_AT]
    modes = {m.code: m for m in together.weights.modes}
    rows = [replace(r, unknown=_unknown(modes.get(r.code), checks)) for r in rows]
    return Balance(tuple(rows), tuple((c, _pull(together, c)) for c in checks))


def _unknown(mode: Mode | None, checks: Sequence[Check]) -> Unknown | None:
    """What would move an explanation most of what the next checks can find."""
    if mode is None:
        return None
    open_ = [
        Unknown(code, c.check, *mode.weights[code])
        for c in checks
        for code in c.evidence
        if code in mode.weights
    ]
    return max(open_, key=lambda u: abs(u.found - u.absent), default=None)


def _of_program(
    ranked: Ranking, pieces: Mapping[str, list[Piece]], aside: Mapping[str, Aside]
) -> list[Explanation]:
    """Explanations of the program that may lead, and those somebody spoke of."""
    out = []
    for place, h in enumerate(ranked.hypotheses()):
        code = h.mode.code
        if code == SAMPLING_FAULT:
            continue
        if place >= ranked.leads and code not in pieces and code not in aside:
            continue
        own = pieces.get(code, [])
        told = [
            Piece(evidence_words(e, ranked.known.get(e, True)), w, "")
            for e, w in h.for_ + h.against
        ]
        out.append(_row(code, h.mode.words, h.score, False, told + own, aside.get(code)))
    return out


def _of_person(
    key: str, words: str, pieces: Mapping[str, list[Piece]], aside: Mapping[str, Aside]
) -> Explanation:
    told = pieces.get(key, [])
    score = NONE_OF_THESE + sum(p.weight for p in told)
    return _row(key, words, score, True, told, aside.get(key))


def _row(
    code: str, words: str, score: float, own: bool, told: list[Piece], aside: Aside | None
) -> Explanation:
    ordered = sorted(told, key=lambda p: -abs(p.weight))
    return Explanation(
        code=code,
        words=words,
        score=round(float(score), 2),
        own=own,
        for_=tuple(p for p in ordered if p.weight > 0),
        against=tuple(p for p in ordered if p.weight < 0),
        aside=aside,
    )
