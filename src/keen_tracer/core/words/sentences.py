"""Sentences, written from findings when a verdict is read; actions, plans and summaries in
words."""

from collections.abc import Sequence
from typing import Any

from ..findings import Finding, payloads, trouble
from ..laboratory import BY_COLUMN, BY_SYMBOL
from ..record import (
    check_kinds,
    check_result,
    debris_types,
    fact_kinds,
    fact_of,
    leak_answer,
    points_of,
    troubles,
)
from ..terms import CHANNELS, LEVELS, PLAN_REASONS, USAGE_BY
from ..verdict import Level
from . import expected_words, explain_words, fact_words, limit_words
from .amounts import OWN_UNITS, Units
from .figures import computed, day, figure, listed, short_day, small
from .spoken import SENTENCES

# The modules above register their words where they are loaded.
REGISTERED = (expected_words, explain_words, fact_words, limit_words)


def sentence(finding: Finding, units: Units = OWN_UNITS) -> str:
    """The sentence of one finding, with amounts in `units`.

    >>> reserve = payloads.Reserve(bn=2.1, an=3.4)
    >>> sentence(Finding(code="bn_below_an", channel="oil_life", level=2, numbers=reserve))
    'Base number 2.1 has fallen below acid number 3.4: the reserve is used up.'
    """
    return SENTENCES[finding.code](finding, units)


def due_words(d: dict[str, Any], unit: str) -> str:
    """Why a sample is due, and how the date was reached; `d` is a Due as a dictionary.

    >>> from datetime import date
    >>> due = {"by": "days", "every": 60, "tightened": True, "per_week": None}
    >>> due_words({**due, **dict.fromkeys(("on", "earliest", "latest"), date(2026, 12, 3))}, "h")
    '60 days since the last sample, tightened while it is raised'
    """
    said = PLAN_REASONS[d["by"]].format(every=figure(d["every"]) if d["every"] else "", unit=unit)
    if d["tightened"]:
        said += ", tightened while it is raised"
    if d["by"] in ("meter", "drain", "half_drain", "after_repair") and d["per_week"]:
        whose = d.get("usage_by", "own")
        # Beyond a storage a day lies far enough ahead to need its year.
        on, first, last = (
            day(x.isoformat()) if whose == "storage" else short_day(x)
            for x in (d["on"], d["earliest"], d["latest"])
        )
        span = "" if first == last else f" ({first} to {last})"
        said += f", reached about {on}{span} at {computed(d['per_week'])} {unit} a week"
        if whose := USAGE_BY[whose]:
            said += f", {whose}"
    if d.get("overdue") and d.get("share") and d["share"] > 1:
        said += f", {100 * (d['share'] - 1):.0f} % over the interval"
    return said


def summary(channels: list[int | None]) -> str:
    """The first line of a verdict: what is raised and what is quiet, by channel.

    >>> summary([2, 0, 0, None, 0, 0, None])
    'Wear at Act; Dirt, Coolant, Thickness and Oil life steady; Fuel and Debris not measured.'
    """
    said = []
    levels = dict(zip(CHANNELS.values(), channels, strict=True))
    raised = [f"{word} at {LEVELS[level]}" for word, level in levels.items() if level]
    quiet = [word for word, level in levels.items() if level == 0]
    missing = [word for word, level in levels.items() if level is None]
    for words, end in ((raised, ""), (quiet, " steady"), (missing, " not measured")):
        if words:
            said.append(listed(words) + end)
    return f"{'; '.join(said)}."


def figures_named(finding: Finding) -> list[str]:
    """The analytes a finding is about; of a pattern those that stand out."""
    if not isinstance(finding.numbers, payloads.Pattern):
        return [small(BY_COLUMN[finding.analyte].name)] if finding.analyte else []
    worst = sorted(finding.numbers.elements.items(), key=lambda x: -(x[1].z or 0))
    names = [small(BY_SYMBOL[s].name) for s, e in worst if (e.z or 0) >= payloads.NAMED_FROM]
    return names or [small(BY_SYMBOL[worst[0][0]].name)]


def would_change(level: int | None, findings: Sequence[Finding]) -> str:
    """What would change the verdict, in a sentence."""
    if any(f.level == Level.STOP for f in findings):
        return (
            "An inspection that finds the cause, and a release signed by a person. No later "
            "figure lifts it."
        )
    acts = [f for f in findings if f.level >= Level.ACT]
    if acts and all(trouble(f) == "oil" for f in acts):
        return "Nothing: the oil is spent. Change it, and look at how it came to that."
    if any(isinstance(f.numbers, payloads.SeenOn) for f in acts):
        return (
            "The same look or check again with another result, or the cause found and named. A "
            "clean report clears nothing that can be seen."
        )
    names = list(dict.fromkeys(name for f in findings if f.level for name in figures_named(f)))[:3]
    if names:
        return (
            f"A resample with {listed(names)} back where expected, or another finding that "
            "explains the rise."
        )
    if level is None:
        return "A report with readings a limit can be held against."
    return (
        "A reading past a limit or above what is expected, or something seen in the filter: "
        "a clean report clears no visible debris."
    )


def names_of(finding: Finding) -> list[str]:
    """The fact a finding tells, or the analytes it is about; none for what is made of others."""
    fact = fact_of(finding)
    return [fact_kinds()[fact].words] if fact else figures_named(finding)


def in_short(finding: Finding) -> str:
    """A finding in a few words, for a sentence that lists several findings."""
    if isinstance(finding.numbers, payloads.CheckedOn):
        one = check_result(finding.numbers.check, finding.numbers.result)
        return f"{small(check_kinds()[one.check].words)}: {finding.numbers.figures or one.words}"
    if isinstance(finding.numbers, payloads.SteppedOn):
        return leak_answer(finding.numbers.step, finding.numbers.answer).words
    if isinstance(finding.numbers, payloads.OpenedOn):
        return f"{finding.numbers.where}: {finding.numbers.condition}"
    names = names_of(finding)
    return listed(names) if names else ""


def about(finding: Finding) -> str:
    """What a finding is about: the one part it points to, else what it tells itself."""
    if finding.code == "in_pieces":
        return "the engine stands open"
    # Water is told apart from coolant: the narrower of two.
    points = points_of(finding) - ({"coolant"} if "water" in points_of(finding) else set())
    if isinstance(finding.numbers, payloads.Agreement) or len(points) == 1:
        return " or ".join(t.words for t in troubles().values() if t.code in points)
    names = names_of(finding) if points else []
    return listed(names) if names else CHANNELS[finding.channel].lower()


def chip(finding: Finding) -> str:
    """A finding in three or four words, for the evidence chips."""
    name = BY_COLUMN[finding.analyte].symbol if finding.analyte else CHANNELS[finding.channel]
    match finding.numbers:
        case payloads.LookedOn(type=kind):
            return debris_types()[kind].words
        case payloads.Pattern(pattern=pattern):
            what = "metals" if finding.channel == "wear" else "pattern"
            return _PATTERN_CHIPS.get(pattern, f"{pattern.replace('_', ' ')} {what}")
        case payloads.AboveExpected(value=value, expected=usual) if (value or 0) < (usual or 0):
            return f"{name} below expected"
        case payloads.Agreement(troubles=codes):
            return f"evidence agrees: {' or '.join(troubles()[x].words for x in codes)}"
        case payloads.CheckedOn(check=check, result=result):
            return f"{check_kinds()[check].words}: {check_result(check, result).words}"
    if finding.code in _CHIPS:
        return _CHIPS[finding.code].format(name=name)
    if finding.level == Level.STOP or not finding.analyte:
        return finding.code.replace("_", " ")
    at = "at" if finding.code in ("high_at_limit", "low_at_limit") else "past"
    return f"{name} {at} {LEVELS[finding.level]}"


_PATTERN_CHIPS = {
    "fuel_thins": "fuel, and thinner",
    "oxidised": "oxidised",
    "nitrated": "nitrated",
    "sooted": "soot, and thicker",
    "large_iron": "large iron",
}
_CHIPS = {
    "out_of_grade": "{name} out of grade",
    "large_iron": "large iron",
    "bn_below_an": "BN below AN",
    "unproven": "{name} not cleared",
    "above_expected": "{name} above expected",
    "above_own": "{name} above own",
    "above_peers": "{name} above peers",
    "run_in_first": "{name} in run-in",
    "run_in_falling": "{name} in run-in",
    "run_in_not_falling": "{name} in run-in",
}
