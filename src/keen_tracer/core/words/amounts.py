"""Amounts in the unit somebody reads them in."""

from ..laboratory import convert
from .figures import figure


def litres(x: float, unit: str = "L") -> str:
    """Litres in a unit of volume, with it.

    >>> litres(0.4), litres(34, "US qt")
    ('0.4 L', '35.93 US qt')
    """
    return f"{figure(x if unit == 'L' else convert(x, 'L', unit))} {unit}"
