"""What can be found out at an engine, and what finding out does to it: the one table of checks
(`tables/checks.csv`)."""

from dataclasses import dataclass
from functools import cache

from .. import tables
from .model import Engine

AT_REST = "rest"


@dataclass(frozen=True, slots=True, kw_only=True)
class CheckKind:
    """One check. `state` is what the engine does meanwhile, of `terms.ENGINE_AT`.

    hours : it takes · first_look : channels it looks into first, where no failure mode leads
    where, not_where : classes, fuels and features that can and cannot have it
    """

    code: str
    words: str
    hours: float
    state: str
    first_look: frozenset[str]
    where: frozenset[str]
    not_where: frozenset[str]
    tools: str
    caution: str

    def fits(self, engine: Engine, at_rest: bool) -> bool:
        """Whether an engine can have it, and, where it must stay `at_rest`, whether nothing turns.

        >>> check_kinds()["leak_off"].fits(Engine("E", "heavy_diesel"), at_rest=True)
        False
        """
        has = engine.traits
        return (
            (not self.where or bool(has & self.where))
            and not has & self.not_where
            and (not at_rest or self.state == AT_REST)
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
            state=r["state"],
            first_look=_classes(r["first_look"]),
            where=_classes(r["where"]),
            not_where=_classes(r["not_where"]),
            tools=r["tools"],
            caution=r["caution"],
        )
        for r in tables.read("checks")
    }
