"""An import taken back whole: its rows of the log are voided, its reports count no more, and the
same files may come in again. Nothing is erased, and a Stop that it raised stands until it is
released."""

from typing import Any

from ...core.roles import Actor, NotAllowed, check_may
from ...storage.db import Connection
from ...storage.records import Row, row, rows, run
from ..answers.exchange import InTheWay, TakenBack
from ..errors import CannotRecord, NotThere

# Tables whose rows go; of those named by `STAY` the rows stay, since others may rest on them.
GO = frozenset({"events", "samples", "readings", "debris", "oils"})
STAY = {
    "depots": "the depots",
    "models": "the models",
    "engines": "the engines",
    "coolants": "the coolants",
    "plans": "the sampling plans",
}
IN_THE_WAY = {
    "signed": "sample {name} was signed by {by} on {on}",
    "answered": "report {name} was put right or answered by {by} on {on}",
    "decided": "{by} decided on {name} on {on}",
    "corrected": "a row of {name} was corrected or taken back by {by} on {on}",
    "revised": "report {name} came in again on {on}",
    "case": "the case “{name}” was opened from a sample of it by {by} on {on}",
}


def taking_back(connection: Connection, source: int, who: Actor) -> TakenBack:
    """What would happen if `who` took back the import that this file belongs to. Raises
    NotThere."""
    files, sources = _files(connection, source)
    engines = rows(connection, "engines_of_import", sources=sources)
    counted = row(connection, "import_counts", sources=sources)
    assert counted is not None
    return {
        "files": [f["name"] for f in files],
        "events": counted["events"],
        "samples": counted["samples"],
        "looks": counted["looks"],
        "reports": counted["reports"],
        "figures": counted["figures"],
        "engines": [e["code"] for e in engines],
        "stays": sorted({STAY[f["kind"]] for f in files if f["kind"] in STAY}),
        "in_the_way": [
            *_not_theirs(files, who),
            *_in_the_way(connection, files, sources, [e["id"] for e in engines]),
        ],
        "done": False,
    }


def take_back(connection: Connection, source: int, reason: str, who: Actor) -> TakenBack:
    """Take back the import that this file belongs to: all of it or nothing.

    Raises NotThere; NotAllowed where somebody else brought it in; CannotRecord where it was taken
    back already, where no reason is given, or where something rests on it.
    """
    run(connection, "one_import")  # nobody brings the same in meanwhile
    found = taking_back(connection, source, who)
    files, sources = _files(connection, source)
    _check_theirs(files, who)
    if any(f["gone"] for f in files):
        raise CannotRecord("taken_back", "this import was taken back already")
    if not reason.strip():
        said = "say why, in a few words; it stays readable beside the import"
        raise CannotRecord("reason_required", said, {"reason": said})
    if found["in_the_way"]:
        listed = "; ".join(x["words"] for x in found["in_the_way"])
        raise CannotRecord("rests_on_it", f"this import cannot be taken back whole: {listed}")
    engines = [e["id"] for e in rows(connection, "engines_of_import", sources=sources)]
    run(connection, "import_void", sources=sources, by=who.name, reason=reason.strip())
    run(connection, "import_gone", sources=sources, by=who.name, reason=reason.strip())
    if any(f["kind"] == "oils" for f in files):
        run(connection, "mark_all_stale")
    else:
        run(connection, "mark_stale", ids=engines)
    run(connection, "mark_change")
    return {**found, "done": True}


def _check_theirs(files: list[Row], who: Actor) -> None:
    if any(f["imported_by"] != who.name for f in files):
        check_may(who, "take_back")


def _not_theirs(files: list[Row], who: Actor) -> list[InTheWay]:
    try:
        _check_theirs(files, who)
    except NotAllowed as error:
        return [{"words": str(error)}]
    return []


def _files(connection: Connection, source: int) -> tuple[list[Row], list[int]]:
    files = rows(connection, "sources_of_import", source=source)
    if not files:
        raise NotThere("there is no such import")
    return files, [f["id"] for f in files]


def _in_the_way(
    connection: Connection, files: list[Row], sources: list[int], engines: list[int]
) -> list[InTheWay]:
    answered_for = sorted({f["kind"] for f in files} - GO - STAY.keys())
    said = [
        f"{table}.csv holds what people answer for; correct that where it stands"
        for table in answered_for
    ]
    given: dict[str, Any] = {"sources": sources, "engines": engines}
    since = min(f["imported_at"] for f in files)
    said += [
        IN_THE_WAY[r["what"]].format(**r)
        for r in rows(connection, "import_rests", since=since, **given)
    ]
    return [{"words": words} for words in dict.fromkeys(said)]
