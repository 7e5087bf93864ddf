"""What a finding is about, where its channel says too little: what has to be done depends on it."""

from .payloads import CheckedOn
from .registry import Finding

_OF_CODE = {
    "water_stop": "water",
    "bn_below_an": "oil",
    "out_of_grade": "oil",
    "level_falling": "level",
}
_OF_ANALYTE = {"water_pct": "water", "soot_pct": "oil"}
_OF_CHANNEL = {"thickness": "oil", "oil_life": "oil"}
_OF_RESULT = {
    ("crackle", "audible"): "water",
    ("crackle", "bubbles"): "water",
    ("settle", "water"): "water",
    ("layers", "drops"): "water",
    ("filler_cap", "emulsion"): "water",
}


def trouble(finding: Finding) -> str:
    """What a finding is about: a channel, or water, oil, level."""
    if isinstance(finding.numbers, CheckedOn):
        known = _OF_RESULT.get((finding.numbers.check, finding.numbers.result))
        if known:
            return known
    return (
        _OF_CODE.get(finding.code)
        or _OF_ANALYTE.get(finding.analyte or "")
        or _OF_CHANNEL.get(finding.channel, finding.channel)
    )
