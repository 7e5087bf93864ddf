"""What ends a fact of an engine, or makes it milder: later answers to the same question, work on
the engine, another fill of oil."""

from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import timedelta
from math import isnan

from .contradictions import contradictions
from .fact import Fact
from .fact_kinds import trouble_of_mode
from .model import Engine, LogRow, nominal_drain
from .opened import parts
from .timeline import TimeLine

WATCH, ACT = 1, 2
FORGOTTEN = timedelta(days=60)  # since the last top-up, after which it is no news; our choice
# Of what the raised look saw, the share that later looks have to have seen, counted in share of the
# place times meter units, before they say anything of it; our choice. A filter of five hours says
# nothing of one of two hundred.
SEEN_AGAIN = 0.5
# The same where the earlier look was at Act: it takes a second clean one; our choice.
SEEN_TWICE = 1.5


def after_all(found: Sequence[Fact], engine: Engine, line: TimeLine) -> list[Fact]:
    """Facts as they were found, each after everything that came later.

    Work on the engine ends what is at Watch. An Act stands until the same question is asked again;
    work on a part it points to makes it a Watch until then. No row ends a Stop. A look ends what an
    earlier one found as far as it saw as much (`answered_by`). Where two answers contradict each
    other the higher one holds until a third.
    """
    worked = line.worked
    doubted = {a.at for a, _ in contradictions(found, line)}
    out = []
    for f, later in with_later(found):
        if _is_over(f, line):
            f = replace(f, answered=True)
        elif f.at not in doubted:
            f = _answered(f, later, line, worked, engine)
        out.append(f)
    return out


def with_later(found: Sequence[Fact]) -> Iterator[tuple[Fact, Sequence[Fact]]]:
    """Each fact with the later answers to the same question, in order."""
    asked: dict[tuple[str, str] | None, list[Fact]] = {}
    place: list[int] = []
    for f in found:
        same = asked.setdefault(f.question, [])
        same.append(f)
        place.append(len(same))
    for f, n in zip(found, place, strict=True):
        yield f, asked[f.question][n:] if f.question else ()


def _is_over(fact: Fact, line: TimeLine) -> bool:
    """Whether something topped up is of the past: another fill, or no more of it for two months."""
    last = line.moments[-1]
    kinds = {w.fact for w in fact.words}
    if "oil_added" in kinds:
        return fact.moment.charge < last.charge
    return "coolant_added" in kinds and last.row.on - fact.moment.row.on > FORGOTTEN


def _answered(
    fact: Fact,
    later: Sequence[Fact],
    line: TimeLine,
    worked: Sequence[int],
    engine: Engine,
) -> Fact:
    """A fact after the work done since and the later answers to its question. A look after work on
    the engine answers, however little it saw."""
    since = [n for n in worked if n > fact.at]
    if since and fact.level <= WATCH:
        return replace(fact, answered=True)
    if later and since and since[0] < later[-1].at:
        return replace(fact, answered=True)
    if fact.level == ACT and any(_mends(line.moments[n].row, fact) for n in since):
        fact = milder(fact, "worked_on")
    return answered_by(fact, later, engine)


def _mends(row: LogRow, fact: Fact) -> bool:
    """Whether work was done on a part of the trouble that a fact of an engine that was not opened
    points to."""
    if row.part not in parts() or fact.moment.row.kind == "finding":
        return False
    troubles = trouble_of_mode(parts()[row.part].mode)
    return all(w.points & troubles for w in fact.words if w.level >= ACT)


def answered_by(fact: Fact, later: Sequence[Fact], engine: Engine) -> Fact:
    """A fact after the later answers to the same question.

    The newest answer of a check is the one that holds. A later look at the same level or above
    speaks instead of the earlier one; milder ones answer it as far as they saw: less than half of
    what it saw says nothing, and a look at Act is at Watch until as much has been seen a second
    time.

    later : the facts of the same question after it, in order
    """
    if not later or fact.question is None:
        return fact
    if fact.question[0] != "look" or any(f.level >= fact.level for f in later):
        return replace(fact, answered=True)
    drain = nominal_drain(engine.engine_class, engine.meter_unit)
    again = sum(_saw(f, drain if isnan(f.hours) else max(f.hours, 0.0)) for f in later)
    # One that gathered nothing since the look before saw the same element again.
    seen = _saw(fact, fact.hours if fact.hours > 0 else drain)
    if again >= (SEEN_TWICE if fact.level >= ACT else SEEN_AGAIN) * seen:
        return replace(fact, answered=True)
    if fact.level == ACT and again >= SEEN_AGAIN * seen:
        return milder(fact, "clean")
    return fact


def _saw(fact: Fact, hours: float) -> float:
    """Share of the place that was seen times the meter units it gathered."""
    look = fact.moment.row.look
    return (look.share if look else 1.0) * hours


def milder(fact: Fact, since: str) -> Fact:
    """A fact that is no more than Watch any more; since : what was done since it was found, of
    `words.fact_words.SINCE`"""
    words = [
        replace(w, level=min(w.level, WATCH), numbers={**(w.numbers or {}), "since": since})
        for w in fact.words
    ]
    return replace(fact, words=tuple(words))
