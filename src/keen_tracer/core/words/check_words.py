"""How much a check helps, in words."""

MUCH, SOME = 0.3, 0.1  # bits it is expected to tell of which part it is; our choice


def helps(bits: float) -> str:
    """How much the answer of a check is expected to tell of which part it is.

    >>> helps(0.06), helps(0.2), helps(0.5)
    ('helps little', 'helps', 'helps much')
    """
    return "helps much" if bits >= MUCH else "helps" if bits >= SOME else "helps little"
