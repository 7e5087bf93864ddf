"""An engine's log as it can be put right: its rows, what was corrected, its queries, its oil
balance, its photographs."""

from collections.abc import Mapping
from dataclasses import asdict
from math import isnan

from ...core.planning import above_full_l, oil_balance
from ...core.record import TimeLine, build_time_line
from ...core.words import OWN_UNITS, Units, day, event_words, row_words
from ...storage import fleet
from ...storage.db import Connection
from ...storage.records import Row, row, rows
from ..answers.from_rows import answer
from ..answers.record import Logbook, LogRowOut, TrendOut
from ..bottles.labels import photos
from ..errors import NotThere
from ..recording.answering import answers, open_queries

SHOWN = 400  # rows of the log; older ones are in the export


def looks_in_words(line: TimeLine) -> dict[str, str]:
    """What each look found, by the id of its row."""
    return {m.row.id: row_words(m.row) for m in line.moments if m.row.look is not None}


def words_of_row(r: Row, looks: Mapping[str, str], units: Units = OWN_UNITS) -> str:
    """A row of the log in one line, in `units`; `looks`: what looks found."""
    if r["id"] in looks:
        return looks[r["id"]]
    if r["kind"] == "sample":
        return f"bottle {r['sample']}" + (
            f", {r['step']}" if r["step"] in ("lost", "broken") else ""
        )
    amounts = [
        f"{r['typed'].get(k) or units.litres(r[k])} {word}"
        for k, word in (("litres_in", "put in"), ("litres_drained", "drained"))
        if r[k]
    ]
    named = " ".join(x for x in (r["oil"], r["grade"], r["batch"]) if x)
    return " · ".join(
        x
        for x in (
            event_words(r["kind"], r["part"], "", r["details"], units),
            named,
            *amounts,
            r["note"],
        )
        if x
    )


def _trail(r: Row) -> str:
    """What a correction did, in words: the old value and the new one."""
    said = []
    if r["voided"]:
        said.append("taken back")
    if r["engine"] != r["engine_now"]:
        said.append(f"moved from {r['engine']} to {r['engine_now']}")
    if r["sample"] and r["sample_now"] and r["sample"] != r["sample_now"]:
        said.append(f"bottle {r['sample']} → {r['sample_now']}")
    if not r["voided"] and r["on_date"] != r["on_date_now"]:
        said.append(f"{r['on_date']} → {r['on_date_now']}")
    if not r["voided"] and r["dial"] != r["dial_now"]:
        said.append(f"meter {_dial(r['dial'])} → {_dial(r['dial_now'])}")
    if r["oil"] and r["oil_now"] and r["oil"] != r["oil_now"]:
        said.append(f"oil {r['oil']} → {r['oil_now']}")
    return ", ".join(said) or "facts corrected"


def _dial(x: float | None) -> str:
    return "none" if x is None else f"{x:g}"


def _stick(line: TimeLine, between_marks_l: float | None) -> str:
    """What the stick said at the newest bottle that has it, in litres where the marks' distance is
    known."""
    newest = next(
        (
            (m, s.level_on_stick)
            for m, s in reversed(line.samples())
            if s.level_on_stick is not None
        ),
        None,
    )
    if newest is None:
        return ""
    moment, level = newest
    on = day(moment.row.on.isoformat())
    if between_marks_l is None:
        return (
            ""
            if 0 <= level <= 1
            else f"{'Above full' if level > 1 else 'Below low'} on the stick on {on}."
        )
    over = above_full_l(level, between_marks_l)
    where = (
        "at the full mark"
        if abs(over) < 0.05
        else f"{abs(over):.1f} L {'above' if over > 0 else 'below'} full"
    )
    return f"Stick on {on}: {where}."


def _known(x: object) -> object:
    """What is no number is not known."""
    return None if isinstance(x, float) and isnan(x) else x


def logbook(connection: Connection, code: str, units: Units = OWN_UNITS) -> Logbook:
    """Everything of an engine's log that a person may have to put right."""
    known = row(connection, "engine_by_code", code=code)
    if known is None:
        raise NotThere(f"there is no engine {code}")
    loaded = fleet.load(connection, [known["id"]], {})
    history, unit = loaded.fleet.histories[0], loaded.engines[0]["meter_unit"]
    line = build_time_line(history)
    looks = looks_in_words(line)
    oil = oil_balance(line, history.engine.sump_l, history.engine.nominal_drain)
    return {
        "engine": code,
        "unit": unit,
        "sump_l": history.engine.sump_l,
        "stick": _stick(line, loaded.engines[0]["between_marks_l"]),
        "rows": [
            answer(LogRowOut, r, words=words_of_row(r, looks, units))
            for r in rows(connection, "log_rows_of_engine", engine=known["id"], limit=SHOWN)
        ],
        "corrections": [
            {
                "kind": r["kind"],
                "sample": r["sample"],
                "on": r["on_date"],
                "words": _trail(r),
                "reason": r["reason"],
                "by": r["corrected_by"],
                "at": r["corrected_at"],
            }
            for r in rows(connection, "corrections_of_engine", engine=known["id"])
        ],
        "queries": open_queries(connection, code),
        "answers": answers(connection, code, unit),
        "balance": list(reversed(oil.charges)),
        "oil_use": answer(TrendOut, {k: _known(v) for k, v in asdict(oil.use).items()})
        if oil.use
        else None,
        "photos": photos(connection, known["id"]),
    }
