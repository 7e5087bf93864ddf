"""One fact of an engine: a row of its log that says something."""

from dataclasses import dataclass
from math import nan

from .fact_kinds import Word
from .timeline import Moment


@dataclass(frozen=True, slots=True, kw_only=True)
class Fact:
    """One row of the log that says something, in its place.

    at : place among the moments · words : what it says, worst first; never empty
    evidence : evidence → seen, or known to be absent
    question : what it is the answer to: a check, or the look at a place; None answers nothing
    answers : the check it answers; "" for none · hours : meter units it gathered where it was
        looked for debris, NaN where nobody knows or nothing gathers
    answered : a later row answers the same question, or work was done since: at Watch it is over
    """

    at: int
    moment: Moment
    words: tuple[Word, ...]
    evidence: tuple[tuple[str, bool], ...] = ()
    question: tuple[str, str] | None = None
    answers: str = ""
    hours: float = nan
    answered: bool = False

    @property
    def level(self) -> int:
        return max(w.level for w in self.words)
