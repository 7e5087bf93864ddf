"""Which fact a finding tells, and the troubles it points to."""

from ..findings import Finding, payloads
from .debris import debris_types
from .fact_kinds import fact_kinds, troubles
from .field_checks import check_result

_OF_CHANNEL = {
    "coolant": frozenset({"coolant"}),
    "fuel": frozenset({"fuel"}),
    "dirt": frozenset({"dirt"}),
    "oil_life": frozenset({"oil"}),
}


# What a person signed or asks about, and an open engine, point to nothing.
_POINTS_NOWHERE = frozenset({"signed", "unsettled", "in_pieces"})


def _named(f: Finding) -> str:
    known = getattr(f.numbers, "fact", "")
    return known or (f.code if f.code in fact_kinds() else "")


def fact_of(f: Finding) -> str:
    """The fact a finding tells; "" for a laboratory's figure and for what is made of others.

    Stored by a version that did not name it, it is known from the check it is the result of.
    """
    if known := _named(f):
        return known
    if isinstance(f.numbers, payloads.CheckedOn):
        return check_result(f.numbers.check, f.numbers.result).fact
    if isinstance(f.numbers, payloads.LookedOn):
        return debris_types()[f.numbers.type].fact
    return ""


def points_of(f: Finding) -> frozenset[str]:
    """The troubles a finding points to.

    >>> lead = payloads.AtLimit(value=60.0)
    >>> points_of(Finding(code="high", channel="wear", level=1, analyte="Pb_ppm", numbers=lead))
    frozenset({'bearing'})
    """
    if f.code in _POINTS_NOWHERE:
        return frozenset()
    if isinstance(f.numbers, payloads.Agreement):
        return frozenset(f.numbers.troubles)
    if isinstance(f.numbers, payloads.SeenOn):
        fact = _named(f)
        own = frozenset(f.numbers.points)
        return own or (fact_kinds()[fact].points if fact else frozenset())
    pattern = f.numbers.pattern if isinstance(f.numbers, payloads.Pattern) else ""
    found = {
        t.code for t in troubles().values() if f.analyte in t.analytes or pattern in t.patterns
    }
    # A figure without a place in the table speaks of what its channel is about.
    return frozenset(found) or _OF_CHANNEL.get(f.channel, frozenset())
