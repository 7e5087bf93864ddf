"""A page for the customer of one engine: why it was looked at, what was found with photographs, the
cause, what was renewed, what it came to, and what to watch. No weights, no other engine."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from html import escape
from uuid import UUID

from ...core.record import WORK, Figure
from ...core.terms import CASE_ENDS, LEVELS
from ...core.words import OWN_UNITS, Units, quoted
from ...exchange.paper import listed, numbered
from ...storage.db import Connection
from ...storage.records import Row, row, rows
from ..answers.case import CaseOut, OnLine
from ..answers.engine import EngineOut
from ..answers.inspect import FigureOut, FindingOut, LinkOut
from ..errors import NotThere
from ..judging.currency import currency
from ..recording.outcomes import found_words
from . import case, engine, opened
from .history_found import pictures, work_decided
from .paper import meter_said, on_day, two_lines

PHOTOS = 24  # on a page for a customer, the newest; our choice
NOTICED = 12  # things noticed before the work, the oldest; our choice
NOT_NOTICED = ("finding", "top_up", *WORK)
LIKELIEST = 2  # explanations of a case nobody closed; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class _Told:
    """What the page tells. `cause`: what it was, "" where nobody said so yet; `likely`: what is
    most likely so far; `noticed`, `done`: in words, oldest first."""

    title: str
    engine: EngineOut
    why: str
    cause: str
    likely: list[str] = field(default_factory=list)
    noticed: list[str] = field(default_factory=list)
    done: list[str]
    findings: list[FindingOut]
    links: list[LinkOut]
    work: list[Row]
    photos: list[Row]
    watch: list[str]
    currency: str


def of_case(connection: Connection, key: UUID, units: Units = OWN_UNITS) -> tuple[str, str]:
    """(title, body) of the page about a case, in `units`. Raises NotThere."""
    k = case.case(connection, key, units)
    known = engine.engine(connection, k["engine"], units)
    strip = opened.opened(connection, k["engine"])
    findings = [f for f in strip["findings"] if f["on"] >= k["since"]]
    here = {f["id"] for f in findings}
    line = [x for x in reversed(k["line"]) if not x.gone]
    told = _Told(
        title=f"{k['engine']}, {k['name']}",
        engine=known,
        why=f"{k['name'][:1].upper()}{k['name'][1:]}, since {on_day(k['since'])}.",
        cause=_cause(connection, key, k, line),
        likely=[r["words"] for r in k["rows"] if not r["aside"]][:LIKELIEST],
        noticed=_noticed(line, {s["sample"]: s["level"] for s in known["samples"]}),
        done=_done(line),
        findings=findings,
        links=[x for x in strip["links"] if {x["cause"], x["effect"]} <= here],
        work=[w for w in _work(connection, k["engine"]) if w["case_id"] in (key, None)],
        photos=_photos(connection, here),
        watch=[*_followed(k), *_next(known), *_faults(known)],
        currency=currency(connection),
    )
    return told.title, "".join(_page(told))


def of_opened(connection: Connection, code: str, units: Units = OWN_UNITS) -> tuple[str, str]:
    """(title, body) of the page about an opened engine, in `units`. Raises NotThere
    where nothing was found."""
    strip = opened.opened(connection, code)
    if not strip["findings"]:
        raise NotThere(f"nothing was found in {code} yet: write down what you see first")
    known = engine.engine(connection, code, units)
    first = min(f["on"] for f in strip["findings"])
    by_id = {f["id"]: f for f in strip["findings"]}
    told = _Told(
        title=f"{code}, opened",
        engine=known,
        why=f"It was opened; what follows was written down from {on_day(first)} on.",
        cause=", ".join(_place(by_id[r]) for r in strip["roots"][:1]),
        done=[
            f"{on_day(x['on'])}: {x['words']}"
            for x in known["events"]
            if x["kind"] in WORK and x["on"] >= first
        ],
        findings=strip["findings"],
        links=strip["links"],
        work=_work(connection, code),
        photos=_photos(connection, set(by_id)),
        watch=[*_next(known), *_faults(known)],
        currency=currency(connection),
    )
    return told.title, "".join(_page(told))


def _work(connection: Connection, code: str) -> list[Row]:
    found = row(connection, "engine_by_code", code=code)
    assert found is not None
    return rows(connection, "work_of_engine", engine=found["id"])


def _photos(connection: Connection, findings: set[str]) -> list[Row]:
    return rows(connection, "small_photos_of_logs", logs=[UUID(x) for x in findings], most=PHOTOS)


def _cause(connection: Connection, key: UUID, case: CaseOut, line: Sequence[OnLine]) -> str:
    """What the case was, as whoever closed it said."""
    if not case["closed"]:
        return ""
    outcome = row(connection, "outcome_of_case", id=key)
    found = found_words().get(outcome["found"], "") if outcome else ""
    closed = next((x for x in reversed(line) if x.kind == "close"), None)
    by = f" ({closed.by}, {on_day(closed.on)})" if closed else ""
    return f"{found or case['ended'] or CASE_ENDS['unresolved']}{by}"


def _noticed(line: Sequence[OnLine], levels: Mapping[str, int | None]) -> list[str]:
    """What was noticed, looked at and measured before the first work or the end of the case."""
    over = (n for n, x in enumerate(line) if x.kind in (*WORK, "close"))
    told = [x for x in line[: next(over, len(line))] if x.id and not x.own]
    return [_notice(x, levels) for x in told if x.kind not in NOT_NOTICED][:NOTICED]


def _notice(x: OnLine, levels: Mapping[str, int | None]) -> str:
    """One thing noticed; of a sample what it was judged."""
    level = levels.get(x.sample)
    judged = f"sample {x.sample}: {LEVELS[level]}" if level is not None else x.words
    return f"{on_day(x.on)}: {judged if x.kind == 'sample' else x.words}"


def _done(line: Sequence[OnLine]) -> list[str]:
    return [f"{on_day(x.on)}: {x.words}" for x in line if x.kind in WORK]


def _followed(case: CaseOut) -> list[str]:
    """How far the last repair was followed."""
    f = case["followed"]
    if f is None:
        return []
    return [f"After {f['words']} on {on_day(f['on'])}: {f['said']}."]


def _next(engine: EngineOut) -> list[str]:
    return [
        f"{n['words']}, by {on_day(n['on'])}"
        + ("" if n["at_dial"] is None else f" or {meter_said(n['at_dial'], engine['unit'])}")
        for n in engine["next_up"]
    ]


def _faults(engine: EngineOut) -> list[str]:
    """Faults known of the model that may be this engine's."""
    return [f"Known of its model: {f['words']} ({f['why']})" for f in engine["known_faults"]]


def _page(told: _Told) -> Iterator[str]:
    e = told.engine
    yield f"<h1>{escape(e['code'])} {escape(e['name'])}</h1>"
    facts = (
        e["engine_class"].replace("_", " "), e["model"], e["layout"],
        f"serial number {e['serial_number']}" if e["serial_number"] else "", e["depot"] or "",
        meter_said(e["dial"], e["unit"]), f"page of {on_day(e['today'])}",
    )  # fmt: skip
    yield f'<p class="muted">{escape(", ".join(x for x in facts if x))}</p>'
    what = told.cause or "The cause is not settled yet."
    yield two_lines(e["state"]["level"], what[:1].upper() + what[1:], e["state"]["what_next"])
    if e["state"]["may_run"] not in ("runs", "unknown"):
        yield f'<p class="caution">{escape(e["state"]["may_run_words"])}.</p>'
    yield f"<h2>Why it was looked at</h2><p>{escape(told.why)}</p>" + listed(told.noticed)
    if told.likely and not told.cause:
        yield "<h2>What is most likely so far</h2>" + listed(told.likely)
    yield from _found(told)
    if told.done:
        yield "<h2>What was done</h2>" + listed(told.done)
    yield work_decided(told.work, told.currency)
    if told.watch:
        yield "<h2>What comes next, and what to watch</h2>" + listed(told.watch)
    yield '<p class="muted">The maker\'s manual comes before anything on this page.</p>'


def _found(told: _Told) -> Iterator[str]:
    """Findings in the order they were found, each with its figures; then what led to what, and the
    photographs with the number of their finding."""
    if not told.findings:
        return
    yield "<h2>What was found</h2>" + numbered(_finding(f) for f in told.findings)
    number = {f["id"]: n for n, f in enumerate(told.findings, 1)}
    led = [_led(x, told.findings, number) for x in told.links]
    if led:
        yield "<h2>What led to what</h2>" + listed(led)
    photos = sorted(told.photos, key=lambda p: number.get(str(p["log_id"]), 0))
    yield from pictures([(_photo_words(p, number, told.findings), p) for p in photos])


def _place(finding: FindingOut) -> str:
    return f"{finding['where']}: {finding['words']}"


def _finding(finding: FindingOut) -> str:
    figures = "; ".join(map(_measured, finding["figures"]))
    note = quoted(finding["note"]) if finding["note"] else ""
    place = _place(finding)
    return ". ".join(x for x in (f"{place[:1].upper()}{place[1:]}", figures, note) if x)


def _measured(x: FigureOut) -> str:
    """A computed figure with its limits and how it lies to them."""
    words = Figure(x["what"], x["mm"], x["half"], x["low"], x["high"]).words
    return f"{words}: {x['verdict']}" if x["verdict"] else words


def _led(x: LinkOut, findings: Sequence[FindingOut], number: dict[str, int]) -> str:
    by_id = {f["id"]: f for f in findings}
    cause, effect = by_id[x["cause"]], by_id[x["effect"]]
    why = f" ({x['why']})" if x["why"] else ""
    first = f"{number[x['cause']]}, {_place(cause)}"
    return f"{first}, led to {number[x['effect']]}, {_place(effect)}{why}"


def _photo_words(p: Row, number: dict[str, int], findings: Sequence[FindingOut]) -> str:
    n = number.get(str(p["log_id"]), 0)
    return f"{n}. {p['caption'] or (findings[n - 1]['where'] if n else '')}"
