"""Chance × consequence: what it is expected to cost to leave an engine alone."""

from ..bounds import check

# Chance that an engine fails in the weeks ahead where nothing is done, by its level; our choice,
# for ordering alone: a site that counts its own comes nearer.
CHANCE = (0.002, 0.02, 0.2, 0.6)


def risk(level: int | None, failure_cost: float | None) -> float | None:
    """Expected cost of leaving an engine alone, in the site's own money. None where nobody said
    what a failure costs. Raises OutOfRange for what cannot be a cost.

    >>> risk(2, 9400.0), risk(2, None)
    (1880.0, None)
    """
    if failure_cost is None:
        return None
    return CHANCE[level or 0] * check("money", failure_cost)
