"""Debris looks and outcomes in. A look is a row of the time line with its counts; the same look
twice adds nothing."""

from uuid import UUID

from ...core.errors import CoreError
from ...core.record import DebrisCount, DebrisLook, share_seen
from ...exchange.csvfile import Cells, Row
from ...storage.bulk import copy_rows
from ...storage.records import row, rows, run
from .events import new_identities, row_identity
from .task import Task

Counts = list[tuple[Row, str, str, int]]  # row of the file, type, size class, count
# What stands beside a count, and what stands for nothing said.
_BESIDE: tuple[tuple[str, str | None], ...] = (("amount", ""), ("mass_mg", None))
_SAME = ("engine", "on", "meter", "place")


def debris(task: Task, part: list[Row]) -> None:
    """Rows of debris.csv, collected by look until the file ends: its counts may stand far apart."""
    for r in part:
        task.looks.setdefault(r.cells["look"], []).append(r)


def _counts(task: Task, given: list[Row]) -> Counts | None:
    """The counts of one look; None when they make no sense."""
    out, seen = [], dict[tuple[str, str], int]()
    for r in given:
        c = r.cells
        if not c["count"] and not c.get("type"):
            continue
        if not c.get("type"):
            task.problem(
                r.number, "type", "there is a count but no type of debris", "say what was found"
            )
            return None
        key = (c["type"], c.get("size_class") or "")
        if key in seen:
            task.problem(
                r.number,
                "type",
                f"{key[0]} {key[1]} stands twice in look {c['look']!r}",
                f"row {seen[key]} has it too; add the two",
            )
            return None
        seen[key] = r.number
        out.append((r, *key, c["count"]))
    return out


def _agree(task: Task, name: str, given: list[Row]) -> bool:
    """Whether the rows of a look say the same of where and when it was."""
    head = given[0]
    for r in given[1:]:
        differing = next((k for k in _SAME if r.cells.get(k) != head.cells.get(k)), None)
        if differing:
            task.problem(
                r.number,
                differing,
                f"look {name!r} has another {differing} in row {head.number}",
                "give every look a name of its own",
            )
            return False
    return True


def _on_record(task: Task, name: str, given: list[Row], counts: Counts) -> bool:
    """Whether a look of that name is there; with other facts it is refused."""
    known = rows(task.connection, "looks_known", names=[name])
    if not known:
        return False
    c = given[0].cells
    have = {
        (x["type"], x["size_class"], x["count"])
        for x in rows(task.connection, "counts_known", names=[name])
    }
    where = (known[0]["engine"], known[0]["on_date"])
    if where == (c["engine"], c["on"]) and have == {x[1:] for x in counts}:
        task.file.known += len(given)
    else:
        task.problem(
            given[0].number,
            "look",
            f"look {name!r} is on record with other facts",
            "an import never overwrites; give the look another name",
        )
    return True


def _sound(task: Task, head: Row, counts: Counts) -> bool:
    """Whether the core takes the look as a measurement."""
    c = head.cells
    seen, whole = c.get("area_cm2"), c.get("area_total_cm2")
    if seen is None or whole is None:
        seen, whole = c.get("pleats"), c.get("pleats_total")
    both = c.get("both_sides") is not False
    try:
        DebrisLook(
            c["place"],
            c.get("tool") or "",
            share_seen(seen, None if seen is None or whole is None else max(seen, whole), both),
            tuple(DebrisCount(t, s, n, r.cells.get("amount") or "") for r, t, s, n in counts),
            c.get("hours"),
        )
    except CoreError as error:
        task.problem(head.number, "place", str(error), "correct it")
        return False
    return True


def _one(task: Task, name: str, given: list[Row]) -> None:
    head = given[0]
    c = head.cells
    engine = task.engine(c["engine"], head.number)
    counts = _counts(task, given) if _agree(task, name, given) else None
    if engine is None or counts is None or not _sound(task, head, counts):
        return
    if _on_record(task, name, given, counts):
        return
    key = c.get("row") or row_identity("look", name, c["engine"], c["on"])
    if row(task.connection, "log_row_kept", id=key) is not None:
        task.problem(
            head.number,
            "row",
            "a row of the log with this identity is on record with other facts",
            "an import never overwrites; leave row empty for a new look",
        )
        return
    key = new_identities(task, [key])[key]
    copy_rows(
        task.connection,
        "log",
        ("id", "engine_id", "on_date", "dial", "kind", "recorded_by", "source_id", "source_row"),
        [(key, engine, c["on"], c.get("meter"), "look", task.actor.name, task.source, head.number)],
    )
    own = ("area_cm2", "area_total_cm2", "pleats", "pleats_total", "drained_min", "hours")
    copy_rows(
        task.connection,
        "look",
        ("log_id", "name", "place", "tool", *own, "both_sides", "note"),
        [
            (
                key,
                name,
                c["place"],
                c.get("tool") or "",
                *(c.get(k) for k in own),
                c.get("both_sides") is not False,
                c.get("note") or "",
            )
        ],
    )
    copy_rows(
        task.connection,
        "look_count",
        ("log_id", "type", "size_class", "count", *(name for name, _ in _BESIDE), "magnetic"),
        [
            (
                key,
                t,
                s,
                n,
                *(r.cells.get(k) or none for k, none in _BESIDE),
                r.cells.get("magnetic"),
            )
            for r, t, s, n in counts
        ],
    )
    task.file.added += len(given)
    task.touched.add(engine)


def finish_debris(task: Task) -> None:
    """Write the looks of a file."""
    for name, given in task.looks.items():
        _one(task, name, given)
    task.looks = {}


def _outcome_identity(cells: Cells) -> UUID:
    """Of an outcome without one: nobody types an identity, and a file read twice is known."""
    said = ("engine", "sample", "on", "found", "confirmed", "by")
    return row_identity("outcome", *(cells.get(k) for k in said))


def outcomes(task: Task, part: list[Row]) -> None:
    """Rows of outcomes.csv: what an inspection found, each once."""
    found_at = set[int]()
    for r in part:
        c = r.cells
        engine = task.engine(c["engine"], r.number)
        if engine is None:
            continue
        sample = row(task.connection, "sample_id", code=c["sample"]) if c.get("sample") else None
        if c.get("sample") and sample is None:
            task.problem(
                r.number,
                "sample",
                f"sample {c['sample']!r} is not known",
                "import samples.csv with it first",
            )
            continue
        added = run(
            task.connection,
            "outcome_put",
            id=c.get("outcome") or _outcome_identity(c),
            engine=engine,
            sample=sample["id"] if sample else None,
            on=c["on"],
            found=c["found"],
            confirmed=c["confirmed"],
            hours_down=c.get("hours_down"),
            cost=c.get("cost"),
            saved=c.get("saved"),
            note=c.get("note") or "",
            piece=c.get("piece") or "",
            by=c["by"],
            at=c.get("at"),
        )
        task.file.added, task.file.known = task.file.added + added, task.file.known + 1 - added
        task.touched.add(engine)
        found_at.add(engine)
    run(task.connection, "mark_models_stale", engines=sorted(found_at))
