"""What to do next, and whether the engine may run until then: the verdict's advice, never a
person's decision."""

from dataclasses import dataclass

from ..findings import Finding
from ..record import SampleContext
from ..verdict import Action, Level
from .thresholds import RESAMPLE_WITHIN, WATCH_AGAIN

SPENT = {"low", "bn_below_an", "out_of_grade"}  # findings at Act that ask for new oil
# Channel at Act → what to look at beside the resample.
LOOK_AT = {"coolant": "pressure_test_cooling", "dirt": "check_intake", "wear": "open_filter"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Advice:
    """Actions in their order; `may_run` "runs", "run_until" (a dial figure) or "do_not_run"."""

    actions: tuple[Action, ...]
    may_run: str
    until: float | None = None


def _stop(findings: list[Finding]) -> Advice:
    coolant = any(f.channel == "coolant" for f in findings if f.level == Level.STOP)
    first = "drain_coolant_first" if coolant else "inspect_before_start"
    return Advice(actions=(Action("do_not_run"), Action(first)), may_run="do_not_run")


def _act(findings: list[Finding], due: float | None, soon: float) -> Advice:
    raised = [f for f in findings if f.level >= Level.ACT]
    codes = ["resample"]
    if SPENT & {f.code for f in raised if f.level == Level.ACT}:
        codes.append("change_oil")
    channels = {f.channel for f in raised}
    codes += [code for channel, code in LOOK_AT.items() if channel in channels]
    actions = tuple(Action(code, due, soon) for code in codes)
    return Advice(actions=actions, may_run="run_until", until=due)


def advice(context: SampleContext, level: int, findings: list[Finding]) -> Advice:
    """What to do next: resample before a strip-down, never run on a hard stop."""
    dial, engine = context.moment.row.dial, context.engine
    soon = RESAMPLE_WITHIN * engine.nominal_drain
    due = None if dial is None else dial + soon
    if level == Level.STOP:
        return _stop(findings)
    if level == Level.ACT:
        return _act(findings, due, soon)
    if level < Level.WATCH:
        return Advice(actions=(), may_run="runs")
    if any(f.school == "PO" and f.level == Level.WATCH for f in findings):
        return Advice(actions=(Action("resample", due, soon),), may_run="runs")
    half = WATCH_AGAIN * (engine.interval_meter or engine.nominal_drain)
    sooner = Action("sample_sooner", None if dial is None else dial + half, half)
    return Advice(actions=(sooner,), may_run="runs")
