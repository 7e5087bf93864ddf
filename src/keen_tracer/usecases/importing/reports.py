"""Laboratory reports: identity is (laboratory, report, revision). Other content under a known one
is an amendment."""

import hashlib
from dataclasses import dataclass
from datetime import date

from ...core.laboratory import BY_CODE, BY_COLUMN, reading_text
from ...exchange.cells import BadCell
from ...exchange.csvfile import ReadingCell, Row, reading_cell
from ...storage.bulk import NULL, copy_rows, copy_text, copy_value, known, new_ids
from ...storage.records import Row as Record
from ...storage.records import row, rows
from .task import Change, Task

REFERENCE = "(fresh oil)"  # the "laboratory" under which fresh-oil references are kept


@dataclass(slots=True)
class Incoming:
    """One report of a file, of a sample or of a batch of oil."""

    laboratory: str
    number: str
    revision: int
    sample_id: int | None
    batch_id: int | None
    analysed_on: date | None
    readings: list[ReadingCell]
    at: int
    what: str
    engine: int | None
    methods: dict[int, str] | None = None

    def content(self) -> str:
        """Fingerprint of what the report says, whatever order it says it in."""
        lines = sorted(
            f"{code}:{censor}:{value}:{(self.methods or {}).get(code, '')}"
            for code, censor, value, _, _ in self.readings
        )
        head = f"{self.sample_id is None}|{self.analysed_on}|"
        return hashlib.blake2b((head + "|".join(lines)).encode(), digest_size=16).hexdigest()


def _known(task: Task, incoming: list[Incoming]) -> dict[tuple[str, str], list[Record]]:
    """Reports on record under the same laboratory and number."""
    have: dict[tuple[str, str], list[Record]] = {}
    for r in rows(
        task.connection,
        "reports_known",
        laboratories=[i.laboratory for i in incoming],
        numbers=[i.number for i in incoming],
    ):
        have.setdefault((r["laboratory"], r["number"]), []).append(r)
    return have


def _is_new(task: Task, one: Incoming, content: str, before: list[Record]) -> bool:
    """Whether a report adds anything; one that says otherwise than before becomes an amendment."""
    taken, before = {b["revision"] for b in before}, [b for b in before if not b["gone"]]
    # The same figures under another bottle are another statement: a report matched to its bottle
    # by a person.
    owner = (one.sample_id, one.batch_id)
    if any(
        b["content_hash"] == content and (b["sample_id"], b["oil_batch_id"]) == owner
        for b in before
    ):
        return False
    free = one.revision if one.revision not in taken else max(taken) + 1
    if not before:
        one.revision = free
        return True
    if any(b["source_id"] == task.source and b["revision"] == one.revision for b in before):
        task.problem(
            one.at,
            None,
            f"report {one.number!r} stands in two places of this file",
            "keep the rows of one report together",
        )
        return False
    one.revision = free
    _amendment(task, one, before[-1]["id"])
    return True


_REPORT_COLUMNS = (
    "id",
    "laboratory",
    "number",
    "revision",
    "sample_id",
    "oil_batch_id",
    "analysed_on",
    "content_hash",
    "source_id",
)
_READING_COLUMNS = ("report_id", "analyte", "censor", "value", "reported", "unit", "method")


def _store(task: Task, fresh: list[tuple[Incoming, str]]) -> None:
    """Append reports and their readings in bulk."""
    ids = new_ids(task.connection, "report", len(fresh))
    copy_rows(
        task.connection,
        "report",
        _REPORT_COLUMNS,
        [
            (
                n,
                i.laboratory,
                i.number,
                i.revision,
                i.sample_id,
                i.batch_id,
                i.analysed_on,
                content,
                task.source,
            )
            for n, (i, content) in zip(ids, fresh, strict=True)
        ],
    )
    lines = []
    for n, (i, _) in zip(ids, fresh, strict=True):
        head, methods = f"{n}\t", i.methods
        for code, censor, value, reported, unit in i.readings:
            method = copy_value(methods.get(code)) if methods else NULL
            lines.append(
                f"{head}{code}\t{censor}\t{value or NULL}\t"
                f"{copy_value(reported)}\t{copy_value(unit)}\t{method}\n"
            )
    copy_text(task.connection, "reading", _READING_COLUMNS, "".join(lines))


def write_reports(task: Task, incoming: list[Incoming]) -> None:
    """Store new reports; a known one with the same content adds nothing, with other content it is
    an amendment."""
    if not incoming:
        return
    have = _known(task, incoming)
    hashed = [(one, one.content()) for one in incoming]
    fresh = [
        (one, content)
        for one, content in hashed
        if _is_new(task, one, content, have.get((one.laboratory, one.number), []))
    ]
    if task.file.table == "readings":
        added = sum(len(i.readings) for i, _ in fresh)
        task.file.added += added
        task.file.known += sum(len(i.readings) for i in incoming) - added
    if fresh:
        _store(task, fresh)
        task.touched.update(i.engine for i, _ in fresh if i.engine is not None)


def _amendment(task: Task, one: Incoming, before: int) -> None:
    """Put old → new on the report of the import; the figures count only once a person accepts
    them."""
    old = {
        r["analyte"]: reading_text(r["value"], r["censor"])
        for r in rows(task.connection, "readings_of_reports", reports=[before])
    }
    new = {
        code: reading_text(None if value is None else float(value), censor)
        for code, censor, value, _, _ in one.readings
    }
    said = [
        f"{BY_CODE[k].symbol} {old.get(k, 'none')} → {new.get(k, 'none')}"
        for k in sorted(set(old) | set(new))
        if old.get(k) != new.get(k)
    ]
    task.report.amendments.append(
        Change(
            task.file.name,
            one.at,
            f"{one.what}, revision {one.revision}",
            ", ".join(s.split(" → ")[0] for s in said),
            "; ".join(said) or "the same figures, analysed another day",
        )
    )


def oils(task: Task, part: list[Row]) -> None:
    """Batches of oil with their fresh-oil reference."""
    incoming, seen = [], dict[str, int]()
    for r in part:
        oil, grade, batch = r.cells["oil"], r.cells.get("grade") or "", r.cells.get("batch") or ""
        key = f"{oil}|{grade}|{batch}"
        if key in seen:
            task.problem(
                r.number,
                "oil",
                f"this batch stands twice, also in row {seen[key]}",
                "keep one of the rows",
            )
            continue
        seen[key] = r.number
        found = row(task.connection, "batch_get", oil=oil, grade=grade, batch=batch)
        if found:
            task.file.known += 1
        else:
            found = row(
                task.connection,
                "batch_put",
                oil=oil,
                grade=grade,
                batch=batch,
                on=r.cells.get("reference_on"),
            )
            task.file.added += 1
            task.all_touched = True
        assert found is not None
        if r.readings:
            incoming.append(
                Incoming(
                    REFERENCE,
                    key,
                    1,
                    None,
                    found["id"],
                    r.cells.get("reference_on"),
                    r.readings,
                    r.number,
                    f"fresh oil {oil} {grade} {batch}".strip(),
                    None,
                )
            )
    write_reports(task, incoming)


def readings(task: Task, part: list[Row]) -> None:
    """Rows of readings.csv, one report after another; a report may run over the end of a chunk."""
    groups: dict[tuple[str, str, int], list[Row]] = task.waiting_rows
    for r in part:
        key = (r.cells.get("laboratory") or "", r.cells["report"], r.cells.get("revision") or 1)
        groups.setdefault(key, []).append(r)
    last = next(reversed(groups))
    task.waiting_rows = {last: groups.pop(last)}
    _write_groups(task, groups)


def finish_readings(task: Task) -> None:
    """Write the report that waited for more rows."""
    groups, task.waiting_rows = task.waiting_rows, {}
    _write_groups(task, groups)


def _write_groups(task: Task, groups: dict[tuple[str, str, int], list[Row]]) -> None:
    names_given = sorted({r.cells["sample"] for g in groups.values() for r in g})
    samples = known(task.connection, "sample", "code", ["id"], names_given)
    samples |= _unregistered(task, [n for n in names_given if n not in samples])
    batches = {
        r["sample_id"]: r["oil_batch_id"]
        for r in rows(
            task.connection, "reference_samples", samples=[x[0] for x in samples.values()]
        )
    }
    engines = {
        r["sample_id"]: r
        for r in rows(
            task.connection, "engines_of_samples", samples=[x[0] for x in samples.values()]
        )
    }
    incoming = []
    for (laboratory, number, revision), group in groups.items():
        names = {r.cells["sample"] for r in group}
        at = group[0].number
        if len(names) > 1:
            task.problem(
                at,
                "sample",
                f"report {number!r} names several samples: {', '.join(sorted(names))}",
                "give each sample its own report number",
            )
            continue
        sample = samples[name := names.pop()]
        batch = batches.get(sample[0])
        task.all_touched |= batch is not None
        engine = engines.get(sample[0])
        found, methods = _group_readings(task, group, engine["fuel"] if engine else "")
        if found:
            incoming.append(
                Incoming(
                    laboratory,
                    number,
                    revision,
                    None if batch else sample[0],
                    batch,
                    group[0].cells.get("analysed_on"),
                    found,
                    at,
                    f"report {number} of sample {name}",
                    engine["engine_id"] if engine else None,
                    methods,
                )
            )
    write_reports(task, incoming)


def _unregistered(task: Task, names: list[str]) -> dict[str, tuple[int]]:
    """Bottles nobody registered: their figures are kept, and wait in Collect's inbox for the bottle
    they belong to."""
    numbers = new_ids(task.connection, "sample", len(names))
    made = {name: (number,) for name, number in zip(names, numbers, strict=True)}
    copy_rows(
        task.connection, "sample", ("id", "code"), [(number, n) for n, (number,) in made.items()]
    )
    task.report.unmatched += names
    return made


def _group_readings(
    task: Task, group: list[Row], fuel: str
) -> tuple[list[ReadingCell], dict[int, str] | None]:
    found: dict[int, ReadingCell] = {}
    methods: dict[int, str] = {}
    for r in group:
        column = r.cells["analyte"]
        if column not in BY_COLUMN:
            task.problem(
                r.number,
                "analyte",
                f"analyte {column!r} is not known",
                "write it as in docs/formats.md, such as Fe_ppm",
            )
            continue
        try:
            one = reading_cell(column, r.cells["reading"], r.cells.get("unit"), fuel)
        except BadCell as bad:
            task.problem(r.number, "reading", bad.what, bad.fix)
            continue
        if one is None:
            continue
        if one[0] in found:
            task.problem(
                r.number,
                "analyte",
                f"{column} stands twice in report {r.cells['report']!r}",
                "keep one",
            )
            continue
        found[one[0]] = one
        if r.cells.get("method"):
            methods[one[0]] = r.cells["method"]
    return list(found.values()), methods or None
