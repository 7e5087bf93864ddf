"""What contamination and viscosity mean together: each explanation with its numbers, for and
against (DOMAIN 3.8, 3.9).

Explanations are findings. Most have level 0: they say what raised readings come from, or that two
tests disagree.
"""

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from ..baseline import SYMBOLS, Assessment, element_place, element_ppm
from ..laboratory import ABOVE, BY_SYMBOL, EXACT, POSITIVE, idx, standard_deviation
from ..oil import (
    SHEAR,
    DustRatio,
    allowed_range,
    coolant_litres,
    dust_ratio,
    fuel_from_viscosity,
    fuel_kind,
    with_dust,
)
from ..verdict import Finding, Level
from .findings import n_digits

ORIGIN = "common practice"
FUEL_WATCH, FUEL_GOOD = 2.0, 1.5  # % mass; common practice: under 2 % is good
ACID_RISE = 1.5  # mg KOH/g above fresh; DOMAIN 3.7
FLUX = (1.4, 2.0)  # K : Al of brazing flux from a new cooler; DOMAIN 3.9
MOSTLY_OWN = 0.5  # share of own history from which a ratio is taken above expectation; our choice
BEYOND_NOISE = 2.0  # sd of the test by which a habit must have moved to be worth a word; our choice
AGREE = 2.5  # litres by sodium and by potassium may differ by this factor; our choice
THICKER, THINNER = 1.08, 0.92  # of fresh oil: worth a word; our choice
OXIDISED, SOOTY = 10.0, 2.0  # rise A/cm, %: enough to thicken; our choice
MEASURED_MORE = 1.0  # % by which measured fuel must exceed what the viscosity allows; our choice


class Seen:
    """One sample's figures as the explanations ask for them. `up` and `usual` are three-valued by
    way of both."""

    def __init__(self, a: Assessment, i: int):
        self.a, self.i, self.e = a, i, a.e
        self.context = a.e.contexts[i]

    def exact(self, symbol: str) -> float:
        """A reading as a number; NaN where it is none."""
        n = idx(symbol)
        known = self.e.fleet.censor[self.i, n] in (EXACT, ABOVE)
        return float(self.e.fleet.value[self.i, n]) if known else float("nan")

    def rise(self, symbol: str) -> float:
        """Above fresh oil; NaN where either is not known."""
        n = idx(symbol)
        return float(self.e.middle[self.i, n] - self.e.fresh[self.i, n])

    def sd(self, symbol: str) -> float:
        return float(standard_deviation(self.e.middle[self.i])[idx(symbol)])

    def excess(self, symbol: str) -> tuple[float, float]:
        """(ppm, its sd) above what was expected, where that is mostly the engine's own history;
        else above fresh oil.

        An engine's ordinary piston wear is no dust, so a ratio is taken of what is new."""
        n, k = idx(symbol), element_place(symbol)
        x = self.a.x
        if not x.own_share[self.i, k] >= MOSTLY_OWN or not np.isfinite(x.expected[self.i, k]):
            return self.rise(symbol), self.sd(symbol)
        half = (x.high[self.i, k] - x.low[self.i, k]) / 3.92
        return float(self.e.middle[self.i, n] - x.expected[self.i, k]), float(
            np.hypot(self.sd(symbol), half)
        )

    def up(self, symbol: str) -> bool:
        """Above expectation, or at a fixed limit."""
        return bool(self.a.up[self.i, element_place(symbol)])

    def usual(self, symbol: str) -> bool:
        """Measured and where it was expected."""
        return bool(self.a.usual[self.i, element_place(symbol)])

    def thickness(self) -> float:
        """KV100 over that of the fresh oil; NaN where either is not known."""
        return self.exact("KV100") / float(self.e.fresh[self.i, idx("KV100")])

    def copper_alone(self) -> bool:
        """Copper up with tin, lead and iron as usual and no sign of coolant: mostly a cooler that
        leaches (DOMAIN 3.13)."""
        others = all(np.isfinite(self.rise(m)) and not self.up(m) for m in ("Sn", "Pb", "Fe"))
        return self.up("Cu") and others and not (self.up("Na") or self.up("K"))

    def acid(self) -> bool:
        """Acid number up by a Watch rise, or base number at its Watch limit."""
        return bool(self.rise("AN") >= ACID_RISE or self.e.level[self.i, idx("BN")] >= Level.WATCH)

    def found(self, symbol: str) -> bool:
        """Reported as present, or above zero."""
        n = idx(symbol)
        return bool(self.e.fleet.censor[self.i, n] == POSITIVE or self.exact(symbol) > 0)

    def brazing_flux(self) -> bool:
        """Potassium with aluminium as in the flux of a new cooler, without sodium, during run-in
        (docs/the-trade.md 3.9)."""
        aluminium = self.rise("Al")
        return bool(
            self.up("K")
            and not self.up("Na")
            and self.context.run_in
            and aluminium > 0
            and FLUX[0] <= self.rise("K") / aluminium <= FLUX[1]
        )


def dirt_ratio(a: Assessment, i: int) -> DustRatio | None:
    """The dust ratio of a sample; None without silicon and aluminium."""
    s = Seen(a, i)
    (silicon, silicon_sd), (aluminium, aluminium_sd) = s.excess("Si"), s.excess("Al")
    if not (np.isfinite(silicon) and np.isfinite(aluminium)):
        return None
    return dust_ratio(silicon, silicon_sd, max(aluminium, 0.0), aluminium_sd)


def _said(
    code: str, channel: str, level: int = 0, analyte: str | None = None, **numbers: object
) -> Finding:
    return Finding(code, channel, level, analyte, "X", ORIGIN, numbers)


def _dirt(s: Seen) -> Iterator[Finding]:
    if not s.up("Si"):
        return
    ratio = dirt_ratio(s.a, s.i)
    if ratio is None or ratio.word == "too little":
        return
    word = (
        "siloxane"
        if ratio.word == "sealant" and s.context.engine.engine_class == "gas"
        else ratio.word
    )
    wears = [m for m in ("Fe", "Cr", "Al") if s.up(m)]
    yield _said(
        "dust_ratio",
        "dirt",
        analyte="Si_ppm",
        word=word,
        ratio=n_digits(ratio.ratio or np.nan, 2),
        low=n_digits(ratio.low, 2),
        high=n_digits(ratio.high, 2),
        wears=wears,
    )


def _coolant(s: Seen) -> Iterator[Finding]:
    na, k = s.up("Na"), s.up("K")
    if not (na or k):
        return
    silicon = max(s.rise("Si"), 0.0) if np.isfinite(s.rise("Si")) else 0.0
    rise_k = max(s.rise("K") - with_dust(silicon, "K")[1], 0.0)
    rise_na = max(s.rise("Na") - with_dust(silicon, "Na")[1], 0.0)
    if s.brazing_flux():
        ratio = s.rise("K") / s.rise("Al")
        yield _said("brazing_flux", "coolant", analyte="K_ppm", ratio=n_digits(ratio, 2))
        return
    if na and not k and s.usual("K") and not s.found("Water") and not s.found("Glycol"):
        yield _said("sodium_alone", "coolant", analyte="Na_ppm", rise=n_digits(s.rise("Na"), 3))
        return
    held = s.a.e.fleet.coolants.get(s.context.engine.coolant)
    oil = s.context.engine.oil_total_l or 0.0
    by = {}
    if held is not None and oil > 0:
        by = {
            m: coolant_litres(rise, oil, share)
            for m, rise, share in (("K", rise_k, held.k), ("Na", rise_na, held.na))
            if share and np.isfinite(rise)
        }
    agree = len(by) == 2 and max(by.values()) <= AGREE * max(min(by.values()), 1e-9)
    metal = [m for m in ("Pb", "Sn", "Cu") if s.up(m)]
    yield _said(
        "coolant_in",
        "coolant",
        litres={m: n_digits(x, 2) for m, x in by.items()},
        agree=agree,
        water=s.found("Water"),
        glycol=s.found("Glycol"),
        both=na and k,
        metal=metal,
    )


def _viscosity(s: Seen) -> Iterator[Finding]:
    kv, fresh = s.exact("KV100"), float(s.e.fresh[s.i, idx("KV100")])
    fuel, kind = s.exact("Fuel"), fuel_kind(s.context.engine.fuel)
    if not (1 <= kv <= 100 and 1 <= fresh <= 100):
        return
    most = 100 * fuel_from_viscosity(kv, fresh, kind)
    sheared = 100 * fuel_from_viscosity(max(kv, 1.0), max(fresh * (1 - SHEAR), 1.0), kind)
    if fuel >= FUEL_WATCH:
        yield from _fuel(s, fuel, most)
    elif s.thickness() <= THINNER and fuel < FUEL_GOOD and most - fuel >= FUEL_WATCH:
        yield _said(
            "thin_little_fuel",
            "thickness",
            analyte="KV100_mm2_s",
            fuel=n_digits(fuel, 2),
            most=n_digits(most, 2),
            drop=n_digits(100 * (1 - kv / fresh), 2),
        )
    elif np.isnan(fuel) and sheared >= FUEL_WATCH:
        yield _said(
            "fuel_by_viscosity",
            "fuel",
            Level.WATCH,
            "KV100_mm2_s",
            most=n_digits(most, 2),
            least=n_digits(sheared, 2),
        )
    if s.thickness() >= THICKER:
        why = [
            w
            for w, x, mark in (
                ("oxidation", s.rise("Oxidation"), OXIDISED),
                ("soot", s.exact("Soot"), SOOTY),
            )
            if x >= mark
        ]
        yield _said(
            "thick",
            "thickness",
            analyte="KV100_mm2_s",
            rise=n_digits(100 * (kv / fresh - 1), 2),
            why=why,
        )


def _fuel(s: Seen, fuel: float, most: float) -> Iterator[Finding]:
    """Fuel at Watch or more: viscosity agrees, or something thickens the oil at the same time."""
    before = s.context.before
    last = float(s.e.fleet.value[before, idx("Fuel")]) if before >= 0 else float("nan")
    agrees = most >= FUEL_WATCH
    held = allowed_range(s.context.engine.allowed_grades)
    too_thin = s.e.level[s.i, idx("KV100")] == Level.ACT or (
        held is not None and s.exact("KV100") < held[0]
    )
    if fuel - most >= MEASURED_MORE:
        yield _said(
            "fuel_hides_thickening",
            "fuel",
            analyte="fuel_pct",
            fuel=n_digits(fuel, 2),
            most=n_digits(most, 2),
        )
    elif agrees and last >= FUEL_WATCH:
        yield _said(
            "fuel_again",
            "fuel",
            Level.ACT,
            "fuel_pct",
            fuel=n_digits(fuel, 2),
            last=n_digits(last, 2),
            most=n_digits(most, 2),
        )
    elif agrees and too_thin:
        yield _said(
            "fuel_thins",
            "fuel",
            Level.ACT,
            "fuel_pct",
            fuel=n_digits(fuel, 2),
            most=n_digits(most, 2),
        )


def _metals(s: Seen) -> Iterator[Finding]:
    if s.copper_alone():
        yield _said(
            "copper_alone",
            "wear",
            analyte="Cu_ppm",
            young=s.context.run_in,
            brand=_brand_changed(s),
        )
    if s.up("Pb") and s.usual("Sn") and s.acid():
        yield _said(
            "corrosive_lead",
            "wear",
            analyte="Pb_ppm",
            an=n_digits(s.rise("AN"), 2),
            bn=n_digits(s.exact("BN"), 2),
        )


def _brand_changed(s: Seen) -> bool:
    """Whether the fill before was another oil."""
    ended = s.context.ended
    return (
        ended >= 0
        and (s.e.contexts[ended].oil or "").split("|")[0] != (s.context.oil or "").split("|")[0]
    )


def _drift(s: Seen) -> Iterator[Finding]:
    """A habit that has risen since the first samples of this life, however slowly (JUDGEMENT: keep
    the first reference)."""
    x, i = s.a.x, s.i
    for n in np.flatnonzero(s.a.drifted[i]):
        first, now = (element_ppm(x, i, int(n), float(y[i, n])) for y in (x.first_mean, x.mu))
        kind = BY_SYMBOL[SYMBOLS[n]]
        if not now - first >= BEYOND_NOISE * s.sd(kind.symbol):
            continue
        yield _said(
            "drift",
            kind.channel,
            analyte=kind.column,
            name=kind.name,
            first=n_digits(first, 2),
            now=n_digits(now, 2),
        )


def _water(s: Seen) -> Iterator[Finding]:
    if (
        s.e.level[s.i, idx("Water")] >= Level.WATCH
        and s.usual("Na")
        and s.usual("K")
        and not s.found("Glycol")
    ):
        yield _said(
            "condensation", "coolant", analyte="water_pct", water=n_digits(s.exact("Water"), 2)
        )
    if s.exact("FAME") > 0 and s.e.level[s.i, idx("Oxidation")] >= Level.WATCH:
        yield _said(
            "biodiesel_reads_as_oxidation",
            "oil_life",
            analyte="oxidation_A_cm",
            fame=n_digits(s.exact("FAME"), 2),
        )


def worth_explaining(a: Assessment) -> NDArray[np.bool_]:
    """(samples,) where an explanation may have something to say; elsewhere all figures are as
    usual."""
    kv, fresh = a.e.fleet.value[:, idx("KV100")], a.e.fresh[:, idx("KV100")]
    with np.errstate(invalid="ignore"):
        moved = (kv >= THICKER * fresh) | (kv <= THINNER * fresh)
    out: NDArray[np.bool_] = (
        moved | a.up.any(axis=1) | a.drifted.any(axis=1) | (a.e.level > 0).any(axis=1)
    )
    return out


def explanations(a: Assessment, i: int) -> Iterator[Finding]:
    """Every explanation of sample `i`."""
    s = Seen(a, i)
    for part in (_dirt, _coolant, _viscosity, _metals, _water, _drift):
        yield from part(s)


def is_sealant(a: Assessment, i: int) -> bool:
    """Whether silicon stands without aluminium, iron and chromium: nothing that dust would bring
    along or wear."""
    s = Seen(a, i)
    ratio = dirt_ratio(a, i)
    return ratio is not None and ratio.word == "sealant" and not s.up("Fe") and not s.up("Cr")
