"""Amounts, pressures and temperatures in the units somebody reads them in."""

from dataclasses import dataclass

from ..laboratory import convert
from .figures import figure


@dataclass(frozen=True, slots=True)
class Units:
    """The units somebody reads: of `terms.SHOWN_UNITS`. Meters keep their own, as the dial does.

    >>> Units().litres(0.4), Units(volume="US qt").litres(34)
    ('0.4 L', '35.93 US qt')
    >>> Units(pressure="psi").shown(1.5, "bar"), Units(pressure="psi").shown(40, "mm")
    ('21.76 psi', '40 mm')
    """

    volume: str = "L"
    temperature: str = "°C"
    pressure: str = "bar"

    def of(self, own: str) -> str:
        """The unit in which a figure of one of the program's own units is shown."""
        return {"L": self.volume, "°C": self.temperature, "bar": self.pressure}.get(own, own)

    def number(self, x: float, own: str) -> float:
        """A figure of the unit `own` as a number of the unit that is shown."""
        return convert(x, own, self.of(own)) if self.of(own) != own else x

    def shown(self, x: float, own: str) -> str:
        """A figure of the unit `own`, with the unit that is shown."""
        return f"{figure(self.number(x, own))} {self.of(own)}"

    def litres(self, x: float) -> str:
        """Litres in the unit of volume that is shown, with it."""
        return self.shown(x, "L")


OWN_UNITS = Units()
