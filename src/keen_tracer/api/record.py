"""Routes for putting records right: corrections, queries, the fleet record, plans."""

from uuid import UUID

from ..core.planning import Plan
from ..usecases.answers.record import Entries, Logbook, OilOut, PlansOut, RecordChange, Tightened
from ..usecases.answers.standing import QueryOut
from ..usecases.pages import log
from ..usecases.recording import answering, correcting, fleet_record, log_rows
from . import record_models as m
from .context import Acting, Here, UnitsOfWho, Who, of_engine
from .routers import reading_router

router = reading_router("/api")


def _correction(log: UUID, body: m.NewCorrection) -> correcting.Correction:
    return correcting.Correction(body.id, log, body.reason, body.engine, m.given(body.changes))


@router.get("/engines/{code}/logbook")
def get_logbook(here: Here, units: UnitsOfWho, code: str) -> Logbook:
    with here.database.transaction() as connection:
        return log.logbook(connection, code, units)


@router.post("/log/{key}/correct")
def post_correct(here: Here, who: Who, key: UUID, body: m.NewCorrection) -> m.Done:
    with here.database.transaction() as connection:
        correcting.correct(connection, _correction(key, body), who["name"])
    return m.Done()


@router.post("/log/{key}/withdraw")
def post_withdraw(here: Here, who: Who, key: UUID, body: m.NewWithdrawal) -> m.Done:
    with here.database.transaction() as connection:
        correcting.withdraw(connection, key, body.reason, who["name"])
    return m.Done()


@router.post("/swap")
def post_swap(here: Here, who: Who, body: m.NewSwap) -> m.Done:
    with here.database.transaction() as connection:
        correcting.swap(connection, body.one, body.other, body.reason, who["name"])
    return m.Done()


@router.get("/queries")
def get_queries(here: Here) -> list[QueryOut]:
    with here.database.transaction() as connection:
        return answering.open_queries(connection, None)


@router.post("/engines/{code}/queries")
def post_answer(here: Here, who: Who, code: str, body: m.NewAnswer) -> m.Done:
    fix = _correction(body.log, body.fix) if body.fix and body.log else None
    event = of_engine(log_rows.Event, code, body.event) if body.event else None
    with here.database.transaction() as connection:
        answering.answer(
            connection, body.id, code, body.key, body.said, body.reason, who["name"], fix, event
        )
    return m.Done()


@router.get("/fleet/oils")
def get_oils(here: Here) -> list[OilOut]:
    with here.database.transaction() as connection:
        return fleet_record.oils(connection)


@router.post("/fleet/oils")
def post_oil(here: Here, who: Who, body: m.NewOil) -> m.Amended:
    with here.database.transaction() as connection:
        waits = fleet_record.save_oil(connection, **body.model_dump(), who=who["name"])
    here.wake()
    return m.Amended(waits=waits)


@router.get("/fleet/{place}")
def get_entries(here: Here, place: str) -> Entries:
    with here.database.transaction() as connection:
        return fleet_record.entries(connection, place)


@router.post("/fleet/{place}")
def post_entry(here: Here, who: Who, place: str, body: m.NewEntry) -> m.Saved:
    with here.database.transaction() as connection:
        changed = fleet_record.save(connection, place, body.cells, body.version, who["name"])
    here.wake()
    return m.Saved(changed=changed)


@router.post("/engines/{code}/features")
def post_feature(here: Here, who: Who, code: str, body: m.NewFeature) -> m.Saved:
    with here.database.transaction() as connection:
        changed = fleet_record.keep_feature(connection, code, body.feature, who["name"])
    here.wake()
    return m.Saved(changed=changed)


@router.get("/fleet/{place}/{code}/changes")
def get_changes(here: Here, place: str, code: str) -> list[RecordChange]:
    with here.database.transaction() as connection:
        return fleet_record.changes(connection, place, code)


@router.get("/engines/{code}/plans")
def get_plans(here: Here, code: str) -> PlansOut:
    with here.database.transaction() as connection:
        return {
            "plans": fleet_record.plans(connection, code),
            **fleet_record.sampling_advice(connection, code),
        }


def _plans(given: list[m.PlanBody]) -> list[Plan]:
    return [Plan(p.kind, p.every, p.method, p.said) for p in given]


def _seen(given: list[m.PlanBody] | None) -> list[Plan] | None:
    return None if given is None else _plans(given)


@router.put("/engines/{code}/plans")
def put_plans(here: Here, who: Who, code: str, body: m.PlansBody) -> m.Done:
    with here.database.transaction() as connection:
        fleet_record.save_plans(connection, code, _plans(body.plans), who["name"], _seen(body.seen))
    return m.Done()


@router.get("/tightened")
def get_tightened(here: Here) -> Tightened:
    with here.database.transaction() as connection:
        return fleet_record.tightened(connection)


@router.put("/tightened")
def put_tightened(here: Here, who: Acting, body: m.TightenedBody) -> m.Done:
    with here.database.transaction() as connection:
        fleet_record.save_tightened(connection, body.watch, body.act, body.origin, who)
    here.wake()
    return m.Done()
