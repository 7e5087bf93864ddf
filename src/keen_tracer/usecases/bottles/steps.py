"""A bottle's way after the draw, and the inbox of what does not find its place: late, unmatched,
partial, parked."""

from collections.abc import Sequence
from datetime import date, timedelta
from uuid import UUID

from ...core.laboratory import BY_CODE
from ...core.status import Decision, late_by, missing_analytes, usual_analytes, usual_days
from ...storage.db import Connection
from ...storage.records import Row, json, row, rows, run
from ..answers.bottles import BottleOut, Parked, Partial, UnderWay, Unmatched
from ..answers.collect import NewOilBatch
from ..answers.from_rows import answer, answers
from ..errors import CannotRecord
from ..judging.deciding import put_decision
from ..judging.judging import judge_one
from ..recording.log_rows import Bottle, check_day, new_sample, register_bottle

HALF_YEAR, LATELY, LONGEST = timedelta(days=183), timedelta(days=60), timedelta(days=400)
NEW_OIL = timedelta(
    days=200
)  # a batch filled in since then should have its fresh figures; our choice


def step(
    connection: Connection,
    codes: Sequence[str],
    what: str,
    on: date,
    laboratory: str,
    note: str,
    ids: Sequence[UUID],
    who: str,
) -> None:
    """The next step of some bottles' way, all or none of them; `ids` are the client's, one a
    bottle."""
    check_day(on)
    known = {r["code"]: r for r in rows(connection, "bottles_by_code", codes=list(codes))}
    for code, key in zip(codes, ids, strict=True):
        b = known.get(code)
        if b is None:
            raise CannotRecord("unknown_sample", f"bottle {code} is not registered")
        if b["figures"] and what in ("lost", "broken") and b["registered"]:
            raise CannotRecord(
                "figures_in",
                f"the figures of {code} are in, so it arrived; if they are not its own, "
                "move or swap it instead",
            )
        run(
            connection,
            "bottle_step_put",
            id=key,
            sample=b["id"],
            step=what,
            on=on,
            laboratory=laboratory.strip(),
            note=note.strip(),
            by=who,
            at=None,
        )
        owner = row(connection, "engine_of_sample", code=code)
        if owner:
            judge_one(connection, owner["engine_id"])


def _usual(
    connection: Connection, today: date
) -> tuple[dict[str, float], dict[str, frozenset[int]]]:
    """Per laboratory: days it usually takes, and what it usually reports."""
    days: dict[str, list[float]] = {}
    for r in rows(connection, "turnarounds", since=today - HALF_YEAR):
        days.setdefault(r["laboratory"], []).append(max(r["days"], 0))
    counts: dict[str, dict[int | None, int]] = {}
    for r in rows(connection, "report_analytes", since=today - HALF_YEAR):
        counts.setdefault(r["laboratory"], {})[r["analyte"]] = r["n"]
    usual = {
        lab: usual_analytes(found.get(None, 0), {a: n for a, n in found.items() if a is not None})
        for lab, found in counts.items()
    }
    return {lab: usual_days(found) for lab, found in days.items()}, usual


def inbox(connection: Connection, today: date) -> UnderWay:
    """Every bottle under way with its age, and what waits for a person: unmatched, partial, parked,
    new oil."""
    days, usual = _usual(connection, today)
    out: list[BottleOut] = []
    for r in rows(connection, "bottles_out", since=today - LONGEST, today=today):
        state = r["step"] if r["step"] and r["step"] != "found" else "drawn"
        since = r["sent_on"] if state in ("sent", "received") and r["sent_on"] else r["drawn_on"]
        usually = days.get(r["laboratory"] or "", usual_days([]))
        out.append(
            answer(
                BottleOut,
                r,
                state=state,
                age_days=(today - r["drawn_on"]).days,
                late_days=late_by(state, (today - since).days, usually),
            )
        )
    partial: list[Partial] = []
    for r in rows(connection, "reports_lately", since=today - LATELY):
        gone = missing_analytes(r["analytes"], usual.get(r["laboratory"], ()))
        if gone:
            partial.append(answer(Partial, r, missing=[BY_CODE[a].symbol for a in gone]))
    return {
        "today": today,
        "out": out,
        "unmatched": answers(Unmatched, rows(connection, "unmatched")),
        "partial": partial,
        "parked": [
            answer(Parked, p, dial=p["body"].get("dial")) for p in rows(connection, "parked_open")
        ],
        "new_oil": answers(NewOilBatch, new_oil(connection, today)),
        "laboratories": [r["laboratory"] for r in rows(connection, "laboratories")],
    }


def new_oil(connection: Connection, today: date) -> list[Row]:
    """Batches filled in of late without figures of their fresh oil, and of which no bottle is under
    way."""
    return rows(connection, "batches_without_reference", since=today - NEW_OIL)


def park(connection: Connection, bottle: Bottle, body: Row, who: str) -> None:
    """Keep a bottle of an engine that is not on record until somebody says which it is; a bottle
    sent twice is kept once."""
    check_day(bottle.on)
    if not bottle.engine.strip():
        raise CannotRecord("engine_required", "write what stands on the engine, as well as you can")
    if row(connection, "parked_one", id=bottle.id) is not None:
        return
    held = row(connection, "sample_holder", code=bottle.sample)
    if held is not None and held["engine"] is not None:
        raise CannotRecord(
            "bottle_taken",
            f"bottle {bottle.sample} is registered already: {held['engine']} on "
            f"{held['on_date']}; take another label",
        )
    sample = held["id"] if held else new_sample(connection, bottle.sample)
    run(
        connection,
        "parked_put",
        id=bottle.id,
        sample=sample,
        engine=bottle.engine.strip(),
        on=bottle.on,
        body=json(body),
        by=who,
    )


def settle(connection: Connection, key: UUID, engine: str, who: str) -> str:
    """Say which engine a parked bottle belongs to; it is then registered as it was written down."""
    kept = row(connection, "parked_one", id=key)
    if kept is None:
        raise CannotRecord("unknown_record", "there is no such parked bottle")
    body = {k: v for k, v in kept["body"].items() if k not in ("id", "engine", "on", "at")}
    return register_bottle(
        connection,
        Bottle(**body, id=key, engine=engine, on=date.fromisoformat(kept["body"]["on"])),
        who,
    )


def match(connection: Connection, stray: str, to: str, reason: str, who: str) -> None:
    """Figures came under a label nobody registered: they belong to bottle `to`.

    Each report is kept as it came, and stands again as its next revision under the right bottle,
    accepted by `who`.
    """
    target = row(connection, "draw_of_sample", code=to)
    found = row(connection, "sample_holder", code=stray)
    if target is None:
        raise CannotRecord("unknown_sample", f"bottle {to} is not registered")
    if found is None or found["engine"] is not None:
        raise CannotRecord("not_stray", f"bottle {stray} is registered; move or swap it instead")
    reports = rows(connection, "reports_of_sample", sample=found["id"])
    if not reports:
        raise CannotRecord("no_figures", f"no figures came under {stray}")
    for r in reports:
        copy = row(connection, "report_copy", report=r["id"], sample=target["sample_id"])
        assert copy is not None
        run(connection, "readings_copy", report=r["id"], copy=copy["id"])
        said = reason.strip() or f"label {stray} read as {to}"
        d = Decision(kind="amendment", about="report", by=who, accepted=True, reason=said)
        put_decision(connection, copy["id"], d)
    judge_one(connection, target["engine_id"])


def register_reference(
    connection: Connection,
    key: UUID,
    sample: str,
    oil: str,
    grade: str,
    batch: str,
    on: date,
    who: str,
) -> None:
    """A bottle of fresh oil from a batch; its figures become the batch's fresh-oil reference."""
    if row(connection, "reference_known", id=key):
        return
    check_day(on)
    if not oil.strip():
        raise CannotRecord("oil_required", "say which oil it is")
    held = row(connection, "sample_holder", code=sample)
    if held is not None and (
        held["engine"] is not None or rows(connection, "reference_samples", samples=[held["id"]])
    ):
        raise CannotRecord(
            "bottle_taken", f"bottle {sample} is registered already; take another label"
        )
    names = {"oil": oil.strip(), "grade": grade.strip(), "batch": batch.strip()}
    known: Row | None = row(connection, "batch_by_names", **names)
    if known is None:
        known = row(connection, "batch_put", **names, on=None)
    assert known is not None
    run(
        connection,
        "reference_put",
        id=key,
        sample=held["id"] if held else new_sample(connection, sample),
        batch=known["id"],
        on=on,
        by=who,
    )
