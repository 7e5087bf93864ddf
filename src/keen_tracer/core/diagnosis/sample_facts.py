"""What every rule asks of one sample: its figures against fresh oil, expectation and limits."""

from functools import cached_property

import numpy as np

from ..baseline import SYMBOLS, Assessment, element_place, may_leach
from ..laboratory import ABOVE, ANALYTES, BELOW, EXACT, POSITIVE, idx, standard_deviation
from ..oil import DustRatio, Source, dust_ratio, fingerprints, sources_of
from ..record import Moment, brand
from ..verdict import Level
from .life_evidence import of_life
from .thresholds import ACID_RISE, FLUX, MOSTLY_OWN

FINGERPRINT = ("Na", "K", "Si", "Al", "Mg", "B")  # elements a contaminant is known by


class SampleFacts:
    """One sample's figures as findings, explanations and evidence ask for them; made once.

    `up` and `usual` are three-valued by way of both.
    """

    def __init__(self, a: Assessment, i: int):
        self.a, self.i, self.e = a, i, a.e
        self.context = a.e.contexts[i]

    @cached_property
    def moments(self) -> list[Moment]:
        """Everything on record in this life of the engine, in order."""
        life = self.context.moment.life
        return [m for m in self.context.time_line.moments if m.life == life]

    @cached_property
    def at(self) -> int:
        """Place of this sample among the moments."""
        here = self.context.moment
        return next(n for n, m in enumerate(self.moments) if m is here)

    @cached_property
    def until(self) -> int:
        """Place of the next sample among the moments, their number where there is none: what comes
        later is that one's."""
        rest = enumerate(self.moments)
        after = (n for n, m in rest if n > self.at and m.row.sample is not None)
        return next(after, len(self.moments))

    @cached_property
    def life(self) -> dict[str, bool]:
        """How the engine has lived up to this sample, as evidence."""
        line = self.context.time_line
        return dict(of_life(self.context.engine, line, self.moments[: self.at + 1]))

    def runs_cold(self) -> bool:
        """Whether short, seldom or often started running is on record."""
        return any(self.life.get(code, False) for code in ("short_runs", "many_starts", "stood"))

    def exact(self, symbol: str) -> float:
        """A reading as a number; NaN where it is none."""
        n = idx(symbol)
        known = self.e.fleet.censor[self.i, n] in (EXACT, ABOVE)
        return float(self.e.fleet.value[self.i, n]) if known else float("nan")

    def below(self, symbol: str) -> bool:
        """Whether it was measured and nothing was found: "<L"."""
        return bool(self.e.fleet.censor[self.i, idx(symbol)] == BELOW)

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

    def above(self, symbol: str) -> float:
        """Above what was expected, whoever's history that is; above fresh oil where nothing was."""
        usual = float(self.a.x.expected[self.i, element_place(symbol)])
        if not np.isfinite(usual):
            return self.rise(symbol)
        return float(self.e.middle[self.i, idx(symbol)]) - usual

    def risen(self, symbol: str) -> tuple[float, float]:
        """(ppm, sd) above what was to be expected, the habit's own scatter and what fills of an
        additive differ by in it; NaN where nobody knows."""
        n = idx(symbol)
        if symbol in SYMBOLS and np.isfinite(self.a.x.expected[self.i, element_place(symbol)]):
            k = element_place(symbol)
            half = (self.a.x.high[self.i, k] - self.a.x.low[self.i, k]) / 3.92
            return self.above(symbol), float(np.hypot(self.sd(symbol), half))
        drift = ANALYTES[n].drift * float(self.e.fresh[self.i, n])
        return self.rise(symbol), float(np.hypot(self.sd(symbol), drift))

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
        leaches (the-trade 3.13)."""
        others = all(np.isfinite(self.rise(m)) and not self.up(m) for m in ("Sn", "Pb", "Fe"))
        return self.up("Cu") and others and not (self.up("Na") or self.up("K"))

    def acid(self) -> bool:
        """Acid number up by a Watch rise, or base number at its Watch limit."""
        return bool(self.rise("AN") >= ACID_RISE or self.e.level[self.i, idx("BN")] >= Level.WATCH)

    def found(self, symbol: str) -> bool:
        """Reported as present, or above zero."""
        n = idx(symbol)
        return bool(self.e.fleet.censor[self.i, n] == POSITIVE or self.exact(symbol) > 0)

    def brand_changed(self) -> bool:
        """Whether the fill before was another oil."""
        ended = self.context.ended
        if ended < 0:
            return False
        return brand(self.e.contexts[ended].oil) != brand(self.context.oil)

    def brazing_flux(self) -> bool:
        """Potassium with aluminium as in the flux of a new cooler, without sodium, while one may
        still give it off (the-trade 3.9)."""
        k, al = self.above("K"), self.above("Al")
        return bool(
            (self.up("K") or self.up("Al"))
            and not self.up("Na")
            and may_leach(self.context)
            and min(k, al) > 0
            and FLUX[0] <= k / al <= FLUX[1]
        )

    @cached_property
    def sources(self) -> list[Source]:
        """What the markers of dirt and coolant are made of, by their ratios; the coolant on record
        in ppm of its stronger marker."""
        prints = dict(fingerprints())
        if not may_leach(self.context):
            prints.pop("brazing_flux")
        known = self.e.fleet.coolants.get(self.context.engine.coolant)
        if known is not None and self.coolant_marker:
            prints["coolant"] = {m: x / self.coolant_marker for m, x in known.markers.items()}
        return sources_of({m: self.risen(m) for m in FINGERPRINT}, prints)

    @property
    def coolant(self) -> tuple[float, float]:
        """mg/kg of sodium and potassium in the coolant on record; 0 where it is not known."""
        known = self.e.fleet.coolants.get(self.context.engine.coolant)
        return ((known.na or 0.0), (known.k or 0.0)) if known else (0.0, 0.0)

    @property
    def coolant_marker(self) -> float:
        """mg/kg of the stronger marker of the coolant on record; 0 without one."""
        return max(self.coolant)

    def coolant_proven(self) -> bool:
        """Whether both markers are up, and only the coolant on record brings them in this ratio."""
        if not (self.up("Na") and self.up("K") and min(self.coolant) > 0):
            return False
        found = next((x for x in self.sources if x.name == "coolant"), None)
        if found is None or not found.low > 0:
            return False
        na, k = (found.amount * x / self.coolant_marker for x in self.coolant)
        return na >= MOSTLY_OWN * self.above("Na") and k >= MOSTLY_OWN * self.above("K")

    @cached_property
    def dirt_ratio(self) -> DustRatio | None:
        """Silicon to aluminium; None where either is not known."""
        (silicon, silicon_sd), (aluminium, aluminium_sd) = self.excess("Si"), self.excess("Al")
        if not (np.isfinite(silicon) and np.isfinite(aluminium)):
            return None
        return dust_ratio(silicon, silicon_sd, max(aluminium, 0.0), aluminium_sd)

    @cached_property
    def is_sealant(self) -> bool:
        """Silicon stands without aluminium, iron and chromium: nothing that dust would bring along
        or wear."""
        ratio = self.dirt_ratio
        return (
            ratio is not None and ratio.word == "sealant" and not (self.up("Fe") or self.up("Cr"))
        )
