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
from .figures import day, figure, large, listed, quoted, small
from .spoken import always, says

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


def _since(n: payloads.SeenOn) -> str:
    return f" {SINCE.get(n.since, n.since)}" if n.since else ""


def _beside(n: payloads.SeenOn) -> str:
    """What was written beside it, and what was done since."""
    return _said(n.note) + _since(n)


@says(payloads.SeenOn, *FACTS)
def _seen(f: Finding, n: payloads.SeenOn) -> str:
    what = fact_kinds()[n.fact or f.code].words
    return FACTS[f.code].format(on=day(n.on), what=large(what)) + _beside(n)


@says(payloads.CheckedOn, "field_check")
def _checked(_: Finding, n: payloads.CheckedOn) -> str:
    """What was done, what came of it, what it means."""
    one = check_result(n.check, n.result)
    meaning = f" {one.meaning}" if one.meaning else ""
    held = f", held against {LIMIT_FROM[n.limit_from]}" if n.limit_from else ""
    figures = f", {n.figures}{held}" if n.figures else ""
    words = check_kinds()[n.check].words
    return f"{words}: {one.words}{figures} ({day(n.on)}).{meaning}{_beside(n)}"


@says(payloads.LookedOn, "look")
def _looked(_: Finding, n: payloads.LookedOn) -> str:
    """A look at filter, plug, pan, strainer or cooler."""
    kind = debris_types()[n.type]
    part = "" if n.seen == "1" else f" on {100 * float(n.seen):.0f} % of it"
    place = DEBRIS_PLACES.get(n.place, n.place)
    size = f", the largest {n.size}" if n.size else ""
    grown = " These are at least three times as many as in the look before." if n.grown else ""
    return (
        f"{kind.words.capitalize()} in the {place}: {n.count}{size}{part} ({day(n.on)}). "
        f"{kind.meaning}{grown}{_since(n)}"
    )


@says(payloads.OpenedOn, "finding")
def _opened(_: Finding, n: payloads.OpenedOn) -> str:
    """A finding of the opened engine."""
    return f"{large(n.where)}: {n.condition} ({day(n.on)}).{_beside(n)}"


@says(payloads.SteppedOn, "case_step")
def _stepped(_: Finding, n: payloads.SteppedOn) -> str:
    """A step of a leak isolation and what it found."""
    step = leak_steps()[n.step]
    return f"{step.words}: {leak_answer(n.step, n.answer).words} ({day(n.on)}).{_beside(n)}"


@says(payloads.ToppedUp, "coolant_added")
def _coolant_added(_: Finding, n: payloads.ToppedUp) -> str:
    days = int(n.days or 0)
    long = f" in {days} days" if days > 1 else " in a day" if days else ""
    return f"{n.litres} L of coolant were topped up{long} ({day(n.on)}): it goes somewhere."


@says(payloads.ToppedUp, "oil_added")
def _oil_added(_: Finding, n: payloads.ToppedUp) -> str:
    return (
        f"{n.litres} L of oil were topped up into a fill of {n.fill} L since the change "
        f"({day(n.on)}): burnt, leaking, or lost to the coolant."
    )


@says(payloads.Agreement, "agreement")
def _agreement(_: Finding, n: payloads.Agreement) -> str:
    """What was found by different kinds of evidence, and what all of it points to."""
    what = " or ".join(troubles()[x].words for x in n.troubles)
    said = listed(n.said)
    kinds = " and ".join(FACT_KINDS[k] for k in n.kinds)
    return f"{large(said)}: {_NUMBER[len(n.kinds)]} kinds of evidence ({kinds}) point to {what}."


_NUMBER = {2: "two", 3: "three", 4: "four"}


@says(payloads.InPieces, "in_pieces")
def _in_pieces(_: Finding, n: payloads.InPieces) -> str:
    looked = f"{n.parts} part{'s' * (n.parts > 1)} looked at"
    bad = f", {n.bad} of them not sound" if n.bad else ""
    return (
        f"The engine is in pieces since {day(n.on)} ({looked}{bad}): nobody starts it before a "
        "signed closing says what was renewed and what was left."
    )


@says(payloads.Signed, "signed")
def _signed(f: Finding, n: payloads.Signed) -> str:
    return f"Signed at {LEVELS[f.level]} by {n.by}.{_said(n.reason)}"


def _f(x: float | None) -> str:
    return "not known" if x is None else figure(x)


@says(payloads.Grade, "out_of_grade")
def _out_of_grade(_: Finding, n: payloads.Grade) -> str:
    now = f"grade {' or '.join(n.grades)}" if n.grades else "no engine-oil grade"
    end = f" to {figure(n.high)}" if n.high else ""
    return (
        f"Viscosity at 100 °C is {_f(n.value)} mm²/s, {now}: outside every allowed grade "
        f"({', '.join(n.allowed)}, from {_f(n.low)}{end})."
    )


@says(payloads.Reserve, "bn_below_an")
def _bn_below_an(_: Finding, n: payloads.Reserve) -> str:
    return (
        f"Base number {_f(n.bn)} has fallen below acid number {_f(n.an)}: the reserve is used up."
    )


@says(payloads.AdditivesFell, "additives_fell")
def _additives_fell(_: Finding, n: payloads.AdditivesFell) -> str:
    whose = "in this oil when fresh" if n.fresh else "in its earlier samples of this oil"
    known = "{} was usual"
    if n.least:
        whose, known = "in oils for this class of engine", "at least {} is usual"
    told = [
        f"{small(BY_SYMBOL[s].name)} {_f(x)} ppm where {known.format(_f(usual))}"
        for s, x, usual in zip(n.symbols, n.values, n.usual, strict=False)
    ]
    return (
        f"{large(listed(told))} {whose}: another oil is in it, or its additives are spent. "
        "Ask which oil was filled."
    )


@says(payloads.LargeIron, "large_iron")
def _large_iron(_: Finding, n: payloads.LargeIron) -> str:
    return (
        f"The magnetic index {_f(n.pq)} is above iron {_f(n.fe)} ppm: there is iron too large for "
        "the spectrometer."
    )


@says(payloads.Glycol, "glycol", "glycol_with_bearing_metal")
def _glycol(f: Finding, n: payloads.Glycol) -> str:
    if n.proven:
        how = "by chromatography"
    elif n.agree:
        how = "and sodium or potassium agree"
    else:
        how = "by a quick test only; sodium and potassium do not confirm it yet"
    end = ", and bearing metal is rising" if f.code == "glycol_with_bearing_metal" else ""
    return f"Glycol was found {how}{end}."


@says(payloads.WaterStop, "water_stop")
def _water_stop(_: Finding, n: payloads.WaterStop) -> str:
    return f"Water {_f(n.value)} % is at or past {figure(n.limit)} %: do not run on this oil."


@says(payloads.FuelStop, "fuel_stop")
def _fuel_stop(_: Finding, n: payloads.FuelStop) -> str:
    return (
        f"Fuel {_f(n.value)} % and viscosity {_f(n.kv)} mm²/s, below the thinnest allowed "
        f"({figure(n.low)}): an overfull diesel can run away on its own sump."
    )


@says(payloads.RingScuff, "ring_scuff")
def _ring_scuff(_: Finding, n: payloads.RingScuff) -> str:
    return (
        f"Iron, chromium and aluminium rose {_f(n.fe)}, {_f(n.cr)} and {_f(n.al)} times in "
        f"{_f(n.hours)} h, with blow-by or smoke."
    )


_STOOD_IN = {
    "same_oil": "another batch of the same oil stands in",
    "lowest_early": "wear metals are taken from 0, and for the rest the readings nearest to fresh "
    "oil early in other charges stand in",
    "none": "wear metals are taken from 0, and rises cannot be judged",
}


@says(payloads.Reference, "no_reference")
def _no_reference(_: Finding, n: payloads.Reference) -> str:
    return f"There is no fresh-oil reference for this batch; {_STOOD_IN[n.used]}."


@says(payloads.Cleanliness, "cleanliness")
def _cleanliness(_: Finding, n: payloads.Cleanliness) -> str:
    return f"Cleanliness code {n.code} (ISO 4406, particles over 4, 6 and 14 µm)."


@says(payloads.RunInCharge, "run_in")
def _run_in(_: Finding, n: payloads.RunInCharge) -> str:
    return (
        f"Run-in, charge {n.charge} of this life: iron, copper, silicon and aluminium are expected "
        "high and must fall from charge to charge."
    )


@says(payloads.HoursOnOil, "hours_negative")
def _hours_negative(_: Finding, __: payloads.HoursOnOil) -> str:
    return "The sample's meter lies before the oil change: hours on the oil come out below zero."


@says(payloads.HoursOnOil, "too_early")
def _too_early(_: Finding, n: payloads.HoursOnOil) -> str:
    on_oil = f"{figure(n.hours or 0.0)} {n.per}".rstrip()
    return (
        f"{on_oil} on this oil is too early for a rate: what was read is held "
        "against what its limit allows at a tenth of the drain, and not against its habit."
    )


@says(payloads.Unsettled, "unsettled")
def _unsettled(_: Finding, n: payloads.Unsettled) -> str:
    return (
        f"Sample {n.sample} may not be what it says: whose oil it is, or which figure is meant, is "
        "asked under Queries. Settle that first."
    )


@says(payloads.NotReported, "not_reported")
def _not_reported(_: Finding, n: payloads.NotReported) -> str:
    names = [BY_COLUMN[column].name for column in n.missing] or ["Something"]
    return f"{listed(names)} not reported: wear is not cleared."


@says(payloads.HoursDiffer, "hours_differ")
def _hours_differ(_: Finding, n: payloads.HoursDiffer) -> str:
    return (
        f"Reported {_f(n.reported)} on the oil, the record says {_f(n.recorded)}: one of the two "
        "is wrong; the record was used."
    )
