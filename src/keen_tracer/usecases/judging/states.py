"""What people decided and what was raised before, brought to the core; the Stops it raises are kept
for good."""

from collections.abc import Sequence

from ...core.baseline import Assessment
from ...core.findings import stored
from ...core.record import History
from ...core.status import OnRecord, SignOff, engine_states
from ...core.verdict import EngineState, Level, Reason, RunDecision, Verdict
from ...storage.db import Connection
from ...storage.fleet import Loaded
from ...storage.records import Row, json, rows
from ...storage.sql import query


def decision_of(r: Row) -> RunDecision:
    """A run decision as it is on record."""
    return RunDecision(
        state=r["run_state"],
        by=r["decided_by"],
        on=r["decided_on"],
        reason=r["reason"],
        until=r["until_dial"],
        until_on=r["until_on"],
        lifts=None if r["lifts"] is None else frozenset(r["lifts"]),
        found=r["found"],
        done=r["done"],
    )


def _raised(r: Row) -> Reason:
    f = stored(r["finding"])
    return Reason(
        key=r["key"],
        source="kept",
        level=int(Level.STOP),
        channel=f.channel,
        on=r["on_date"],
        dial=r["dial"],
        finding=f,
        sample=r["sample"],
    )


def decided_and_raised(
    connection: Connection, ids: list[int]
) -> tuple[dict[int, list[RunDecision]], dict[int, list[Reason]]]:
    """(engine → its run decisions in their order, engine → every Stop that was ever raised)."""
    decisions: dict[int, list[RunDecision]] = {}
    for r in rows(connection, "run_decisions", engines=ids):
        decisions.setdefault(r["engine_id"], []).append(decision_of(r))
    raised: dict[int, list[Reason]] = {}
    for r in rows(connection, "raised_stops", engines=ids):
        raised.setdefault(r["engine_id"], []).append(_raised(r))
    return decisions, raised


def on_record(
    connection: Connection,
    ids: list[int],
    histories: tuple[History, ...],
    signed: dict[str, Row],
    unsettled: frozenset[str],
) -> dict[str, OnRecord]:
    """Engine → what is on record beside its log. `signed`: standing sign-offs by sample;
    `unsettled`: samples nobody knows for certain what they are."""
    decisions, raised = decided_and_raised(connection, ids)
    offs = {
        code: SignOff(level=r["level"], by=r["decided_by"], reason=r["reason"])
        for code, r in signed.items()
        if r["kind"] == "sign_off"
    }
    out = {}
    for engine, history in zip(ids, histories, strict=True):
        mine = {r.sample.code for r in history.log if r.sample is not None}
        out[history.engine.code] = OnRecord(
            signed={code: off for code, off in offs.items() if code in mine} if offs else {},
            decisions=tuple(decisions.get(engine, ())),
            kept=tuple(raised.get(engine, ())),
            unsettled=unsettled & mine if unsettled else unsettled,
        )
    return out


def keep_stops(
    connection: Connection, engine: int, reasons: Sequence[Reason], kept: Sequence[Reason]
) -> None:
    """Put every new Stop on record; it holds from now on. `kept`: those raised before."""
    known = {r.key for r in kept}
    new = [
        {
            "engine": engine,
            "key": r.key,
            "on": r.on,
            "dial": r.dial,
            "sample": r.sample,
            "finding": json(r.finding.as_dict()),
        }
        for r in reasons
        if r.level >= Level.STOP and r.source != "kept" and r.key not in known
    ]
    if new:
        with connection.cursor() as cursor:
            cursor.executemany(query("raised_stop_put"), new)


def states(
    connection: Connection,
    loaded: Loaded,
    assessment: Assessment | None,
    found: list[Verdict],
    signed: dict[str, Row],
    unsettled: frozenset[str],
) -> list[EngineState]:
    """The state of each loaded engine. A new Stop is put on record and holds from now on."""
    ids = [e["id"] for e in loaded.engines]
    histories = loaded.fleet.histories
    record = on_record(connection, ids, histories, signed, unsettled)
    out = engine_states(assessment, histories, found, record)
    for engine, history, state in zip(ids, histories, out, strict=True):
        keep_stops(connection, engine, state.reasons, record[history.engine.code].kept)
    return out
