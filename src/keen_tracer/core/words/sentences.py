"""Sentences, written from finding codes and numbers when a verdict is read. The only place with
prose."""

from typing import Any

from ..laboratory import BY_COLUMN, BY_SYMBOL
from ..record import check_result, debris_types
from ..terms import CHANNELS, CLASSES, LEVELS
from .expected_words import WORDS as EXPECTED_WORDS
from .explain_words import WORDS as EXPLAINED
from .explain_words import explanation
from .figures import computed, day, figure, listed, short_day

# What the technician reports → the words of the sentence. {on} is the day.
_FACTS = {
    "coolant_visible": "Coolant was seen in the oil ({on}). It lies at the bottom and reaches the "
    "bearings first.",
    "emulsion": "The sample was an emulsion ({on}): water or coolant is mixed into the oil.",
    "chunks_in_oil": "There were pieces in the sample ({on}).",
    "level_rising": "The oil level was above full and rising ({on}): fuel or coolant is coming in.",
    "low_pressure": "Low oil pressure, hot, was reported ({on}).",
    "pressure_lamp": "The oil-pressure lamp was lit at hot idle ({on}); a gauge has to clear it.",
    "knock": "A knock was reported ({on}).",
    "bearing_flakes": "Bearing flakes were found ({on}).",
    "chunks_in_filter": "A chunk or part fragment was found ({on}).",
    "filter_collapsed": "The filter was found collapsed ({on}): the engine may have run on "
    "unfiltered oil.",
    "pickup_blocked": "The oil pick-up was found blocked ({on}).",
    "failure": "A failure was reported ({on}).",
    "specks": "Shiny specks were seen in the sample ({on}): metal the spectrometer may not see. "
    "Open the filter.",
    "grit": "Dull black grit was seen in the sample ({on}): friction lining or carbon.",
    "fuel_smell": "The sample smelt of fuel ({on}). No flame near it, and ventilate.",
    "coolant_smell": "The sample smelt sweet, of coolant ({on}).",
    "burnt_smell": "The sample smelt burnt ({on}): too hot, or too long in use.",
    "grey_oil": "The oil was grey and smelt of fuel ({on}). No flame near it, and ventilate.",
}
_REMARKS = {
    "leaded": "Lead is not judged: the engine burns leaded fuel.",
    "hours_unknown": "Hours on the oil are not known: no oil change is on record, so rates are "
    "withheld.",
    "hours_negative": "The sample's meter lies before the oil change: hours on the oil come out "
    "below zero.",
}


def _scope(numbers: dict[str, Any]) -> str:
    name = str(numbers.get("scope", ""))
    base, _, mark = name.partition("+")
    words = CLASSES.get(base, "all engines" if base == "all" else base)
    return f"{words}, {mark.replace('_', ' ')}" if mark else words


def _limit(f: dict[str, Any]) -> str:
    """Sentence for a reading against a limit: value, what it passed, where that comes from."""
    n, a = f["numbers"], BY_COLUMN[f["analyte"]]
    mark = LEVELS[f["level"]]
    value = ("under " if n["censor"] == 1 else "over " if n["censor"] == 2 else "") + figure(
        n["value"]
    )
    unit = f" {a.unit}" if a.unit not in ("index",) else ""
    low = f["code"].startswith("low")
    beyond = "below" if low else "past"
    if f["code"].endswith("_at_limit"):
        beyond = "at"
    head = f"{a.name} {value}{unit}"
    limit = computed(n["threshold"])
    tail = f" (fixed limit, {_scope(n)})" if n.get("scope") else " (fixed limit)"
    if f["code"] == "unproven":
        return (
            f"{a.name} is only known to be {value}{unit}, and {mark} begins at {limit}{tail}: "
            "it cannot be cleared."
        )
    if n["basis"] == "rate" and "per_100" in n:
        per = n["per"]
        text = (
            f"{head} on {figure(round(n['hours']))} {per}, {computed(n['per_100'])} per 100 {per}, "
            f"is {beyond} the "
            f"{mark} rate; on that oil {mark} begins at {limit}{tail}."
        )
    elif n["basis"] == "rise":
        word = "above" if n["rise"] >= 0 else "below"
        text = (
            f"{head}, {computed(abs(n['rise']))} {word} fresh oil ({figure(n['fresh'])}), is "
            f"{beyond} {mark} "
            f"({limit}){tail}."
        )
    elif n["basis"] == "pct_fresh":
        text = (
            f"{head} is {computed(n['pct_fresh'])} % of fresh oil ({figure(n['fresh'])}), {beyond} "
            f"{mark} "
            f"({limit}){tail}."
        )
    else:
        text = f"{head} is {beyond} {mark} ({limit}){tail}."
    if f["code"].endswith("_at_limit"):
        text += " Within the test's own noise of the limit: a resample confirms."
    return text


def _combined(f: dict[str, Any]) -> str | None:
    n: dict[str, Any] = f["numbers"]
    match f["code"]:
        case "out_of_grade":
            grades = ", ".join(n["allowed"])
            now = f"grade {' or '.join(n['is'])}" if n["is"] else "no engine-oil grade"
            return (
                f"Viscosity at 100 °C is {figure(n['value'])} mm²/s, {now}: outside every "
                "allowed grade "
                f"({grades}, from {figure(n['low'])}"
                + (f" to {figure(n['high'])})." if n["high"] else ").")
            )
        case "bn_below_an":
            return (
                f"Base number {figure(n['bn'])} has fallen below acid number {figure(n['an'])}: "
                "the reserve is used up."
            )
        case "large_iron":
            return (
                f"The magnetic index {figure(n['pq'])} is above iron {figure(n['fe'])} ppm: there "
                "is iron too "
                "large for the spectrometer."
            )
        case "glycol" | "glycol_with_bearing_metal":
            how = (
                "by chromatography"
                if n["proven"]
                else "and sodium or potassium agree"
                if n["agree"]
                else "by a quick test only; sodium and potassium do not confirm it yet"
            )
            end = ", and bearing metal is rising" if f["code"].endswith("metal") else ""
            return f"Glycol was found {how}{end}."
        case "water_stop":
            return (
                f"Water {figure(n['value'])} % is at or past {figure(n['limit'])} %: do not run "
                "on this oil."
            )
        case "fuel_stop":
            return (
                f"Fuel {figure(n['value'])} % and viscosity {figure(n['kv'])} mm²/s, below the "
                "thinnest allowed "
                f"({figure(n['low'])}): an overfull diesel can run away on its own sump."
            )
        case "ring_scuff":
            return (
                f"Iron, chromium and aluminium rose {figure(n['fe'])}, {figure(n['cr'])} and "
                f"{figure(n['al'])} "
                f"times in {figure(n['hours'])} h, with blow-by or smoke."
            )
        case "seen_without_figure":
            return f"{BY_COLUMN[f['analyte']].name} is reported as present, without a figure."
        case "no_reference":
            used = {
                "same_oil": "another batch of the same oil stands in",
                "lowest_early": "the readings nearest to fresh oil early in other charges stand in",
                "none": "wear metals are taken from 0, and rises cannot be judged",
            }[n["used"]]
            return f"There is no fresh-oil reference for this batch; {used}."
        case "cleanliness":
            return f"Cleanliness code {n['code']} (ISO 4406, particles over 4, 6 and 14 µm)."
        case "run_in":
            return (
                f"Run-in, charge {n['charge']} of this life: iron, copper, silicon and aluminium "
                "are expected high "
                "and must fall from charge to charge."
            )
        case "hours_differ":
            return (
                f"Reported {figure(n['reported'])} on the oil, the record says "
                f"{figure(n['recorded'])}: "
                "one of the two is wrong; the record was used."
            )
    return None


def _checked(n: dict[str, Any]) -> str:
    """Sentence of a field check: what was done, what came of it, what it means."""
    one = check_result(n["check"], n["result"])
    note = f" “{n['note']}”" if n.get("note") else ""
    return f"{one.check_words}: {one.words} ({day(n['on'])}). {one.meaning}{note}"


def _looked(n: dict[str, Any]) -> str:
    """Sentence of a look at filter, plug, pan, strainer or cooler."""
    kind = debris_types()[n["type"]]
    part = "" if n["seen"] == "1" else f" on {100 * float(n['seen']):.0f} % of it"
    return (
        f"{kind.words.capitalize()} in the {n['place']}: {n['count']}{part} ({day(n['on'])}). "
        f"{kind.meaning}"
    )


def sentence(f: dict[str, Any]) -> str:
    """The sentence of one finding, given as `Finding.as_dict()`.

    >>> numbers = {"bn": 2.1, "an": 3.4}
    >>> sentence({"code": "bn_below_an", "numbers": numbers, "analyte": "BN_mgKOH_g", "level": 2})
    'Base number 2.1 has fallen below acid number 3.4: the reserve is used up.'
    """
    code = f["code"]
    if code in _FACTS:
        text = _FACTS[code].format(on=day(f["numbers"]["on"]))
        note = f["numbers"].get("note")
        return f"{text} “{note}”" if note else text
    if code == "look":
        return _looked(f["numbers"])
    if code == "field_check":
        return _checked(f["numbers"])
    if code in _REMARKS:
        return _REMARKS[code]
    if code in EXPLAINED:
        return explanation(f)
    if code in EXPECTED_WORDS:
        return EXPECTED_WORDS[code](f)
    if combined := _combined(f):
        return combined
    if code.startswith("run_in_"):
        base = _limit({**f, "code": "high"})
        end = {
            "run_in_first": "Expected in the first charge of a life; it has to fall by the next.",
            "run_in_falling": "Still run-in, and falling from charge to charge.",
            "run_in_not_falling": "Run-in does not explain it: it is not falling from charge "
            "to charge.",
        }[code]
        return f"{base} {end}"
    if code == "copper_falling":
        return (
            f"{_limit({**f, 'code': 'high'})} Copper alone, slower than in the oil before: "
            "Watch as long as it falls."
        )
    return _limit(f)


_PLAN_WORDS = {
    "meter": "{every} {unit} since the last sample",
    "days": "{every} days since the last sample",
    "drain": "before the oil change",
    "half_drain": "halfway to the oil change",
    "outing": "after every outing",
    "after_repair": "{every} {unit} after the repair",
}


def due_words(d: dict[str, Any], unit: str) -> str:
    """Why a sample is due, and how the date was reached; `d` is a Due as a dictionary.

    >>> from datetime import date
    >>> due = {"by": "days", "every": 60, "tightened": True, "per_week": None}
    >>> due_words({**due, **dict.fromkeys(("on", "earliest", "latest"), date(2026, 12, 3))}, "h")
    '60 days since the last sample, tightened while it is raised'
    """
    said = _PLAN_WORDS[d["by"]].format(every=figure(d["every"]) if d["every"] else "", unit=unit)
    if d["tightened"]:
        said += ", tightened while it is raised"
    if d["by"] in ("meter", "drain", "half_drain", "after_repair") and d["per_week"]:
        span = (
            ""
            if d["earliest"] == d["latest"]
            else f" ({short_day(d['earliest'])} to {short_day(d['latest'])})"
        )
        said += (
            f", reached about {short_day(d['on'])}{span} at {computed(d['per_week'])} {unit} a week"
        )
    if d.get("overdue") and d.get("share") and d["share"] > 1:
        said += f", {100 * (d['share'] - 1):.0f} % over the interval"
    return said


ACTION_WORDS = {
    "do_not_run": "Do not run until inspected",
    "drain_coolant_first": "Drain from the bottom first: coolant lies below the oil. Do not start "
    "or bar the engine",
    "inspect_before_start": "Inspect before the next start",
    "resample": "Resample in a new bottle at the next start, before any strip-down",
    "change_oil": "Change the oil after the resample is drawn",
    "pressure_test_cooling": "Pressure-test the cooling system, at the rated pressure only",
    "check_intake": "Check the intake from filter to engine",
    "open_filter": "Open the filter and look",
    "sample_sooner": "Sample sooner, at half the interval",
    "post_repair": "Draw a sample after the repair",
    "first_sample": "Draw a first sample",
}


# The next thing to do, as short as a line of the Wall.
ACTION_SHORT = {
    "do_not_run": "Inspect before it runs",
    "drain_coolant_first": "Drain from the bottom",
    "resample": "Resample",
    "inspect_before_start": "Inspect before it runs",
    "change_oil": "Change the oil",
    "pressure_test_cooling": "Pressure-test cooling",
    "check_intake": "Check the intake",
    "open_filter": "Open the filter",
    "sample_sooner": "Sample sooner",
    "post_repair": "Sample after repair",
    "first_sample": "Draw a first sample",
}


def summary(findings: list[dict[str, Any]], channels: list[int | None]) -> str:
    """The first line of a verdict: what is raised and what is quiet, by channel."""
    raised = [c for c, v in zip(CHANNELS, channels, strict=True) if v]
    quiet = [c for c, v in zip(CHANNELS, channels, strict=True) if v == 0]
    missing = [c for c, v in zip(CHANNELS, channels, strict=True) if v is None]
    said = []
    if raised:
        said.append(
            listed(
                [
                    f"{CHANNELS[c]} at {LEVELS[channels[list(CHANNELS).index(c)] or 0]}"
                    for c in raised
                ]
            )
        )
    if quiet:
        said.append(f"{listed([CHANNELS[c] for c in quiet])} steady")
    if missing:
        said.append(f"{listed([CHANNELS[c] for c in missing])} not measured")
    text = "; ".join(said)
    return (
        f"{text[:1].upper()}{text[1:]}."
        if text
        else "Nothing was measured that a limit could be held against."
    )


def _named(f: dict[str, Any]) -> list[str]:
    """The analytes a finding is about; of a pattern those that stand out."""
    if f["code"] != "pattern":
        return [BY_COLUMN[f["analyte"]].name.lower()]
    listed = sorted(f["numbers"]["elements"].items(), key=lambda x: -(x[1]["z"] or 0))
    return [BY_SYMBOL[s].name.lower() for s, e in listed if (e["z"] or 0) >= 1] or [
        BY_SYMBOL[listed[0][0]].name.lower()
    ]


def would_change(level: int | None, findings: list[dict[str, Any]]) -> str:
    """What would change the verdict, in a sentence."""
    stops = [f for f in findings if f["level"] == 3]
    raised = [
        f for f in findings if f["level"] in (1, 2) and (f.get("analyte") or f["code"] == "pattern")
    ]
    if stops:
        return (
            "An inspection that finds the cause, and a release signed by a person. No later "
            "figure lifts it."
        )
    if raised:
        names = list(dict.fromkeys(name for f in raised for name in _named(f)))[:3]
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
