"""The place of each sample in its engine's history: its charge, its hours on the oil, what
came before it, what else was seen."""

from dataclasses import dataclass, field

import numpy as np

from .answers import after_all, answered_by, with_later
from .fact import Fact
from .facts import facts_as_found
from .model import Engine, Fleet, Floats, History, Sample, brand
from .timeline import Charge, Moment, TimeLine, build_time_line

SMOKE = ("blow_by", "smoke")
STOP = 3


@dataclass(slots=True)
class SampleContext:
    """One sample in its engine's time line. Meter figures in the engine's unit."""

    engine: Engine
    moment: Moment
    charge: Charge
    time_line: TimeLine
    hours_on_oil: float = float("nan")
    hours_origin: str = "unknown"
    top_ups: list[tuple[float, float]] = field(default_factory=list)
    drained_at: float = float("nan")
    oil: str | None = None
    run_in: bool = False
    run_in_charges: int = 0
    before: int = -1  # row of the sample before, in the same life
    before_here: bool = False  # whether that sample is of the same charge
    ended: int = -1  # row of the last sample of the charge before, whose oil was left behind
    # what was seen, heard or checked between the sample before and the next, and in the whole log
    facts: list[Fact] = field(default_factory=list)
    log_facts: list[Fact] = field(default_factory=list)
    smoke: bool = False  # blow-by or smoke was reported during this charge
    # a fault was confirmed later, in this charge or the next: no habit of the engine
    faulty: bool = False
    at: int = -1  # its place among the moments, and that of the next sample, or their number
    until: int = -1
    looked: bool = False  # somebody looked for debris between the sample before and the next

    @property
    def row(self) -> int:
        return self.sample.row

    @property
    def fill(self) -> tuple[int, float | str | None]:
        """Which fill of oil this is: the recorded charge, or the change reported with the sample
        where none is. Hours alone tell of no fill that another sample could share."""
        if self.hours_origin != "as reported with the sample":
            return self.charge.number, None
        change = self.sample.oil_change_dial
        return self.charge.number, self.sample.code if change is None else change

    @property
    def sample(self) -> Sample:
        """The sample itself."""
        assert self.moment.row.sample is not None
        return self.moment.row.sample


def _heard_at(near: list[Fact], at: int, worked: list[int], engine: Engine) -> list[Fact]:
    """The facts that belong to the sample at place `at`, of those `near` it: without those that a
    later answer to the same question ends, and without those before work on the engine. A Stop is
    always among them."""
    out = []
    for f, later in with_later(near):
        if f.level < STOP:
            f = answered_by(f, later, engine)
            if f.answered or any(f.at < w < at for w in worked):
                continue
        out.append(f)
    return out


def hours_on_oil(moment: Moment, charge: Charge) -> tuple[float, str]:
    """Meter units on the oil at a sample, and where the figure comes from.

    The recorded change comes first; a reported change meter serves where none is on record.
    """
    sample = moment.row.sample
    if moment.total is not None and charge.start is not None:
        return moment.total - charge.start, "recorded change"
    if sample and sample.oil_change_dial is not None and moment.row.dial is not None:
        return moment.row.dial - sample.oil_change_dial, "as reported with the sample"
    if sample and sample.hours_on_oil is not None:
        return sample.hours_on_oil, "as reported with the sample"
    return float("nan"), "unknown"


def _oil(reported: str | None, registered: str | None) -> str | None:
    """The oil key to read a sample against: the registered fill, unless the sample names another
    oil."""
    if reported and registered and brand(reported) != brand(registered):
        return reported
    return registered or reported


def _top_ups(charge: Charge, t: float, reported: float | None) -> list[tuple[float, float]]:
    """Top-ups since the change as (meter units after the change, litres).

    Top-ups without a meter, and litres only reported with the sample, are taken half-way (our
    choice).
    """
    out = [(at - charge.start, litres) for at, litres in charge.top_ups if charge.start is not None]
    out = [(at, litres) for at, litres in out if 0 < at <= t]
    loose = charge.untimed_top_up_l
    if reported is not None:
        loose = max(loose, reported - sum(litres for _, litres in out))
    if loose > 0 and t > 0:
        out.append((t / 2, loose))
    return sorted(out)


def sample_contexts(history: History) -> list[SampleContext]:
    """Every sample of one engine in order, each in its place."""
    line = build_time_line(history)
    out: list[SampleContext] = []
    last_of_charge: dict[int, SampleContext] = {}
    found = facts_as_found(history.engine, line)
    after = after_all(found, history.engine, line)
    looks = [n for n, m in enumerate(line.moments) if m.row.look is not None]
    smoky = {m.charge for m in line.moments if m.row.kind == "symptom" and m.row.part in SMOKE}
    confirmed = [
        (day, max((m.charge for m in line.moments if m.row.on <= day), default=0))
        for day in history.confirmed
    ]
    numbers = [n for n, m in enumerate(line.moments) if m.row.sample is not None]
    for k, n in enumerate(numbers):
        moment = line.moments[n]
        charge = line.charges[moment.charge]
        here = SampleContext(history.engine, moment, charge, line)
        sample = here.sample
        here.hours_on_oil, here.hours_origin = hours_on_oil(moment, charge)
        here.oil = _oil(sample.oil, charge.oil)
        here.top_ups = _top_ups(charge, here.hours_on_oil, sample.top_up_l)
        if charge.end is not None and charge.start is not None:
            here.drained_at = charge.end - charge.start
        if moment.total is not None and moment.life_start is not None:
            here.run_in = moment.total - moment.life_start <= history.engine.run_in
        if out and out[-1].moment.life == moment.life:
            here.before, here.before_here = out[-1].row, out[-1].fill == here.fill
        previous = last_of_charge.get(charge.number - 1)
        if previous and previous.moment.life == moment.life:
            here.ended = previous.row
            here.run_in_charges = previous.run_in_charges + 1
        here.smoke = moment.charge in smoky
        first = numbers[k - 1] if k else -1
        until = numbers[k + 1] if k + 1 < len(numbers) else len(line.moments)
        here.looked = any(first < at < until for at in looks)
        here.log_facts, here.at, here.until = after, n, until
        near = [f for f in found if first < f.at < until]
        here.facts = _heard_at(near, n, line.worked, history.engine)
        here.faulty = any(moment.row.on <= day and at - 1 <= charge.number for day, at in confirmed)
        last_of_charge[charge.number] = here
        out.append(here)
    return out


def all_contexts(fleet: Fleet) -> list[SampleContext]:
    """Every sample of the fleet, at its row: `all_contexts(f)[i].row == i`."""
    out: list[SampleContext | None] = [None] * len(fleet.value)
    for history in fleet.histories:
        for context in sample_contexts(history):
            out[context.row] = context
    if any(p is None for p in out):
        raise ValueError("every row of the readings must belong to a sample of some history")
    return [p for p in out if p is not None]


def padded(lists: list[list[tuple[float, float]]]) -> tuple[Floats, Floats]:
    """Top-ups of many samples as two NaN-padded arrays, meters and litres."""
    width = max((len(x) for x in lists), default=0)
    at, litres = np.full((len(lists), width), np.nan), np.full((len(lists), width), np.nan)
    for i, ups in enumerate(lists):
        for k, (a, q) in enumerate(ups):
            at[i, k], litres[i, k] = a, q
    return at, litres
