"""Invented fleets with faults and look-alikes, from the rows of `grid.csv`. Every figure here is
invented.

Metal is a mass in the engine's oil. An hour of work adds a rate, oil that is lost takes its share
along, a top-up brings fresh oil, a change leaves a tenth behind. A fault multiplies rates, or
brings dust, coolant or fuel in, along a curve from onset to failure. The laboratory adds noise, a
bias of its own, now and then a dirty bottle, and rounds.
"""

import csv
import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date, timedelta
from functools import cache
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

from ..core.laboratory import N, idx
from ..core.record import Engine, Fleet, History, LogRow, Sample
from .truth import SHOWS, Truth

Floats = NDArray[np.float64]
METALS = ("Fe", "Cr", "Pb", "Cu", "Sn", "Al", "Ni", "Si", "Na", "K")
AT = [idx(m) for m in METALS]
M = {m: n for n, m in enumerate(METALS)}
# class: drain, oil volume, gain per drain in the order of METALS, allowed grade
CLASSES: dict[str, tuple[float, float, tuple[float, ...], str]] = {
    "heavy_diesel": (250, 34, (24, 2.2, 4.5, 6, 1.7, 4, 0.9, 2.5, 3, 1.3), "15W-40"),
    "light_diesel": (250, 9, (20, 1.8, 3.2, 5, 1.5, 3.4, 0.8, 2.5, 3, 1.3), "10W-40"),
    "petrol": (160, 5, (14, 1.3, 2.6, 4, 1.3, 2.7, 0.7, 3, 3, 1.2), "5W-30"),
}
FRESH = dict(zip(METALS, (1, 0, 0, 0, 0, 1, 0, 5, 4, 1), strict=True))
ADDITIVES = {"Ca": 2400.0, "Mg": 30.0, "Zn": 1150.0, "P": 1000.0, "B": 60.0, "Mo": 40.0}
OTHER_OIL = {"Ca": 1300.0, "Mg": 850.0, "Zn": 900.0, "P": 800.0, "B": 5.0, "Mo": 80.0}
KEPT = 0.10
RESAMPLE_AFTER = 0.1  # of the drain: what the program asks for, 25 h for a diesel
# fault: channel it belongs in, factors on rates at full severity (as shares of the peak), what
# comes in per drain
FAULTS: dict[str, tuple[str, dict[str, float], dict[str, float]]] = {
    "rod_bearing": ("wear", {"Pb": 1, "Sn": 0.7, "Cu": 0.6}, {}),
    "aluminium_bearing": ("wear", {"Al": 1, "Sn": 0.8, "Fe": 0.15}, {}),
    "bush": ("wear", {"Cu": 1, "Sn": 0.6}, {}),
    "ring_liner": ("wear", {"Fe": 1, "Cr": 0.9, "Al": 0.4}, {}),
    "piston": ("wear", {"Al": 1, "Fe": 0.5}, {}),
    "cam": ("wear", {"Fe": 1, "Ni": 0.4, "Cr": 0.3}, {}),
    "dust": ("dirt", {"Fe": 0.5, "Cr": 0.5, "Al": 0.1}, {"Si": 5.0, "Al": 1.0}),
    "coolant": ("coolant", {"Pb": 0.25, "Cu": 0.25}, {"Na": 9.0, "K": 5.0}),
    "fuel": ("fuel", {"Fe": 0.1}, {"fuel": 1.1}),
}
LOOK_ALIKES = (
    "run_in",
    "sealant",
    "laboratory",
    "oil_switch",
    "unrecorded_drain",
    "season",
    "leach",
)


@dataclass(frozen=True)
class Scenario:
    """One row of the grid. `peak`: factor on the rates at failure; `ratio`: interval / (onset to
    failure)."""

    kind: str
    engine_class: str
    speed: str
    curve: str
    peak: float
    ratio: float
    interval: float
    usage: float
    noise: float
    laboratory: str
    repeats: int


@cache
def grid() -> tuple[Scenario, ...]:
    """The rows of `grid.csv`."""
    with (Path(__file__).parent / "grid.csv").open(encoding="utf-8") as file:
        rows = csv.DictReader(line for line in file if not line.startswith("#"))
        return tuple(
            Scenario(
                r["kind"],
                r["class"],
                r["speed"],
                r["curve"],
                float(r["peak"]),
                float(r["ratio"]),
                float(r["interval"]),
                float(r["usage"]),
                float(r["noise"]),
                r["laboratory"],
                int(r["repeats"]),
            )
            for r in rows
        )


def severity(curve: str, x: float) -> float:
    """How far a fault has gone, 0 to 1, at share `x` of its way from onset to failure."""
    x = min(max(x, 0.0), 1.0)
    if curve == "step":
        return min(1.0, x / 0.12) * 0.8 + 0.2 * x
    return (math.exp(3 * x) - 1) / (math.exp(3) - 1) if curve == "exponential" else x


@dataclass
class _Run:
    """One engine while it is being simulated."""

    s: Scenario
    code: str
    rng: np.random.Generator
    rate: Floats
    onset: float
    failure: float
    drain: float
    volume: float
    metal: Floats = field(default_factory=lambda: np.array([float(FRESH[m]) for m in METALS]))
    additive: dict[str, float] = field(default_factory=lambda: dict(ADDITIVES))
    brand: str = "A"
    fuel: float = 0.3
    missing: float = 0.0
    on_oil: float = 0.0
    charge: Floats = field(default_factory=lambda: np.ones(len(METALS)))
    charges: int = 0
    changed_at: float = 0.0
    rows: list[LogRow] = field(default_factory=list)
    value: list[Floats] = field(default_factory=list)
    censor: list[NDArray[np.int8]] = field(default_factory=list)
    shows: int = 0  # samples in which a figure of the fault stands out of the test's noise
    # by the fault, in the present oil
    put_in: Floats = field(default_factory=lambda: np.zeros(len(METALS)))

    def day(self, meter: float) -> date:
        return date(2020, 1, 6) + timedelta(days=7 * meter / self.s.usage)

    def fill(self, meter: float, recorded: bool = True) -> None:
        """A new fill of oil."""
        if self.charges:
            self.metal = KEPT * self.metal + (1 - KEPT) * np.array(
                [float(FRESH[m]) for m in METALS]
            )
            self.put_in *= KEPT
            new = OTHER_OIL if self.brand == "B" else ADDITIVES
            self.additive = {k: KEPT * v + (1 - KEPT) * new[k] for k, v in self.additive.items()}
        self.fuel, self.missing, self.on_oil, self.changed_at = 0.3, 0.0, 0.0, meter
        self.charges += 1
        self.charge = np.exp(self.rng.normal(0, 0.12) + self.rng.normal(0, 0.13, len(METALS)))
        if recorded:
            grade = CLASSES[self.s.engine_class][3]
            self.rows.append(
                LogRow(
                    f"{self.code}c{self.charges}",
                    self.day(meter),
                    "oil_change",
                    round(meter, 1),
                    None,
                    1,
                    litres_in=self.volume * 0.9,
                    oil=f"Oil {self.brand}|{grade}|1",
                )
            )

    def gain(self, meter: float, hours: float) -> tuple[Floats, Floats, float]:
        """What `hours` of work at `meter` add, ppm: in all, of it by the fault, and fuel in
        percent."""
        base = self.rate * self.charge / self.drain * hours
        if self.s.kind == "run_in":
            more = np.zeros(len(METALS))
            more[[M["Fe"], M["Cu"], M["Si"], M["Al"]]] = (1.6, 2.2, 1.8, 1.4)
            base = base * (1 + more * math.exp(-meter / (0.7 * self.drain)))
        if self.s.kind == "season":
            year = (self.day(meter) - date(2020, 1, 1)).days / 365.25
            base = base * (
                1
                + 0.35
                * math.sin(2 * math.pi * year)
                * np.isin(np.arange(len(METALS)), [M["Si"], M["Fe"]])
            )
        if self.s.kind == "sealant" and 0 <= meter - self.onset < 1.5 * self.drain:
            base[M["Si"]] += 12 * hours / self.drain * math.exp(-(meter - self.onset) / self.drain)
        if self.s.kind == "leach" and meter >= self.onset:
            base[M["Cu"]] += (
                45 * hours / self.drain * math.exp(-(meter - self.onset) / (2 * self.drain))
            )
        _, factors, brought = FAULTS.get(self.s.kind, ("", {}, {}))
        level = (
            severity(self.s.curve, (meter - self.onset) / (self.failure - self.onset))
            if meter > self.onset
            else 0.0
        )
        extra = np.zeros(len(METALS))
        for metal, share in factors.items():
            extra[M[metal]] += base[M[metal]] * (self.s.peak - 1) * share * level
        for metal, amount in brought.items():
            if metal in M:
                extra[M[metal]] += amount * (self.s.peak - 1) * level * hours / self.drain
        fuel = brought.get("fuel", 0.0) * (self.s.peak - 1) * level * hours / (0.5 * self.drain)
        return base + extra, extra, fuel

    def work(self, meter: float, hours: float) -> None:
        """Run for `hours` from `meter`, topping up when a twelfth of the oil is gone."""
        for n in range(steps := max(1, math.ceil(hours / (0.1 * self.drain)))):
            h = hours / steps
            add, extra, fuel = self.gain(meter + n * h, h)
            self.metal, self.put_in = self.metal + add, self.put_in + extra
            self.fuel = max(0.1, self.fuel + fuel - 0.25 * self.fuel * h / (0.5 * self.drain))
            self.missing += self.volume * 0.0015 * h / 100 * 10
            if self.missing > self.volume / 12:
                share = self.missing / self.volume
                self.metal = self.metal * (1 - share) + share * np.array(
                    [float(FRESH[m]) for m in METALS]
                )
                self.put_in = self.put_in * (1 - share)
                self.rows.append(
                    LogRow(
                        f"{self.code}t{len(self.rows)}",
                        self.day(meter + n * h),
                        "top_up",
                        round(meter + (n + 1) * h, 1),
                        None,
                        0,
                        litres_in=round(self.missing, 2),
                    )
                )
                self.missing = 0.0
        self.on_oil += hours

    def sample(
        self, meter: float, row: int, laboratory: tuple[str, Floats], again: bool = False
    ) -> None:
        """Draw, analyse, and write down as a laboratory does; `again`: somebody was asked to draw
        once more.

        A resample has chances of its own, so that everything else in the fleet stays as it is
        without it.
        """
        rng = np.random.default_rng([row, *self.code.encode()]) if again else self.rng
        value = np.full(N, np.nan)
        censor = np.full(N, -1, dtype=np.int8)
        name, bias = laboratory
        spread = self.s.noise * (0.045 * self.metal + 0.35)
        seen = self.metal * bias + rng.normal(0, 1, len(METALS)) * spread
        if rng.random() < 0.004:  # a dirty bottle
            seen[[M["Si"], M["Na"], M["K"]]] += rng.uniform(3, 15, 3)
        if rng.random() < 0.002:  # a slip at the instrument
            seen[int(rng.integers(len(METALS)))] *= 1.6
        by_fuel = (self.fuel - 0.6) / 0.25 if self.s.kind == "fuel" and meter > self.onset else 0.0
        if not again:
            self.shows += max(float(np.max(self.put_in / spread)), by_fuel) >= SHOWS
        for place, x in zip(AT, seen, strict=True):
            value[place], censor[place] = (1.0, 1) if x < 1 else (round(x, 1 if x < 10 else 0), 0)
        x = self.on_oil / self.drain
        oxidation, soot = 2 + 5 * x**1.2, 0.8 * x if "diesel" in self.s.engine_class else 0.1 * x
        thin = 10 ** (-0.0165 * max(self.fuel - 0.3, 0))
        fresh_kv = {"15W-40": 14.4, "10W-40": 14.0, "5W-30": 11.6}[CLASSES[self.s.engine_class][3]]
        kv = fresh_kv * (1 - 0.05 * (1 - math.exp(-x / 0.2))) * thin * (1 + 0.004 * oxidation)
        others = {
            "KV100": kv * (1 + rng.normal(0, 0.008)),
            "BN": 10 * math.exp(-0.4 * x) * (1 + rng.normal(0, 0.03)),
            "AN": 1.9 + 0.7 * x,
            "Fuel": max(self.fuel + rng.normal(0, 0.15), 0),
            "Soot": soot,
            "Oxidation": oxidation,
            "Nitration": 2 + 4 * x,
            **{k: v * (1 + rng.normal(0, 0.03)) for k, v in self.additive.items()},
        }
        for symbol, figure in others.items():
            value[idx(symbol)], censor[idx(symbol)] = round(figure, 2), 0
        value[idx("Water")], censor[idx("Water")] = 0.05, 1
        self.rows.append(
            LogRow(
                f"{self.code}s{row}",
                self.day(meter),
                "sample",
                round(meter, 1),
                None,
                0,
                sample=Sample(
                    f"{self.code}-{row}",
                    row,
                    "resample" if again else "routine",
                    laboratory=name,
                    drained_after=False,
                ),
            )
        )
        self.value.append(value)
        self.censor.append(censor)


def _plan(
    scenario: Scenario, rng: np.random.Generator, drain: float
) -> tuple[float, float, float, float]:
    """(first meter, onset, failure, last meter) of one engine."""
    first = 0.0 if scenario.kind == "run_in" else float(rng.integers(1500, 9000))
    if scenario.kind in FAULTS:
        onset = first + scenario.interval * rng.uniform(3, 24)
        failure = onset + scenario.interval / scenario.ratio
        return first, onset, failure, failure
    return (
        first,
        first + scenario.interval * rng.uniform(4, 16),
        math.inf,
        first + scenario.interval * rng.uniform(18, 34),
    )


def _live(
    scenario: Scenario,
    run: "_Run",
    rng: np.random.Generator,
    first: float,
    last: float,
    first_row: int,
    bias: dict[str, Floats],
    again: frozenset[int],
) -> None:
    """From the first fill to the last sample: work, samples, drains, and resamples where asked."""
    drain, onset = run.drain, run.onset
    meter, row = first, first_row
    run.fill(meter)
    forgot, routine, spent = False, 0, 0.0
    while True:
        to_sample = scenario.interval * rng.uniform(0.9, 1.1)
        # A sample near the drain is drawn at the drain.
        left = drain * 1.02 - run.on_oil + spent
        at_drain = to_sample > 0.8 * left
        hours = left if at_drain else to_sample
        if hours > 0.35 * scenario.interval or at_drain:
            run.work(meter, max(hours - spent, 0.0))
            meter += max(hours - spent, 0.0)
        if meter >= last:
            break
        switched = scenario.laboratory == "switch" and meter > first + 0.45 * (last - first)
        name = "North" if switched else "South"
        run.sample(meter, row, (name, bias[name]))
        row += 1
        if at_drain:
            if scenario.kind == "oil_switch" and meter > onset:
                run.brand = "B"
            skip = scenario.kind == "unrecorded_drain" and meter > onset and not forgot
            forgot = forgot or skip
            run.fill(meter, recorded=not skip)
        spent = (
            RESAMPLE_AFTER * drain
            if routine in again and meter + RESAMPLE_AFTER * drain < last
            else 0.0
        )
        routine += 1
        if spent:
            run.work(meter, spent)
            meter += spent
            run.sample(meter, row, (name, bias[name]), again=True)
            row += 1


def _engine(
    scenario: Scenario,
    code: str,
    model: str,
    made: Floats,
    rng: np.random.Generator,
    first_row: int,
    bias: dict[str, Floats],
    again: frozenset[int],
) -> tuple[History, list[Floats], list[NDArray[np.int8]], Truth]:
    """One engine's life; after the routine samples numbered in `again` another is drawn soon."""
    drain, volume, _, grade = CLASSES[scenario.engine_class]
    first, onset, failure, last = _plan(scenario, rng, drain)
    run = _Run(
        scenario,
        code,
        rng,
        made * np.exp(rng.normal(0, 0.22, len(METALS))),
        onset,
        failure,
        drain,
        volume,
    )
    _live(scenario, run, rng, first, last, first_row, bias, again)
    engine = Engine(
        code,
        scenario.engine_class,
        oil_total_l=volume,
        sump_l=volume * 0.9,
        allowed_grades=(grade,),
        fuel="petrol" if scenario.engine_class == "petrol" else "diesel",
        nominal_drain=drain,
        interval_meter=scenario.interval,
        model=model,
        in_service_on=run.day(0) if scenario.kind == "run_in" else None,
    )
    return (
        History(engine, tuple(run.rows)),
        run.value,
        run.censor,
        Truth(
            kind=scenario.kind,
            engine_class=scenario.engine_class,
            growth=scenario.speed,
            sampling=f"ratio {scenario.ratio:g}",
            channels=(FAULTS[scenario.kind][0],) if scenario.kind in FAULTS else (),
            onset=onset,
            failure=failure,
            shows=run.shows,
        ),
    )


def fleet(
    scenarios: list[Scenario], seed: int, resamples: Mapping[str, frozenset[int]] | None = None
) -> tuple[Fleet, list[Truth]]:
    """A fleet with one engine a scenario; models and laboratories are its own.

    resamples : engine → numbers of its routine samples (from 0) after which one more is drawn; all
        else stays the same.
    """
    rng = np.random.default_rng(seed)
    models: dict[tuple[str, int], Floats] = {}
    bias = {"South": np.ones(len(METALS)), "North": np.exp(rng.normal(0.03, 0.07, len(METALS)))}
    histories: list[History] = []
    values: list[Floats] = []
    censors: list[NDArray[np.int8]] = []
    truths: list[Truth] = []
    for n, s in enumerate(scenarios):
        which = (s.engine_class, int(rng.integers(3)))
        if which not in models:
            models[which] = np.array(CLASSES[s.engine_class][2]) * np.exp(
                rng.normal(0, 0.25, len(METALS))
            )
        code = f"F{seed}-{n}"
        history, value, censor, truth = _engine(
            s,
            code,
            f"{which[0]}-{which[1]}",
            models[which],
            rng,
            len(values),
            bias,
            (resamples or {}).get(code, frozenset()),
        )
        histories.append(history)
        values += value
        censors += censor
        truths.append(truth)
    fresh: dict[str, Floats] = {}
    for engine_class, (_, _, _, grade) in CLASSES.items():
        for brand, additives in (("A", ADDITIVES), ("B", OTHER_OIL)):
            figures = np.full(N, np.nan)
            for symbol, v in {
                **FRESH,
                **additives,
                "BN": 10.0,
                "AN": 1.9,
                "Oxidation": 2.0,
                "Nitration": 2.0,
                "KV100": {"15W-40": 14.4, "10W-40": 14.0, "5W-30": 11.6}[grade],
            }.items():
                figures[idx(symbol)] = v
            fresh[f"Oil {brand}|{grade}|1"] = figures
            assert engine_class
    return Fleet(tuple(histories), np.array(values), np.array(censors), fresh), truths
