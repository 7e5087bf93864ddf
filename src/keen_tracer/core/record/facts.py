"""What the log says by itself, row by row, and which of it has been answered since."""

from dataclasses import dataclass

from .debris import DebrisLook
from .meanings import Word
from .model import Engine
from .seen_and_heard import tellings
from .timeline import Moment, TimeLine

WATCH, ACT = 1, 2
WORK = ("repair", "rebuild")


@dataclass(frozen=True, slots=True, kw_only=True)
class Fact:
    """One row of the log that says something, in its place.

    at : place among the moments · words : what it says, worst first; never empty
    question : what it is the answer to: a check, or the look at a place; a symptom answers nothing
    answered : a later row answers the same question, or work was done since: at Watch it is over
    """

    at: int
    moment: Moment
    words: tuple[Word, ...]
    question: tuple[str, str] | None = None
    answered: bool = False

    @property
    def level(self) -> int:
        return max(w.level for w in self.words)


def _question(moment: Moment) -> tuple[str, str] | None:
    row = moment.row
    if row.look is not None:
        return "look", row.look.place
    if row.kind == "finding":
        return (
            "finding",
            f"{row.part} {row.details.get('position', '')} {row.details.get('side', '')}",
        )
    return ("check", row.part) if row.kind == "field_check" else None


def facts_of(engine: Engine, line: TimeLine) -> list[Fact]:
    """Everything seen, heard, checked or measured at an engine that says something, in order.

    Work on the engine ends what is at Watch; it never ends an Act, which stands until the same
    question is asked again, and no row ends a Stop.
    """
    found: list[tuple[int, Moment, list[Word]]] = []
    looks: list[DebrisLook] = []
    for at, moment in enumerate(line.moments):
        if moment.row.kind == "rebuild":
            looks = []
        words = tellings(moment.row, looks, engine.test_limits)
        if moment.row.look is not None:
            looks.append(moment.row.look)
        if words:
            found.append((at, moment, words))
    worked = max((n for n, m in enumerate(line.moments) if m.row.kind in WORK), default=-1)
    last = {_question(m): at for at, m, _ in found}
    out = []
    for at, moment, words in found:
        asked = _question(moment)
        again = asked is not None and last[asked] > at
        over = worked > at and max(w.level for w in words) <= WATCH
        out.append(
            Fact(at=at, moment=moment, words=tuple(words), question=asked, answered=again or over)
        )
    return out
