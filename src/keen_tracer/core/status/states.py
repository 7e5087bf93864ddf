"""The state of every engine of a fleet, from its judged samples and everything in its log."""

from collections.abc import Iterable, Mapping, Sequence

from ..baseline import Assessment
from ..causes import Causes, shipped
from ..diagnosis import SampleFacts, causes_now, confirmed, done_in
from ..record import History, TimeLine, build_time_line, facts_of
from ..verdict import EngineState, Verdict
from .engine_state import engine_state
from .reasons import OnRecord

NOTHING = OnRecord()


def time_lines(assessment: Assessment | None, histories: Iterable[History]) -> list[TimeLine]:
    """The time line of each engine: the one its samples were judged on, made here only where there
    is no sample."""
    known = (
        {p.engine.code: p.time_line for p in assessment.evaluation.contexts} if assessment else {}
    )
    return [known.get(h.engine.code) or build_time_line(h) for h in histories]


def engine_states(
    assessment: Assessment | None,
    histories: Sequence[History],
    found: Sequence[Verdict],
    records: Mapping[str, OnRecord],
) -> list[EngineState]:
    """The state of each engine.

    assessment : by which its samples were judged, None where there is no sample · found : the
        verdicts · records : engine → what people decided; engines without decisions may be missing
    """
    verdicts = {v.sample: v for v in found}
    told_of = (
        {p.engine.code: p.log_facts for p in assessment.evaluation.contexts} if assessment else {}
    )
    causes: Causes = assessment.causes if assessment else shipped()
    out = []
    for history, line in zip(histories, time_lines(assessment, histories), strict=True):
        judged = [(verdicts[s.code], m) for m, s in line.samples() if s.code in verdicts]
        measured = [s.row for m, s in line.samples() if s.code in verdicts]
        told = [
            row
            for row in measured
            if assessment and (assessment.evaluation.fleet.censor[row] >= 0).any()
        ]
        newest = (assessment, (told or measured)[-1]) if assessment and measured else None
        facts = told_of.get(history.engine.code) or facts_of(history.engine, line)
        again = newest is not None and confirmed(SampleFacts(*newest))
        out.append(
            engine_state(
                history,
                line,
                judged,
                records.get(history.engine.code, NOTHING),
                causes_now(history.engine, line, facts, newest, causes),
                facts,
                done_in(facts, line),
                again,
            )
        )
    return out
