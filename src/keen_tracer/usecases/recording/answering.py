"""Queries about records that do not fit, and what a person says to them. Both values are kept with
the answer."""

from datetime import date
from uuid import UUID

from ...core.review import LABELS_EXCHANGED, SAME_ROUND
from ...core.words import query_words
from ...storage.db import Connection
from ...storage.records import Row, json, row, rows, run
from ..answers.from_rows import answer as as_answer
from ..answers.record import AnswerOut
from ..answers.standing import QueryOut
from ..errors import CannotRecord
from ..judging.judging import judge_one
from .correcting import Correction, correct
from .log_rows import Event, record_event

# What may be put right from the query itself: fields of the row it is about, or an event that was
# not recorded; "asked" where only the laboratory knows.
REMEDIES = {
    "meter_falls": ("dial", "on_date"),
    "over_24_h": ("dial", "on_date"),
    "hours_differ": ("oil_change_dial",),
    "other_oil": ("oil",),
    "dated_after_drain": ("on_date",),
    "other_method": ("method",),
    "like_the_old_oil": ("on_date",),
    "oil_changed": ("oil_change",),
    "additive_off": ("oil", "asked"),
    "other_oil_in_it": ("oil",),
    "wrong_oil": ("oil",),
    "labels_exchanged": (),
    "slip": ("asked",),
    "bn_above_fresh": ("oil", "asked"),
    "viscosity_index": ("asked",),
    "same_figures": ("asked",),
    "old_at_analysis": ("asked",),
    "unlikely": ("asked",),
    "fewer_figures": ("asked",),
    "denied": ("asked",),
    "two_results": ("asked",),
    "late_oil": ("oil_change",),
    "answers_contradict": (),
    "like_fresh": ("oil_change", "on_date"),
}


def open_queries(connection: Connection, engine: str | None) -> list[QueryOut]:
    """The queries that wait, in words, with what may be put right from here."""
    found = rows(connection, "queries_open", engine=engine, code=None)
    # Engines with the newest query first; within one the oldest first, since it may be the cause of
    # the others.
    newest = {
        r["engine"]: max(x["on_date"] or date.min for x in found if x["engine"] == r["engine"])
        for r in found
    }
    found.sort(
        key=lambda r: (
            -newest[r["engine"]].toordinal(),
            r["engine"],
            r["on_date"] or date.min,
            r["code"] != "oil_changed",
            r["key"],
        )
    )
    # An exchanged label left another engine with this one's oil; asked for where one may be.
    foreign = any(r["code"] == "wrong_oil" for r in found)
    strangers = rows(connection, "queries_open", engine=None, code="wrong_oil") if foreign else []
    out = []
    for r in found:
        said, settles = query_words(r["code"], r["numbers"], r["unit"])
        other = _exchanged(r, strangers)
        if other and r["code"] == "wrong_oil":
            settles = (
                f"Sample {other['sample']} of {other['engine']} holds this engine's oil, and this "
                "one holds that "
                "engine's: were the two labels exchanged?"
            )
        out.append(
            as_answer(
                QueryOut,
                r,
                words=said,
                settles=settles,
                remedies=REMEDIES.get(r["code"], ()),
                exchanged_with=other["sample"] if other else "",
            )
        )
    return out


def _exchanged(r: Row, strangers: list[Row]) -> Row | None:
    """The bottle of about the same day whose oil is this engine's while this one's oil is that
    engine's."""
    n = r["numbers"]
    if r["code"] == LABELS_EXCHANGED:
        return {"sample": n["other"], "engine": n["other_engine"]}
    if r["code"] != "wrong_oil":
        return None
    fits = [
        s
        for s in strangers
        if s["engine"] != r["engine"]
        and s["numbers"]["oil"] == n["registered"]
        and s["numbers"]["registered"] == n["oil"]
        and abs((s["on_date"] - r["on_date"]).days) <= SAME_ROUND
    ]
    return min(
        fits, key=lambda s: (abs((s["on_date"] - r["on_date"]).days), s["sample"]), default=None
    )


def answers(connection: Connection, engine: str, unit: str) -> list[AnswerOut]:
    """What was said to this engine's queries, newest first."""
    return [
        as_answer(AnswerOut, r, words=query_words(r["code"], r["numbers"], unit)[0])
        for r in rows(connection, "answers_of_engine", engine=engine)
    ]


def answer(
    connection: Connection,
    key: UUID,
    engine: str,
    query: str,
    said: str,
    reason: str,
    who: str,
    fix: Correction | None = None,
    event: Event | None = None,
) -> None:
    """Say that the record stands, that the laboratory was asked, or put it right here; in one step,
    kept for good."""
    asked = row(connection, "query_one", engine=engine, key=query)
    if asked is None:
        raise CannotRecord(
            "answered_already", "somebody answered this, or the records changed; look again"
        )
    if not reason.strip():
        raise CannotRecord("reason_required", "say how you know, in a few words")
    if (said == "corrected") != (fix is not None or event is not None):
        raise CannotRecord("correction_required", "say what it should be")
    run(
        connection,
        "query_answer_put",
        id=key,
        engine=asked["engine_id"],
        query=query,
        code=asked["code"],
        said=said,
        numbers=json(asked["numbers"]),
        reason=reason.strip(),
        by=who,
        at=None,
    )
    if fix is not None:
        if str(fix.log) != asked["log"]:
            raise CannotRecord("other_record", "the correction is of another record than the query")
        correct(connection, fix, who)
    if event is not None:
        record_event(connection, event, who)
    judge_one(connection, asked["engine_id"])
