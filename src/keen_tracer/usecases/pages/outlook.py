"""An engine's outlook in words: what its lines reach, and whether its rates change from charge to
charge."""

import numpy as np

from ...core.baseline import SYMBOLS, Assessment
from ...core.laboratory import BY_COLUMN, BY_SYMBOL
from ...core.limits import Evaluation
from ...core.planning import Ageing, Outlook, oil_life, outlooks
from ...core.record import SampleContext
from ...core.statistics import cusum, ewma
from ...core.terms import LEVELS
from ...core.words import computed, meter_words
from ..answers.engine import ControlOut, OilLifeOut, OutlookOut


def _crossing(outlook: Outlook, offset: float, unit: str) -> str:
    """The line of this charge against its limit. Meters are on the dial that is fitted now."""
    mark = LEVELS[outlook.level]
    c = outlook.crosses
    match c.word:
        case "too few":
            return f"{outlook.n} points, too few for a line"
        case "no limit":
            return ""
        case "reached":
            return f"past {mark} ({computed(outlook.limit or 0)}) already"
        case "no trend":
            return "no trend in this charge"
        case "away":
            return f"moves away from {mark}"
    if c.at is None:
        return f"does not reach {mark} ({computed(outlook.limit or 0)})"
    span = (
        ""
        if c.earliest is None
        else f" ({_meter(c.earliest, offset)} to "
        + (f"{_meter(c.latest, offset)})" if c.latest is not None else "open)")
    )
    return f"{mark} ({computed(outlook.limit or 0)}) about {meter_words(c.at - offset, unit)}{span}"


def _meter(total: float, offset: float) -> str:
    return meter_words(total - offset, "").strip()


def _drain(outlook: Outlook) -> str:
    if outlook.at_drain is None:
        return ""
    _, expected, low, high = outlook.at_drain
    return (
        f"{computed(max(expected, 0))} at the drain ({computed(max(low, 0))} to "
        f"{computed(max(high, 0))})"
    )


def _across(outlook: Outlook) -> str:
    t = outlook.across
    if t is None:
        return ""
    if t.word == "too few":
        return f"{t.n} charges, too few"
    return f"{t.word} over {t.n} charges" + ("" if t.word == "no trend" else f", p {t.p:.2g}")


def outlook_of(
    evaluation: Evaluation, contexts: list[SampleContext], offset: float, unit: str
) -> list[OutlookOut]:
    """Rows for the Engine page, those that reach a limit soonest first."""
    found = outlooks(evaluation, contexts)
    found.sort(
        key=lambda o: (
            o.crosses.word != "reached",
            o.crosses.word != "crosses" or o.crosses.at is None,
            o.crosses.at or 0.0,
        )
    )
    return [
        {
            "column": o.column,
            "symbol": BY_COLUMN[o.column].symbol,
            "name": BY_COLUMN[o.column].name,
            "points": o.n,
            "word": o.crosses.word,
            "level": o.level,
            "crossing": _crossing(o, offset, unit),
            "drain": _drain(o) if o.within is not None else "",
            "across": _across(o),
            "telling": o.telling(len(found)),
        }
        for o in found
    ]


_BECAUSE = {
    "spent": "a limit of the oil itself is passed",
    "interval": "the interval; no reading is forecast to reach a limit before then",
    "new oil": "the interval; no figures of this oil yet",
    "site policy": "as far as the site's policy allows",
}


def _ages(x: Ageing, offset: float, unit: str) -> str:
    name = BY_SYMBOL[x.symbol].name
    if x.word == "crosses" and x.at is not None:
        late = "open" if x.latest is None else _meter(x.latest, offset)
        early = "" if x.earliest is None else f" ({_meter(x.earliest, offset)} to {late})"
        return (
            f"{name} reaches {computed(x.limit)} about "
            f"{meter_words(x.at - offset, unit)}{early}, {x.form}"
        )
    return (
        f"{name} is past {computed(x.limit)}"
        if x.word == "reached"
        else f"{name}: {x.word}, {x.form}"
    )


def oil_life_words(
    evaluation: Evaluation, contexts: list[SampleContext], offset: float, unit: str, longest: float
) -> OilLifeOut | None:
    """When to drain and why, in words, for the Engine page."""
    found = oil_life(evaluation, contexts, longest)
    if found is None or found.at is None:
        return None
    because = _BECAUSE.get(found.because) or (
        _ages(found.first, offset, unit) if found.first else ""
    )
    when = "now" if found.drain == "now" else f"at {meter_words(found.at - offset, unit)}"
    verb = "Extend the drain to" if found.drain == "extend" else "Drain"
    when = when.removeprefix("at ") if found.drain == "extend" else when
    return {
        "drain": found.drain,
        "at": found.at - offset,
        "words": f"{verb} {when}: {because}.",
        "ageing": [_ages(x, offset, unit) for x in found.ageing],
    }


ALLOWANCE, HEIGHT, WEIGHT = 0.5, 5.0, 0.3  # in sd; NIST/SEMATECH 6.3.2.3 and 6.3.2.4 suggest these


def control_of(assessment: Assessment, order: list[int]) -> list[ControlOut]:
    """EWMA and CUSUM of every element's distance from expectation, sample by sample. Drawn; never a
    source of alarms."""
    out: list[ControlOut] = []
    for k, symbol in enumerate(SYMBOLS):
        rows = [i for i in order if np.isfinite(assessment.expectation.z[0, i, k])]
        if len(rows) < 3:
            continue
        z = [float(assessment.expectation.z[0, i, k]) for i in rows]
        mean, sums = ewma(z, 0.0, 1.0, WEIGHT), cusum(z, 0.0, ALLOWANCE, HEIGHT)
        out.append(
            {
                "symbol": symbol,
                "name": BY_SYMBOL[symbol].name,
                "z": z,
                "ewma": list(mean.values),
                "band": mean.high,
                "cusum": list(sums.upper),
                "height": sums.h,
                "samples": [assessment.evaluation.contexts[i].sample.code for i in rows],
            }
        )
    return out
