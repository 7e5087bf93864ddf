"""Sentences of the expectation: what was read, what was expected, and the history it comes from."""

import math

from ..findings import Finding, payloads
from ..laboratory import BELOW, BY_COLUMN, BY_SYMBOL, number_text, with_role
from .figures import large, small
from .spoken import says

PATTERN_WORDS = {
    "bearing": "Bearing metals together",
    "bearing_lead_free": "Aluminium bearing metals together",
    "ring": "Ring and liner metals together",
    "piston": "Piston metals together",
    "bronze": "Copper and tin together, as of bushes and linings",
    "dirt": "Silicon with the metals it wears",
    "fuel_thins": "Fuel up and the oil thinner with it",
    "oxidised": "Oxidation with what it spends and thickens",
    "nitrated": "Nitration with what it spends",
    "sooted": "Soot and the oil thicker with it",
    "large_iron": "Large iron with iron",
    "coolant": "Coolant's sodium and potassium together",
}
_FIRST = {"dirt": "Si"}  # the element a pattern is about, told first however loud the others are
_HOW = {
    "again": "The sample before said it too.",
    "together": "The last samples together are far from this engine's usual.",
    "lasting": "Several of the last samples said it, if not one after the other.",
    "at_once": "Far above anything this engine's history or its peers explain; resample before "
    "anything is opened.",
    "sealant": "No aluminium and no wear comes with it: sealant, antifoam or siloxane rather "
    "than dust.",
    "run_in": "Run-in: it has to fall from charge to charge, and is at Watch as long as it does.",
    "small": "It is less than half-way to the fixed Watch limit, and nothing else moves with it: "
    "small is not urgent.",
    "flux": "Potassium with aluminium and no sodium, as the brazing flux of a new cooler: it "
    "has to fall from charge to charge.",
    "ratio": "Both in the ratio of the coolant on record: they confirm each other.",
    "cause": "Named because metal is at Act at the same time.",
}
_HELD = {
    "Cu": "Copper without tin or lead may come from a cooler: it stays at Watch until bearing "
    "metal comes along.",
    "Si": "Silicon without aluminium, iron or chromium may be sealant or antifoam: it stays at "
    "Watch until "
    "metal comes along.",
}


def _with_interval(expected: float | None, low: float | None, high: float | None) -> str:
    """An expected value with its interval, with the digits its width deserves.

    >>> _with_interval(24.13, 15.02, 38.9), _with_interval(13.73, 13.15, 14.33)
    ('24 (15 to 39)', '13.7 (13.2 to 14.3)')
    """
    known = [x or 0.0 for x in (expected, low, high)]
    width = known[2] - known[1]
    decimals = max(1 - math.floor(math.log10(width)), 0) if width > 0 else 2
    middle, least, most = (number_text(round(x, decimals)) for x in known)
    return f"{middle} ({least} to {most})"


def _loud(symbol: str, e: payloads.Expected) -> float:
    z = e.z or 0.0
    return abs(z) if BY_SYMBOL[symbol] in with_role("both_sides") else z


def share_words(numbers: payloads.Expected) -> str:
    """Whose history an expectation is, after "expected".

    >>> share_words(payloads.Expected(own_share=0.7, own_n=9, peers=12))
    'mostly from its own history (9 samples), the rest from its peers (12)'
    """
    own = round(100 * (numbers.own_share or 0))
    mine = f"from its own history ({numbers.own_n} sample{'s' if numbers.own_n != 1 else ''})"
    others = f"from its peers ({numbers.peers})" if numbers.peers else "from its class"
    if own == 100:
        return mine
    if own == 0:
        return others if numbers.peers else "from its class alone"
    more, less = (mine, others) if own >= 50 else (others, mine)
    return f"mostly {more}, the rest {less}"


def _element(symbol: str, numbers: payloads.Expected | payloads.BySchool) -> str:
    below = isinstance(numbers, payloads.Expected) and numbers.censor == BELOW
    read = "0" if numbers.value is None else number_text(numbers.value)
    usual = _with_interval(numbers.expected, numbers.low, numbers.high)
    analyte = BY_SYMBOL[symbol]
    unit = f" {analyte.unit}" if analyte.unit not in ("", "index") else ""
    under = "under " if below else ""
    return f"{small(analyte.name)} {under}{read}{unit} where {usual} was expected"


def _ending(numbers: payloads.AboveExpected | payloads.Pattern, lead: str) -> str:
    if numbers.held:
        return " " + _HELD["Si" if lead in ("Si", "dirt") else "Cu"]
    if numbers.look == "rise" and numbers.why in ("", "again"):
        return " The rise since the sample before, in the same oil, shows it most."
    return f" {_HOW[numbers.why]}" if numbers.why else ""


@says(payloads.AboveExpected, "above_expected")
def _above_expected(finding: Finding, numbers: payloads.AboveExpected) -> str:
    """One element above expectation."""
    symbol = BY_COLUMN[finding.analyte or ""].symbol
    return f"{large(_element(symbol, numbers))}, {share_words(numbers)}.{_ending(numbers, symbol)}"


@says(payloads.Pattern, "pattern")
def _pattern(_: Finding, numbers: payloads.Pattern) -> str:
    """A pattern: its elements, worst first, those that stand out."""
    first = _FIRST.get(numbers.pattern)
    worst = sorted(numbers.elements.items(), key=lambda x: (x[0] != first, -_loud(*x)))
    told = [_element(s, e) for s, e in worst if _loud(s, e) >= 1][:3] or [_element(*worst[0])]
    others = [small(BY_SYMBOL[s].name) for s, e in worst if _loud(s, e) < 1]
    quiet = f"; {' and '.join(others)} as usual" if others else ""
    return (
        f"{PATTERN_WORDS[numbers.pattern]}: {', '.join(told)}{quiet}. "
        f"Expected {share_words(worst[0][1])}.{_ending(numbers, numbers.pattern)}"
    )


@says(payloads.BySchool, "above_own", "above_peers")
def _by_school(finding: Finding, numbers: payloads.BySchool) -> str:
    """A reading above its peers or its own history alone."""
    whose = (
        f"{numbers.n} of its own samples" if finding.code == "above_own" else f"{numbers.n} peers"
    )
    return f"{large(_element(BY_COLUMN[finding.analyte or ''].symbol, numbers))} by {whose}."
