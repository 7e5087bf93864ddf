"""What can be found out at an engine, and what finding out does to it: the one table of checks
(`tables/checks.csv`)."""

from collections.abc import Collection
from dataclasses import dataclass
from functools import cache

from .. import tables
from ..terms import LACKS
from .model import Engine

LABORATORY_WAIT = 48.0  # hours from which an answer is a laboratory's; our choice


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckKind:
    """One check. `state` is what the engine does meanwhile, of `terms.ENGINE_AT`; `hazards`: "heat"
    and "spark" where it brings them.

    hours : it takes · wait : hours until its answer is there
    first_look : channels it looks into first, where no failure mode leads
    where, not_where : classes, fuels and features that can and cannot have it
    """

    code: str
    words: str
    hours: float
    wait: float
    state: str
    hazards: frozenset[str]
    first_look: frozenset[str]
    where: frozenset[str]
    not_where: frozenset[str]
    tools: str
    caution: str

    @property
    def bottle(self) -> bool:
        """Whether a laboratory answers it."""
        return self.wait >= LABORATORY_WAIT

    @property
    def lacks(self) -> str:
        """The one feature that anybody can see and that would make it impossible; "" for none.

        >>> check_kinds()["oil_pressure"].lacks, check_kinds()["level"].lacks
        ('no_gauge', '')
        """
        return next((x for x in LACKS if x in self.not_where), "")

    def fits(self, engine: Engine, barred: Collection[str] = ()) -> bool:
        """Whether an engine can have it, and nothing it does is `barred` (`handling`).

        >>> check_kinds()["leak_off"].fits(Engine("E", "heavy_diesel"), {"cranked", "running"})
        False
        """
        has = engine.traits
        return (
            (not self.where or bool(has & self.where))
            and not has & self.not_where
            and self.state not in barred
            and not self.hazards & frozenset(barred)
        )


def _classes(cell: str) -> frozenset[str]:
    return frozenset(cell.split("|")) - {""}


@cache
def check_kinds() -> dict[str, CheckKind]:
    """Every check. Source: `tables/checks.csv`."""
    return {
        r["check"]: CheckKind(
            code=r["check"],
            words=r["words"],
            hours=float(r["hours"]),
            wait=float(r["wait"] or 0),
            state=r["state"],
            hazards=_classes(r["hazards"]),
            first_look=_classes(r["first_look"]),
            where=_classes(r["where"]),
            not_where=_classes(r["not_where"]),
            tools=r["tools"],
            caution=r["caution"],
        )
        for r in tables.read("checks")
    }
