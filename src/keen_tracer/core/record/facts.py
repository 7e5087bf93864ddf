"""The one list of facts of an engine: everything seen, heard, measured, topped up or found at it,
with the level each says, and which of it has been answered since.

State, level, causes, checks, plan and paper read this list and nothing else of the log.
"""

from bisect import bisect_right
from collections.abc import Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass, field, replace
from datetime import timedelta
from itertools import accumulate
from math import nan
from statistics import median

from ..errors import CoreError
from ..laboratory import plain_text
from .answers import after_all
from .damage import consequences
from .debris import EarlierLook, look_says
from .event_details import detail_number
from .fact import Fact
from .fact_kinds import Word, fact_kinds, word
from .ladders import COOLANT_DAYS, COOLANT_L, OIL_SHARE, level_of, rated_rpm
from .looks import hours_of_looks, place_looked_at
from .model import Engine, LogRow
from .oil_use import use_of
from .opened import parts
from .seen_and_heard import (
    FOUND,
    LED_TO,
    evidence_of_row,
    hot_pressures,
    of_case_step,
    of_check,
    of_finding,
    of_look,
    of_symptom,
)
from .timeline import WORK, Charge, Moment, TimeLine

WATCH, ACT = 1, 2
_TOLD = ("symptom", "failure", "overheating")
_FILLED = (*WORK, "coolant_change")
# Days after work on the cooling system in which a top-up only fills what was drained; our choice.
BLEEDS_DAYS = 3
A_HAIR = 1e-9  # so that a third of a fill is not less than a third
HABIT_CHARGES = 2  # charges from which an engine has a habit of using oil; our choice
# The check that a look at a place answers.
LOOK_ANSWERS = {
    "filter": "open_filter",
    "bypass_filter": "open_filter",
    "pan": "pan",
    "strainer": "pan",
}


@dataclass(slots=True)
class _Past:
    """What came before a row of one life, as far as the row is judged by it."""

    engine: Engine
    looks: list[EarlierLook] = field(default_factory=list)
    pressures: dict[str, list[float]] = field(default_factory=dict)
    coolant: list[tuple[Moment, float]] = field(default_factory=list)
    poured: dict[int, tuple[list[float], list[float]]] = field(default_factory=dict)
    filled: Moment | None = None
    known: Mapping[str, float] | None = None  # the limits, until something is learnt

    def limits(self) -> Mapping[str, float]:
        """Limits of the tests at the engine: the model's, its rated speed, and its own habits."""
        if self.known is None:
            e = self.engine
            own = {f"habit_{name}": median(read) for name, read in self.pressures.items()}
            self.known = {"rated_rpm": rated_rpm(e.engine_class), **own, **e.test_limits}
        return self.known

    def words(self, moment: Moment, charges: Sequence[Charge], hours: float) -> list[Word]:
        """What a row says after all this, worst first. hours : that a look speaks for"""
        row = moment.row
        found: list[Word] = []
        if row.look is not None:
            found = self._look(moment, hours)
        elif row.kind == "field_check":
            found = of_check(row, self.limits())
        elif row.kind == "finding":
            found = of_finding(row)
        elif row.kind == "case_step":
            found = of_case_step(row)
        elif row.kind in _TOLD:
            found = of_symptom(row, self.limits())
        elif row.kind == "coolant_top_up":
            found = self._coolant(moment)
        elif row.kind == "top_up":
            found = self._oil(moment, charges)
        return sorted(found, key=lambda w: -w.level)

    def _look(self, moment: Moment, hours: float) -> list[Word]:
        look = moment.row.look
        assert look is not None
        run_in = (
            moment.total is not None
            and moment.life_start is not None
            and moment.total - moment.life_start <= self.engine.run_in
        )
        said = look_says(look, self.looks, hours, run_in)
        self.looks.append(EarlierLook(look, hours))
        return of_look(look, said)

    def _coolant(self, moment: Moment) -> list[Word]:
        """Coolant topped up in the last fortnight; what only fills after work says nothing."""
        litres = None
        with suppress(CoreError):
            litres = detail_number(moment.row.details, "coolant_l")
        if litres is None:
            litres = moment.row.litres_in
        if litres is None or (
            self.filled is not None and (moment.row.on - self.filled.row.on).days <= BLEEDS_DAYS
        ):
            return []
        self.coolant.append((moment, litres))
        since = moment.row.on - timedelta(days=COOLANT_DAYS)
        lately = self.coolant = [(x, q) for x, q in self.coolant if x.row.on >= since]
        total = sum(q for _, q in lately)
        level = level_of(round(total, 6), *COOLANT_L)
        if not level:
            return []
        days = (moment.row.on - lately[0][0].row.on).days
        said = {"litres": plain_text(total), "days": str(days)}
        return [word("coolant_added", level=level, numbers=said)]

    def _oil(self, moment: Moment, charges: Sequence[Charge]) -> list[Word]:
        """Oil topped up since the change, as a share of the fill, above what this engine always
        used. One whose habit nobody knows yet is Watch at most: many burn oil all their life."""
        charge = charges[moment.charge]
        fill = charge.litres_in or self.engine.oil_total_l or self.engine.sump_l
        if not fill:
            return []
        upto = moment.total
        timed = self._poured(charge, upto)
        total = timed + charge.untimed_top_up_l
        earlier = [x for x in charges[: moment.charge] if x.life == moment.life]
        before = [use for x in earlier for use in use_of(x, self.engine)]
        known = len(before) >= HABIT_CHARGES and charge.start is not None and upto is not None
        ran = (upto or 0.0) - (charge.start or 0.0)
        more = total - (median(before) * ran if known else 0.0)
        level = min(level_of(more / fill + A_HAIR, *OIL_SHARE), ACT if known else WATCH)
        if not level:
            return []
        said = {"litres": plain_text(total), "fill": plain_text(fill)}
        return [word("oil_added", level=level, numbers=said)]

    def _poured(self, charge: Charge, upto: float | None) -> float:
        """What was topped up at a known meter since the change, up to a total."""
        if charge.number not in self.poured:
            at = sorted(charge.top_ups)
            sums = [0.0, *accumulate(q for _, q in at)]
            self.poured[charge.number] = ([x for x, _ in at], sums)
        meters, sums = self.poured[charge.number]
        return sums[len(meters) if upto is None else bisect_right(meters, upto)]

    def learn(self, moment: Moment, words: Sequence[Word]) -> None:
        """What later rows are held against; a reading that is raised itself teaches no habit."""
        if moment.row.kind in _FILLED:
            self.filled = moment
        if not any(w.level for w in words):
            for name, bar in hot_pressures(moment.row).items():
                self.pressures.setdefault(name, []).append(bar)
                self.known = None


def _question(row: LogRow, words: Sequence[Word]) -> tuple[str, str] | None:
    if place := place_looked_at(row):
        return "look", place
    if row.kind == "finding":
        where = (row.part, row.details.get("position", ""), row.details.get("side", ""))
        return "finding", " ".join(where)
    if row.kind in ("field_check", "case_step"):
        return row.kind, row.part
    ends = fact_kinds()[words[0].fact].ends
    if ends == "open_filter":
        return "look", "filter"
    return ("field_check", ends) if ends else None


def _answers(row: LogRow) -> str:
    if row.look is not None:
        return LOOK_ANSWERS.get(row.look.place, "")
    if row.kind == "finding" and row.part in parts():
        return parts()[row.part].answers
    return row.part if row.kind == "field_check" else ""


def facts_as_found(engine: Engine, line: TimeLine) -> list[Fact]:
    """Everything seen, heard, checked, measured or found at an engine that says something, in
    order, each as it was said on its day: what came after it ends none of it."""
    found: list[Fact] = []
    past, hours = _Past(engine), hours_of_looks(line)
    for at, moment in enumerate(line.moments):
        row = moment.row
        if row.kind == "rebuild":
            past = _Past(engine)
        words = past.words(moment, line.charges, hours.get(at, nan))
        if words:
            evidence = tuple(evidence_of_row(row, past.limits()))
            found.append(
                Fact(
                    at=at,
                    moment=moment,
                    words=tuple(words),
                    evidence=evidence,
                    question=_question(row, words),
                    answers=_answers(row),
                    hours=hours.get(at, nan),
                )
            )
        past.learn(moment, words)
    led_to = consequences(engine, line)
    return [_as_consequence(f) if f.moment.row.id in led_to else f for f in found]


def facts_of(engine: Engine, line: TimeLine) -> list[Fact]:
    """The one list of facts of an engine, each after everything that came later (`after_all`)."""
    return after_all(facts_as_found(engine, line), engine, line)


def _as_consequence(fact: Fact) -> Fact:
    """A finding that another one led to: it is found, and no cause."""
    told = (
        (code.replace(FOUND, LED_TO, 1) if code.startswith(FOUND) else code, seen)
        for code, seen in fact.evidence
    )
    return replace(fact, evidence=tuple(told))


def limits_now(engine: Engine, line: TimeLine) -> Mapping[str, float]:
    """Limits of the tests at an engine after everything in its log: the model's, its rated speed,
    its own habits."""
    past, hours = _Past(engine), hours_of_looks(line)
    for at, moment in enumerate(line.moments):
        if moment.row.kind == "rebuild":
            past = _Past(engine)
        past.learn(moment, past.words(moment, line.charges, hours.get(at, nan)))
    return past.limits()
