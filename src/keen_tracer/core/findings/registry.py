"""Every kind of finding there is: its code, what it carries, and which levels it may have.

A finding of a code that is not here, with another payload, or at another level cannot be made. The
words of each stand in `words/`; tests hold both lists against each other.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field, fields
from typing import Any

from ..errors import UnknownName
from . import payloads as p

REMARK, WATCH, ACT, STOP = 0, 1, 2, 3
RAISED = frozenset({WATCH, ACT})
UP_TO_WATCH = frozenset({REMARK, WATCH})
ANY = frozenset({WATCH, ACT, STOP})
ONLY_REMARK = frozenset({REMARK})


@dataclass(frozen=True, slots=True)
class Kind:
    """One kind of finding. `levels`: those it may have; 0 is a remark that changes nothing."""

    code: str
    payload: type[p.Payload]
    levels: frozenset[int]


def _kinds(payload: type[p.Payload], levels: frozenset[int], *codes: str) -> list[Kind]:
    return [Kind(code, payload, levels) for code in codes]


REGISTRY: Mapping[str, Kind] = {
    kind.code: kind
    for kind in (
        # a reading against a fixed limit
        *_kinds(p.AtLimit, RAISED, "high", "low", "high_at_limit", "low_at_limit"),
        # raised by versions before 0.5, whose verdicts are still read
        *_kinds(p.AtLimit, ONLY_REMARK | RAISED, "unproven"),
        *_kinds(p.AtLimit, RAISED, "run_in_first", "run_in_falling", "run_in_not_falling"),
        *_kinds(p.AtLimit, frozenset({WATCH}), "copper_falling"),
        *_kinds(p.Present, RAISED, "seen_without_figure"),
        # several readings together
        *_kinds(p.Grade, RAISED, "out_of_grade"),
        *_kinds(p.Reserve, RAISED, "bn_below_an"),
        *_kinds(p.AdditivesFell, frozenset({WATCH}), "additives_fell"),
        *_kinds(p.LargeIron, RAISED, "large_iron"),
        *_kinds(p.Glycol, ANY, "glycol", "glycol_with_bearing_metal"),
        # hard stops, seen, heard, checked, measured
        *_kinds(p.WaterStop, frozenset({STOP}), "water_stop"),
        *_kinds(p.FuelStop, frozenset({STOP}), "fuel_stop"),
        *_kinds(p.RingScuff, frozenset({STOP}), "ring_scuff"),
        *_kinds(
            p.SeenOn,
            ANY,
            "coolant_visible",
            "emulsion",
            "chunks_in_oil",
            "level_rising",
            "low_pressure",
            "pressure_lamp",
            "knock",
            "bearing_flakes",
            "chunks_in_filter",
            "filter_collapsed",
            "pickup_blocked",
            "failure",
            "specks",
            "grit",
            "fuel_smell",
            "coolant_smell",
            "burnt_smell",
            "grey_oil",
            "noise",
            "smoke",
            "blow_by",
            "power_down",
            "coolant_use",
            "level_falling",
            "overheated",
            "wet_cylinder",
            "lamp_in_corners",
        ),
        *_kinds(p.SteppedOn, ANY, "case_step"),
        *_kinds(p.ToppedUp, ANY, "coolant_added", "oil_added"),
        *_kinds(p.Agreement, frozenset({ACT, STOP}), "agreement"),
        *_kinds(p.InPieces, frozenset({STOP}), "in_pieces"),
        *_kinds(p.CheckedOn, ANY, "field_check"),
        *_kinds(p.LookedOn, ANY, "look"),
        *_kinds(p.OpenedOn, ANY, "finding"),
        # what a person says beyond the figures
        *_kinds(p.Signed, ANY, "signed"),
        *_kinds(p.Unsettled, frozenset({WATCH}), "unsettled"),
        # expectation
        *_kinds(p.AboveExpected, RAISED, "above_expected"),
        *_kinds(p.Pattern, RAISED, "pattern"),
        *_kinds(p.BySchool, RAISED, "above_own", "above_peers"),
        # explanations
        *_kinds(p.DustRatio, ONLY_REMARK, "dust_ratio"),
        *_kinds(p.CoolantIn, ONLY_REMARK, "coolant_in"),
        *_kinds(p.Fingerprint, ONLY_REMARK, "fingerprint"),
        *_kinds(p.Ratio, ONLY_REMARK, "brazing_flux"),
        *_kinds(p.Rise, ONLY_REMARK, "sodium_alone"),
        *_kinds(p.Fuel, ONLY_REMARK, "thin_little_fuel", "fuel_hides_thickening"),
        *_kinds(p.Fuel, RAISED, "fuel_by_viscosity"),
        *_kinds(p.Biodiesel, RAISED, "biodiesel_is_fuel"),
        *_kinds(p.Fuel, frozenset({ACT}), "fuel_again", "fuel_thins"),
        *_kinds(p.Thick, ONLY_REMARK, "thick"),
        *_kinds(p.CopperAlone, ONLY_REMARK, "copper_alone"),
        *_kinds(p.Reserve, ONLY_REMARK, "corrosive_lead"),
        *_kinds(p.Drift, ONLY_REMARK, "drift"),
        *_kinds(p.Amount, ONLY_REMARK, "condensation", "water_in", "biodiesel_reads_as_oxidation"),
        # remarks
        *_kinds(p.Payload, ONLY_REMARK, "hours_unknown", "leaded"),
        *_kinds(p.NotReported, ONLY_REMARK, "not_reported"),
        *_kinds(p.HoursOnOil, ONLY_REMARK, "hours_negative", "too_early"),
        *_kinds(p.HoursDiffer, ONLY_REMARK, "hours_differ"),
        *_kinds(p.Reference, ONLY_REMARK, "no_reference"),
        *_kinds(p.Cleanliness, ONLY_REMARK, "cleanliness"),
        *_kinds(p.RunInCharge, ONLY_REMARK, "run_in"),
    )
}


def _plain(value: object) -> object:
    """A payload's value as JSON holds it."""
    if isinstance(value, p.Payload):
        return plain(value)
    if isinstance(value, Mapping):
        return {k: _plain(v) for k, v in value.items()}
    return value


def plain(payload: p.Payload) -> dict[str, Any]:
    """A payload as a dictionary; what is None is left out."""
    said = ((f.name, getattr(payload, f.name)) for f in fields(payload))
    return {name: _plain(value) for name, value in said if value is not None}


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """One reason: what was found, in which channel, how bad, from which readings and which school.

    code : of the registry · level : 0 is a remark that changes nothing · analyte : its column, None
        where it is about more than one · school : F fixed, P peers, O own, PO both, X explanation
    origin : of the rule · numbers : what its sentence needs
    Raises UnknownName for a code that is not registered, ValueError for another payload or level.
    """

    code: str
    channel: str
    level: int
    analyte: str | None = None
    school: str = "F"
    origin: str = ""
    numbers: p.Payload = field(default_factory=p.Payload)

    def __post_init__(self) -> None:
        kind = REGISTRY.get(self.code)
        if kind is None:
            raise UnknownName("finding", self.code, list(REGISTRY))
        if type(self.numbers) is not kind.payload or self.level not in kind.levels:
            raise ValueError(
                f"a finding {self.code!r} carries {kind.payload.__name__} at one of the levels "
                f"{sorted(kind.levels)}, not {type(self.numbers).__name__} at {self.level}"
            )

    def as_dict(self) -> dict[str, Any]:
        """As it is stored."""
        return {
            "code": self.code,
            "channel": self.channel,
            "level": int(self.level),
            "analyte": self.analyte,
            "school": self.school,
            "origin": self.origin,
            "numbers": plain(self.numbers),
        }


RENAMED = {"is": "grades"}  # names of figures in findings stored by older versions


def _payload(kind: type[p.Payload], numbers: Mapping[str, Any]) -> p.Payload:
    known = {f.name for f in fields(kind)}
    given = {RENAMED.get(k, k): v for k, v in numbers.items() if v is not None}
    if kind is p.Pattern:
        given["elements"] = {
            symbol: _payload(p.Expected, one) for symbol, one in given["elements"].items()
        }
    return kind(**{k: v for k, v in given.items() if k in known})


def stored(said: Mapping[str, Any]) -> Finding:
    """A finding from `Finding.as_dict()`, also as older versions stored it.

    >>> one = Finding(code="run_in", channel="wear", level=0, numbers=p.RunInCharge(charge=2))
    >>> stored(one.as_dict()) == one
    True
    """
    kind = REGISTRY.get(said["code"])
    if kind is None:
        raise UnknownName("finding", said["code"], list(REGISTRY))
    return Finding(
        code=said["code"],
        channel=said["channel"],
        level=said["level"],
        analyte=said["analyte"],
        school=said["school"],
        origin=said["origin"],
        numbers=_payload(kind.payload, said["numbers"]),
    )
