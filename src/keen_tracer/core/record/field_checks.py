"""Checks at the engine without a laboratory: what each result says by itself, with its caution
(the-trade 3.15)."""

from dataclasses import dataclass
from functools import cache

from .. import tables
from ..errors import UnknownName


@dataclass(frozen=True, slots=True, kw_only=True)
class Result:
    """One result of a check. `level` 0 says nothing; `channel` is empty then.

    evidence : the piece of evidence it shows; clears : the one it shows to be absent; "" for none
    """

    check: str
    check_words: str
    code: str
    words: str
    channel: str
    level: int
    meaning: str
    evidence: str = ""
    clears: str = ""


@cache
def field_checks() -> dict[str, tuple[Result, ...]]:
    """Every check with its results, mildest first."""
    out: dict[str, tuple[Result, ...]] = {}
    for r in tables.read("field_checks"):
        one = Result(
            check=r["check"],
            check_words=r["check_words"],
            code=r["result"],
            words=r["result_words"],
            channel=r["channel"],
            level=int(r["level"]),
            meaning=r["meaning"],
            evidence=r["evidence"],
            clears=r["clears"],
        )
        out[r["check"]] = (*out.get(r["check"], ()), one)
    return out


@cache
def field_cautions() -> dict[str, str]:
    """The caution of each check."""
    return {r["check"]: r["caution"] for r in tables.read("field_cautions")}


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
