"""A laboratory names the parts of a machine: this finds which of them are engines."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from .names import plain
from .values import NOTHING

# Words for parts of a machine: common practice, from memory. A word of neither list is asked.
_ENGINE = re.compile(r"\b(engine|eng|motor|diesel|dieselmotor|moteur|motore|genset)\b")
_OIL = {
    "oil",
    "used oil",
    "lube",
    "lube oil",
    "öl",
    "huile",
    "aceite",
    "olio",
}  # of a sample's kind
_OTHER = re.compile(
    r"\b(gear|gearbox|transmission|trans|hydraulics?|hyd|differential|diff|axle|final|drive|coolant"
    r"|antifreeze|compressor|turbine|pump|steering|brakes?|swing|travel|transfer|hub|wheel|tandem"
    r"|pto|thruster|stern|winch|bearing|getriebe|hydraulik|achse|grease|fuel|adblue|def)\b"
)


@dataclass(frozen=True, slots=True)
class Sorted:
    """Parts that are engines; and every part, where of some it is open what they are."""

    engines: tuple[str, ...]
    open: tuple[str, ...]


def is_engine(part: str) -> bool:
    """Whether a part of a machine is an engine by its words.

    >>> is_engine("Engine LH"), is_engine("Swing motor"), is_engine("Unit 2")
    (True, False, False)
    """
    words = plain(part)
    return words in _OIL or (bool(_ENGINE.search(words)) and not _OTHER.search(words))


def is_other(part: str) -> bool:
    """Whether a part of a machine is none by its words, or no part is named.

    >>> is_other("Gearbox"), is_other("Unit 2"), is_other("n/a")
    (True, False, True)
    """
    words = plain(part)
    return bool(_OTHER.search(words)) or words in NOTHING or part.lower() in NOTHING


def sorted_out(seen: Sequence[str], engines: Sequence[str], others: Sequence[str]) -> Sorted:
    """The parts a file names, by what a person said and by their words: ours is the engine.

    >>> sorted_out(["ENGINE", "Gearbox"], (), ()).engines
    ('ENGINE',)
    >>> sorted_out(["Engine", "Unit 2"], (), ()).open, sorted_out(["Unit 2"], (), ["Unit 2"]).open
    (('Engine', 'Unit 2'), ())
    """
    said, no = {plain(p) for p in engines}, {plain(p) for p in others}
    ours = tuple(p for p in seen if plain(p) in said or (is_engine(p) and plain(p) not in no))
    open_ = [p for p in seen if p not in ours and plain(p) not in no and not is_other(p)]
    # What was said before stays, also where this file does not name it.
    kept = tuple(dict.fromkeys((*engines, *ours)))
    return Sorted(kept, tuple(p for p in seen if p) if open_ else ())
