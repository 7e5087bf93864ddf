"""An engine, its oil, its sampling and a laboratory, day by day. Own equations, documented here;
seeded.

Metal is kept as mass (ppm x litres) in the oil that is in the engine. A day's work adds rate x
units; oil lost takes its share along; a top-up brings fresh oil; a change leaves a tenth behind.
Viscosity falls by polymer shear (about 8 % over the first 50 h) and rises with oxidation; base
number decays exponentially; fuel comes in on cold short days and boils off on long ones. A
laboratory adds a lognormal error, rounds, and has detection limits.
"""

import math
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any

import numpy as np

from ..standins.laboratory import Laboratory
from .resort import METHODS, MODELS, OILS, SEASONS, Machine, Model, Oil

METALS = ("Fe", "Cr", "Pb", "Cu", "Sn", "Al", "Ni", "Si", "Na", "K")
ADDITIVES = ("B", "Mo", "Mg", "Ca", "P", "Zn")
# What a healthy engine gains over one nominal drain, ppm, by class (invented).
HEALTHY = {
    "heavy_diesel": (22, 2.2, 4.5, 6, 1.6, 4, 0.9, 2.5, 3, 1.2),
    "light_diesel": (20, 1.8, 3, 5, 1.5, 3.5, 0.8, 2.5, 3, 1.2),
    "petrol": (13, 1.3, 2.5, 4, 1.3, 2.8, 0.7, 3, 3, 1.2),
    "small_air_cooled": (26, 2, 2, 4, 1.2, 7, 0.6, 3, 1, 0.5),
}
FRESH = np.array([1, 0, 0, 0, 0, 1, 0, 5, 4, 1], dtype=float)
KEPT = 0.10


LABORATORIES = {
    "valley": Laboratory("Fellside Oil Laboratory", 0.045, 1, 1.0, True, 4),
    "coast": Laboratory("Harbour Test House", 0.07, 2, 1.06, False, 9),
}


@dataclass
class Twist:
    """What a storyline changes: per metal a factor and an extra gain per nominal drain, and oil
    chemistry."""

    factor: dict[str, float] = field(default_factory=dict)
    extra: dict[str, float] = field(default_factory=dict)
    fuel: float = 0.0
    water: float = 0.0


@dataclass
class State:
    """The engine on one day."""

    machine: Machine
    model: Model
    oil: Oil
    rng: np.random.Generator
    dial: float
    metal: np.ndarray = field(default_factory=lambda: FRESH.copy())
    additive: dict[str, float] = field(default_factory=dict)
    on_oil: float = 0.0
    missing_l: float = 0.0
    topped_l: float = 0.0
    fuel: float = 0.2
    water: float = 0.0
    change_dial: float = 0.0
    since_sample: float = 0.0
    last_sample: date | None = None
    charges: int = 0
    mood: np.ndarray = field(default_factory=lambda: np.ones(len(METALS)))


class EngineYears:
    """Three years of one machine, as rows of events and samples."""

    def __init__(self, machine: Machine, end: date, seed: int, story: Any):
        self.story, self.end = story, end
        rng = np.random.default_rng([seed, *machine.code.encode()])
        model, oil = MODELS[machine.model], OILS[machine.oil]
        self.s = State(machine, model, oil, rng, machine.start)
        gain = np.array(HEALTHY[model.engine_class], dtype=float) * np.exp(
            rng.normal(0, 0.18, len(METALS))
        )
        self.rate = gain / model.drain
        self.events: list[dict[str, Any]] = []
        self.samples: list[dict[str, Any]] = []
        self.stored = False
        self.fill(None)

    def event(self, on: date, kind: str, **more: Any) -> None:
        row = {
            "engine": self.s.machine.code,
            "on": on,
            "meter": round(self.s.dial, 1),
            "kind": kind,
            **more,
        }
        self.events.append(row)

    def batch(self, on: date) -> str:
        """The drum in use: a new batch every half year."""
        return f"{on.year % 100}{'A' if on.month < 7 else 'B'}"

    def fill(self, on: date | None, recorded: bool = True) -> None:
        """A new fill; a tenth of the old oil stays behind."""
        s = self.s
        out = {} if on is None else self.measured_out()
        s.metal = KEPT * s.metal + (1 - KEPT) * FRESH if on else FRESH.copy()
        s.additive = {
            a: (KEPT * s.additive[a] + (1 - KEPT) * s.oil.additives[a])
            if on
            else s.oil.additives[a]
            for a in ADDITIVES
        }
        s.on_oil, s.missing_l, s.topped_l, s.fuel, s.water = 0.0, 0.0, 0.0, 0.2, 0.0
        s.change_dial, s.charges = s.dial, s.charges + 1
        # Part of the variation from charge to charge is shared by the metals.
        s.mood = np.exp(s.rng.normal(0, 0.10) + s.rng.normal(0, 0.10, len(METALS)))
        if on and recorded:
            self.event(
                on,
                "oil_change",
                litres_in=s.model.sump_l,
                oil=s.oil.name,
                grade=s.oil.grade,
                batch=self.batch(on),
                **out,
            )

    def measured_out(self) -> dict[str, Any]:
        """What came out at a change: the groomers' crews measure it, hot, in a marked pan."""
        s = self.s
        if not s.machine.code.startswith("G"):
            return {}
        hot = 55 + int(s.dial) % 20
        cold = s.model.sump_l * (1 - 0.04) - s.missing_l * s.model.sump_l / s.model.oil_total_l
        return {
            "litres_drained": round(cold * (1 + 0.00075 * (hot - 20)), 1),
            "details": f"drained_c={hot}",
        }

    def top_up(self, on: date, litres: float, oil: Oil | None = None) -> None:
        s, put = self.s, oil or self.s.oil
        share = litres / s.model.oil_total_l
        s.metal = s.metal * (1 - share) + FRESH * share
        for a in ADDITIVES:
            s.additive[a] = s.additive[a] * (1 - share) + put.additives[a] * share
        s.missing_l, s.topped_l = max(s.missing_l - litres, 0), s.topped_l + litres
        self.event(on, "top_up", litres_in=round(litres, 1), oil=s.oil.name, grade=s.oil.grade)

    def work(self, on: date, units: float) -> None:
        """One day's work."""
        s = self.s
        twist = self.story.twist(s.machine, on, s, self.end)
        gain = self.rate * s.mood * units
        for i, metal in enumerate(METALS):
            gain[i] = (
                gain[i] * twist.factor.get(metal, 1)
                + twist.extra.get(metal, 0) * units / s.model.drain
            )
        volume = s.model.oil_total_l
        lost = s.machine.use_l_per_100 * units / 100
        s.missing_l += lost
        s.metal += gain * volume / max(volume - s.missing_l, volume / 2)
        cold = on.month in (11, 12, 1, 2, 3)
        s.fuel = max(
            s.fuel + (0.02 if cold else 0.0) - 0.012 * units / 8 + twist.fuel * units / 100, 0.1
        )
        s.water = max(s.water * 0.9, 0) + twist.water
        s.dial, s.on_oil, s.since_sample = s.dial + units, s.on_oil + units, s.since_sample + units
        if s.missing_l > 0.06 * volume:
            self.top_up(on, s.missing_l)

    def truth(self) -> dict[str, float]:
        """What the oil in the engine really is."""
        s, x = self.s, self.s.on_oil / self.s.model.drain
        oxidation, soot = (
            2 + 5.5 * x**1.3,
            (0.9 if s.model.engine_class.endswith("diesel") else 0.1) * x,
        )
        shear = 1 - 0.055 * (1 - math.exp(-s.on_oil / (0.2 * s.model.drain)))
        thin = 10 ** (-0.0125 * s.fuel * (1 if s.machine.fuel == "diesel" else 1.5))
        kv100 = s.oil.kv100 * shear * thin * (1 + 0.004 * oxidation + 0.012 * soot)
        out = dict(zip(METALS, s.metal, strict=True)) | s.additive
        out |= {
            "KV100": kv100,
            "KV40": s.oil.kv40 * (kv100 / s.oil.kv100) ** 1.25,
            "BN": s.oil.bn * math.exp(-0.42 * x),
            "AN": s.oil.an + 0.75 * x,
            "fuel": s.fuel,
            "soot": soot,
            "water": s.water,
            "oxidation": oxidation,
            "nitration": 2 + 4.5 * x,
            "PQ": 0.35 * s.metal[0],
        }
        return out

    def sample(
        self, on: date, purpose: str = "routine", drained: bool = False, appearance: str = ""
    ) -> None:
        s = self.s
        far = "other_laboratory" in s.machine.stories and (self.end - on).days < 420
        lab = LABORATORIES["coast" if far else "valley"]
        received = on + timedelta(days=lab.days + int(s.rng.integers(0, 3)))
        s.since_sample, s.last_sample = 0.0, on
        row = {
            "engine": s.machine.code,
            "drawn_on": on,
            "meter": round(s.dial, 1),
            "method": METHODS.get(s.machine.code[0], "vacuum"),
            "purpose": purpose,
            "oil": s.oil.name,
            "oil_change_meter": round(s.change_dial, 1),
            "oil_changed_after": "yes" if drained else "no",
            "appearance": appearance,
            "top_up_l": round(s.topped_l, 1) if s.topped_l else "",
            "laboratory": lab.name,
        }
        if received <= self.end:
            row |= {"analysed_on": received - timedelta(days=1), "received_on": received}
            row |= self.analysis(lab, self.truth())
        self.samples.append(row)

    def analysis(self, lab: Laboratory, true: dict[str, float]) -> dict[str, str]:
        rng = self.s.rng
        out = {
            f"{m}_ppm": lab.reading(rng, true[m], 0 if true[m] > 10 else 1, lab.lowest)
            for m in METALS + ADDITIVES
        }
        for column, key, digits, lowest in (
            ("KV40_mm2_s", "KV40", 1, 1),
            ("KV100_mm2_s", "KV100", 2, 1),
            ("BN_mgKOH_g", "BN", 1, 0.1),
            ("AN_mgKOH_g", "AN", 1, 0.1),
            ("fuel_pct", "fuel", 1, 0.5),
            ("soot_pct", "soot", 1, 0.1),
            ("water_pct", "water", 2, 0.05),
            ("oxidation_A_cm", "oxidation", 1, 1),
            ("nitration_A_cm", "nitration", 1, 1),
        ):
            quiet = Laboratory(lab.name, 0.012 if key.startswith("KV") else 0.03, 0, 1, False, 0)
            out[column] = quiet.reading(rng, true[key], digits, lowest)
        if lab.reports_pq:
            out["PQ_index"] = lab.reading(rng, true["PQ"], 0, 1)
        return out

    def run(self) -> None:
        """Every day from three years ago until the end."""
        s = self.s
        share, per_day = SEASONS[s.machine.season]
        first = self.end - timedelta(days=1095)
        if s.machine.service_day is not None:
            first = self.end + timedelta(days=s.machine.service_day)
        self.event(
            first,
            "oil_change",
            litres_in=s.model.sump_l,
            oil=s.oil.name,
            grade=s.oil.grade,
            batch=self.batch(first),
        )
        s.change_dial, s.last_sample = s.dial, first
        for n in range(1, (self.end - first).days + 1):
            on = first + timedelta(days=n)
            self.season(on, share[on.month - 1])
            if self.stored:
                continue
            if s.rng.random() < share[on.month - 1]:
                self.work(on, per_day * s.rng.uniform(0.6, 1.4))
            self.story.day(self, on)
            self.routine(on)
        yesterday = self.end - timedelta(days=1)
        if not self.stored and self.events[-1]["on"] != yesterday:
            self.event(yesterday, "meter_reading")

    def season(self, on: date, share: float) -> None:
        """Into storage when the season is over, with fresh oil; out when it begins."""
        if not self.stored and share == 0 and on.day >= 10:
            if self.s.on_oil > 0.3 * self.s.model.drain:
                self.sample(on, drained=True)
                self.fill(on)
            self.event(on, "storage_start")
            self.stored = True
        elif self.stored and share > 0 and on.day >= 5:
            self.event(on, "storage_end")
            self.stored = False
            self.s.last_sample = on

    def routine(self, on: date) -> None:
        """Weekly meter readings; a sample half-way, and one before every drain."""
        s = self.s
        if "late" in s.machine.stories and (self.end - on).days < 95:
            return
        if on.weekday() == 0 and s.rng.random() < 0.5:
            self.event(on, "meter_reading")
        if s.on_oil >= s.model.drain * s.rng.uniform(0.96, 1.06):
            self.sample(on, drained=True)
            recorded = not self.story.forgets_change(s.machine, on, self.end)
            self.fill(on, recorded)
            return
        half_way = (
            s.since_sample >= s.model.drain / 2 * s.rng.uniform(0.95, 1.08)
            and s.on_oil < 0.8 * s.model.drain
        )
        waited = s.last_sample and (on - s.last_sample).days >= s.machine.interval_days + 4
        if half_way or (waited and s.on_oil > 5):
            self.sample(on)
