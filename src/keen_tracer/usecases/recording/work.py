"""Work that findings and cases bring: decided, handed to somebody, done or dropped. One row stands
in place of the one before it; nothing is overwritten."""

from dataclasses import dataclass, replace
from uuid import UUID

from ...core.errors import CoreError
from ...core.inspection import Work, check_work, sums
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.errors import Conflict
from ...storage.records import Row, row, rows
from ..answers.from_rows import answers
from ..answers.inspect import WorkList, WorkOut
from ..errors import CannotRecord, NotThere
from .log_rows import engine_id, known_row


@dataclass(frozen=True, slots=True, kw_only=True)
class WorkRow:
    """A piece of work as somebody decides it. `id` is made by the client; `replaces` is the row
    they saw standing, None for a new one."""

    id: UUID
    engine: str
    work: Work
    replaces: UUID | None = None
    finding: UUID | None = None
    case: UUID | None = None


def _before(connection: Connection, want: WorkRow, engine: int) -> Row | None:
    """The row that it replaces. Raises Conflict where somebody else was first."""
    if want.replaces is None:
        return None
    found = row(connection, "work_row", id=want.replaces)
    if found is None or found["engine_id"] != engine:
        raise CannotRecord("unknown_record", "there is no such piece of work on this engine")
    if found["replaced"]:
        raise Conflict("work_standing")
    return found


def decide_work(connection: Connection, want: WorkRow, who: str) -> None:
    """Write a piece of work down, or what became of it; sent twice it is kept once.

    Raises Conflict where another decided it meanwhile, CannotRecord for what cannot be meant.
    """
    if row(connection, "work_row", id=want.id) is not None:
        return
    engine = engine_id(connection, want.engine)
    before = _before(connection, want, engine)
    if want.finding is not None:
        finding = known_row(connection, want.finding)
        if finding is None or finding["engine_id"] != engine:
            raise CannotRecord("unknown_record", "the finding is not on this engine's record")
    if want.case is not None:
        found = row(connection, "case_of", id=want.case)
        if found is None or found["engine_id"] != engine:
            raise CannotRecord("unknown_record", "the case is not this engine's")
    try:
        check_work(want.work, before["state"] if before else "")
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error
    work = want.work
    insert(
        connection,
        "work_item",
        {
            "id": want.id,
            "item": before["item"] if before else want.id,
            "engine_id": engine,
            "case_id": want.case or (before["case_id"] if before else None),
            "finding": want.finding or (before["finding"] if before else None),
            "kind": work.kind,
            "words": work.words.strip(),
            "state": work.state,
            "who": work.who.strip(),
            "due": work.due,
            "hours": work.hours,
            "estimate": work.estimate,
            "cost": work.cost,
            "replaces": want.replaces,
            "decided_by": who,
        },
    )


def finish_work(connection: Connection, key: UUID, id_: UUID, who: str) -> None:
    """Say of a piece of work that it is done, everything else as it is. Raises NotThere, and
    Conflict where another decided it meanwhile."""
    standing = row(connection, "work_whole", id=key)
    if standing is None:
        raise NotThere("there is no such piece of work")
    work = replace(_work(standing), state="done")
    want = WorkRow(id=id_, engine=standing["engine"], work=work, replaces=key)
    decide_work(connection, want, who)


def _work(r: Row) -> Work:
    return Work(**{k: r[k] for k in Work.__dataclass_fields__})


def work_of(connection: Connection, engine: int) -> list[Row]:
    """The work on an engine as it is now."""
    return rows(connection, "work_of_engine", engine=engine)


def work_out(listed: list[Row]) -> WorkList:
    """Work with its sums, as pages show it."""
    both = [
        (
            Work(kind=r["kind"], words=r["words"], state="open", estimate=r["first_estimate"]),
            _work(r),
        )
        for r in listed
    ]
    total = sums(both)
    return {
        "items": answers(WorkOut, listed),
        "first": total.first,
        "now": total.now,
        "hours": total.hours,
        "unknown": total.unknown,
    }
