"""Parts of the printed history: what inspections found, who decided whether the engine may run,
what the work cost, and the photographs."""

from base64 import b64encode
from collections.abc import Iterator, Sequence
from html import escape

from ...core.terms import RUN_STATES, WORK_STATES
from ...core.words import computed, meter_words, quoted
from ...exchange.paper import listed
from ...storage.records import Row
from ..answers.collect import OutcomeOut
from ..answers.standing import Decision
from .paper import on_day

ENDED = ("done", "dropped")  # states of work that is due no more
PICTURES = 12  # of the newest; our choice


def _money(x: float, currency: str) -> str:
    return f"{computed(x)} {currency}".strip()


def found(outcomes: Sequence[OutcomeOut], currency: str) -> str:
    """What inspections found, newest first."""
    if not outcomes:
        return ""
    return "<h2>What was found</h2>" + listed(_outcome(o, currency) for o in outcomes)


def _outcome(o: OutcomeOut, currency: str) -> str:
    parts = (
        f"{on_day(o['on'])}: {o['words']}",
        o["right"],
        f"{computed(o['hours_down'])} h down" if o["hours_down"] else "",
        f"cost {_money(o['cost'], currency)}" if o["cost"] else "",
        f"said by {o['by']}",
    )
    return ", ".join(x for x in parts if x) + (f": {quoted(o['note'])}" if o["note"] else "")


def decided(trail: Sequence[Decision], unit: str) -> str:
    """Who held, restricted or released the engine, and why; newest first."""
    said = [_decision(d, unit) for d in trail if d["kind"] == "run" and d["run_state"]]
    return "<h2>Decisions on whether the engine may run</h2>" + listed(said) if said else ""


def _decision(decision: Decision, unit: str) -> str:
    ends = [
        meter_words(decision["until_dial"], unit) if decision["until_dial"] is not None else "",
        on_day(decision["until_on"]) if decision["until_on"] else "",
    ]
    until = " or ".join(x for x in ends if x)
    state = f"runs until {until}" if until else RUN_STATES[decision["run_state"] or ""]
    told = f"{on_day(decision['decided_at'].date())}: {state}"
    why = [quoted(x) for x in (decision["reason"], decision["found"], decision["done"]) if x]
    return f"{told}, by {decision['decided_by']}" + (f": {' '.join(why)}" if why else "")


def work_decided(work: Sequence[Row], currency: str) -> str:
    """Work on the engine with what it was estimated at and came to, and the sums."""
    if not work:
        return ""
    lines = [_work(w, currency) for w in work]
    spent = sum(w["cost"] or 0.0 for w in work)
    still = sum(w["estimate"] or 0.0 for w in work if w["cost"] is None and w["state"] not in ENDED)
    sums = [
        f"spent {_money(spent, currency)}" if spent else "",
        f"still estimated at {_money(still, currency)}" if still else "",
    ]
    told = ", ".join(x for x in sums if x)
    said = f"<p>In all: {escape(told)}.</p>" if told else ""
    return "<h2>Work decided</h2>" + listed(lines) + said


def _work(w: Row, currency: str) -> str:
    first, now = w["first_estimate"], w["cost"] if w["cost"] is not None else w["estimate"]
    grown = first is not None and now is not None and first != now
    told = (
        f"{on_day(w['decided_on'])}: {w['words']}",
        WORK_STATES[w["state"]],
        w["who"] or "",
        f"by {on_day(w['due'])}" if w["due"] and w["state"] not in ENDED else "",
        f"cost {_money(w['cost'], currency)}" if w["cost"] is not None else "",
        f"estimated at {_money(now, currency)}" if w["cost"] is None and now is not None else "",
        f"first estimated at {_money(first, currency)}" if grown else "",
    )
    return ", ".join(x for x in told if x)


def dated(photos: Sequence[Row]) -> list[tuple[str, Row]]:
    """Photographs, each with its day and caption."""
    return [(": ".join(x for x in (on_day(p["on_date"]), p["caption"]) if x), p) for p in photos]


def pictures(photos: Sequence[tuple[str, Row]]) -> Iterator[str]:
    """Photographs with the caption of each."""
    if not photos:
        return
    yield "<h2>Photographs</h2><div class='pictures'>"
    for said, p in photos:
        yield (
            f'<figure><img class="photo" alt="{escape(said)}" '
            f'src="data:{p["media"]};base64,{b64encode(bytes(p["content"])).decode()}">'
            f"<figcaption>{escape(said)}</figcaption></figure>"
        )
    yield "</div>"
