"""Drawing a sample: the tube, the kit, the checklist of each method with its cautions (the-trade
3.18, 4, 5)."""

from collections.abc import Iterable
from dataclasses import dataclass

from .. import tables
from ..bounds import check
from ..errors import UnknownName
from ..terms import METHODS

BELOW_LOW_MARK_MM = 13.0  # half an inch below the low mark, common practice
TO_THE_PUMP_MM = 300.0  # from the top of the dipstick tube to the pump; our choice


def tube_length_mm(dipstick_to_low_mm: float) -> float:
    """Length to cut a vacuum tube to [mm], measured against the dipstick, end cut at 45°.

    dipstick_to_low_mm : from the stick's top stop to its low mark [mm]; OutOfRange outside what
        `bounds.csv` allows a stick.
    Source: from the stick's top to about 13 mm below the low mark, common practice; 300 mm to the
    pump, our choice.

    >>> tube_length_mm(640)
    953.0
    """
    return check("stick_mm", dipstick_to_low_mm) + BELOW_LOW_MARK_MM + TO_THE_PUMP_MM


@dataclass(frozen=True, slots=True)
class ChecklistStep:
    """One line of a checklist. A caution is shown apart and cannot be ticked."""

    text: str
    caution: bool


def checklist(method: str) -> tuple[ChecklistStep, ...]:
    """The steps and cautions of a sampling method, in order. Raises UnknownName.

    >>> checklist("vacuum")[0].caution
    True
    """
    if method not in METHODS:
        raise UnknownName("sampling method", method, list(METHODS))
    return tuple(
        ChecklistStep(r["text"], r["kind"] == "caution")
        for r in tables.read("sampling_methods")
        if r["method"] in (method, "all")
    )


@dataclass(frozen=True, slots=True)
class Kit:
    """What to take on a round. Tubes in mm, one new one for every engine drawn by vacuum."""

    bottles: int
    tubes_mm: tuple[float, ...]
    unknown_tubes: int
    flush_bottles: int

    def words(self) -> str:
        """The kit in one line.

        >>> Kit(3, (953.0, 1020.0), 0, 1).words()
        '3 bottles and labels · tube 0.96 + 1.02 m · 1 bottle to flush into · gloves · rag'
        """
        said = [f"{self.bottles} bottle{'' if self.bottles == 1 else 's'} and labels"]
        if self.tubes_mm:
            said.append(
                "tube " + " + ".join(f"{-(-mm // 10) / 100:.2f}" for mm in self.tubes_mm) + " m"
            )
        if self.unknown_tubes:
            said.append(
                f"{self.unknown_tubes} tube{'' if self.unknown_tubes == 1 else 's'} to measure at "
                "the stick"
            )
        if self.flush_bottles:
            said.append(
                f"{self.flush_bottles} bottle{'' if self.flush_bottles == 1 else 's'} to flush into"
            )
        return " · ".join([*said, "gloves", "rag"])


def sampling_kit(stops: Iterable[tuple[str, float | None]]) -> Kit:
    """The kit for stops given as (method, dipstick to low mark [mm] or None)."""
    listed = list(stops)
    vacuum = [mm for method, mm in listed if method == "vacuum"]
    return Kit(
        len(listed),
        tuple(tube_length_mm(mm) for mm in vacuum if mm is not None),
        sum(mm is None for mm in vacuum),
        sum(method == "valve" for method, _ in listed),
    )
