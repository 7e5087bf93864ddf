"""Which fact a finding is, and the troubles it points to."""

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


def _named(finding: Finding) -> str:
    known = getattr(finding.numbers, "fact", "")
    return known or (finding.code if finding.code in fact_kinds() else "")


def fact_of(finding: Finding) -> str:
    """The fact that a finding is; "" for a laboratory's figure and for what is made of others.

    Stored by a version that did not name it, it is known from the check it is the result of.
    """
    if known := _named(finding):
        return known
    if isinstance(finding.numbers, payloads.CheckedOn):
        return check_result(finding.numbers.check, finding.numbers.result).fact
    if isinstance(finding.numbers, payloads.LookedOn):
        return debris_types()[finding.numbers.type].fact
    return ""


def points_of(finding: Finding) -> frozenset[str]:
    """The troubles a finding points to.

    >>> lead = payloads.AtLimit(value=60.0)
    >>> points_of(Finding(code="high", channel="wear", level=1, analyte="Pb_ppm", numbers=lead))
    frozenset({'bearing'})
    """
    if finding.code in _POINTS_NOWHERE:
        return frozenset()
    if isinstance(finding.numbers, payloads.Agreement):
        return frozenset(finding.numbers.troubles)
    if isinstance(finding.numbers, payloads.SeenOn):
        fact = _named(finding)
        own = frozenset(finding.numbers.points)
        return own or (fact_kinds()[fact].points if fact else frozenset())
    pattern = finding.numbers.pattern if isinstance(finding.numbers, payloads.Pattern) else ""
    found = {
        t.code
        for t in troubles().values()
        if finding.analyte in t.analytes or pattern in t.patterns
    }
    # A figure without a place in the table speaks of what its channel is about.
    return frozenset(found) or _OF_CHANNEL.get(finding.channel, frozenset())
