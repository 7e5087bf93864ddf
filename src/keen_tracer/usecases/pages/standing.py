"""The state of an engine, as every place shows it: two lines first, then reasons, actions and
checks."""

from datetime import date

from ...core.causes import failure_modes
from ...core.record import barred_now, check_kinds, field_checks, known_faults
from ...core.status import NEVER_LOOKED_AT, may_run_now
from ...core.terms import ENGINE_AT, FEATURES, MayRun
from ...core.verdict import Action, EngineState, Reason, RunDecision
from ...core.words import (
    OWN_UNITS,
    Units,
    action_kinds,
    by_when,
    may_run_words,
    reason_words,
    state_lines,
)
from ..answers.standing import (
    ActionOut,
    CheckForm,
    CheckOut,
    KnownFaultOut,
    ReasonOut,
    RunState,
    StateOut,
)
from ..judging.stored import Picture
from ..judging.stored_state import state_of

# Checks that are not answered by a word or a figure at the engine: by a look, or by a bottle.
_LOOKED: dict[str, CheckForm] = {"open_filter": "look", "pan": "look", "resample": "bottle"}
_MODES = {m.code: m.words for m in failure_modes()}


def action_out(action: Action, unit: str) -> ActionOut:
    """One action with what it needs and its caution."""
    kind = action_kinds()[action.code]
    return {
        "code": action.code,
        "words": kind.words,
        "ends": by_when(action.due_dial, action.due_on, unit),
        "tools": kind.tools,
        "caution": kind.caution,
        "at": ENGINE_AT[kind.state],
    }


def faults_out(of_model: str, serial: str) -> list[KnownFaultOut]:
    """Known faults of an engine's model, but those of other serial numbers."""
    return [
        {"words": f.words, "why": f.why, "own": f.meets == "yes"}
        for f in known_faults(of_model, serial)
        if f.meets != "no"
    ]


def check_out(code: str) -> CheckOut:
    """One check with what it needs, its caution, and where it is answered."""
    kind = check_kinds()[code]
    form: CheckForm = "check" if code in field_checks() else _LOOKED.get(code, "")
    return {
        "code": code,
        "words": kind.words,
        "hours": kind.hours,
        "tools": kind.tools,
        "caution": kind.caution,
        "at": ENGINE_AT[kind.state],
        "form": form,
        "lacks": kind.lacks,
        "lacks_words": FEATURES.get(kind.lacks, ""),
    }


def _reason_out(reason: Reason, units: Units) -> ReasonOut:
    return {
        "key": reason.key,
        "level": reason.level,
        "channel": reason.channel,
        "words": reason_words(reason, units),
        "sample": reason.sample,
    }


def decision_out(d: RunDecision | None) -> RunState | None:
    """What a person allows, None where nobody decided."""
    if d is None:
        return None
    return {
        "state": d.state,
        "until": d.until,
        "until_on": d.until_on,
        "by": d.by,
        "on": d.on,
        "reason": d.reason,
        "found": d.found,
        "done": d.done,
    }


def state_in(picture: Picture | None) -> EngineState:
    """The state in a row of the Wall; of an engine nobody judged yet, that nothing is known."""
    return state_of(picture["state"]) if picture else NEVER_LOOKED_AT


def now(state: EngineState, dial: float | None, today: date) -> MayRun:
    """May it run, today: of `terms.MAY_RUN`."""
    return may_run_now(state.may_run, state.until, state.until_on, dial, today)


def barred_today(picture: Picture | None, today: date) -> frozenset[str]:
    """What may not be done to an engine today, by its row of the Wall."""
    state = state_in(picture)
    return barred_now(state.barred, now(state, picture["dial"] if picture else None, today))


def standing(
    state: EngineState,
    dial: float | None,
    unit: str,
    today: date,
    stored: bool,
    units: Units = OWN_UNITS,
) -> StateOut:
    """The state of an engine today, in words; meters in `unit`, amounts in `units`."""
    may_run = now(state, dial, today)
    what, what_next = state_lines(state, may_run, unit, today, units)
    return {
        "level": state.level,
        "may_run": may_run,
        "may_run_words": may_run_words(may_run, state.until, state.until_on, unit, stored),
        "what": what,
        "what_next": what_next,
        "reasons": [_reason_out(r, units) for r in state.reasons],
        "actions": [action_out(a, unit) for a in state.actions],
        "checks": [check_out(c) for c in state.checks],
        "barred": sorted(barred_now(state.barred, may_run)),
        "parts": [_MODES[m] for m in (state.lead, state.second) if m],
        "run": decision_out(state.decision),
    }
