"""The second generator: parts made of alloys that wear into a sump, in a mass balance; laboratories
that scatter, drift and slip; mostly one sample a charge. Every figure here is invented.

It is built otherwise than `simulate.py` and no threshold is tuned on it: what the first one cannot
teach shows here.
"""

import math
from dataclasses import dataclass, field
from datetime import date, timedelta
from typing import Any

import numpy as np

from ..core.laboratory import N, idx
from ..core.record import Coolant, Engine, Fleet, Floats, History, LogRow, Sample
from .laboratories import AT, BELOW, METALS, NOISE, Laboratory, laboratories, report
from .truth import PLAIN, SHOWS, Truth

ENGINES = 60  # of one fleet
# part: what its metal consists of
ALLOYS: dict[str, dict[str, float]] = {
    "liner": {"Fe": 0.94, "Ni": 0.01, "Si": 0.02},
    "ring": {"Cr": 0.75, "Fe": 0.25},
    "cam": {"Fe": 0.97, "Cr": 0.012, "Ni": 0.006},
    "overlay": {"Pb": 0.88, "Sn": 0.095, "Cu": 0.025},
    "lining": {"Cu": 0.74, "Pb": 0.22, "Sn": 0.04},
    "bush": {"Cu": 0.88, "Sn": 0.10, "Pb": 0.02},
    "piston": {"Al": 0.86, "Si": 0.12, "Cu": 0.01, "Ni": 0.01},
    "dust": {"Si": 0.80, "Al": 0.20},
    "cooler": {"Cu": 1.0},
    "flux": {"K": 0.62, "Al": 0.38},
    "sealant": {"Si": 1.0},
    "salt": {"Na": 1.0},
    "traces": {"Na": 0.6, "K": 0.4},
}
PARTS = tuple(ALLOYS)
SHARES = np.array([[ALLOYS[p].get(m, 0.0) for m in METALS] for p in PARTS])
P = {p: n for n, p in enumerate(PARTS)}
# ppm a drain that a healthy engine wears, by part; the rest is nothing
HABIT = {
    "liner": 13.0,
    "ring": 2.2,
    "cam": 5.0,
    "overlay": 3.0,
    "lining": 3.0,
    "bush": 3.0,
    "piston": 3.5,
    "dust": 3.5,
    "traces": 3.0,
}
# class: drain [h], litres, factor on the habit, fuel, KV100 and BN of the new oil, grade
CLASSES: dict[str, tuple[float, float, float, str, float, float, str]] = {
    "heavy_diesel": (250, 34, 1.0, "diesel", 14.5, 10.5, "15W-40"),
    "light_diesel": (250, 9, 0.9, "diesel", 14.0, 10.0, "10W-40"),
    "petrol": (160, 5, 0.6, "petrol", 11.7, 7.5, "5W-30"),
    "gas": (1000, 90, 0.6, "natural_gas", 13.6, 5.5, "40"),
    "small_air_cooled": (50, 1.4, 1.1, "petrol", 10.6, 7.0, "10W-30"),
}
# soot [%], oxidation and nitration [A/cm] a drain
AGEING = {
    "heavy_diesel": (0.9, 5.0, 4.0),
    "light_diesel": (0.7, 5.0, 4.0),
    "petrol": (0.1, 6.0, 5.0),
    "gas": (0.05, 3.0, 4.0),
    "small_air_cooled": (0.1, 4.0, 4.0),
}
# mg/kg: sodium, potassium, boron, silicon, molybdenum
COOLANTS = {
    "both": {"Na": 2600.0, "K": 1300.0, "Mo": 200.0},
    "potassium": {"Na": 150.0, "K": 4200.0},
    "sodium": {"Na": 5200.0, "K": 90.0, "B": 350.0, "Si": 250.0},
}
# fault: (channels it may be named in, {part: factor at its worst}); what comes in stands in `_feed`
FAULTS: dict[str, tuple[tuple[str, ...], dict[str, float]]] = {
    "overlay": (("wear",), {"overlay": 6}),
    "big_end": (("wear",), {"overlay": 5, "lining": 5}),
    "bush": (("wear",), {"bush": 6}),
    "ring_liner": (("wear",), {"ring": 4.5, "liner": 3.5, "piston": 2}),
    "piston": (("wear",), {"piston": 6, "liner": 1.5}),
    "cam": (("wear", "debris"), {"cam": 7}),
    "dust_by_air": (("dirt",), {"ring": 3, "liner": 2.5, "piston": 1.5}),
    "dust_by_oil": (("dirt",), {"overlay": 3, "lining": 2.5}),
    "coolant": (("coolant",), {"overlay": 1.5}),
    "fuel": (("fuel", "thickness"), {"liner": 1.3}),
    "soot": (("oil_life", "thickness"), {"liner": 1.3}),
    "heat": (("oil_life", "thickness"), {}),
    "nitration": (("oil_life",), {}),
    "water": (("coolant",), {}),
    "rolling_bearing": (("debris", "wear"), {"cam": 2.5}),
}
LOOK_ALIKES = (
    "run_in",
    "sealant",
    "leach",
    "flux",
    "salt",
    "brand",
    "laboratory",
    "forgotten",
    "duty",
    "ageing",
    "late",
    "top_ups",
    "detergent",
)
GROWTHS = ("step", "ramp", "burst", "healing")
SAMPLINGS = {"one": 1, "two": 2, "four": 4}
FRESH = {
    "Ca": 2500.0,
    "Zn": 1150.0,
    "P": 1000.0,
    "Mg": 40.0,
    "B": 60.0,
    "Mo": 40.0,
    "Si": 4.0,
    "Na": 4.0,
    "K": 1.0,
}
OTHER_BRAND = {**FRESH, "Ca": 1400.0, "Mg": 850.0, "B": 5.0, "Zn": 900.0, "P": 820.0}
DETERGENT = {**FRESH, "Na": 315.0, "Ca": 1600.0}
SHARED, OWN, HABIT_SPREAD = 0.16, 0.14, 0.28  # ln: all parts of a charge, one part, one engine


def _metals(figures: dict[str, float]) -> Floats:
    return np.array([figures.get(m, 0.0) for m in METALS])


def grown(growth: str, x: float, charge: int) -> float:
    """How far a fault has gone, 0 to 1, at share `x` of its way."""
    if not 0 <= x <= 1:
        return 0.0
    if growth == "step":
        return 0.9 + 0.1 * x
    if growth == "burst":
        return (0.5 + 0.5 * x) if charge % 3 else 0.0
    return x if growth == "ramp" else math.sin(math.pi * min(x + 0.12, 1.0))


def _scatter(symbol: str, x: float) -> tuple[float, float, float]:
    """What a figure of a test scatters by: its test, near nothing, and the engine's habit."""
    share, least = NOISE[symbol]
    return share * x, least, 0.0 if symbol in ("KV100", "BN") else 0.2 * x


@dataclass
class _Oil:
    """What the sump holds: with the fault, and as it would be without."""

    metals: Floats
    soot: float = 0.0
    oxidation: float = 0.0
    nitration: float = 0.0
    fuel: float = 0.4
    water: float = 0.01
    large: float = 0.0  # iron too large for the spectrometer, in units of the magnetic index

    def mixed(self, share: float, fresh: Floats) -> None:
        """`share` of it is replaced by fresh oil."""
        self.metals = (1 - share) * self.metals + share * fresh
        for name in ("soot", "oxidation", "nitration", "fuel", "water", "large"):
            setattr(self, name, (1 - share) * getattr(self, name))


@dataclass
class _Life:
    """One engine while it is lived through."""

    kind: str
    engine_class: str
    growth: str
    sampling: str
    code: str
    rng: np.random.Generator
    laboratory: Laboratory
    later: Laboratory  # the one it changes to
    wear: Floats  # ppm a drain of every part
    fresh: Floats
    coolant: str
    first: float = 0.0
    onset: float = math.inf
    failure: float = math.inf
    worst: float = 1.0
    rows: list[LogRow] = field(default_factory=list)
    sheets: list[tuple[Floats, Any]] = field(default_factory=list)
    shows: int = 0
    charge: int = 0
    on_oil: float = 0.0
    load: float = 0.0
    turn: Floats = field(default_factory=lambda: np.ones(len(PARTS)))

    def __post_init__(self) -> None:
        self.drain, self.litres, _, self.fuel_kind, self.kv, self.bn, self.grade = CLASSES[
            self.engine_class
        ]
        self.usage = float(self.rng.uniform(12, 60)) * self.drain / 250
        self.loss = float(self.rng.gamma(2, 0.03))  # of the sump, a drain
        self.kept = float(self.rng.uniform(0.06, 0.15))
        self.habit = np.exp(self.rng.normal(0, 0.2, 4))  # soot, oxidation, nitration, fuel
        self.known = _Oil(self.fresh.copy())
        self.true = _Oil(self.fresh.copy())
        self.brand = "S" if self.kind == "detergent" else "A"

    def day(self, meter: float) -> date:
        return date(2021, 3, 1) + timedelta(days=7 * (meter - self.first) / self.usage)

    def severity(self, meter: float) -> float:
        if self.kind not in FAULTS:
            return 0.0
        x = (meter - self.onset) / (self.failure - self.onset)
        return grown(self.growth, x, self.charge) * self.worst

    def _harmless(self, parts: Floats, meter: float, share: float) -> None:
        """What look-alikes add to what a healthy engine wears in `share` of a drain."""
        since, month = (meter - self.onset) / self.drain, self.day(meter).month
        if self.kind == "run_in":
            age = (meter - self.first) / self.drain
            parts[[P["liner"], P["ring"], P["piston"], P["lining"], P["dust"]]] *= 1 + np.array(
                [1.6, 0.8, 1.4, 1.5, 1.2]
            ) * math.exp(-age / 0.9)
        if self.kind == "sealant" and since >= 0:
            parts[P["sealant"]] += 16 * math.exp(-since / 1.2) * share
        if self.kind == "leach" and since >= 0:
            parts[P["cooler"]] += 42 * math.exp(-since / 2.0) * share
        if self.kind == "flux":
            parts[P["flux"]] += 45 * math.exp(-(meter - self.first) / (3 * self.drain)) * share
        if self.kind == "salt" and month in (11, 12, 1, 2, 3):
            parts[P["salt"]] += 9 * share
        if self.kind == "ageing":
            parts *= 1 + 0.035 * (meter - self.first) / self.drain

    def _feed(self, parts: Floats, share: float, s: float) -> Floats:
        """What a fault of severity `s` adds to the oil in `share` of a drain; metals, ppm."""
        more = np.zeros(len(METALS))
        _, factors = FAULTS[self.kind]
        for part, factor in factors.items():
            more += parts[P[part]] * (factor - 1) * s * SHARES[P[part]]
        if self.kind.startswith("dust"):
            more += 26 * s * share * SHARES[P["dust"]]
        if self.kind == "coolant":
            more += _metals(COOLANTS[self.coolant]) * 0.012 * s * share
            self.true.water += 0.06 * s * share
        if self.kind == "water":
            self.true.water += 0.3 * s * share
        if self.kind in ("cam", "rolling_bearing"):
            self.true.large += (25 if self.kind == "cam" else 70) * s * share
        return more

    def work(self, meter: float, hours: float) -> None:
        """Run on from `meter`: wear, ageing, oil lost and topped up."""
        steps = max(2, math.ceil(hours / (0.12 * self.drain)))
        share = hours / steps / self.drain
        for n in range(steps):
            at = meter + n * hours / steps
            s, load = self.severity(at), math.exp(self.load)
            parts = self.wear * self.turn * share * load
            self._harmless(parts, at, share)
            gained = parts @ SHARES
            self.known.metals = self.known.metals + gained
            self.true.metals = self.true.metals + gained
            self._age(self.known, share, load, 0.0)
            self._age(self.true, share, load, s)
            if s:
                self.true.metals = self.true.metals + self._feed(parts, share, s)
            lost = self.loss * (8 if self.kind == "top_ups" else 1) * share
            for oil in (self.known, self.true):
                oil.mixed(min(lost, 0.5), self.fresh)
        self.on_oil += hours
        lost = self.loss * (8 if self.kind == "top_ups" else 1) * hours / self.drain * self.litres
        if lost > 0.02 * self.litres and self.rng.random() < 0.85:
            self._log(meter + 0.6 * hours, "top_up", litres_in=round(lost, 2))

    def _age(self, oil: _Oil, share: float, load: float, s: float) -> None:
        soot, oxidation, nitration = AGEING[self.engine_class]
        worse = {name: s if self.kind == name else 0.0 for name in ("soot", "heat", "nitration")}
        oil.soot += soot * self.habit[0] * load * share * (1 + 3.5 * worse["soot"])
        oil.oxidation += oxidation * self.habit[1] * load * share * (1 + 3.5 * worse["heat"])
        oil.nitration += (
            nitration
            * self.habit[2]
            * load
            * share
            * (1 + 3.5 * worse["nitration"] + 0.7 * worse["heat"])
        )
        wanted = 0.5 * self.habit[3] + (4.5 * s if self.kind == "fuel" else 0.0)
        oil.fuel += (wanted - oil.fuel) * min(6 * share, 1.0)
        oil.water += (0.01 - oil.water) * min(2 * share, 1.0)
        oil.large += (8.0 - oil.large) * min(2 * share, 1.0)

    def figures(self, oil: _Oil) -> dict[str, float]:
        """What other tests would read if they did not err."""
        age = self.on_oil / self.drain
        thin = 10 ** (-0.017 * oil.fuel) * (1 - 0.05 * (1 - math.exp(-age / 0.2)))
        thick = 1 + 0.006 * oil.oxidation + 0.02 * oil.soot
        return {
            "KV100": self.kv * thin * thick,
            "BN": self.bn * math.exp(-0.05 * oil.oxidation - 0.15 * age),
            "AN": 1.8 + 0.12 * oil.oxidation,
            "Fuel": oil.fuel,
            "Soot": oil.soot,
            "Water": oil.water,
            "Oxidation": 2 + oil.oxidation,
            "Nitration": 2 + oil.nitration,
            "PQ": max(oil.large, 4.0),
        }

    def _log(self, meter: float, kind: str, **more: Any) -> None:
        key = f"{self.code}r{len(self.rows)}"
        self.rows.append(LogRow(key, self.day(meter), kind, round(meter, 1), **more))

    def change(self, meter: float, recorded: bool = True) -> None:
        """Drain and fill."""
        if self.charge:
            for oil in (self.known, self.true):
                oil.mixed(1 - self.kept, self.fresh)
        self.charge, self.on_oil = self.charge + 1, 0.0
        self.load = 0.6 * self.load + float(self.rng.normal(0, 0.8 * SHARED))
        self.turn = np.exp(self.rng.normal(0, OWN, len(PARTS)))
        if recorded:
            key = f"Oil {self.brand}|{self.grade}|1"
            self._log(meter, "oil_change", seq=1, litres_in=0.9 * self.litres, oil=key)

    def sample(self, meter: float, row: int) -> None:
        """Draw one, have it analysed, and count whether it shows the fault."""
        moved = self.kind == "laboratory" and meter > self.onset
        lab = self.later if moved else self.laboratory
        day = (self.day(meter) - date(2021, 3, 1)).days
        others, quiet = self.figures(self.true), self.figures(self.known)
        self.sheets.append(report(lab, self.true.metals, others, day, self.rng))
        drawn = Sample(f"{self.code}-{row}", row, laboratory=lab.name, drained_after=False)
        self._log(meter, "sample", sample=drawn)
        habit = 0.25 * np.abs(self.known.metals - self.fresh)
        out = (self.true.metals - self.known.metals) / np.hypot(lab.sd(self.known.metals), habit)
        out = np.where(self.true.metals > lab.detection, out, 0.0)
        # What its laboratory reports as "below" shows nothing.
        apart = [
            abs(x - quiet[k]) / math.hypot(*_scatter(k, quiet[k]))
            for k, x in others.items()
            if x >= BELOW.get(k, 0.0)
        ]
        if self.onset <= meter < self.failure:
            self.shows += max(float(out.max()), *apart) >= SHOWS


def _live(life: _Life, first_row: int, charges: int) -> int:
    """Charge after charge; the row after the last sample."""
    meter, row, forgot = life.first, first_row, False
    life.change(meter)
    for n in range(charges):
        late = 1.7 if life.kind == "late" and n > charges // 2 and n % 2 else 1.0
        length = life.drain * late * float(life.rng.uniform(0.93, 1.05))
        if life.kind == "duty":
            life.load = 0.45 if (n // 3) % 2 else -0.25
        if life.kind == "brand" and meter > life.onset and life.brand == "A":
            life.brand, life.fresh = "B", _metals(OTHER_BRAND)
        per = SAMPLINGS[life.sampling]
        for _ in range(per):
            life.work(meter, length / per)
            meter += length / per
            if meter >= life.failure and life.growth != "healing":
                return row
            life.sample(meter, row)
            row += 1
        skip = life.kind == "forgotten" and meter > life.onset and not forgot
        forgot = forgot or skip
        if life.kind in ("sealant", "leach") and abs(meter - life.onset) < life.drain / 2:
            part = "rocker cover resealed" if life.kind == "sealant" else "oil cooler"
            life._log(meter, "repair", part=part)
        life.change(meter, recorded=not skip)
    return row


def _born(
    kind: str,
    code: str,
    rng: np.random.Generator,
    labs: list[Laboratory],
    models: dict[Any, Floats],
) -> tuple[_Life, str]:
    """A life before it begins, and its model."""
    names = list(CLASSES)
    if kind == "nitration":
        names = ["gas", "petrol"]
    elif kind == "soot":
        names = ["heavy_diesel", "light_diesel"]
    elif kind in ("coolant", "water"):
        names = ["heavy_diesel", "light_diesel", "petrol", "gas"]
    elif kind == "fuel":
        names = [n for n in names if n != "gas"]
    engine_class = str(rng.choice(names))
    model = f"{engine_class}-{int(rng.integers(3))}"
    if model not in models:
        habit = np.array([HABIT.get(p, 0.0) for p in PARTS]) * CLASSES[engine_class][2]
        models[model] = habit * np.exp(rng.normal(0, 0.25, len(PARTS)))
    lab, later = (labs[int(i)] for i in rng.permutation(len(labs))[:2])
    life = _Life(
        kind=kind,
        engine_class=engine_class,
        growth=str(rng.choice(GROWTHS)) if kind in FAULTS else "",
        sampling=str(rng.choice(list(SAMPLINGS), p=(0.65, 0.25, 0.10))),
        code=code,
        rng=rng,
        laboratory=lab,
        later=later,
        wear=models[model] * np.exp(rng.normal(0, HABIT_SPREAD, len(PARTS))),
        fresh=_metals(DETERGENT if kind == "detergent" else FRESH),
        coolant=str(rng.choice(list(COOLANTS))),
    )
    return life, model


def _engine(
    kind: str,
    code: str,
    rng: np.random.Generator,
    labs: list[Laboratory],
    models: dict[Any, Floats],
    row: int,
) -> tuple[History, _Life, Truth]:
    life, model = _born(kind, code, rng, labs, models)
    new = kind in ("run_in", "flux")
    life.first = 0.0 if new else float(rng.integers(4, 30)) * life.drain
    charges = int(rng.integers(9, 20))
    life.onset = life.first + life.drain * float(rng.uniform(3, 7))
    if kind in FAULTS:
        life.failure = life.onset + life.drain * float(rng.uniform(3, 9))
        life.worst = float(np.exp(rng.normal(0, 0.35)))
        charges = (
            40
            if life.growth != "healing"
            else math.ceil((life.failure - life.first) / life.drain) + 3
        )
    _live(life, row, charges)
    return (
        History(_registered(life, model, new), tuple(life.rows)),
        life,
        Truth(
            kind=kind,
            engine_class=life.engine_class,
            growth=life.growth,
            sampling=life.sampling,
            channels=FAULTS[kind][0] if kind in FAULTS else (),
            onset=life.onset,
            failure=life.failure,
            shows=life.shows,
        ),
    )


def _registered(life: _Life, model: str, new: bool) -> Engine:
    """The engine as its register knows it."""
    diesel = "diesel" in life.engine_class
    return Engine(
        life.code,
        life.engine_class,
        oil_total_l=life.litres,
        sump_l=0.9 * life.litres,
        allowed_grades=(life.grade,),
        fuel=life.fuel_kind,
        nominal_drain=life.drain,
        interval_meter=life.drain,
        model=model,
        bearing_type="leaded tri-metal" if diesel else "",
        coolant=life.coolant if life.rng.random() < 0.5 else "",
        in_service_on=life.day(0.0) if new else None,
    )


def _fresh() -> dict[str, Floats]:
    """What the laboratories measured of the new oils."""
    out = {}
    for _, _, _, _, kv, bn, grade in CLASSES.values():
        for brand, metals in (("A", FRESH), ("B", OTHER_BRAND), ("S", DETERGENT)):
            figures = np.full(N, np.nan)
            figures[AT] = _metals(metals)
            for symbol, x in {
                "KV100": kv,
                "BN": bn,
                "AN": 1.8,
                "Oxidation": 2.0,
                "Nitration": 2.0,
            }.items():
                figures[idx(symbol)] = x
            out[f"Oil {brand}|{grade}|1"] = figures
    return out


def parts_fleet(seed: int) -> tuple[Fleet, list[Truth]]:
    """A fleet of `ENGINES`: a third plain, a third with a fault, a third that looks like one.

    >>> fleet, truths = parts_fleet(7)
    >>> len(truths), len(fleet.histories)
    (60, 60)
    """
    rng = np.random.default_rng([seed, 2])
    labs = laboratories(rng)
    models: dict[Any, Floats] = {}
    kinds = [list(FAULTS), list(LOOK_ALIKES), [PLAIN]]
    histories: list[History] = []
    sheets: list[tuple[Floats, Any]] = []
    truths: list[Truth] = []
    for n in range(ENGINES):
        some = kinds[n % 3]
        kind = some[(n // 3 + seed) % len(some)]
        own = np.random.default_rng([seed, 2, n])
        history, life, truth = _engine(kind, f"P{seed}-{n}", own, labs, models, len(sheets))
        histories.append(history)
        sheets += life.sheets
        truths.append(truth)
    value, censor = np.array([v for v, _ in sheets]), np.array([c for _, c in sheets])
    coolants = {name: Coolant(c["Na"], c["K"]) for name, c in COOLANTS.items()}
    return Fleet(tuple(histories), value, censor, _fresh(), coolants), truths
