"""Sentences of readings against fixed limits: value, what it passed, where that comes from."""

from ..findings import Finding, payloads
from ..laboratory import ABOVE, BELOW, BY_COLUMN
from ..terms import CLASSES, LEVELS
from ..verdict import Level
from .figures import computed, figure
from .spoken import says

_CENSORED = {BELOW: "under ", ABOVE: "over "}
_AT_NOISE = " Within the test's own noise of the limit: a resample confirms."


def _scope(scope: str) -> str:
    """The scope of a limit, such as "gas+biogas", in words."""
    base, _, mark = scope.partition("+")
    words = CLASSES.get(base, "all engines" if base == "all" else base)
    return f"{words}, {mark.replace('_', ' ')}" if mark else words


def _known(x: float | None) -> float:
    """A figure that a finding of this kind always carries."""
    assert x is not None
    return x


def _value(finding: Finding, numbers: payloads.AtLimit) -> str:
    """ "Iron 130 ppm" """
    a = BY_COLUMN[finding.analyte or ""]
    unit = "" if a.unit == "index" else f" {a.unit}"
    return f"{a.name} {_CENSORED.get(numbers.censor, '')}{figure(_known(numbers.value))}{unit}"


def _against(finding: Finding, numbers: payloads.AtLimit, beyond: str) -> str:
    """The sentence; `beyond` is how the reading lies to the limit."""
    mark, head, limit = (
        LEVELS[finding.level],
        _value(finding, numbers),
        computed(_known(numbers.threshold)),
    )
    tail = f" (fixed limit, {_scope(numbers.scope)})" if numbers.scope else " (fixed limit)"
    if numbers.basis == "rate" and numbers.per_100 is not None:
        on_oil = f"{figure(round(_known(numbers.hours)))} {numbers.per}"
        return (
            f"{head} on {on_oil}, {computed(numbers.per_100)} per 100 {numbers.per}, is "
            f"{beyond} the {mark} "
            f"rate; on that oil {mark} begins at {limit}{tail}."
        )
    if numbers.basis == "rate" and numbers.hours is not None:
        on_oil = f"{figure(round(numbers.hours))} {numbers.per}"
        return (
            f"{head} after only {on_oil} on the oil is {beyond} what a tenth of the drain may "
            f"bring: {mark} begins at {limit}{tail}."
        )
    if numbers.basis == "rise":
        rise, fresh = _known(numbers.rise), figure(_known(numbers.fresh))
        side = "above" if rise >= 0 else "below"
        return (
            f"{head}, {computed(abs(rise))} {side} fresh oil ({fresh}), is {beyond} {mark} "
            f"({limit}){tail}."
        )
    if numbers.basis == "pct_fresh":
        share, fresh = computed(_known(numbers.pct_fresh)), figure(_known(numbers.fresh))
        return f"{head} is {share} % of fresh oil ({fresh}), {beyond} {mark} ({limit}){tail}."
    return f"{head} is {beyond} {mark} ({limit}){tail}."


@says(payloads.AtLimit, "high")
def _high(finding: Finding, numbers: payloads.AtLimit) -> str:
    return _against(finding, numbers, "past")


@says(payloads.AtLimit, "low")
def _low(finding: Finding, numbers: payloads.AtLimit) -> str:
    return _against(finding, numbers, "below")


@says(payloads.AtLimit, "high_at_limit", "low_at_limit")
def _at(finding: Finding, numbers: payloads.AtLimit) -> str:
    return _against(finding, numbers, "at") + _AT_NOISE


@says(payloads.AtLimit, "unproven")
def _unproven(finding: Finding, numbers: payloads.AtLimit) -> str:
    tail = f" (fixed limit, {_scope(numbers.scope)})" if numbers.scope else " (fixed limit)"
    head = _value(finding, numbers).replace(" under ", " is only known to be under ", 1)
    limit = computed(_known(numbers.threshold))
    return f"{head}, and {LEVELS[Level.WATCH]} begins at {limit}{tail}: it is not cleared."


_RUN_IN = {
    "run_in_first": "Expected in the first charge of a life; it has to fall by the next.",
    "run_in_falling": "Still run-in, and falling from charge to charge.",
    "run_in_not_falling": "Run-in does not explain it: it is not falling from charge to charge.",
    "copper_falling": "Copper alone, slower than in the oil before: Watch as long as it falls.",
}


@says(payloads.AtLimit, *_RUN_IN)
def _excused(finding: Finding, numbers: payloads.AtLimit) -> str:
    return f"{_against(finding, numbers, 'past')} {_RUN_IN[finding.code]}"


@says(payloads.Present, "seen_without_figure")
def _present(finding: Finding, _: payloads.Present) -> str:
    return f"{BY_COLUMN[finding.analyte or ''].name} is reported as present, without a figure."
