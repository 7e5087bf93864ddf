"""Fixed limits: which hold for an engine, and how they are refused when they cannot be meant."""

import numpy as np
import pytest

from keen_tracer.core import tables
from keen_tracer.core.errors import UnknownName
from keen_tracer.core.laboratory import idx
from keen_tracer.core.limits import (
    ACT,
    CONC,
    PCT,
    PCT_LOW,
    RISE,
    RISE_LOW,
    WATCH,
    LimitRow,
    LimitSet,
    default_limits,
)
from keen_tracer.core.limits.limit_set import BadLimit
from keen_tracer.core.record import Engine
from keen_tracer.core.terms import CLASSES

# The whole table of default limits as the job's reference page gives it (common practice, from
# memory): Watch / Act by class, in the order heavy diesel, light diesel, petrol, small air-cooled,
# gas, shared-oil gearbox.
COLUMNS = ("heavy_diesel", "light_diesel", "petrol", "small_air_cooled", "gas", "gearbox_shared")
CONCENTRATIONS = {
    "Fe": ("75/125", "60/100", "40/80", "80/160", "25/50", "60/120"),
    "Cr": ("8/15", "6/12", "5/10", "8/15", "4/8", "5/10"),
    "Pb": ("20/40", "15/30", "15/30", "15/30", "10/20", "15/30"),
    "Cu": ("25/45", "20/40", "15/35", "20/40", "15/30", "30/60"),
    "Sn": ("8/15", "6/12", "6/12", "6/12", "5/10", "6/12"),
    "Al": ("12/25", "10/20", "8/15", "20/45", "10/20", "15/30"),
    "Ni": ("6/12", "5/10", "4/8", "5/10", "4/8", "5/10"),
    "Fuel": ("2/4", "2/4", "2/3", "2/4", "", "2/4"),
    "Soot": ("3/5", "2/4", "0.5/1", "0.5/1", "0.3/0.5", "0.5/1"),
    "Water": ("0.1/0.2",) * 6,
    "Insolubles": ("0.6/1", "0.6/1", "0.6/0.8", "0.6/1", "0.6/1", ""),
}
RISES = {
    "Si": ("10/20", "10/20", "12/25", "15/30", "10/25", "15/30"),
    "Na": ("30/60", "25/50", "25/50", "", "20/40", "25/50"),
    "K": ("15/30", "10/20", "10/20", "", "10/20", "10/20"),
    "Oxidation": ("12/20", "12/20", "10/18", "10/18", "15/25", "12/20"),
    "Nitration": ("12/20", "12/20", "15/25", "15/25", "15/25", "12/20"),
    "AN": ("1.5/2.5",) * 6,
}


def pair(text: str) -> list[float]:
    return [float(x) for x in text.split("/")] if text else [np.nan, np.nan]


@pytest.mark.parametrize("symbol", CONCENTRATIONS)
def test_concentrations_of_the_table(symbol: str) -> None:
    for engine_class, text in zip(COLUMNS, CONCENTRATIONS[symbol], strict=True):
        held = default_limits().for_engine(Engine("E", engine_class)).at[CONC, :, idx(symbol)]
        np.testing.assert_array_equal(held, pair(text), err_msg=f"{symbol} {engine_class}")


@pytest.mark.parametrize("symbol", RISES)
def test_rises_of_the_table(symbol: str) -> None:
    for engine_class, text in zip(COLUMNS, RISES[symbol], strict=True):
        held = default_limits().for_engine(Engine("E", engine_class)).at[RISE, :, idx(symbol)]
        np.testing.assert_array_equal(held, pair(text), err_msg=f"{symbol} {engine_class}")


@pytest.mark.parametrize(
    ("engine_class", "bn"), [("heavy_diesel", [50, 35]), ("gas", [50, 30]), ("petrol", [50, 35])]
)
def test_base_number_as_a_share_of_fresh_oil(engine_class: str, bn: list[float]) -> None:
    assert (
        default_limits().for_engine(Engine("E", engine_class)).at[PCT_LOW, :, idx("BN")].tolist()
        == bn
    )


@pytest.mark.parametrize(
    ("engine_class", "feature", "symbol", "want"),
    [
        ("light_diesel", "particulate_filter", "Fuel", [4, 6]),
        ("petrol", "direct_injection", "Fuel", [4, 6]),
        ("heavy_diesel", "silver_bearings", "Ag", [1, 2]),
    ],
)
def test_features_replace_the_limit_of_the_class(
    engine_class: str, feature: str, symbol: str, want: list[float]
) -> None:
    plain = default_limits().for_engine(Engine("E", engine_class)).at[CONC, :, idx(symbol)]
    with_it = default_limits().for_engine(Engine("E", engine_class, features=frozenset({feature})))
    assert with_it.at[CONC, :, idx(symbol)].tolist() == want
    assert plain.tolist() != want


def test_flash_drop_is_for_diesels() -> None:
    for engine_class in COLUMNS:
        held = default_limits().for_engine(Engine("E", engine_class)).at[RISE_LOW, :, idx("Flash")]
        want = [-20, -40] if engine_class.endswith("diesel") else [np.nan, np.nan]
        np.testing.assert_array_equal(held, want, err_msg=engine_class)


@pytest.mark.parametrize(
    ("engine_class", "high", "low"),
    [
        ("heavy_diesel", [115, 120], [85, 80]),
        ("gas", [115, 125], [85, 80]),
        ("gearbox_shared", [120, None], [80, 70]),
    ],
)
def test_viscosity_against_fresh_oil(engine_class, high, low) -> None:
    held = default_limits().for_engine(Engine("E", engine_class)).at
    for place, want in ((PCT, high), (PCT_LOW, low)):
        got = held[place, :, idx("KV100")].tolist()
        assert [a for a, b in zip(got, want, strict=True) if b is not None] == [
            b for b in want if b is not None
        ]


def test_biogas_allows_more_silicon() -> None:
    held = default_limits().for_engine(Engine("E", "gas", fuel="biogas"))
    assert held.at[RISE, :, idx("Si")].tolist() == [50, 100]


def test_every_row_has_an_origin_and_a_meaning() -> None:
    rows = default_limits().rows
    assert len(rows) > 100
    for r in rows:
        assert r.origin
        r.side()


def test_every_table_says_where_it_comes_from() -> None:
    for name in (
        "analytes",
        "astm_d5185_precision_recalled",
        "fixed_limits_default",
        "seen_and_heard",
        "nominal_drain",
        "sae_j300_kv100",
    ):
        assert "rigin" in tables.origin(name), name


def limit(
    scope: str,
    name: str,
    watch: float | None,
    act: float | None,
    basis: str = "conc",
    analyte: str = "Fe_ppm",
) -> LimitRow:
    return LimitRow(scope, name, analyte, basis, watch, act, "ppm", "test")


def test_the_narrower_scope_replaces_the_wider() -> None:
    found = LimitSet(
        "t",
        (
            limit("class", "petrol", 40, 80),
            limit("model", "M", 30, 60),
            limit("engine", "E-9", 20, 50),
        ),
    )
    fe = idx("Fe")
    assert found.for_engine(Engine("E-1", "petrol")).at[CONC, :, fe].tolist() == [40, 80]
    assert found.for_engine(Engine("E-1", "petrol", model="M")).at[CONC, :, fe].tolist() == [30, 60]
    assert found.for_engine(Engine("E-9", "petrol", model="M")).at[CONC, :, fe].tolist() == [20, 50]
    assert found.for_engine(Engine("E-9", "petrol", model="M")).rows[CONC, fe].scope == "engine"


def test_a_row_without_figures_switches_a_limit_off() -> None:
    found = LimitSet("t", (limit("class", "petrol", 40, 80), limit("engine", "E-9", None, None)))
    assert np.isnan(found.for_engine(Engine("E-9", "petrol")).at[CONC, WATCH, idx("Fe")])


@pytest.mark.parametrize(
    "wrong",
    [
        limit("class", "petrol", 80, 40),
        limit("class", "petrol", -1, 40),
        limit("class", "petrol", float("nan"), 40),
        limit("class", "petrol", 40, float("inf")),
        limit("class", "petrol", 50, 70, "pct_fresh", "BN_mgKOH_g"),
    ],
)
def test_limits_that_cannot_be_meant_are_refused(wrong: LimitRow) -> None:
    with pytest.raises(BadLimit):
        wrong.side()


@pytest.mark.parametrize(
    "wrong",
    [
        limit("fleet", "x", 1, 2),
        limit("class", "petrol", 1, 2, "slope"),
        limit("class", "petrol", 1, 2, "conc", "Xx_ppm"),
    ],
)
def test_unknown_words_in_a_limit_are_refused_with_the_known_ones(wrong: LimitRow) -> None:
    with pytest.raises(UnknownName) as caught:
        wrong.side()
    assert caught.value.known


def test_each_class_can_be_judged() -> None:
    for engine_class in CLASSES:
        held = default_limits().for_engine(Engine("E", engine_class)).at
        assert not np.isnan(held[:, ACT]).all() or engine_class == "other"
