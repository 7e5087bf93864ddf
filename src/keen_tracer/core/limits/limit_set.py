"""Fixed limits (school F of the-trade 3.7): rows with their origin, and which of them hold for an
engine."""

from collections.abc import Iterable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from .. import tables
from ..errors import CoreError, UnknownName
from ..laboratory import BY_COLUMN, N
from ..record import Engine
from ..terms import CLASSES, FEATURES

BASES = ("conc", "rise", "rate", "pct_fresh")
SCOPES = ("class", "model", "engine")
# Places in EngineLimits.at: a basis and the side on which it is worse.
CONC, RISE, RISE_LOW, PCT, PCT_LOW, RATE = range(6)
BASIS_NAMES = ("conc", "rise", "rise", "pct_fresh", "pct_fresh", "rate")
WATCH, ACT = 0, 1
_SIDES = {"conc": (CONC,), "rate": (RATE,), "rise": (RISE, RISE_LOW), "pct_fresh": (PCT, PCT_LOW)}


class BadLimit(CoreError):
    """A limit row that cannot be meant."""

    code = "bad_limit"


@dataclass(frozen=True, slots=True)
class LimitRow:
    """One limit. `watch` or `act` may be missing; both missing switches a wider limit off, on both
    of its sides.

    conc: concentration as read [unit of the analyte]; rise: above the fresh oil, a negative one
    below it; rate: [unit per 100 meter units]; pct_fresh: percentage of the fresh oil, below 100
    for a lower limit.
    """

    scope: str
    scope_name: str
    analyte: str
    basis: str
    watch: float | None
    act: float | None
    unit: str
    origin: str

    @property
    def off(self) -> bool:
        """Whether it only switches a wider limit off."""
        return self.watch is None and self.act is None

    @property
    def name(self) -> tuple[str, str, str, str]:
        """What it is a limit of, whichever side."""
        return self.scope, self.scope_name, self.analyte, self.basis

    def side(self) -> int:
        """The place of this row in EngineLimits.at. Raises BadLimit or UnknownName when it means
        nothing."""
        if self.basis not in BASES:
            raise UnknownName("basis of a limit", self.basis, list(BASES))
        if self.analyte not in BY_COLUMN:
            raise UnknownName("analyte", self.analyte, list(BY_COLUMN))
        if self.scope not in SCOPES:
            raise UnknownName("scope of a limit", self.scope, list(SCOPES))
        given = [x for x in (self.watch, self.act) if x is not None]
        middle = 100.0 if self.basis == "pct_fresh" else 0.0
        low = bool(given) and self.basis in ("rise", "pct_fresh") and given[-1] < middle
        if not all(np.isfinite(x) for x in given) or (not low and any(x < 0 for x in given)):
            raise BadLimit(f"{self.analyte} {self.basis}: a limit must be a number from 0")
        if len(given) == 2 and (given[1] > given[0] if low else given[1] < given[0]):
            raise BadLimit(
                f"{self.analyte} {self.basis}: Act ({given[1]:g}) comes before Watch ({given[0]:g})"
            )
        places = {
            "conc": CONC,
            "rate": RATE,
            "rise": RISE_LOW if low else RISE,
            "pct_fresh": PCT_LOW if low else PCT,
        }
        return places[self.basis]


@dataclass(frozen=True)
class EngineLimits:
    """The limits in force for one engine: `at[place, WATCH|ACT, analyte]`, NaN where there is
    none."""

    at: NDArray[np.float64]
    rows: dict[tuple[int, int], LimitRow]


@dataclass(frozen=True)
class LimitSet:
    """A published version of limits."""

    name: str
    rows: tuple[LimitRow, ...]
    _kept: dict[object, EngineLimits] = field(default_factory=dict, compare=False, repr=False)
    _scoped: dict[tuple[str, str], list[LimitRow]] = field(
        default_factory=dict, compare=False, repr=False
    )

    def __post_init__(self) -> None:
        for row in self.rows:
            self._scoped.setdefault((row.scope, row.scope_name), []).append(row)

    def for_engine(self, engine: Engine) -> EngineLimits:
        """Widest scope first, each narrower one replacing what it names: class, features, model,
        engine."""
        marks = sorted(engine.features | ({engine.fuel} if engine.fuel else set()))
        scopes = [
            ("class", "all"),
            *(("class", f"all+{m}") for m in marks),
            ("class", engine.engine_class),
            *(("class", f"{engine.engine_class}+{m}") for m in marks),
            ("model", engine.model),
            ("engine", engine.code),
        ]
        held = tuple(s for s in scopes if s in self._scoped)
        if held not in self._kept:
            self._kept[held] = self._merge(r for s in held for r in self._scoped[s])
        return self._kept[held]

    @staticmethod
    def _merge(rows: Iterable[LimitRow]) -> EngineLimits:
        at = np.full((6, 2, N), np.nan)
        used: dict[tuple[int, int], LimitRow] = {}
        for row in rows:
            place, a = row.side(), BY_COLUMN[row.analyte].index
            if row.off:
                for both in _SIDES[row.basis]:
                    at[both, :, a] = np.nan
                    used.pop((both, a), None)
                continue
            at[place, :, a] = [np.nan if x is None else x for x in (row.watch, row.act)]
            used[place, a] = row
        return EngineLimits(at, used)


def overlay(before: Iterable[LimitRow], given: Iterable[LimitRow]) -> tuple[LimitRow, ...]:
    """The rows in force with `given` in their place: one without figures takes the place of both
    sides.

    Raises BadLimit or UnknownName for a row that means nothing.
    """
    rows = {(*r.name, r.side()): r for r in before}
    for r in given:
        for key in [k for k in rows if k[:4] == r.name and (r.off or rows[k].off)]:
            del rows[key]
        rows[(*r.name, r.side())] = r
    return tuple(rows.values())


def scope_names() -> list[str]:
    """Every scope name that the class scope can carry, for a clear error on a misspelt one."""
    marks = [*FEATURES, "biogas"]
    return [*("all", *CLASSES), *(f"{c}+{m}" for c in ("all", *CLASSES) for m in marks)]


def default_limits() -> LimitSet:
    """The limits that ship with the program. Source: `tables/fixed_limits_default.csv`, origin per
    row.

    >>> limits = default_limits().for_engine(Engine("X", "petrol"))
    >>> limits.at[CONC, :, BY_COLUMN["Fe_ppm"].index].tolist()
    [40.0, 80.0]
    """
    return LimitSet(
        "default 2",
        tuple(
            LimitRow(
                r["scope"],
                r["scope_name"],
                r["analyte"],
                r["basis"],
                float(r["watch"]) if r["watch"] else None,
                float(r["act"]) if r["act"] else None,
                r["unit"],
                r["origin"],
            )
            for r in tables.read("fixed_limits_default")
        ),
    )
