"""Bottles of one round whose labels were exchanged: found when either engine is judged, asked of
both, and settled by what is answered to either."""

from ...core.baseline import Assessment
from ...core.record import Floats
from ...core.review import LABELS_EXCHANGED, SAME_ROUND, Query, label_queries, strangers
from ...storage import fleet as storage
from ...storage.db import Connection
from ...storage.records import Row, rows, run
from .standards import Standards

# Engines judged at once up to which the bottles of the whole round are compared, and how many
# other engines those are at most; our choice. Many at once are compared with one another.
FEW, OTHERS = 20, 12


def exchanged_labels(
    connection: Connection,
    loaded: storage.Loaded,
    assessment: Assessment,
    held: Standards,
    fresh: dict[str, Floats] | None,
) -> dict[str, list[Query]]:
    """The queries of the engines that are judged, by engine code.

    Where they changed, the other engine of a pair is judged again if it is not asked yet, or is
    asked what no longer holds.
    """
    mine = {e["code"]: e["id"] for e in loaded.engines}
    asked = rows(connection, "label_queries", code=LABELS_EXCHANGED, engines=list(mine))
    beside = {r["engine"]: r["engine_id"] for r in asked if r["engine"] not in mine}
    beside |= _of_the_round(connection, mine, assessment)
    if beside:
        together = storage.load(connection, [*mine.values(), *beside.values()], fresh)
        assessment = held.assess(connection, together.fleet)
    answers = rows(connection, "label_answers", code=LABELS_EXCHANGED, engines=[*mine, *beside])
    found = label_queries(assessment, {_pair(r) for r in answers})
    before = {(r["engine"], r["key"]) for r in asked}
    now = {
        (engine, q.key)
        for engine, queries in found.items()
        for q in queries
        if engine in mine or q.numbers["other_engine"] in mine
    }
    changed = {(engine, key) for engine, key in before ^ now if engine in mine}
    again = {beside[engine] for engine, _ in before ^ now if engine in beside}
    if changed and again:
        run(connection, "mark_stale", ids=sorted(again))
    return {engine: queries for engine, queries in found.items() if engine in mine}


def _of_the_round(
    connection: Connection, mine: dict[str, int], assessment: Assessment
) -> dict[str, int]:
    """Other engines of the depot with a bottle of about the day of a newest sample that does not
    look like its engine's; code → id."""
    if len(mine) > FEW:
        return {}
    newest = {p.engine.code: p.moment.row.on for p in assessment.evaluation.contexts}
    for p in assessment.evaluation.contexts:
        newest[p.engine.code] = max(newest[p.engine.code], p.moment.row.on)
    found: dict[str, int] = {}
    for p in strangers(assessment):
        if p.moment.row.on == newest[p.engine.code]:
            there = rows(
                connection,
                "engines_of_round",
                engine=mine[p.engine.code],
                day=p.moment.row.on,
                days=SAME_ROUND,
                most=OTHERS,
            )
            found |= {r["code"]: r["id"] for r in there if r["code"] not in mine}
    return found


def _pair(answer: Row) -> frozenset[str]:
    """The two bottles that somebody answered for; a key is the code, the bottle and a mark."""
    bottle = answer["key"].split(":", 1)[1].rsplit(":", 1)[0]
    return frozenset((bottle, answer["other"]))
