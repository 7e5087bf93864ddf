"""One entry for one engine or many: `judge(fleet, limits)`."""

from collections.abc import Iterable

import numpy as np
from numpy.typing import NDArray

from .baseline import NOTHING_PUBLISHED, Assessment, PeerSet, assess
from .diagnosis import (
    GLYCOL,
    Marks,
    SampleFacts,
    advice,
    combinations,
    explanations,
    hard_stops,
    lead,
    marks,
    of_expectation,
    of_readings,
    remarks,
    run_in,
    thickness,
    worth_explaining,
)
from .findings import Finding
from .input_hash import expected_bytes, input_hash, row_bytes
from .laboratory import ANALYTES
from .limits import NOTHING_CHOSEN, LimitSet, Policies
from .record import Fleet
from .terms import CHANNELS, rank
from .verdict import Verdict

# (analytes, channels) which channel each analyte speaks to
_CHANNEL_COLUMNS = np.array([[a.channel == c for c in CHANNELS] for a in ANALYTES])


def channel_levels(
    measured: NDArray[np.bool_], findings: Iterable[Finding]
) -> tuple[int | None, ...]:
    """Level per channel. None where nothing was measured that a limit could be held against."""
    raised: dict[str, int] = {}
    for f in findings:
        if f.level > raised.get(f.channel, 0):
            raised[f.channel] = int(f.level)
    return tuple(
        raised.get(c) or (0 if there else None)
        for c, there in zip(CHANNELS, measured.tolist(), strict=True)
    )


def findings_of(s: SampleFacts, known: Marks, explain: bool) -> list[Finding]:
    """Every finding of a sample, worst first, each cause once."""
    e, i = s.e, s.i
    out = [run_in(e, i, found, n) for n, found in of_readings(s) if n != GLYCOL]
    out += of_expectation(s)
    if explain:
        out += explanations(s)
    out += thickness(e, i)
    if known.combination[i]:
        out += combinations(e, i)
    out += hard_stops(e, i)
    out += remarks(e, i, int(known.reference[i]))
    return sorted(out, key=lambda f: -f.level)


def verdicts(a: Assessment, rows: Iterable[int] | None = None) -> list[Verdict]:
    """Verdicts of the chosen rows of an assessment (all by default)."""
    e, known, explain = a.e, marks(a.e), worth_explaining(a)
    prints, expected = row_bytes(e), expected_bytes(a)
    measured = ((e.level >= 0) | (a.level >= 0) | a.compared | known.by_rule) @ _CHANNEL_COLUMNS
    looked = [p.looked for p in e.contexts]
    measured[looked, rank(CHANNELS, "debris")] = True
    out = []
    for i in range(len(e.contexts)) if rows is None else rows:
        s = SampleFacts(a, i)
        findings = findings_of(s, known, bool(explain[i]))
        channels = channel_levels(measured[i], findings)
        level = max((c for c in channels if c is not None), default=None)
        advised = advice(s.context, level or 0, findings)
        out.append(
            Verdict(
                sample=s.context.sample.code,
                level=level,
                channels=channels,
                findings=tuple(findings),
                actions=advised.actions,
                may_run=advised.may_run,
                may_run_until=advised.until,
                input_hash=input_hash(a, i, prints, expected),
                policy=a.policies[i],
                # The failure mode that explains it best; none where nothing is raised.
                lead=lead(s) if level else "",
            )
        )
    return out


def judge(
    fleet: Fleet,
    limits: LimitSet,
    peers: PeerSet = NOTHING_PUBLISHED,
    policies: Policies = NOTHING_CHOSEN,
) -> list[Verdict]:
    """A verdict for every sample of the fleet.

    Pure: the same fleet, limits, peers and policies give the same verdicts, whatever the order of
    rows or engines.
    """
    return verdicts(assess(fleet, limits, peers, policies))
