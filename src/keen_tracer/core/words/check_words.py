"""How much a check helps, in words."""

MUCH, SOME = 0.3, 0.1  # bits it is expected to tell of which part it is; our choice


def helps(bits: float) -> str:
    """How much the answer of a check is expected to tell of which part it is.

    >>> helps(0.06), helps(0.2), helps(0.5)
    ('helps little', 'helps', 'helps much')
    """
    return "helps much" if bits >= MUCH else "helps" if bits >= SOME else "helps little"


STRONGLY, CLEARLY = 1.5, 0.5  # log-odds by which an answer moves the lead; our choice


def _moved(by: float, first: str, second: str) -> str:
    """Which of the two leading explanations an answer supports, and how strongly."""
    size = abs(by)
    how = "strongly" if size >= STRONGLY else "clearly" if size >= CLEARLY else "a little"
    return f"{how} for {first if by >= 0 else second}"


def pulls(evidence: str, found: float, absent: float, first: str, second: str) -> str:
    """What either answer of a check says of the two explanations that lead.

    found, absent : what it adds to the lead of the first over the second [log-odds]

    >>> pulls("the oil cooler loses pressure", 3.0, -2.0, "the oil cooler", "leaching")
    'the oil cooler loses pressure: strongly for the oil cooler; if not, strongly for leaching'
    """
    said = _moved(found, first, second)
    return f"{evidence}: {said}; if not, {_moved(absent, first, second)}"
