"""What every rule asks of one sample: its figures against fresh oil, expectation and limits."""

from functools import cached_property

import numpy as np

from ..baseline import SYMBOLS, Assessment, element_place, may_leach
from ..certainty import SURE
from ..laboratory import ABOVE, ANALYTES, BELOW, EXACT, POSITIVE, idx, standard_deviation
from ..oil import DustRatio, Fit, Source, dust_ratio, fingerprints, sources_of
from ..record import brand
from ..verdict import Level
from .fuel_in_all import biodiesel, fuel_in_all
from .life_evidence import of_life
from .thresholds import ACID_RISE, ADDED, FLUX, MOSTLY_OWN, SHARES, WEAK

FINGERPRINT = ("Na", "K", "Si", "Al", "Mg", "B")  # elements a contaminant is known by


class SampleFacts:
    """One sample's figures as findings, explanations and evidence ask for them; made once.

    `up` and `usual` are three-valued by way of both.
    """

    def __init__(self, assessment: Assessment, row: int):
        self.assessment, self.row = assessment, row
        self.evaluation = assessment.evaluation
        self.context = self.evaluation.contexts[row]

    @cached_property
    def places(self) -> range:
        """The places of everything on record in this life of the engine, until the next sample:
        what comes later is that one's."""
        life = self.context.time_line.places_of(self.context.moment.life)
        return range(life.start, min(self.context.until, life.stop))

    @cached_property
    def life(self) -> dict[str, bool]:
        """How the engine has lived up to this sample, as evidence."""
        line, here = self.context.time_line, self.context.at + 1
        return dict(of_life(self.context.engine, line, line.moments[self.places.start : here]))

    def runs_cold(self) -> bool:
        """Whether short, seldom or often started running is on record."""
        return any(self.life.get(code, False) for code in ("short_runs", "many_starts", "stood"))

    def exact(self, symbol: str) -> float:
        """A reading as a number; NaN where it is none."""
        n = idx(symbol)
        known = self.evaluation.fleet.censor[self.row, n] in (EXACT, ABOVE)
        return float(self.evaluation.fleet.value[self.row, n]) if known else float("nan")

    def below(self, symbol: str) -> bool:
        """Whether it was measured and nothing was found: "<L"."""
        return bool(self.evaluation.fleet.censor[self.row, idx(symbol)] == BELOW)

    def rise(self, symbol: str) -> float:
        """Above fresh oil; NaN where either is not known."""
        n = idx(symbol)
        return float(self.evaluation.middle[self.row, n] - self.evaluation.fresh[self.row, n])

    def sd(self, symbol: str) -> float:
        return float(standard_deviation(self.evaluation.middle[self.row])[idx(symbol)])

    def excess(self, symbol: str) -> tuple[float, float]:
        """(ppm, its sd) above what was expected, where that is mostly the engine's own history;
        else above fresh oil.

        An engine's ordinary piston wear is no dust, so a ratio is taken of what is new."""
        n, k = idx(symbol), element_place(symbol)
        x = self.assessment.expectation
        if not x.own_share[self.row, k] >= MOSTLY_OWN or not np.isfinite(x.expected[self.row, k]):
            return self.rise(symbol), self.sd(symbol)
        half = (x.high[self.row, k] - x.low[self.row, k]) / (2 * SURE)
        return float(self.evaluation.middle[self.row, n] - x.expected[self.row, k]), float(
            np.hypot(self.sd(symbol), half)
        )

    def above(self, symbol: str) -> float:
        """Above what was expected, whoever's history that is; above fresh oil where nothing was."""
        usual = float(self.assessment.expectation.expected[self.row, element_place(symbol)])
        if not np.isfinite(usual):
            return self.rise(symbol)
        return float(self.evaluation.middle[self.row, idx(symbol)]) - usual

    def risen(self, symbol: str) -> tuple[float, float]:
        """(ppm, sd) above what was to be expected, the habit's own scatter and what fills of an
        additive differ by in it; NaN where nobody knows."""
        n = idx(symbol)
        if symbol in SYMBOLS and np.isfinite(
            self.assessment.expectation.expected[self.row, element_place(symbol)]
        ):
            k = element_place(symbol)
            half = (
                self.assessment.expectation.high[self.row, k]
                - self.assessment.expectation.low[self.row, k]
            ) / (2 * SURE)
            return self.above(symbol), float(np.hypot(self.sd(symbol), half))
        drift = ANALYTES[n].drift * float(self.evaluation.fresh[self.row, n])
        return self.rise(symbol), float(np.hypot(self.sd(symbol), drift))

    def up(self, symbol: str) -> bool:
        """Above expectation, or at a fixed limit."""
        return bool(self.assessment.up[self.row, element_place(symbol)])

    @cached_property
    def biodiesel(self) -> float:
        """% of biodiesel measured; 0 where none was, or nobody measured it."""
        return biodiesel(self.evaluation.fleet, self.row)

    @cached_property
    def fuel(self) -> float:
        """% of fuel and biodiesel together; NaN where neither was measured."""
        return fuel_in_all(self.evaluation.fleet, self.row)

    def fuel_level(self) -> int:
        """The fixed level of fuel and biodiesel together; 0 where none is reached or none is
        known."""
        limits = self.evaluation.upper[:, self.row, idx("Fuel")]
        return int(sum(self.fuel >= x for x in limits if np.isfinite(x)))

    def shows(self, symbol: str) -> bool:
        """Above expectation; an additive, which has none, beyond what its fills differ by."""
        if symbol in SYMBOLS:
            return self.up(symbol)
        rise, sd = self.risen(symbol)
        return bool(rise >= ADDED * sd)

    def usual(self, symbol: str) -> bool:
        """Measured and where it was expected."""
        return bool(self.assessment.usual[self.row, element_place(symbol)])

    def thickness(self) -> float:
        """KV100 over that of the fresh oil; NaN where either is not known."""
        return self.exact("KV100") / float(self.evaluation.fresh[self.row, idx("KV100")])

    def copper_alone(self) -> bool:
        """Copper up with tin, lead and iron as usual and no sign of coolant: mostly a cooler that
        leaches (the-trade 3.13)."""
        others = all(np.isfinite(self.rise(m)) and not self.up(m) for m in ("Sn", "Pb", "Fe"))
        return self.up("Cu") and others and not (self.up("Na") or self.up("K"))

    def acid(self) -> bool:
        """Acid number up by a Watch rise, or base number at its Watch limit."""
        return bool(
            self.rise("AN") >= ACID_RISE
            or self.evaluation.level[self.row, idx("BN")] >= Level.WATCH
        )

    def found(self, symbol: str) -> bool:
        """Reported as present, or above zero."""
        n = idx(symbol)
        return bool(self.evaluation.fleet.censor[self.row, n] == POSITIVE or self.exact(symbol) > 0)

    def brand_changed(self) -> bool:
        """Whether the fill before was another oil."""
        ended = self.context.ended
        if ended < 0:
            return False
        return brand(self.evaluation.contexts[ended].oil) != brand(self.context.oil)

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
    def fingerprints(self) -> dict[str, dict[str, float]]:
        """The contaminants this engine can have, by their ratios; the coolant on record by its
        stronger marker. Sea water only where magnesium tells it or the sea cools the engine."""
        engine = self.context.engine
        prints = {name: dict(shares) for name, shares in fingerprints().items()}
        if not may_leach(self.context):
            prints.pop("brazing_flux")
        if "at_sea" not in engine.features and not np.isfinite(self.risen("Mg")[0]):
            prints.pop("sea_water")
        if self.coolant_marker:
            prints["coolant"] = {m: x / self.coolant_marker for m, x in self.carried.items()}
        return prints

    @cached_property
    def rises(self) -> dict[str, tuple[float, float]]:
        """Element → (ppm, sd) that a contaminant may have brought: none is in exactly its ratio."""
        rises = {m: self.risen(m) for m in FINGERPRINT}
        return {m: (x, float(np.hypot(sd, SHARES * x))) for m, (x, sd) in rises.items()}

    @cached_property
    def sources(self) -> Fit:
        """What the markers of dirt and coolant are made of, by their ratios."""
        return sources_of(self.rises, self.fingerprints)

    def amount_of(self, source: str) -> Source | None:
        """How much of a contaminant came in, where its ratios prove it."""
        return next((x for x in self.sources.sources if x.name == source and x.low > 0), None)

    @property
    def unmeasured(self) -> list[str]:
        """Elements that would tell the contaminants apart, of which nobody knows anything."""
        asked = {m for p in self.fingerprints.values() for m, x in p.items() if x >= WEAK}
        return [m for m in FINGERPRINT if m in asked and not np.isfinite(self.risen(m)[0])]

    @property
    def carried(self) -> dict[str, float]:
        """Element → mg/kg of what the coolant on record carries; empty where it is not known."""
        known = self.evaluation.fleet.coolants.get(self.context.engine.coolant)
        return known.markers if known is not None else {}

    @property
    def markers(self) -> dict[str, float]:
        """Element → mg/kg of what of it would be missed if it did not show."""
        return {m: x for m, x in self.carried.items() if x >= WEAK * max(self.carried.values())}

    @property
    def coolant_marker(self) -> float:
        """mg/kg of the stronger marker of the coolant on record; 0 without one."""
        return max(self.markers.values(), default=0.0)

    def expects(self, marker: str) -> bool:
        """Whether coolant would bring this marker along: the one on record does, or none is."""
        return not self.markers or marker in self.markers

    @cached_property
    def of_coolant(self) -> dict[str, float]:
        """Marker up → ppm that the coolant on record brought, where two of them are up in its own
        ratio: one source that explains both is likelier than two at once. Else empty."""
        up = [m for m in self.carried if self.shows(m)]
        if len(up) < 2:
            return {}
        alone = {"coolant": self.fingerprints["coolant"]} if self.coolant_marker else {}
        fit = sources_of({m: x for m, x in self.rises.items() if m in self.carried}, alone)
        if not fit.sources or fit.left:
            return {}
        amount = fit.sources[0].amount / self.coolant_marker
        brought = {m: amount * x for m, x in self.carried.items()}
        mostly = all(brought[m] >= MOSTLY_OWN * self.rises[m][0] for m in up)
        return {m: brought[m] for m in up} if mostly else {}

    def silicon_of_coolant(self) -> bool:
        """Whether the silicon is that of the coolant that came in: it is no dirt then."""
        return "Si" in self.of_coolant

    @cached_property
    def dirt_ratio(self) -> DustRatio | None:
        """Silicon to aluminium; None where either is not known, or the silicon is no dirt."""
        if self.silicon_of_coolant():
            return None
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
