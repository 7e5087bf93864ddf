"""What to do next, in words, with what one needs and the caution at that step
(`tables/actions.csv`)."""

from dataclasses import dataclass
from functools import cache

from .. import tables


@dataclass(frozen=True, slots=True, kw_only=True)
class ActionKind:
    """One action. `state` is what the engine does meanwhile, of `terms.ENGINE_AT`."""

    code: str
    words: str
    short: str
    state: str
    tools: str
    caution: str


@cache
def action_kinds() -> dict[str, ActionKind]:
    """Every action. Source: `tables/actions.csv`.

    >>> action_kinds()["resample"].short
    'Resample'
    """
    return {
        r["action"]: ActionKind(
            code=r["action"],
            words=r["words"],
            short=r["short"],
            state=r["state"],
            tools=r["tools"],
            caution=r["caution"],
        )
        for r in tables.read("actions")
    }
