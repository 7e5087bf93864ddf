"""The opened engine: what was found, in the order it was found, what the readings come to, and what
led to what."""

from dataclasses import asdict
from uuid import UUID

from ...core.errors import CoreError, UnknownName
from ...core.inspection import work_proposed
from ...core.record import (
    Figure,
    History,
    Layout,
    Link,
    LogRow,
    build_time_line,
    check_details,
    clearances,
    condition_of,
    findings_of,
    layout_of,
    links_of,
    parts,
    place_words,
    roots,
)
from ...storage import fleet
from ...storage.bulk import insert
from ...storage.db import Connection
from ...storage.records import row, rows
from ..answers.from_rows import answer
from ..answers.inspect import (
    AskedWork,
    FigureOut,
    FindingOut,
    LayoutOut,
    LinkOut,
    OpenedOut,
    PictureKey,
)
from ..errors import CannotRecord, NotThere
from ..judging.judging import judge_one
from ..recording.work import work_of, work_out


def _figures(found: LogRow) -> tuple[list[Figure], str]:
    """What a finding's readings come to, or why they come to nothing."""
    try:
        return clearances(found.details), ""
    except CoreError as error:
        return [], str(error)


def try_figures(part: str, details: dict[str, str]) -> list[FigureOut]:
    """What readings would come to. Raises CannotRecord for what cannot be meant."""
    try:
        if part not in parts():
            raise UnknownName("part", part, list(parts()))
        check_details(details)
        return [_figure_out(f) for f in clearances(details)]
    except CoreError as error:
        raise CannotRecord(error.code, str(error)) from error


def _figure_out(f: Figure) -> FigureOut:
    return {
        "what": f.what,
        "mm": f.mm,
        "half": f.half,
        "low": f.low,
        "high": f.high,
        "verdict": f.verdict,
    }


def root_mode(history: History) -> str:
    """The failure mode at the root of the findings; "" where there is none."""
    findings = findings_of(build_time_line(history))
    kept, _ = links_of(history.engine, findings)
    found = {r.id: r for r in findings}
    first = next(iter(roots(findings, kept)), None)
    return parts()[found[first].part].mode if first else ""


def opened(connection: Connection, code: str) -> OpenedOut:
    """Everything of an opened engine. Raises NotThere."""
    found = row(connection, "engine_by_code", code=code)
    if found is None:
        raise NotThere(f"there is no engine {code}")
    loaded = fleet.load(connection, [found["id"]], {}, figures=False)
    facts, history = loaded.engines[0], loaded.fleet.histories[0]
    findings = findings_of(build_time_line(history))
    kept, cut = links_of(history.engine, findings)
    layout = layout_of(facts["layout"])
    listed = work_of(connection, found["id"])
    pictures: dict[str, list[PictureKey]] = {}
    for p in rows(connection, "photos_of_logs", logs=[UUID(r.id) for r in findings]):
        pictures.setdefault(str(p["log_id"]), []).append({"id": p["id"], "sha256": p["sha256"]})
    return {
        "engine": code,
        "engine_name": facts["name"],
        "layout": None if layout is None else _layout(layout),
        "layout_words": facts["layout"],
        "findings": [_out(n, r, pictures) for n, r in enumerate(findings, 1)],
        "links": [_link(x) for x in kept],
        "cut": [_link(x) for x in cut],
        "roots": roots(findings, kept),
        "work": work_out(listed),
        "asked": [
            answer(AskedWork, asdict(p))
            for p in work_proposed(findings, {w["finding"] for w in listed})
        ],
    }


def _layout(x: Layout) -> LayoutOut:
    return {"kind": x.kind, "cylinders": x.cylinders}


def _link(x: Link) -> LinkOut:
    return {"cause": x.cause, "effect": x.effect, "why": x.why}


def _out(number: int, row: LogRow, pictures: dict[str, list[PictureKey]]) -> FindingOut:
    condition = condition_of(row.part, row.details)
    figures, wrong = _figures(row)
    return {
        "id": row.id,
        "number": number,
        "on": row.on,
        "part": row.part,
        "where": place_words(row.part, row.details),
        "position": row.details.get("position", ""),
        "side": row.details.get("side", ""),
        "condition": condition.code,
        "words": condition.words,
        "grade": condition.grade,
        "share_pct": row.details.get("share_pct", ""),
        "source": row.details.get("limit_source", ""),
        "note": row.note,
        "figures": [_figure_out(f) for f in figures],
        "wrong": wrong,
        "pictures": pictures.get(row.id, []),
    }


def decide_link(
    connection: Connection, key: UUID, code: str, cause: UUID, effect: UUID, keep: bool, who: str
) -> None:
    """Keep, draw or cut a link; sent twice it is kept once. Raises CannotRecord for findings that
    are not this engine's."""
    found = row(connection, "engine_by_code", code=code)
    if found is None:
        raise NotThere(f"there is no engine {code}")
    if row(connection, "damage_link_there", id=key) is not None:
        return
    history = fleet.load(connection, [found["id"]], {}, figures=False).fleet.histories[0]
    here = {r.id for r in findings_of(build_time_line(history))}
    if cause == effect or not {str(cause), str(effect)} <= here:
        raise CannotRecord("unknown_record", "a link goes from one finding here to another")
    insert(
        connection,
        "damage_link",
        {
            "id": key,
            "engine_id": found["id"],
            "cause": cause,
            "effect": effect,
            "kept": keep,
            "decided_by": who,
        },
    )
    judge_one(connection, found["id"])
