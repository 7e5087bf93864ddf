"""An engine's state as it is kept with the Wall: codes, figures and days. Words are made when it is
read."""

from datetime import date

from ...core.findings import stored
from ...core.verdict import Action, EngineState, Reason, RunDecision
from .stored import StoredAction, StoredDecision, StoredReason, StoredState


def _iso(day: date | None) -> str | None:
    return day.isoformat() if day else None


def _day(text: str | None) -> date | None:
    return date.fromisoformat(text) if text else None


def _reason_kept(reason: Reason) -> StoredReason:
    return {
        "key": reason.key,
        "source": reason.source,
        "level": reason.level,
        "channel": reason.channel,
        "on": reason.on.isoformat(),
        "dial": reason.dial,
        "sample": reason.sample,
        "finding": reason.finding.as_dict(),
    }


def reason_of(kept: StoredReason) -> Reason:
    """A reason as it was kept."""
    return Reason(
        key=kept["key"],
        source=kept["source"],
        level=kept["level"],
        channel=kept["channel"],
        on=date.fromisoformat(kept["on"]),
        dial=kept["dial"],
        sample=kept["sample"],
        finding=stored(kept["finding"]),
    )


def _decision_kept(decision: RunDecision) -> StoredDecision:
    return {
        "state": decision.state,
        "by": decision.by,
        "on": decision.on.isoformat(),
        "reason": decision.reason,
        "until": decision.until,
        "until_on": _iso(decision.until_on),
        "found": decision.found,
        "done": decision.done,
    }


def _decision_of(d: StoredDecision) -> RunDecision:
    return RunDecision(
        state=d["state"],
        by=d["by"],
        on=date.fromisoformat(d["on"]),
        reason=d["reason"],
        until=d["until"],
        until_on=_day(d["until_on"]),
        found=d["found"],
        done=d["done"],
    )


def action_kept(action: Action) -> StoredAction:
    """An action as it is kept with a verdict or a state."""
    return {"code": action.code, "due_dial": action.due_dial, "due_on": _iso(action.due_on)}


def action_of(kept: StoredAction) -> Action:
    """An action as it was kept, also by versions that knew no day."""
    return Action(kept["code"], kept["due_dial"], _day(kept.get("due_on")))


def kept(state: EngineState) -> StoredState:
    """A state as plain data."""
    return {
        "level": state.level,
        "may_run": state.may_run,
        "since": _iso(state.since),
        "until": state.until,
        "until_on": _iso(state.until_on),
        "reasons": [_reason_kept(r) for r in state.reasons],
        "channels": list(state.channels),
        "actions": [action_kept(a) for a in state.actions],
        "checks": list(state.checks),
        "lead": state.lead,
        "second": state.second,
        "decision": _decision_kept(state.decision) if state.decision else None,
        "undecided": state.undecided,
        "barred": list(state.barred),
        "cannot": state.cannot,
        "awaited": state.awaited,
    }


def state_of(k: StoredState) -> EngineState:
    """A state as it was kept."""
    d = k["decision"]
    return EngineState(
        level=k["level"],
        may_run=k["may_run"],
        since=_day(k["since"]),
        until=k["until"],
        until_on=_day(k["until_on"]),
        reasons=tuple(reason_of(r) for r in k["reasons"]),
        channels=tuple(k["channels"]),
        actions=tuple(action_of(a) for a in k["actions"]),
        checks=tuple(k["checks"]),
        lead=k["lead"],
        second=k["second"],
        decision=_decision_of(d) if d else None,
        undecided=k["undecided"],
        barred=tuple(k.get("barred", ())),
        awaited=k.get("awaited", ""),
        cannot=k.get("cannot", ""),
    )
