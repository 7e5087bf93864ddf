"""What is known of a trouble since its beginning, and what was done to the engine before it."""

from dataclasses import dataclass
from datetime import date

from ...core.causes import Causes, Ranking, with_weights
from ...core.diagnosis import RunIn, causes_of_case, run_in_course
from ...core.record import History, TimeLine, build_time_line
from ...storage.db import Connection
from ...storage.peers import weights_in_force
from ...storage.records import rows
from ..pages.assessed import assessed


@dataclass(frozen=True, slots=True)
class Known:
    """An engine's history and time line, its failure modes on what is known since a day, and how
    its run-in goes."""

    history: History
    line: TimeLine
    ranking: Ranking
    run_in: RunIn | None


def ranked(connection: Connection, engine: int, since: date) -> Known:
    """What is known of an engine since a day."""
    loaded, a = assessed(connection, engine)
    history = loaded.fleet.histories[0]
    line = a.evaluation.contexts[0].time_line if a else build_time_line(history)
    causes = Causes(with_weights(weights_in_force(connection)[1]))
    found = causes_of_case(history.engine, line, since, a, loaded.fleet.coolants, causes)
    return Known(history, line, found, run_in_course(a) if a else None)


def levels_in_order(connection: Connection, engine: int) -> list[tuple[date, int | None]]:
    """(day, level of its verdict) of an engine's samples in the order of its time line; None while
    its figures are out, whatever was seen beside it."""
    loaded, a = assessed(connection, engine)
    figured = (
        {
            p.sample.code
            for p in a.evaluation.contexts
            if (a.evaluation.fleet.censor[p.row] >= 0).any()
        }
        if a
        else set()
    )
    levels = {
        v["sample"]: v["level"] if v["sample"] in figured else None
        for v in rows(connection, "verdicts_of_engine", engine=engine)
    }
    line = a.evaluation.contexts[0].time_line if a else build_time_line(loaded.fleet.histories[0])
    return [(m.row.on, levels.get(s.code)) for m, s in line.samples()]
