"""Sentences of what was seen, heard, checked or measured, and of remarks on the record."""

from ..findings import Finding, payloads
from ..laboratory import BY_COLUMN, BY_SYMBOL
from ..record import (
    check_kinds,
    check_result,
    debris_types,
    fact_kinds,
    leak_answer,
    leak_steps,
    troubles,
)
from ..terms import DEBRIS_PLACES, FACT_KINDS, LEVELS
from .amounts import Units
from .figures import day, figure, large, listed, quoted, small
from .spoken import always, says, says_amounts

# What the technician reports → the words of the sentence. {on} is the day, {what} the fact as its
# table has it.
FACTS = {
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
    "noise": "{what} was reported ({on}).",
    "smoke": "{what} was reported ({on}).",
    "blow_by": "Blow-by was reported ({on}).",
    "power_down": "Less power was reported ({on}).",
    "coolant_use": "It uses coolant ({on}): out, into the oil or into a cylinder.",
    "level_falling": "The oil level falls ({on}): burnt or lost.",
    "wet_cylinder": "There is liquid in a cylinder ({on}). Nothing cranks or bars it until it is "
    "out.",
    "lamp_in_corners": "The oil-pressure lamp flickers in corners or on slopes ({on}): little oil, "
    "or a pick-up that draws air.",
    "overheated": "It overheated ({on}): the oil was thin then, and the gasket may have suffered.",
}
LIMIT_FROM = {
    "typed": "the figure given",
    "model": "the model's figure",
    "general": "a general figure",
}
REMARKS = {
    "leaded": "Lead is not judged: the engine burns leaded fuel.",
    "hours_unknown": "Hours on the oil are not known: no oil change is on record, so rates are "
    "withheld and wear is not cleared.",
}
for _code, _text in REMARKS.items():
    always(_text, _code)


# What was done since the fact was found that makes it milder.
SINCE = {
    "clean": "A later look found less: it stays at Watch until as much again was found clean.",
    "worked_on": "Work was done there since: it stays at Watch until the check is done again.",
}


def _said(note: str) -> str:
    return f" {quoted(note)}" if note else ""


def _since(numbers: payloads.SeenOn) -> str:
    return f" {SINCE.get(numbers.since, numbers.since)}" if numbers.since else ""


def _beside(numbers: payloads.SeenOn) -> str:
    """What was written beside it, and what was done since."""
    return _said(numbers.note) + _since(numbers)


@says(payloads.SeenOn, *FACTS)
def _seen(finding: Finding, numbers: payloads.SeenOn) -> str:
    what = fact_kinds()[numbers.fact or finding.code].words
    return FACTS[finding.code].format(on=day(numbers.on), what=large(what)) + _beside(numbers)


@says(payloads.CheckedOn, "field_check")
def _checked(_: Finding, numbers: payloads.CheckedOn) -> str:
    """What was done, what came of it, what it means."""
    one = check_result(numbers.check, numbers.result)
    meaning = f" {one.meaning}" if one.meaning else ""
    held = f", held against {LIMIT_FROM[numbers.limit_from]}" if numbers.limit_from else ""
    figures = f", {numbers.figures}{held}" if numbers.figures else ""
    words = check_kinds()[numbers.check].words
    return f"{words}: {one.words}{figures} ({day(numbers.on)}).{meaning}{_beside(numbers)}"


@says(payloads.LookedOn, "look")
def _looked(_: Finding, numbers: payloads.LookedOn) -> str:
    """A look at filter, plug, pan, strainer or cooler."""
    kind = debris_types()[numbers.type]
    part = "" if numbers.seen == "1" else f" on {100 * float(numbers.seen):.0f} % of it"
    place = DEBRIS_PLACES.get(numbers.place, numbers.place)
    size = f", the largest {numbers.size}" if numbers.size else ""
    grown = (
        " These are at least three times as many as in the look before." if numbers.grown else ""
    )
    return (
        f"{kind.words.capitalize()} in the {place}: {numbers.count}{size}{part} "
        f"({day(numbers.on)}). "
        f"{kind.meaning}{grown}{_since(numbers)}"
    )


@says(payloads.OpenedOn, "finding")
def _opened(_: Finding, numbers: payloads.OpenedOn) -> str:
    """A finding of the opened engine."""
    return f"{large(numbers.where)}: {numbers.condition} ({day(numbers.on)}).{_beside(numbers)}"


@says(payloads.SteppedOn, "case_step")
def _stepped(_: Finding, numbers: payloads.SteppedOn) -> str:
    """A step of a leak isolation and what it found."""
    step = leak_steps()[numbers.step]
    return (
        f"{step.words}: {leak_answer(numbers.step, numbers.answer).words} "
        f"({day(numbers.on)}).{_beside(numbers)}"
    )


@says_amounts(payloads.ToppedUp, "coolant_added")
def _coolant_added(_: Finding, numbers: payloads.ToppedUp, units: Units) -> str:
    days = int(numbers.days or 0)
    long = f" in {days} days" if days > 1 else " in a day" if days else ""
    return (
        f"{_amount(numbers.litres, units)} of coolant were topped up{long} "
        f"({day(numbers.on)}): it goes somewhere."
    )


@says_amounts(payloads.ToppedUp, "oil_added")
def _oil_added(_: Finding, numbers: payloads.ToppedUp, units: Units) -> str:
    return (
        f"{_amount(numbers.litres, units)} of oil were topped up into a fill of "
        f"{_amount(numbers.fill, units)} since the change ({day(numbers.on)}): burnt, leaking, "
        "or lost to the coolant."
    )


def _amount(text: str, units: Units) -> str:
    """Litres that a finding carries as text, in the units the person reads."""
    try:
        return units.litres(float(text))
    except ValueError:
        return f"{text} L"


@says(payloads.Agreement, "agreement")
def _agreement(_: Finding, numbers: payloads.Agreement) -> str:
    """What was found by different kinds of evidence, and what all of it points to."""
    what = " or ".join(troubles()[x].words for x in numbers.troubles)
    said = listed(numbers.said)
    kinds = " and ".join(FACT_KINDS[k] for k in numbers.kinds)
    return (
        f"{large(said)}: {_NUMBER[len(numbers.kinds)]} kinds of evidence ({kinds}) point to {what}."
    )


_NUMBER = {2: "two", 3: "three", 4: "four"}


@says(payloads.InPieces, "in_pieces")
def _in_pieces(_: Finding, numbers: payloads.InPieces) -> str:
    looked = f"{numbers.parts} part{'s' * (numbers.parts > 1)} looked at"
    bad = f", {numbers.bad} of them not sound" if numbers.bad else ""
    return (
        f"The engine is in pieces since {day(numbers.on)} ({looked}{bad}): nobody starts it "
        "before a "
        "signed closing says what was renewed and what was left."
    )


@says(payloads.Signed, "signed")
def _signed(finding: Finding, numbers: payloads.Signed) -> str:
    return f"Signed at {LEVELS[finding.level]} by {numbers.by}.{_said(numbers.reason)}"


def _f(x: float | None) -> str:
    return "not known" if x is None else figure(x)


@says(payloads.Grade, "out_of_grade")
def _out_of_grade(_: Finding, numbers: payloads.Grade) -> str:
    now = f"grade {' or '.join(numbers.grades)}" if numbers.grades else "no engine-oil grade"
    end = f" to {figure(numbers.high)}" if numbers.high else ""
    return (
        f"Viscosity at 100 °C is {_f(numbers.value)} mm²/s, {now}: outside every allowed grade "
        f"({', '.join(numbers.allowed)}, from {_f(numbers.low)}{end})."
    )


@says(payloads.Reserve, "bn_below_an")
def _bn_below_an(_: Finding, numbers: payloads.Reserve) -> str:
    return (
        f"Base number {_f(numbers.bn)} has fallen below acid number {_f(numbers.an)}: the "
        "reserve is used up."
    )


@says(payloads.AdditivesFell, "additives_fell")
def _additives_fell(_: Finding, numbers: payloads.AdditivesFell) -> str:
    whose = "in this oil when fresh" if numbers.fresh else "in its earlier samples of this oil"
    known = "{} was usual"
    if numbers.least:
        whose, known = "in oils for this class of engine", "at least {} is usual"
    told = [
        f"{small(BY_SYMBOL[s].name)} {_f(x)} ppm where {known.format(_f(usual))}"
        for s, x, usual in zip(numbers.symbols, numbers.values, numbers.usual, strict=False)
    ]
    return (
        f"{large(listed(told))} {whose}: another oil is in it, or its additives are spent. "
        "Ask which oil was filled."
    )


@says(payloads.LargeIron, "large_iron")
def _large_iron(_: Finding, numbers: payloads.LargeIron) -> str:
    return (
        f"The magnetic index {_f(numbers.pq)} is above iron {_f(numbers.fe)} ppm: there is iron "
        "too large for "
        "the spectrometer."
    )


@says(payloads.Glycol, "glycol", "glycol_with_bearing_metal")
def _glycol(finding: Finding, numbers: payloads.Glycol) -> str:
    if numbers.proven:
        how = "by chromatography"
    elif numbers.agree:
        how = "and sodium or potassium agree"
    else:
        how = "by a quick test only; sodium and potassium do not confirm it yet"
    end = ", and bearing metal is rising" if finding.code == "glycol_with_bearing_metal" else ""
    return f"Glycol was found {how}{end}."


@says(payloads.WaterStop, "water_stop")
def _water_stop(_: Finding, numbers: payloads.WaterStop) -> str:
    return (
        f"Water {_f(numbers.value)} % is at or past {figure(numbers.limit)} %: do not run on "
        "this oil."
    )


@says(payloads.FuelStop, "fuel_stop")
def _fuel_stop(_: Finding, numbers: payloads.FuelStop) -> str:
    return (
        f"Fuel {_f(numbers.value)} % and viscosity {_f(numbers.kv)} mm²/s, below the thinnest "
        "allowed "
        f"({figure(numbers.low)}): an overfull diesel can run away on its own sump."
    )


@says(payloads.RingScuff, "ring_scuff")
def _ring_scuff(_: Finding, numbers: payloads.RingScuff) -> str:
    return (
        f"Iron, chromium and aluminium rose {_f(numbers.fe)}, {_f(numbers.cr)} and "
        f"{_f(numbers.al)} times in "
        f"{_f(numbers.hours)} h, with blow-by or smoke."
    )


_STOOD_IN = {
    "same_oil": "another batch of the same oil stands in",
    "lowest_early": "wear metals are taken from 0, and for the rest the readings nearest to fresh "
    "oil early in other charges stand in",
    "none": "wear metals are taken from 0, and rises cannot be judged",
}


@says(payloads.Reference, "no_reference")
def _no_reference(_: Finding, numbers: payloads.Reference) -> str:
    return f"There is no fresh-oil reference for this batch; {_STOOD_IN[numbers.used]}."


@says(payloads.Cleanliness, "cleanliness")
def _cleanliness(_: Finding, numbers: payloads.Cleanliness) -> str:
    return f"Cleanliness code {numbers.code} (ISO 4406, particles over 4, 6 and 14 µm)."


@says(payloads.RunInCharge, "run_in")
def _run_in(_: Finding, numbers: payloads.RunInCharge) -> str:
    return (
        f"Run-in, charge {numbers.charge} of this life: iron, copper, silicon and aluminium are "
        "expected "
        "high and must fall from charge to charge."
    )


@says(payloads.HoursOnOil, "hours_negative")
def _hours_negative(_: Finding, __: payloads.HoursOnOil) -> str:
    return "The sample's meter lies before the oil change: hours on the oil come out below zero."


@says(payloads.HoursOnOil, "too_early")
def _too_early(_: Finding, numbers: payloads.HoursOnOil) -> str:
    on_oil = f"{figure(numbers.hours or 0.0)} {numbers.per}".rstrip()
    return (
        f"{on_oil} on this oil is too early for a rate: what was read is held "
        "against what its limit allows at a tenth of the drain, and not against its habit."
    )


@says(payloads.Unsettled, "unsettled")
def _unsettled(_: Finding, numbers: payloads.Unsettled) -> str:
    return (
        f"Sample {numbers.sample} may not be what it says: whose oil it is, or which figure is "
        "meant, is "
        "asked under Queries. Settle that first."
    )


@says(payloads.NotReported, "not_reported")
def _not_reported(_: Finding, numbers: payloads.NotReported) -> str:
    names = [BY_COLUMN[column].name for column in numbers.missing] or ["Something"]
    return f"{listed(names)} not reported: wear is not cleared."


@says(payloads.HoursDiffer, "hours_differ")
def _hours_differ(_: Finding, numbers: payloads.HoursDiffer) -> str:
    return (
        f"Reported {_f(numbers.reported)} on the oil, the record says {_f(numbers.recorded)}: "
        "one of the two "
        "is wrong; the record was used."
    )
