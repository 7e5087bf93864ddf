"""Cases, what was added to them, work and links between findings, as an export wrote them. What
people answered for comes in by themselves, or as part of a whole record; every entry passes the
gate the page has."""

from collections.abc import Callable
from uuid import UUID

from ...core.errors import CoreError
from ...core.inspection import Work, check_work
from ...core.terms import WEEKDAYS
from ...exchange.csvfile import Cells, Row
from ...storage.bulk import insert
from ...storage.errors import Conflict
from ...storage.records import row, rows
from ..errors import CannotRecord
from ..recording.cases import NewCaseEntry, check_entry, put_entry
from ..recording.in_words import WRITTEN, not_in_log
from .task import Task

MOST_NAMED = 5  # rows that are named where their words say what the log does not; our choice

FIGURES = (
    *("weight", "amount", "litres_new", "litres_trapped", "measured", "target"),
    *("filter_changed", "follows", "withdraws"),
)
Handler = Callable[[Task, Row, Cells, int], None]


def _each(task: Task, part: list[Row], there: str, key: str, does: Handler) -> None:
    """Every row that is its bringer's own, of a known engine, and not on record yet."""
    for r in part:
        c = r.cells
        engine = task.engine(c["engine"], r.number)
        if engine is None:
            continue
        if row(task.connection, there, id=c[key]) is not None:
            task.file.known += 1
            continue
        does(task, r, c, engine)


def cases(task: Task, part: list[Row]) -> None:
    """Rows of cases.csv."""
    _each(task, part, "case_of", "case", _case)


def _case(task: Task, r: Row, cells: Cells, engine: int) -> None:
    sample = (
        row(task.connection, "sample_id", code=cells["sample"]) if cells.get("sample") else None
    )
    if cells.get("sample") and sample is None:
        fix = "import samples.csv with it first"
        task.problem(r.number, "sample", f"sample {cells['sample']!r} is not known", fix)
        return
    insert(
        task.connection,
        "engine_case",
        {
            "id": cells["case"],
            "engine_id": engine,
            "name": cells["name"],
            "since": cells["since"],
            "opened_from": cells["opened_from"],
            "sample_id": sample["id"] if sample else None,
            "carried": cells.get("carried") or [],
            "opened_by": cells["by"],
            "opened_at": cells["at"],
        },
    )
    task.file.added += 1


def entries(task: Task, part: list[Row]) -> None:
    """Rows of case_entries.csv, in their order."""
    _each(task, part, "case_entry_there", "entry", _entry)


def _entry(task: Task, r: Row, cells: Cells, engine: int) -> None:
    found = row(task.connection, "case_of", id=cells["case"])
    if found is None or found["engine_id"] != engine:
        fix = "bring in cases.csv with it"
        task.problem(r.number, "case", "this case of the engine is not known", fix)
        return
    if cells.get("outcome") and row(task.connection, "outcome_there", id=cells["outcome"]) is None:
        fix = "bring in outcomes.csv with it"
        task.problem(r.number, "outcome", "this outcome is not known", fix)
        return
    said: Cells = {k: cells.get(k) or "" for k in ("hypothesis", "said", "words")}
    said |= {k: cells.get(k) for k in FIGURES}
    e = NewCaseEntry(id=cells["entry"], kind=cells["kind"], on=cells["on"], **said)
    try:
        check_entry(found, e, rows(task.connection, "case_entries", id=cells["case"]))
    except (CannotRecord, CoreError) as error:
        task.problem(r.number, "kind", str(error), "correct the row")
        return
    except Conflict:
        fix = "let the rows stand in the order they were written"
        task.problem(r.number, "follows", "another closing or opening stands", fix)
        return
    put_entry(task.connection, cells["case"], e, cells["by"], cells["at"], cells.get("outcome"))
    if e.kind in ("step", "withdraw"):
        task.touched.add(engine)
    task.file.added += 1
    if e.kind in WRITTEN:
        _say_facts(task, r, engine, e.words)


def _say_facts(task: Task, r: Row, engine: int, words: str) -> None:
    """Name the facts that an entry's words say and the log does not. A page asks at once whether
    they belong there; of a file nobody can be asked."""
    said = ", ".join(k.words for k in not_in_log(task.connection, engine, words))
    if not said:
        return
    named = [note for note in task.file.note.split("\n") if note]
    if len(named) < MOST_NAMED:
        named.append(
            f"Row {r.number} says: {said}. The log of {r.cells['engine']} does not have it, and an "
            "engine is judged by its log: write it there if it is so."
        )
    elif len(named) == MOST_NAMED:
        named.append("More rows say what no log has; read the cases.")
    task.file.note = "\n".join(named)


def work(task: Task, part: list[Row]) -> None:
    """Rows of work.csv; a row that is replaced comes before the one that replaces it."""
    _each(task, part, "work_row", "row", _work)


def _work(task: Task, r: Row, cells: Cells, engine: int) -> None:
    before = (
        row(task.connection, "work_row", id=cells["replaces"]) if cells.get("replaces") else None
    )
    if cells.get("replaces") and (before is None or before["replaced"]):
        fix = "let the rows stand in the order they were written"
        task.problem(r.number, "replaces", "the row it stands in place of is not there", fix)
        return
    given: Cells = {k: cells.get(k) for k in Work.__dataclass_fields__}
    made = Work(**given | {"who": cells.get("who") or ""})
    try:
        check_work(made, before["state"] if before else "")
    except CoreError as error:
        task.problem(r.number, "state", str(error), "correct the row")
        return
    if cells.get("case") and row(task.connection, "case_of", id=cells["case"]) is None:
        task.problem(r.number, "case", "this case is not known", "bring in cases.csv with it")
        return
    insert(
        task.connection,
        "work_item",
        {
            "id": cells["row"],
            "item": before["item"] if before else cells["row"],
            "engine_id": engine,
            "case_id": cells.get("case"),
            "finding": _finding(task, engine, cells, "finding"),
            **{k: getattr(made, k) for k in given},
            "replaces": cells.get("replaces"),
            "decided_by": cells["by"],
            "decided_at": cells["at"],
        },
    )
    task.file.added += 1


def _finding(task: Task, engine: int, cells: Cells, which: str) -> UUID | None:
    """The finding of a day, in its order, of a part."""
    found = row(
        task.connection,
        "finding_there",
        engine=engine,
        on=cells.get(f"{which}_on"),
        seq=cells.get(f"{which}_order"),
        part=cells.get(f"{which}_part") or "",
    )
    return found["id"] if found else None


def links(task: Task, part: list[Row]) -> None:
    """Rows of links.csv: what people kept, turned or cut of what led to what."""
    _each(task, part, "damage_link_there", "link", _link)


def _link(task: Task, r: Row, cells: Cells, engine: int) -> None:
    cause, effect = (_finding(task, engine, cells, x) for x in ("cause", "effect"))
    if cause is None or effect is None or cause == effect:
        fix = "bring in events.csv with it"
        task.problem(r.number, "cause_part", "a link goes from one finding to another", fix)
        return
    insert(
        task.connection,
        "damage_link",
        {
            "id": cells["link"],
            "engine_id": engine,
            "cause": cause,
            "effect": effect,
            "kept": cells["kept"],
            "decided_by": cells["by"],
            "decided_at": cells["at"],
        },
    )
    task.touched.add(engine)
    task.file.added += 1


def moves(task: Task, part: list[Row]) -> None:
    """Rows of moves.csv: tasks that somebody moved, the earlier moves first."""
    _each(task, part, "task_move_there", "move", _move)


def _move(task: Task, r: Row, cells: Cells, engine: int) -> None:
    if (
        cells.get("follows")
        and row(task.connection, "task_move_there", id=cells["follows"]) is None
    ):
        fix = "let the rows stand in the order they were written"
        task.problem(r.number, "follows", "the move before it is not there", fix)
        return
    insert(
        task.connection,
        "task_move",
        {
            "id": cells["move"],
            "engine_id": engine,
            "task": cells["task"],
            "day": cells.get("day"),
            "reason": cells.get("reason") or "",
            "follows": cells.get("follows"),
            "moved_by": cells["by"],
            "moved_at": cells["at"],
        },
    )
    task.file.added += 1


def hours(task: Task, part: list[Row]) -> None:
    """Rows of hours.csv: hours of a depot from a day of the year on; no figure at all takes the
    season back."""
    for r in part:
        c = r.cells
        if row(task.connection, "depot_by_code", code=c["depot"]) is None:
            what = f"depot {c['depot']!r} is not known"
            task.problem(r.number, "depot", what, "bring in depots.csv")
            continue
        if (
            row(task.connection, "hours_there", depot=c["depot"], starts=c["starts"], at=c["at"])
            is not None
        ):
            task.file.known += 1
            continue
        said = [c.get(day) for day in WEEKDAYS]
        week = [] if all(x is None for x in said) else [x or 0.0 for x in said]
        given = {"depot": c["depot"], "starts": c["starts"], "hours": week}
        insert(task.connection, "depot_hours", {**given, "said_by": c["by"], "said_at": c["at"]})
        task.file.added += 1
