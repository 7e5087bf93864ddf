"""Checks at the engine without a laboratory: what each result says by itself (the-trade 3.15)."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cache

from .. import tables
from ..errors import CoreError, UnknownName
from .fact_kinds import fact_kinds
from .measured import Measured, measured


@dataclass(frozen=True, slots=True, kw_only=True)
class Result:
    """One result of a check. `fact` it is, of `fact_kinds`; "" where it came to nothing. `level` 0
    is Steady in its channel, or nothing where there is none.

    clears : the evidence it shows to be absent; "" for none
    """

    check: str
    code: str
    words: str
    fact: str
    meaning: str
    clears: str = ""

    @property
    def level(self) -> int:
        return fact_kinds()[self.fact].level if self.fact else 0

    @property
    def channel(self) -> str:
        return fact_kinds()[self.fact].channel if self.fact else ""

    @property
    def evidence(self) -> str:
        return fact_kinds()[self.fact].evidence if self.fact else ""


class FiguresDisagree(CoreError):
    """A result that its own figures contradict."""

    code = "figures_disagree"


@cache
def field_checks() -> dict[str, tuple[Result, ...]]:
    """Every check with its results, mildest first."""
    out: dict[str, tuple[Result, ...]] = {}
    for r in tables.read("field_checks"):
        one = Result(
            check=r["check"],
            code=r["result"],
            words=r["result_words"],
            fact=r["fact"],
            meaning=r["meaning"],
            clears=r["clears"],
        )
        out[r["check"]] = (*out.get(r["check"], ()), one)
    return out


def check_result(check: str, code: str) -> Result:
    """What a result says. Raises UnknownName for a check or a result that is not in the table.

    >>> check_result("crackle", "audible").level
    2
    """
    known = field_checks().get(check)
    if known is None:
        raise UnknownName("field check", check, list(field_checks()))
    for r in known:
        if r.code == code:
            return r
    raise UnknownName(f"result of the check {check!r}", code, [r.code for r in known])


def checked(
    check: str, details: Mapping[str, str], limits: Mapping[str, float] | None = None
) -> tuple[Result, Measured | None]:
    """The result of a check as it was written down: chosen, or worked out from its figures.

    limits : the model's own pass criteria, by the name of the detail
    Raises UnknownName for words that are not in the table, OutOfRange for a figure that cannot be
    meant, FiguresDisagree where a chosen result is milder than its figures.

    >>> checked("cooling", {"pressure": "1", "minutes": "10", "drop": "0.3"})[0].code
    'falls'
    """
    said = details.get("result", "")
    found = measured(check, details, limits or {})
    if found is None:
        return check_result(check, said), None
    worked_out = check_result(check, found.result)
    if said and check_result(check, said).level < worked_out.level:
        raise FiguresDisagree(
            f"the figures say {worked_out.words!r}, the result chosen is "
            f"{check_result(check, said).words!r}; leave the result to the figures, or correct them"
        )
    return (check_result(check, said) if said else worked_out), found


def on_record(
    check: str, details: Mapping[str, str], limits: Mapping[str, float]
) -> tuple[Result, Measured | None] | None:
    """The result of a check on record: the worse one where its figures say more than what was
    chosen; None for one of another version, which is kept and says nothing.

    >>> found = on_record("oil_pressure", {"result": "enough", "hot_idle": "0.3"}, {})
    >>> found[0].code if found else ""
    'low'
    """
    try:
        return checked(check, details, limits)
    except FiguresDisagree:
        return checked(check, {k: v for k, v in details.items() if k != "result"}, limits)
    except CoreError:
        return None
