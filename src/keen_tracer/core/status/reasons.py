"""The open reasons for the state of an engine.

A Stop is open until a signed decision names it; what is milder is over when a newer answer to the
same question says so.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date

from ..diagnosis import of_fact
from ..findings import Finding, payloads, trouble
from ..record import Fact, Moment, TimeLine
from ..terms import CHANNELS
from ..verdict import Level, Reason, RunDecision, Verdict
from .agreement import agreements
from .composite import is_composite, is_within
from .in_pieces import in_pieces
from .keys import fact_key, older_keys, sample_key


@dataclass(frozen=True, slots=True, kw_only=True)
class SignOff:
    """What a person signed of a sample."""

    level: int
    by: str
    reason: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class OnRecord:
    """What is on record of one engine beside its log.

    signed : sample → sign-off in force · decisions : run decisions in their order
    kept : Stops raised before · unsettled : samples of which it is asked what they are
    """

    signed: Mapping[str, SignOff] = field(default_factory=dict)
    decisions: Sequence[RunDecision] = ()
    kept: Sequence[Reason] = ()
    unsettled: frozenset[str] = frozenset()


def reasons_of_facts(facts: Sequence[Fact]) -> list[Reason]:
    """What rows of the log say, each a reason by itself."""
    return [
        Reason(
            key=fact_key(fact.moment, f),
            source="log",
            level=int(f.level),
            channel=f.channel,
            on=fact.moment.row.on,
            dial=fact.moment.row.dial,
            finding=f,
        )
        for fact in facts
        for f in of_fact(fact)
    ]


def _of_facts(facts: Sequence[Fact], life: int) -> list[Reason]:
    """The same of what is not over; nothing ends a Stop but a signed release."""
    out = []
    for fact in facts:
        over = fact.answered or fact.moment.life < life
        out += [r for r in reasons_of_facts([fact]) if r.level >= Level.STOP or not over]
    return out


def _own(verdict: Verdict) -> list[Finding]:
    """What a verdict says of the sample itself; rows of the log are reasons of their own."""
    return [f for f in verdict.findings if f.level and not getattr(f.numbers, "logged", False)]


def _of_sample(
    verdict: Verdict, moment: Moment, finding: Finding, level: int, known_on: date
) -> Reason:
    return Reason(
        key=sample_key(verdict, finding),
        source="sample",
        level=level,
        channel=finding.channel,
        on=known_on,
        dial=moment.row.dial,
        finding=finding if finding.level == level else replace(finding, level=level),
        sample=verdict.sample,
    )


def known_on(moment: Moment) -> date:
    """The day on which what a moment says was known."""
    analysed = moment.row.sample.analysed_on if moment.row.sample else None
    return max(moment.row.on, analysed or moment.row.on)


def _speaking(
    judged: Sequence[tuple[Verdict, Moment]], life: int, channel: int
) -> list[tuple[Verdict, Moment]]:
    """The samples of this life that say something of a channel, newest first."""
    return [
        (v, m)
        for v, m in reversed(judged)
        if m.life == life and v.channels[channel] is not None and _speaks(v, channel)
    ]


def _speaks(verdict: Verdict, channel: int) -> bool:
    """Whether the sample itself says something of a channel, not only the log beside it."""
    name = list(CHANNELS)[channel]
    return name in verdict.figures or any(f.channel == name for f in _own(verdict))


def _of_samples(
    judged: Sequence[tuple[Verdict, Moment]],
    record: OnRecord,
    line: TimeLine,
    life: int,
) -> list[Reason]:
    """Stops of every sample; what is milder from the newest sample that measured its channel, and
    from the one before it where the newest denies it or may not be what it says."""
    signed = record.signed
    out = [
        _of_sample(v, m, f, int(Level.STOP), known_on(m))
        for v, m in judged
        for f in _own(v)
        if f.level >= Level.STOP
    ]
    places = {m.row.id: n for n, m in enumerate(line.moments)}
    changed = max((places[m.row.id] for m in line.moments if m.row.kind == "oil_change"), default=0)
    for n, name in enumerate(CHANNELS):
        speaking = _speaking(judged, life, n)
        for k, (v, m) in enumerate(speaking[:2]):
            doubted = speaking[0][0].sample in record.unsettled
            if k and not (doubted or _denies(speaking, n, signed)):
                break
            sign = signed.get(v.sample)
            fresh = changed > places[m.row.id] or _drained(m)
            for f in _own(v):
                if f.channel != name or f.level >= Level.STOP or (fresh and trouble(f) == "oil"):
                    continue
                level = int(f.level) if sign is None else min(int(f.level), sign.level)
                if level:
                    said = _of_sample(v, m, _at(f, level), level, known_on(m))
                    out.append(
                        replace(said, source="doubted" if doubted else "denied") if k else said
                    )
    return out + _signed_higher(judged, signed, life)


def _denies(
    speaking: Sequence[tuple[Verdict, Moment]], channel: int, signed: Mapping[str, SignOff]
) -> bool:
    """Whether the newest sample is a resample that says less than the one before it, in the same
    oil, and nobody has signed it: the higher one holds until a third settles it."""
    (v, m), (before, then) = speaking[:2]
    assert m.row.sample is not None
    asked = m.row.sample.purpose == "resample" and m.charge == then.charge
    lower = (v.channels[channel] or 0) < (before.channels[channel] or 0)
    return asked and lower and v.sample not in signed


def _at(finding: Finding, level: int) -> Finding:
    """A finding as a person left it: one whose kind knows no such level keeps its own."""
    try:
        return replace(finding, level=level)
    except ValueError:
        return finding


def _drained(moment: Moment) -> bool:
    return bool(moment.row.sample and moment.row.sample.drained_after)


def _signed_higher(
    judged: Sequence[tuple[Verdict, Moment]], signed: Mapping[str, SignOff], life: int
) -> list[Reason]:
    """What a person signed above the program's level, of the newest sample."""
    newest = next(((v, m) for v, m in reversed(judged) if m.life == life), None)
    sign = signed.get(newest[0].sample) if newest else None
    if newest is None or sign is None or sign.level <= (newest[0].level or 0):
        return []
    v, m = newest
    worst = max((f for f in v.findings if f.level), key=lambda f: f.level, default=None)
    f = Finding(
        code="signed",
        channel=worst.channel if worst else "wear",
        level=sign.level,
        numbers=payloads.Signed(by=sign.by, reason=sign.reason),
    )
    return [_of_sample(v, m, f, sign.level, known_on(m))]


def names(decision: RunDecision, reason: Reason) -> bool:
    """Whether a decision names a reason. One of a version that named none is about what was known
    on its day."""
    if decision.lifts is None:
        return reason.on <= decision.on and reason.finding.code != "in_pieces"
    if is_composite(reason):
        return is_within(reason.key, decision.lifts)
    return not decision.lifts.isdisjoint((reason.key, *older_keys(reason.key)))


def lifted(decisions: Sequence[RunDecision], reason: Reason) -> bool:
    """Whether a release names a reason. A restriction lifts nothing: it only permits."""
    return any(d.state == "release" and names(d, reason) for d in decisions)


def permitted(decision: RunDecision | None, reason: Reason) -> bool:
    """Whether the standing decision lets an engine run in spite of a reason, for a time; never one
    that stands open."""
    if reason.finding.code == "in_pieces":
        return False
    return decision is not None and decision.state == "restrict" and names(decision, reason)


def _unsettled(
    judged: Sequence[tuple[Verdict, Moment]], unsettled: frozenset[str], life: int
) -> list[Reason]:
    """That the newest sample may not be what it says: whose oil, or which figure, is asked."""
    newest = next(
        ((v, m) for v, m in reversed(judged) if m.life == life and v.level is not None), None
    )
    if newest is None or newest[0].sample not in unsettled:
        return []
    v, m = newest
    f = Finding(
        code="unsettled",
        channel="oil_life",
        level=int(Level.WATCH),
        numbers=payloads.Unsettled(sample=v.sample),
    )
    return [_of_sample(v, m, f, f.level, known_on(m))]


def open_reasons(
    facts: Sequence[Fact],
    line: TimeLine,
    judged: Sequence[tuple[Verdict, Moment]],
    record: OnRecord,
) -> list[Reason]:
    """Every open reason, worst first, then newest; `facts` are what the log says by itself.

    A Stop that was raised before and whose record was changed since stays, as "kept": no
    correction, import or recompute lowers a Stop.
    """
    life = line.moments[-1].life if line.moments else 1
    found = _of_facts(facts, life)
    found += _of_samples(judged, record, line, life)
    found += _unsettled(judged, record.unsettled, life)
    released = _released(record.decisions)
    found += in_pieces(facts, life, released)
    open_ = _not_lifted(found, record)
    # What a release named says nothing with others any more either.
    found += agreements(open_)
    out = _not_lifted(found, record)
    return sorted(out, key=_worst_first)


def _worst_first(reason: Reason) -> tuple[int, bool, int, str]:
    """The worst first, what was found before that the engine stands open, then the newest."""
    return -reason.level, reason.finding.code == "in_pieces", -reason.on.toordinal(), reason.key


def _released(decisions: Sequence[RunDecision]) -> frozenset[str]:
    """Every key a release named."""
    return frozenset(k for d in decisions if d.state == "release" for k in d.lifts or ())


def _not_lifted(found: Sequence[Reason], record: OnRecord) -> list[Reason]:
    """What was found and the Stops raised before, without what a release named. A Stop kept under
    its own, an older or a smaller name of a Stop found now is that; what is milder now does not
    take its place."""
    stops = {r.key: r for r in found if r.level >= Level.STOP}
    named = {*stops, *(old for k in stops for old in older_keys(k))}
    named |= {old for r in record.kept for old in older_keys(r.key)}
    kept = {r.key: r for r in record.kept if r.key not in named and not _grown(r, stops)}
    now = {r.key: r for r in found} | kept
    return [r for r in now.values() if not lifted(record.decisions, r)]


def _grown(kept: Reason, now: Mapping[str, Reason]) -> bool:
    """Whether a kept reason made of others is within one found now: by its name, or where an
    earlier version named its pieces otherwise, by what it says."""
    if not is_composite(kept):
        return False
    says = any(_says_as_much(r.finding, kept.finding) for r in now.values() if is_composite(r))
    return says or is_within(kept.key, now)


def _says_as_much(now: Finding, before: Finding) -> bool:
    """Whether a finding made of others says all that an earlier one said."""
    n, b = now.numbers, before.numbers
    if isinstance(n, payloads.InPieces) and isinstance(b, payloads.InPieces):
        return n.on == b.on and n.parts >= b.parts
    if isinstance(n, payloads.Agreement) and isinstance(b, payloads.Agreement):
        return set(b.said) <= set(n.said) and set(b.troubles) <= set(n.troubles)
    return False
