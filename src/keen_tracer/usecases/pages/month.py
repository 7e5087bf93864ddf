"""A month of the fleet on paper: what was drawn, raised, signed, decided, found, and what that
cost and saved."""

from collections import Counter
from collections.abc import Iterator
from datetime import date, timedelta
from html import escape

from ...core.terms import CASE_ENDS, CONFIRMED, LEVELS, RUN_STATES
from ...core.words import computed, day, summary
from ...exchange.paper import listed, table
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..recording.outcomes import NOTHING, found_words

RAISED = 2  # from Act on a sample is named; Watch is counted
NAMED = 400  # rows of a list; our choice


def _month(first: date) -> tuple[date, date]:
    """The first day of a month and of the next."""
    since = first.replace(day=1)
    return since, (since + timedelta(days=32)).replace(day=1)


def month(connection: Connection, first: date, depot: str | None) -> tuple[str, str]:
    """(title, body) of a month of the fleet, or of a depot."""
    since, until = _month(first)
    of = {"since": since, "until": until, "depot": depot}
    title = f"{since:%B %Y}, {depot or 'whole fleet'}"
    found = {
        name: rows(connection, f"month_{name}", **of)
        for name in ("samples", "signed", "runs", "outcomes", "cases")
    }
    return title, "".join(_report(title, found))


def _report(title: str, found: dict[str, list[Row]]) -> Iterator[str]:
    yield f"<h1>{escape(title)}</h1>"
    yield from _raised(found["samples"])
    yield from _signed(found["samples"], found["signed"])
    if found["runs"]:
        yield "<h2>May it run</h2>"
        yield table(
            ("On", "Engine", "Decided", "By", "Why"),
            (
                [_day(r["on_date"]), r["engine"], RUN_STATES[r["run_state"]], r["by"], _why(r)]
                for r in found["runs"]
            ),
        )
    yield from _outcomes(found["outcomes"])
    if found["cases"]:
        yield "<h2>Cases</h2>"
        yield listed(
            f"{k['engine']}, {k['name']}: opened {_day(k['since'])}"
            + (f", ended {_day(k['ended_on'])}: {CASE_ENDS[k['ended']]}" if k["closed"] else "")
            for k in found["cases"]
        )


def _day(on: date) -> str:
    return day(on.isoformat())


def _why(r: Row) -> str:
    said = (r["reason"], r["found"] and f"Found: {r['found']}", r["done"] and f"Done: {r['done']}")
    return " ".join(x for x in said if x)


def _raised(samples: list[Row]) -> Iterator[str]:
    judged = [s for s in samples if s["proposed"] is not None]
    counts = Counter(LEVELS[s["proposed"]] for s in judged)
    said = ", ".join(f"{counts[level]} {level}" for level in LEVELS if counts[level])
    engines = len({s["engine"] for s in samples})
    yield "<h2>Drawn and raised</h2>"
    yield (
        f"<p>{len(samples)} samples of {engines} engines; {len(samples) - len(judged)} without "
        f"figures yet. {said}.</p>"
        if samples
        else "<p>No sample was drawn.</p>"
    )
    raised = [s for s in judged if s["proposed"] >= RAISED]
    if raised:
        yield table(
            ("Drawn", "Engine", "Sample", "Proposed", "Signed", "What"),
            (
                [
                    _day(s["on_date"]),
                    f"{s['engine']} {s['engine_name']}".strip(),
                    s["sample"],
                    LEVELS[s["proposed"]],
                    "nobody" if s["signed"] is None else LEVELS[s["signed"]],
                    summary(s["channels"]),
                ]
                for s in sorted(raised, key=lambda s: -s["proposed"])[:NAMED]
            ),
        )


def _signed(samples: list[Row], by: list[Row]) -> Iterator[str]:
    yield "<h2>Signed</h2>"
    lags = sorted((s["signed_on"] - s["on_date"]).days for s in samples if s["signed_on"])
    waits = sum(s["proposed"] is not None and s["signed_on"] is None for s in samples)
    yield (
        listed(
            [
                *(
                    f"{r['by']}: {r['n']}"
                    + (f", {r['other']} at another level than proposed" if r["other"] else "")
                    for r in by
                ),
                f"Half of what was signed was signed within {lags[len(lags) // 2]} days."
                if lags
                else "",
                f"{waits} of this month's verdicts wait for somebody to sign." if waits else "",
            ]
        )
        or "<p>Nothing was signed.</p>"
    )


def _outcomes(outcomes: list[Row]) -> Iterator[str]:
    yield "<h2>Found, and what it came to</h2>"
    if not outcomes:
        yield "<p>No inspection was told.</p>"
        return
    nothing = sum(o["found"] == NOTHING for o in outcomes)
    sums = {k: sum(o[k] or 0.0 for o in outcomes) for k in ("hours_down", "cost", "saved")}
    yield (
        f"<p>{len(outcomes)} inspections; {nothing} found nothing. Down "
        f"{computed(sums['hours_down'])} h, cost {_money(sums['cost'])}, saved by what people said "
        f"{_money(sums['saved'])}.</p>"
    )
    yield table(
        ("On", "Engine", "Sample", "Found", "", "Down, h", "Cost", "Saved"),
        (
            [
                _day(o["on_date"]),
                o["engine"],
                o["sample"] or "",
                found_words()[o["found"]],
                CONFIRMED[o["confirmed"]],
                "" if o["hours_down"] is None else computed(o["hours_down"]),
                "" if o["cost"] is None else _money(o["cost"]),
                "" if o["saved"] is None else _money(o["saved"]),
            ]
            for o in outcomes[:NAMED]
        ),
        numbers=(5, 6, 7),
    )


def _money(x: float) -> str:
    return f"{x:,.0f}".replace(",", "\u202f")
