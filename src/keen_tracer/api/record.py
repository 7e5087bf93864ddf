"""Routes for putting records right: corrections, queries, the fleet record, plans."""

from typing import Any
from uuid import UUID

from fastapi import APIRouter

from ..core.planning import Plan
from ..usecases.pages import log
from ..usecases.recording import answering, correcting, fleet_record, log_rows
from . import record_models as m
from .context import Acting, Here, Who
from .models import QueryOut

router = APIRouter(prefix="/api")


def _correction(log: UUID, body: m.NewCorrection) -> correcting.Correction:
    return correcting.Correction(body.id, log, body.reason, body.engine, m.given(body.changes))


@router.get("/engines/{code}/logbook", response_model=m.Logbook)
def get_logbook(here: Here, code: str) -> dict[str, Any]:
    with here.database.transaction() as c:
        return log.logbook(c, code)


@router.post("/log/{key}/correct", response_model=m.Done)
def post_correct(here: Here, who: Who, key: UUID, body: m.NewCorrection) -> m.Done:
    with here.database.transaction() as c:
        correcting.correct(c, _correction(key, body), who["name"])
    return m.Done()


@router.post("/log/{key}/withdraw", response_model=m.Done)
def post_withdraw(here: Here, who: Who, key: UUID, body: m.NewWithdrawal) -> m.Done:
    with here.database.transaction() as c:
        correcting.withdraw(c, key, body.reason, who["name"])
    return m.Done()


@router.post("/swap", response_model=m.Done)
def post_swap(here: Here, who: Who, body: m.NewSwap) -> m.Done:
    with here.database.transaction() as c:
        correcting.swap(c, body.one, body.other, body.reason, who["name"])
    return m.Done()


@router.get("/queries", response_model=list[QueryOut])
def get_queries(here: Here) -> list[dict[str, Any]]:
    with here.database.transaction() as c:
        return answering.open_queries(c, None)


@router.post("/engines/{code}/queries", response_model=m.Done)
def post_answer(here: Here, who: Who, code: str, body: m.NewAnswer) -> m.Done:
    fix = _correction(body.log, body.fix) if body.fix and body.log else None
    event = log_rows.Event(engine=code, **body.event.model_dump()) if body.event else None
    with here.database.transaction() as c:
        answering.answer(
            c, body.id, code, body.key, body.said, body.reason, who["name"], fix, event
        )
    return m.Done()


@router.get("/fleet/oils", response_model=list[m.OilOut])
def get_oils(here: Here) -> list[dict[str, Any]]:
    with here.database.transaction() as c:
        return fleet_record.oils(c)


@router.post("/fleet/oils", response_model=m.Amended)
def post_oil(here: Here, who: Who, body: m.NewOil) -> m.Amended:
    with here.database.transaction() as c:
        waits = fleet_record.save_oil(c, **body.model_dump(), who=who["name"])
    here.wake()
    return m.Amended(waits=waits)


@router.get("/fleet/{place}", response_model=m.Entries)
def get_entries(here: Here, place: str) -> dict[str, Any]:
    with here.database.transaction() as c:
        return fleet_record.entries(c, place)


@router.post("/fleet/{place}", response_model=m.Saved)
def post_entry(here: Here, who: Who, place: str, body: m.NewEntry) -> m.Saved:
    with here.database.transaction() as c:
        changed = fleet_record.save(c, place, body.cells, body.version, who["name"])
    here.wake()
    return m.Saved(changed=changed)


@router.get("/fleet/{place}/{code}/changes", response_model=list[m.RecordChange])
def get_changes(here: Here, place: str, code: str) -> list[dict[str, Any]]:
    with here.database.transaction() as c:
        return fleet_record.changes(c, place, code)


@router.get("/engines/{code}/plans", response_model=m.PlansOut)
def get_plans(here: Here, code: str) -> dict[str, Any]:
    with here.database.transaction() as c:
        return {"plans": fleet_record.plans(c, code), **fleet_record.sampling_advice(c, code)}


@router.put("/engines/{code}/plans", response_model=m.Done)
def put_plans(here: Here, who: Who, code: str, body: m.PlansBody) -> m.Done:
    with here.database.transaction() as c:
        fleet_record.save_plans(
            c, code, [Plan(p.kind, p.every, p.method, p.said) for p in body.plans], who["name"]
        )
    return m.Done()


@router.get("/tightened", response_model=m.TightenedBody)
def get_tightened(here: Here) -> dict[str, Any]:
    with here.database.transaction() as c:
        return fleet_record.tightened(c)


@router.put("/tightened", response_model=m.Done)
def put_tightened(here: Here, who: Acting, body: m.TightenedBody) -> m.Done:
    with here.database.transaction() as c:
        fleet_record.save_tightened(c, body.watch, body.act, body.origin, who)
    here.wake()
    return m.Done()
