"""The words of a query: what does not fit, with both values, and what would settle it."""

from typing import Any

from ..laboratory import BY_COLUMN
from ..record import check_kinds, fact_kinds
from ..terms import METHODS_DRAWN
from .figures import day
from .figures import figure as _f


def _reading(n: dict[str, Any], key: str) -> str:
    return f"{_f(n[key])} {BY_COLUMN[n['analyte']].unit}"


def _name(n: dict[str, Any]) -> str:
    return BY_COLUMN[n["analyte"]].name


def _told(answer: dict[str, str]) -> str:
    """An answer of a check in words, its figures where it has them."""
    said = fact_kinds()[answer["fact"]].words
    return f"{said} ({answer['figures']})" if answer["figures"] else said


def _of_charge(code: str, n: dict[str, Any], unit: str) -> tuple[str, str] | None:
    """Of figures that fit no single charge of oil."""
    match code:
        case "oil_changed":
            bn = (
                f" and base number rose from {_f(n['bn_before'])} to {_f(n['bn'])}"
                if n.get("bn")
                else ""
            )
            return (
                f"{_name(n)} fell from {_reading(n, 'before')} to {_reading(n, 'now')}{bn} within "
                "one charge.",
                "Was the oil changed, or much topped up, without a record? Log it with its date.",
            )
        case "like_the_old_oil":
            return (
                f"Iron is {_f(n['now'])} ppm {_f(n['hours'])} {unit} after the change; before it, "
                "it was "
                f"{_f(n['before'])} ppm.",
                "Was it drawn before the drain and dated after it? Correct the date.",
            )
        case "late_oil":
            return (
                f"The oil is {_f(n['hours'])} {unit} old: {_f(n['drains'])} drains of "
                f"{_f(n['drain'])} {unit}.",
                "Was a change not logged? Log it with its date; else change the oil.",
            )
        case "like_fresh":
            return (
                f"After {_f(n['hours'])} {unit} on the oil it reads like fresh oil: iron "
                f"{_f(n['now'])} ppm, fresh {_f(n['fresh'])} ppm.",
                "Was the oil changed without a record, or is it another bottle? Log the change, or "
                "draw again.",
            )
    return None


def query_words(code: str, n: dict[str, Any], unit: str) -> tuple[str, str]:
    """(what does not fit, what would settle it) of a query with numbers `n`; `unit` is the engine's
    meter unit.

    >>> query_words("hours_differ", {"reported": 210.0, "recorded": 160.0}, "h")[0]
    'The bottle says 210 h on the oil, the record says 160 h.'
    """
    match code:
        case "meter_falls":
            return (
                f"The meter reads {_f(n['dial'])} {unit}, below {_f(n['before'])} {unit} on "
                f"{day(n['before_on'])}.",
                "Read the dial again, or log the replaced meter.",
            )
        case "over_24_h":
            return (
                f"The meter went {_f(n['gone'])} h in {n['days']} days, from {_f(n['before'])} on "
                f"{day(n['before_on'])} to {_f(n['dial'])}: more than 24 h a day.",
                "Read the dial again; one of the two figures or dates is wrong.",
            )
        case "answers_contradict":
            name = check_kinds()[n["check"]].words
            return (
                f"{name}: {_told(n['now'])}, where {day(n['before_on'])} said "
                f"{_told(n['before'])}, and nothing is on record that was done between.",
                "Do the check a third time; until then the worse answer stands. If one was "
                "written down wrongly, correct it in the log.",
            )
        case "hours_differ":
            return (
                f"The bottle says {_f(n['reported'])} {unit} on the oil, the record says "
                f"{_f(n['recorded'])} {unit}.",
                "Find the work order of the last oil change.",
            )
        case "other_oil":
            return (
                f"The bottle names {n['reported']}, the record {n['recorded']}.",
                "Look at the drum, or compare the additives.",
            )
        case "old_at_analysis":
            return (
                f"It was analysed {n['days']} days after it was drawn.",
                "Ask what the bottle waited for; water and base number change while it stands.",
            )
        case "dated_after_drain":
            return (
                f"It is dated {day(n['drawn_on'])}, the drain {day(n['drained_on'])}; yet the oil "
                "was changed "
                "after it was drawn.",
                "Ask who drew it, and correct the date of the one or the other.",
            )
        case "other_method":
            return (
                f"It was drawn {METHODS_DRAWN.get(n['method'], n['method'])}, the three before it "
                f"{METHODS_DRAWN.get(n['before'], n['before'])}: not one baseline.",
                "Ask how it was drawn; if so, draw the next one the old way.",
            )
    return _of_charge(code, n, unit) or _of_report(code, n) or _of_figures(code, n)


def _of_report(code: str, n: dict[str, Any]) -> tuple[str, str] | None:
    """Of a report as a whole: too much, too few, denied."""
    match code:
        case "unlikely":
            return (
                f"{_name(n)} is given as {_reading(n, 'now')}, more than {_f(n['most'])}.",
                "Ask the laboratory for the unit and the decimal point, and draw again.",
            )
        case "fewer_figures":
            return (
                f"The report has {n['readings']} figures, the ones before about {n['usual']}.",
                "Ask for the rest; what was not reported is not cleared.",
            )
        case "two_results":
            return (
                f"Two reports of this bottle disagree: {_name(n).lower()} {_reading(n, 'now')} and "
                f"{_reading(n, 'other')}. What is worse stands until it is settled.",
                "Ask which bottle and method each is of, or draw again.",
            )
        case "denied":
            return (
                f"{_name(n)} was {_reading(n, 'before')} in sample {n['other']}; the resample says "
                f"{_reading(n, 'now')}.",
                "Draw a third in a new bottle; until then the higher one holds.",
            )
    return None


def _of_figures(code: str, n: dict[str, Any]) -> tuple[str, str]:
    """The queries about what a laboratory wrote."""
    match code:
        case "slip" if n["fresh"] is None:
            return (
                f"{_name(n)} is given as {_reading(n, 'now')}: more than half the bottle.",
                "Ask the laboratory whether ppm was meant.",
            )
        case "slip":
            times = (
                f"{_f(n['factor'])} times" if n["factor"] > 1 else f"a {_f(1 / n['factor'])}th of"
            )
            return (
                f"{_name(n)} {_reading(n, 'now')} is {times} fresh oil ({_f(n['fresh'])}).",
                "Ask the laboratory for the decimal point and the unit.",
            )
        case "additive_off":
            return (
                f"{_name(n)} is {_reading(n, 'now')}, the registered oil has {_f(n['fresh'])}: "
                "more than 15 % off.",
                "Which oil is in it? Look at the drum; compare with the bottles of the same day.",
            )
        case "other_oil_in_it":
            return (
                f"{_name(n)} is {_reading(n, 'now')}, {n['registered']} has {_f(n['fresh'])}: the "
                "additives fit it "
                f"mixed with about {100 * n['share']:.0f} % {n['oil']}.",
                "Was it topped up with another oil? Log the top-up, or draw again from a "
                "warm engine.",
            )
        case "wrong_oil":
            return (
                f"{_name(n)} is {_reading(n, 'now')}, {n['registered']} has {_f(n['fresh'])}: the "
                "additives are those "
                f"of {n['oil']}.",
                "Which oil was filled in? Look at the drum; or is it another engine's bottle?",
            )
        case "labels_exchanged":
            return (
                f"The figures are those to be expected of {n['other_engine']}, and the figures of "
                f"sample {n['other']} ({day(n['other_on'])}) those to be expected of this engine.",
                "Were the two labels exchanged? Ask who drew them, or draw both again.",
            )
        case "bn_above_fresh":
            return (
                f"Base number {_f(n['now'])} is above that of the fresh oil ({_f(n['fresh'])}).",
                "Ask for the method: D4739 and D2896 do not mix; or another oil is in it.",
            )
        case "viscosity_index":
            said = "which is no oil" if n["vi"] is None else f"a viscosity index of {n['vi']}"
            return (
                f"{_f(n['kv40'])} mm²/s at 40 °C and {_f(n['kv100'])} at 100 °C give {said}.",
                "Ask the laboratory to check both viscosities.",
            )
        case "same_figures":
            return (
                f"All {n['readings']} figures are those of sample {n['other']} "
                f"({day(n['other_on'])}).",
                "Ask the laboratory whether one bottle was reported twice.",
            )
    raise KeyError(code)
