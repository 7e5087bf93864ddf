"""What is known of one trouble from its beginning on, whatever was repaired meanwhile."""

from collections.abc import Mapping
from datetime import date, timedelta

from ..baseline import Assessment, bearing_kind
from ..causes import Causes, Ranking, ranking
from ..record import WORK, Coolant, Engine, Moment, TimeLine, facts_of
from .evidence import bottles_in, could_be_seen, evidence_of, together
from .life_evidence import of_life
from .log_evidence import of_log
from .sample_facts import SampleFacts

BEFORE = timedelta(days=45)  # work this long before a trouble stands out by itself; our choice
# Beside repairs, what somebody does to an engine that can bring a trouble in.
_TOUCHED = frozenset({*WORK, "oil_change", "filter_change", "coolant_change", "storage_end"})


def causes_of_case(
    engine: Engine,
    line: TimeLine,
    since: date,
    assessment: Assessment | None,
    coolants: Mapping[str, Coolant],
    causes: Causes,
) -> Ranking:
    """The failure modes on everything known of an engine since a day: all its samples with figures,
    and its whole log. A repair in between does not take back what was seen before it: whether it
    cured the trouble is what the case is to find out."""
    life = line.newest_life
    places = line.places_of(life)
    first = next((n for n in places if line.days[n] >= since), places.stop)
    # Steps of the case itself stand on its balance under the name of who did them.
    facts = [f for f in facts_of(engine, line) if f.moment.row.kind != "case_step"]
    told = [of_log(facts, line, places, first - 1), bottles_in(line.moments[first:])]
    told.append(of_life(engine, line, line.moments[places.start :]))
    if assessment is not None:
        told += [
            iter(evidence_of(SampleFacts(assessment, context.row)).items())
            for context in assessment.evaluation.contexts
            if context.moment.life == life
            and context.moment.row.on >= since
            and (assessment.evaluation.fleet.censor[context.row] >= 0).any()
        ]
    bearings = bearing_kind(engine.bearing_type)
    known = could_be_seen(together(*told), bearings, coolants.get(engine.coolant))
    return ranking(engine, bearings, known, causes)


def work_before(line: TimeLine, since: date) -> list[Moment]:
    """What was done to an engine in the days before a trouble began, the latest first."""
    return [
        m
        for m in reversed(line.moments)
        if m.row.kind in _TOUCHED and since - BEFORE <= m.row.on <= since
    ]
