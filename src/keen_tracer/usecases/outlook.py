"""An engine's outlook in words: what its lines reach, and whether its rates change from charge to charge."""

from typing import Any

from ..core.analytes import BY_COLUMN
from ..core.evaluate import Evaluation
from ..core.outlook import Outlook, outlooks
from ..core.places import Place
from ..core.sentences import LEVEL_WORDS, computed
from ..core.standing import meter_words


def _crossing(o: Outlook, offset: float, unit: str) -> str:
    """The line of this charge against its limit. Meters are on the dial that is fitted now."""
    mark = LEVEL_WORDS[o.level]
    c = o.crosses
    match c.word:
        case "too few":
            return f"{o.n} points, too few for a line"
        case "no limit":
            return ""
        case "reached":
            return f"past {mark} ({computed(o.limit or 0)}) already"
        case "no trend":
            return "no trend in this charge"
        case "away":
            return f"moves away from {mark}"
    if c.at is None:
        return f"does not reach {mark} ({computed(o.limit or 0)})"
    span = "" if c.earliest is None else f" ({_meter(c.earliest, offset)} to " + (
        f"{_meter(c.latest, offset)})" if c.latest is not None else "open)")
    return f"{mark} ({computed(o.limit or 0)}) about {meter_words(c.at - offset, unit)}{span}"


def _meter(total: float, offset: float) -> str:
    return meter_words(total - offset, "").strip()


def _drain(o: Outlook) -> str:
    if o.at_drain is None:
        return ""
    _, expected, low, high = o.at_drain
    return f"{computed(max(expected, 0))} at the drain ({computed(max(low, 0))} to {computed(max(high, 0))})"


def _across(o: Outlook) -> str:
    t = o.across
    if t is None:
        return ""
    if t.word == "too few":
        return f"{t.n} charges, too few"
    return f"{t.word} over {t.n} charges" + ("" if t.word == "no trend" else f", p {t.p:.2g}")


def outlook_of(e: Evaluation, places: list[Place], offset: float, unit: str) -> list[dict[str, Any]]:
    """Rows for the Engine page, those that reach a limit soonest first."""
    found = outlooks(e, places)
    found.sort(key=lambda o: (o.crosses.word != "reached", o.crosses.word != "crosses" or o.crosses.at is None,
                              o.crosses.at or 0.0))
    return [{"column": o.column, "symbol": BY_COLUMN[o.column].symbol, "name": BY_COLUMN[o.column].name,
             "points": o.n, "word": o.crosses.word, "level": o.level, "crossing": _crossing(o, offset, unit),
             "drain": _drain(o) if o.within is not None else "", "across": _across(o),
             "telling": o.telling(len(found))} for o in found]
