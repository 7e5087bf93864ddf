"""Known faults of a model as people keep them, in words: which of them are this engine's, by its
serial number."""

import re
from dataclasses import dataclass
from typing import Literal

Meets = Literal["all", "yes", "no", "ask"]
MEETS: dict[Meets, str] = {
    "all": "of every engine of this model",
    "yes": "its serial number is in that range",
    "no": "its serial number is not in that range",
    "ask": "its serial number is not on record: look at the plate",
}

_RANGE = re.compile(
    r"serial(?:\s+(?:numbers?|nos?\.?))?\s+(?:from\s+)?([\w/-]*\d)\s*"
    r"(?:to|until|up to|–|-)\s*([\w/-]*\d)",
    re.IGNORECASE,
)
_PARTS = re.compile(r"(.*?)(\d+)$")


@dataclass(frozen=True, slots=True)
class KnownFault:
    """A fault, and whether it is this engine's: of `all` engines of the model, `yes` or `no` by its
    serial number, or to `ask` where that is not on record."""

    words: str
    meets: Meets

    @property
    def why(self) -> str:
        """Whose it is, in words."""
        return MEETS[self.meets]


def _parts(serial: str) -> tuple[str, int] | None:
    """The part of a serial number before the number at its end, and that number."""
    found = _PARTS.fullmatch(serial.strip().upper())
    return None if found is None else (found[1], int(found[2]))


def _meets(words: str, serial: str) -> Meets:
    found = _RANGE.search(words)
    ends = [_parts(end) for end in found.groups()] if found else []
    first, last = ends if ends else (None, None)
    if first is None or last is None:
        return "all"
    own = _parts(serial)
    if own is None:
        return "ask"
    # The letters before the number may be left out at the end of a range, or of both.
    same = own[0] in (first[0], last[0]) or not (first[0] or last[0])
    return "yes" if same and first[1] <= own[1] <= last[1] else "no"


def known_faults(words: str, serial: str) -> list[KnownFault]:
    """The faults of a model, one after the other with semicolons between, as they are of an engine
    with this serial number.

    >>> said = "liner seals, serial numbers 4100 to 4390, bulletin 12; weak hose clamps"
    >>> [(f.words.split(",")[0], f.meets) for f in known_faults(said, "4211")]
    [('liner seals', 'yes'), ('weak hose clamps', 'all')]
    >>> [f.meets for serial in ("4391", "") for f in known_faults(said, serial)]
    ['no', 'all', 'ask', 'all']
    """
    each = (x.strip() for x in words.split(";"))
    return [KnownFault(x, _meets(x, serial)) for x in each if x]
