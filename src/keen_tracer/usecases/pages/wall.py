"""The Wall: the whole fleet in one look, worst first."""

import json
from collections.abc import Callable
from datetime import date, timedelta
from itertools import accumulate
from typing import Any

from ...core.planning import CHANCE, risk
from ...core.status import Tooth, group_of
from ...core.terms import GROUPS, LEVELS, MAY_RUN, STAKES, WallOrder, rank
from ...core.verdict import BOTTLE_NOW
from ...core.words import MEND_SHORT, OWN_UNITS, Units, action_kinds, due_words, short_day, small
from ...storage.db import Address, Connection, address
from ...storage.records import Row, anywhere, rows, run
from ..answers.from_rows import answer
from ..answers.standing import OpenCase
from ..answers.wall import Due, GraverLine, Mark, Wall, WallGroup, WallLine
from ..answers.wall import Tooth as ToothOut
from ..days import Days, days_now
from ..judging.stored import (
    NO_MARK,
    NO_PICTURE,
    Drawn,
    Picture,
    StoredDue,
    StoredMark,
    StoredTooth,
)
from ..kept import Kept
from .standing import now, standing, state_in

GRAVER_SHOWN = 500  # engines that became graver and are named at once; our choice
BACK, AHEAD = timedelta(days=275), timedelta(days=42)  # nine months and six weeks

_kept = Kept[WallLine](5000)  # lines of engines, some kilobytes each; our choice


def _stored(trace: list[StoredMark]) -> bool:
    words = [m["kind"] for m in trace if m["kind"] in ("stored", "out")]
    return bool(words) and words[-1] == "stored"


OVERDUE, QUIET = rank(GROUPS, "overdue"), rank(GROUPS, "quiet")
PLACES = {"halted": rank(GROUPS, "do_not_run"), "overdue": OVERDUE, "quiet": QUIET}


# Of a count: the group it belongs to, and the order of the groups.
_KEYS: dict[WallOrder, Callable[[Row], str]] = {
    "need": lambda r: list(GROUPS)[r["need"]],
    "depot": lambda r: r["depot"] or "no depot",
    "risk": lambda r: "priced" if r["priced"] else "not_priced",
}
_ORDERS: dict[WallOrder, Callable[[Row], Any]] = {
    "need": lambda r: r["need"],
    "depot": lambda r: r["depot"],
    "risk": lambda r: not r["priced"],
}
_LABELS = {**GROUPS, **STAKES}


def _groups(counts: list[Row], by: WallOrder) -> list[WallGroup]:
    """The heads of the Wall in its order, each with its count and the place of its first row."""
    sizes: dict[str, int] = {}
    for r in sorted(counts, key=_ORDERS[by]):
        key = _KEYS[by](r)
        sizes[key] = sizes.get(key, 0) + r["n"]
    starts = accumulate(sizes.values(), initial=0)
    return [
        {"key": key, "label": _LABELS.get(key, key), "count": n, "start": start}
        for (key, n), start in zip(sizes.items(), starts, strict=False)
    ]


def window(
    connection: Connection,
    days: Days,
    depot: str | None,
    find: str | None,
    by: WallOrder,
    offset: int,
    limit: int,
    units: Units,
) -> tuple[list[WallGroup], list[WallLine]]:
    """Heads of every group, and the rows of the wanted slice, worst first."""
    here = address(connection)
    of, like = days.of_depots(), anywhere(find) if find else None
    page = rows(
        connection,
        "wall_window",
        depot=depot,
        find=like,
        order=by,
        chances=list(CHANCE),
        offset=offset,
        limit=limit,
        **PLACES,
        **of,
    )
    groups = rows(connection, "wall_groups", depot=depot, find=like, **PLACES, **of)
    return _groups(groups, by), with_cases(
        connection, [_line(here, r, days.at(r["depot"]), units) for r in page]
    )


def wall(
    connection: Connection,
    depot: str | None,
    find: str | None,
    by: WallOrder,
    offset: int,
    limit: int,
    units: Units = OWN_UNITS,
) -> Wall:
    """A window of the Wall, amounts in `units`."""
    days = days_now(connection)
    today = days.at(depot)
    groups, shown = window(connection, days, depot, find, by, offset, limit, units)
    return {
        "today": today,
        "since": today - BACK,
        "until": today + AHEAD,
        "total": sum(g["count"] for g in groups),
        "groups": groups,
        "depots": [r["code"] for r in rows(connection, "depot_codes")],
        "offset": offset,
        "graver": _graver(connection, days),
        "rows": list(shown),
    }


def _graver(connection: Connection, days: Days) -> list[GraverLine]:
    """Engines whose state is graver since the rules of judging changed, the worst first."""
    out: list[GraverLine] = []
    for r in rows(connection, "graver", n=GRAVER_SHOWN):
        picture: Picture = json.loads(r["picture"])
        stands = now(state_in(picture), picture["dial"], days.at(r["depot"]))
        out.append(
            {
                "code": r["code"],
                "name": r["name"],
                "level": r["level"],
                "was": _stood(r["was_level"], r["was_may_run"]),
                "now": _stood(r["level"], stands),
            }
        )
    return out


def _stood(level: int | None, may_run: str) -> str:
    """A state in a few words.

    >>> _stood(2, "run_until")
    'Act, runs until a date or a meter'
    """
    named = "not judged" if level is None else LEVELS[level]
    allowed = "runs until a date or a meter" if may_run == "run_until" else small(MAY_RUN[may_run])
    return f"{named}, {allowed}"


def graver_seen(connection: Connection, codes: list[str], who: str) -> None:
    """Somebody has seen which engines became graver; said twice it is said once."""
    run(connection, "graver_seen", codes=codes, by=who)


def lines(connection: Connection, ids: list[int], units: Units = OWN_UNITS) -> dict[int, WallLine]:
    """The Wall's lines of some engines, by their keys; amounts in `units`."""
    days, here = days_now(connection), address(connection)
    found = rows(connection, "wall_lines", ids=ids, quiet=QUIET)
    drawn = with_cases(connection, [_line(here, r, days.at(r["depot"]), units) for r in found])
    return {r["id"]: line for r, line in zip(found, drawn, strict=True)}


def with_cases(connection: Connection, listed: list[WallLine]) -> list[WallLine]:
    """Lines of engines with the open cases of each."""
    cases: dict[str, list[OpenCase]] = {}
    for r in rows(connection, "open_cases", codes=[x["code"] for x in listed]):
        cases.setdefault(r["engine"], []).append({"id": r["id"], "name": r["name"]})
    return [{**x, "cases": cases.get(x["code"], [])} for x in listed]


def _teeth(comb: list[StoredTooth], today: date) -> list[ToothOut]:
    out: list[ToothOut] = []
    for t in comb:
        stale = date.fromisoformat(t["stale_on"]) if t["stale_on"] else None
        tooth = Tooth(t["channel"], t["level"], t["sample"], stale)
        out.append(
            {
                "channel": t["channel"],
                "level": t["level"],
                "sample": t["sample"],
                "state": tooth.state(today),
            }
        )
    return out


def due_out(due: StoredDue, overdue: int, unit: str) -> Due:
    """A due sample as the screens get it, with its reason in words."""
    dates = {k: date.fromisoformat(due[k]) for k in ("on", "earliest", "latest")}
    return answer(Due, {**due, **dates}, overdue=overdue, words=due_words({**due, **dates}, unit))


def _line(here: Address, r: Row, today: date, units: Units) -> WallLine:
    """One engine as the Wall draws it, drawn anew when it was judged anew or another day begins."""
    mark = (today, *(v for k, v in r.items() if k != "picture"))
    return _kept.get((here, r["id"], units), mark, lambda: _drawn(r, today, units))


def _drawn(r: Row, today: date, units: Units) -> WallLine:
    picture: Picture | None = json.loads(r["picture"]) if r["picture"] else None
    p: Drawn = picture or NO_PICTURE
    unit = r["meter_unit"]
    stored = _stored(p["trace"])
    state = state_in(picture)
    stands = standing(state, p["dial"], unit, today, stored, units)
    overdue = max((today - r["due_on"]).days, 0) if r["due_on"] else 0
    due = due_out(p["due"], overdue, unit) if p["due"] else None
    return {
        "code": r["code"],
        "name": r["name"],
        "depot": r["depot"],
        "unit": unit,
        "group": group_of(stands["may_run"], state.level, overdue),
        "level": state.level,
        "signed": r["signed_level"] is not None,
        "comb": _teeth(p["comb"], today),
        "trace": [answer(Mark, {**NO_MARK, **m}) for m in p["trace"]],
        "due": due,
        "dial": p["dial"],
        "dial_on": p["dial_on"],
        "state": stands,
        "stored": stored,
        "next": MEND_SHORT
        if stands["may_run"] == "not_judged"
        else _next(p, due, stored, stands["may_run"] == "do_not_run"),
        "next_code": p["next_code"],
        "sample_code": p["sample_code"],
        "sample": p["sample"],
        "open_stop": r["open_stop"],
        "failure_cost": r["failure_cost"],
        "risk": risk(state.level, r["failure_cost"]),
        "cases": [],
    }


def _next(p: Drawn, due: Due | None, stored: bool, held: bool) -> str:
    """The next thing to do with an engine, short."""
    out = any(m["kind"] == "bottle" for m in p["trace"][-3:])
    code = p["next_code"]
    if code and not (out and code in BOTTLE_NOW) and not (stored and code == "first_sample"):
        return action_kinds()[code].short
    if out:
        return "Bottle out"
    if held:
        return ""
    if stored:
        return "Before first run"
    if due is None:
        return ""
    return (
        f"Sample, {due['overdue']} d over" if due["overdue"] else f"Sample {short_day(due['on'])}"
    )
