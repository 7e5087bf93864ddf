"""Four cases of the resort: an open coolant leak with a theory set aside, a save, one that was
never explained, and a wrong alarm; and the work that the opened engine brought. Invented."""

from collections.abc import Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, time, timedelta
from typing import Any
from uuid import NAMESPACE_URL, UUID, uuid5

from ..core.inspection import Work
from ..core.terms import CaseEntryKind
from ..storage.db import Connection
from ..usecases.recording.cases import (
    NewCase,
    NewCaseEntry,
    NewEnd,
    add_entry,
    close_case,
    open_case,
)
from ..usecases.recording.planning import say_hours
from ..usecases.recording.work import WorkRow, decide_work
from . import opened
from .resort import PEOPLE

ANALYST, TECHNICIAN = PEOPLE[0][0], PEOPLE[1][0]


@dataclass(frozen=True, slots=True, kw_only=True)
class Told:
    """A case as it went: days before the end, entries as (days before, kind, what is said), the
    end as (days before, what)."""

    engine: str
    name: str
    since: int
    source: str
    entries: Sequence[tuple[int, CaseEntryKind, dict[str, Any]]] = ()
    work: Sequence[Work] = ()
    end: tuple[int, dict[str, Any]] | None = None
    by: str = field(default=ANALYST)


TOLD: Sequence[Told] = (
    Told(
        engine="P-03",
        name="coolant in the oil",
        since=20,
        source="sample",
        entries=(
            (
                8,
                "evidence",
                {
                    "hypothesis": "head_gasket",
                    "words": "leak-down even on all six, no bubbles in the header tank",
                    "weight": -2.5,
                },
            ),
            (
                6,
                "set_aside",
                {
                    "hypothesis": "head_gasket",
                    "words": "leak-down even, no bubbles, no white smoke",
                },
            ),
            (6, "step", {"said": "pan_open", "words": "holds"}),
            (4, "way_out", {"words": "exchange engine", "amount": 9400.0}),
        ),
        work=(
            Work(
                kind="clean",
                words="oil cooler off and pressed alone",
                state="decided",
                who=TECHNICIAN,
                hours=3.0,
                estimate=180.0,
            ),
            Work(kind="renew", words="cooler core and its seals", state="open", estimate=640.0),
            Work(kind="renew", words="filter, flush until under 10 ppm potassium", state="open"),
        ),
    ),
    Told(
        engine="U-05",
        name="rattle at the cold start",
        since=118,
        source="symptom",
        by=TECHNICIAN,
        entries=((110, "note", {"words": "three pieces of plastic in the filter"}),),
        work=(
            Work(
                kind="renew",
                words="both chain guides",
                state="done",
                who=TECHNICIAN,
                hours=9.0,
                estimate=380.0,
                cost=355.0,
            ),
        ),
        end=(
            100,
            {
                "end": "save",
                "found": "timing_chain",
                "hours_down": 9.0,
                "cost": 355.0,
                "saved": 4200.0,
                "note": "Chain guide cracked, both guides renewed before the chain jumped.",
            },
        ),
    ),
    Told(
        engine="P-05",
        name="a bright fragment on the strainer",
        since=300,
        source="symptom",
        by=TECHNICIAN,
        entries=(
            (
                298,
                "hypothesis",
                {"words": "something fell in while the filler was open at the summer service"},
            ),
        ),
        end=(
            295,
            {
                "end": "unresolved",
                "found": "foreign_object",
                "hours_down": 18.0,
                "note": "Nothing missing that the fragment could be from.",
                "piece": "bag 3, drawer under the bench, Summit",
            },
        ),
    ),
    Told(
        engine="G-04",
        name="silicon after the rebuild",
        since=340,
        source="sample",
        end=(
            250,
            {
                "end": "wrong_alarm",
                "found": "sealant_debris",
                "hours_down": 2.0,
                "note": "Silicon fell with every charge; no dust in the intake.",
            },
        ),
    ),
)
# Work that findings of the opened engine brought, by their number among `opened.FOUND`.
OPENED: Sequence[tuple[int, Work]] = (
    (
        3,
        Work(
            kind="renew",
            words="rod and main shells, all of them",
            state="decided",
            who=TECHNICIAN,
            hours=34.0,
            estimate=820.0,
        ),
    ),
    (
        4,
        Work(
            kind="machine",
            words="crank, 0.25 under",
            state="decided",
            who="machine shop",
            hours=14.0,
            estimate=540.0,
        ),
    ),
    (2, Work(kind="renew", words="relief valve and its spring", state="open", hours=1.0)),
)


# Hours of each depot: in snow every day, in summer from Monday to Friday.
HOURS = {
    "valley": ((8, 8, 8, 8, 8, 6, 4), (8, 8, 8, 8, 8, 0, 0)),
    "mid": ((8, 8, 8, 8, 8, 8, 4), (6, 6, 6, 6, 6, 0, 0)),
    "summit": ((6, 6, 6, 6, 6, 6, 0), (4, 4, 4, 4, 4, 0, 0)),
}


def _id(*parts: object) -> UUID:
    return uuid5(NAMESPACE_URL, "skarrow/case/" + "/".join(map(str, parts)))


OPEN_CASE = _id(0)  # the one of TOLD that is still open


def _at(on: date) -> datetime:
    return datetime.combine(on, time(9), UTC)


def tell_cases(connection: Connection, end: date) -> None:
    """Open, fill and close the cases as people do, on the days they did."""
    for n, told in enumerate(TOLD):
        _tell(connection, n, told, end)
    for depot, (snow, summer) in HOURS.items():
        for starts, week in (("11-15", snow), ("05-01", summer)):
            say_hours(connection, depot, starts, list(week), ANALYST)
    for n, (number, work) in enumerate(OPENED):
        row = WorkRow(
            id=_id("opened", n),
            engine=opened.ENGINE,
            work=replace(work, due=end + timedelta(days=3 + 5 * n)),
            finding=opened.key_of(number),
        )
        decide_work(connection, row, TECHNICIAN)


def _tell(connection: Connection, n: int, told: Told, end: date) -> None:
    def ago(days: int) -> date:
        return end - timedelta(days=days)

    key, began = _id(n), ago(told.since)
    new = NewCase(id=key, opened_from=told.source, name=told.name, since=began)
    open_case(connection, told.engine, new, told.by, _at(began))
    for m, (days, kind, said) in enumerate(told.entries):
        entry = NewCaseEntry(id=_id(n, m), kind=kind, on=ago(days), **said)
        add_entry(connection, key, entry, told.by, _at(ago(days)))
    for m, work in enumerate(told.work):
        due = None if told.end else end + timedelta(days=1 + 4 * m)
        row = WorkRow(
            id=_id(n, "work", m), engine=told.engine, work=replace(work, due=due), case=key
        )
        decide_work(connection, row, TECHNICIAN)
    if told.end is not None:
        days, said = told.end
        close_case(
            connection, key, NewEnd(id=_id(n, "end"), on=ago(days), **said), told.by, _at(ago(days))
        )
