"""Two lines for whoever stands at the engine: what, and what to do by when; everything else is for
the analyst."""

from collections.abc import Sequence
from datetime import date

from ..findings import payloads
from ..record import check_kinds, points_of
from ..terms import CHANNELS, MAY_RUN
from ..verdict import EngineState, Reason
from .action_words import action_kinds
from .amounts import OWN_UNITS, Units
from .figures import THIN_GAP, day, listed, quoted, small
from .sentences import about, names_of, sentence

NOTHING = "Nothing is raised."
CANNOT = "The program cannot judge it now:"
MEND_SHORT = "Correct its record"
MEND = (
    "Correct its record; it is judged again when it changes. Until then nothing the program says "
    "clears it: look at the engine, or hold it."
)
RELEASE = "Lifted only by a release signed by a releaser, naming what was found and done."


def meter_words(value: float, unit: str) -> str:
    """A meter figure in words.

    >>> meter_words(3120, "h")
    '3\\u202f120 h'
    """
    return f"{value:,.0f}".replace(",", THIN_GAP) + f" {unit}"


def by_when(dial: float | None, on: date | None, unit: str) -> str:
    """The end of a permission: a meter, a day, or both; whichever is first.

    >>> by_when(3120, date(2026, 12, 3), "h")
    '3\\u202f120 h or 3 Dec 2026'
    """
    ends = [meter_words(dial, unit)] if dial is not None else []
    return " or ".join(ends + ([day(on.isoformat())] if on else []))


def may_run_words(
    may_run: str, until: float | None, until_on: date | None, unit: str, stored: bool = False
) -> str:
    """May it run, in a few words, at today's meter and day.

    >>> may_run_words("run_until", None, date(2026, 12, 3), "h")
    'Runs until 3 Dec 2026'
    """
    if may_run == "run_until":
        return f"{MAY_RUN[may_run]} {by_when(until, until_on, unit)}"
    if may_run == "past_its_time":
        return f"{MAY_RUN[may_run]}: do not start"
    if stored and may_run in ("runs", "unknown"):
        return "In storage"
    return MAY_RUN[may_run]


def _age(since: date | None, today: date) -> str:
    if since is None:
        return ""
    days = (today - since).days
    age = f" ({days} day{'s' * (days > 1)})" if days > 0 else ""
    return f", since {day(since.isoformat())}{age}"


_SINCE = {
    "kept": " The record was changed since; the Stop stands.",
    "doubted": " The next sample may not be what it says; the higher one holds until that is "
    "settled.",
    "denied": " The resample says less; the higher one holds until a third settles it.",
}


def reason_words(reason: Reason, units: Units = OWN_UNITS) -> str:
    """The sentence of a reason, and whether the record of a Stop was changed since then."""
    return sentence(reason.finding, units) + _SINCE.get(reason.source, "")


def _quoted(who: str, text: str) -> str:
    """Who, and why in their own words, as a sentence."""
    return f"{who}: {quoted(text)} " if text else f"{who}. "


def _what(state: EngineState, may_run: str, ends: str, today: date, units: Units) -> str:
    reasons, decision = state.reasons, state.decision
    why = reason_words(reasons[0], units) if reasons else ""
    more = _also(reasons)
    head = MAY_RUN[may_run]
    if may_run == "not_judged":
        before = f" Raised before: {why}{more}" if why else ""
        return f"{head}{_age(state.since, today)}: {state.cannot}.{before}"
    if may_run == "do_not_run":
        held = decision is not None and decision.state == "hold"
        by = _quoted(f"{decision.by} holds it", decision.reason) if held and decision else ""
        by += f"{CANNOT} {state.cannot}. " if state.cannot else ""
        return f"{head}{_age(state.since, today)}. {by}{why}{more}".rstrip()
    if may_run == "past_its_time":
        first = state.actions[0] if state.actions else None
        awaited = f"the figures of bottle {state.awaited}" if state.awaited else "released"
        before = small(action_kinds()[first.code].short) if first else awaited
        return f"{head} ({ends}): do not start before it is done: {before}. {why}{more}".rstrip()
    if may_run == "run_until":
        allowed = decision is not None and decision.state == "restrict"
        by = _quoted(f"{decision.by} allows it", decision.reason) if allowed and decision else ""
        return f"{head} {ends}. {by}{why}{more}".rstrip()
    if may_run == "unknown":
        return why or "Nothing was looked at or measured yet."
    return f"{head}. {why or _quiet(state)}{more}"


def _also(reasons: Sequence[Reason]) -> str:
    """What is raised beside the worst reason, by the part it points to. What the worst one says or
    is made of is not told a second time.

    >>> _also([])
    ''
    """
    if not reasons:
        return ""
    head = reasons[0].finding
    made_of = points_of(head) if isinstance(head.numbers, payloads.Agreement) else frozenset()
    told, by_part = set(names_of(head)), dict[str, list[str]]()
    for f in (r.finding for r in reasons[1:]):
        names = [name for name in names_of(f) if name not in told]
        if points_of(f) & made_of or (names_of(f) and not names):
            continue
        told.update(names)
        part = about(f)
        by_part.setdefault(part, []).extend(name for name in names if name != part)
    named = [f"{part} ({listed(names)})" if names else part for part, names in by_part.items()]
    return f" Also raised: {'; '.join(named)}." if named else ""


def _quiet(state: EngineState) -> str:
    """That nothing is raised, and what nobody looked into; debris is looked for by hand alone."""
    names = zip(CHANNELS.items(), state.channels, strict=True)
    missing = [words for (code, words), level in names if level is None and code != "debris"]
    return f"Nothing is raised. Not cleared: {listed(missing).lower()}." if missing else NOTHING


def _awaited(state: EngineState) -> str:
    return f"Bottle {state.awaited} was drawn since; its figures are awaited."


def _what_next(state: EngineState, may_run: str, unit: str, today: date) -> str:
    if may_run == "not_judged":
        return MEND
    then = f" Next check: {check_kinds()[state.checks[0]].words}." if state.checks else ""
    if not state.actions:
        return f"{_awaited(state)}{then}" if state.awaited else ""
    first = state.actions[0]
    words = action_kinds()[first.code].words
    if state.awaited:
        then = f" {_awaited(state)}{then}"
    if may_run == "do_not_run":
        return f"{words}.{then} {RELEASE}"
    ends = by_when(first.due_dial, first.due_on, unit)
    late = first.due_on is not None and first.due_on < today
    due = ": it was due before" if late else ", before"
    return f"{words}{f'{due} {ends}' if ends else ''}.{then}"


def state_lines(
    state: EngineState, may_run: str, unit: str, today: date, units: Units = OWN_UNITS
) -> tuple[str, str]:
    """(may it run and why, what to do and by when); `may_run` as it is today.

    unit : of the meter · units : of amounts

    The second is empty where nothing is asked.
    """
    ends = by_when(state.until, state.until_on, unit)
    return _what(state, may_run, ends, today, units), _what_next(state, may_run, unit, today)
