"""Units, viscosity grades, and where a sample stands in its engine's history."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import OutOfRange, UnknownName
from keen_tracer.core.laboratory import ANALYTES, BY_CODE, convert
from keen_tracer.core.laboratory.analytes import analyte
from keen_tracer.core.laboratory.units import UnitMismatch
from keen_tracer.core.oil import allowed_range, grade_range, grades_of
from keen_tracer.core.oil.viscosity import viscosity_at
from keen_tracer.core.record import all_contexts, nominal_drain, padded, sample_contexts
from keen_tracer.core.terms import METER_UNITS
from tests.helpers import Story, fleet, ordinary


@given(
    st.floats(-100, 1000),
    st.sampled_from(
        [
            ("%", "ppm"),
            ("°F", "°C"),
            ("psi", "bar"),
            ("mi", "km"),
            ("US gal", "L"),
            ("A/0.1 mm", "A/cm"),
            ("K", "°C"),
        ]
    ),
)
def test_there_and_back_again(value, units) -> None:
    a, b = units
    assert convert(convert(value, a, b), b, a) == pytest.approx(value, abs=1e-9, rel=1e-9)


@pytest.mark.parametrize(
    ("a", "b"), [("ppm", "mm²/s"), ("parrots", "km"), ("mg KOH/g", "ppm"), ("L", "kPa"), ("", "L")]
)
def test_units_that_do_not_measure_the_same_are_refused(a: str, b: str) -> None:
    with pytest.raises(UnitMismatch):
        convert(1.0, a, b)


def test_absorbance_per_tenth_millimetre() -> None:
    """A/cm = 100 x A/0.1 mm (FORMATS)."""
    assert convert(0.12, "A/0.1 mm", "A/cm") == pytest.approx(12)


def test_analytes_keep_their_codes_and_refuse_strangers() -> None:
    assert [a.index for a in ANALYTES] == list(range(len(ANALYTES)))
    assert BY_CODE[1].column == "Fe_ppm"
    with pytest.raises(UnknownName) as caught:
        analyte("Unobtainium_ppm")
    assert "Fe_ppm" in caught.value.known


def test_nominal_drains() -> None:
    assert nominal_drain("small_air_cooled", "h") == 50
    assert nominal_drain("petrol", "km") == 8000
    assert nominal_drain("heavy_diesel", "km") == 40_000, "a truck's"
    assert all(nominal_drain("other", u) > 0 for u in METER_UNITS)
    with pytest.raises(UnknownName):
        nominal_drain("petrol", "fortnight")


def test_grades_overlap_at_the_thin_end_so_a_set_is_returned() -> None:
    assert grades_of(7.5) == ["16", "20"]
    assert grades_of(13.0) == ["40"]
    assert grades_of(2.0) == []


@pytest.mark.parametrize("kv", [0.5, 101, float("nan"), float("inf")])
def test_a_viscosity_out_of_this_world_is_refused(kv: float) -> None:
    with pytest.raises(OutOfRange):
        grades_of(kv)


def test_an_unknown_grade_is_refused_with_the_known_ones() -> None:
    with pytest.raises(UnknownName):
        grade_range("15W-45")


def test_the_allowed_range_spans_the_allowed_grades() -> None:
    assert allowed_range(("30", "20")) == (6.9, 12.5)
    assert allowed_range(("SAE 10W-40", "60")) == (12.5, 26.1)
    assert allowed_range(()) is None


@given(st.floats(3, 25), st.floats(3.5, 12))
def test_oil_is_thicker_when_colder(kv100, ratio) -> None:
    seen = [viscosity_at(t, kv100 * ratio, kv100) for t in (0, 20, 40, 70, 100, 120)]
    assert seen == sorted(seen, reverse=True)


@pytest.mark.parametrize(
    "wrong", [(100, 14, 95), (100, 95, 1.5), (-60, 95, 14), (float("nan"), 95, 14)]
)
def test_temperatures_and_viscosities_outside_the_law_are_refused(wrong) -> None:
    with pytest.raises(OutOfRange):
        viscosity_at(*wrong)


def test_top_ups_without_a_meter_are_taken_half_way() -> None:
    s = Story().change(0, 0).event(5, "top_up", None, litres_in=2.0).sample(20, 100)
    assert sample_contexts(s.fleet().histories[0])[0].top_ups == [(50, 2.0)]


def test_litres_reported_with_the_sample_are_not_counted_twice() -> None:
    s = (
        Story()
        .change(0, 0)
        .event(5, "top_up", 30, litres_in=2.0)
        .sample(20, 100, None, top_up_l=3.0)
    )
    assert sample_contexts(s.fleet().histories[0])[0].top_ups == [(30, 2.0), (50, 1.0)]


def test_top_ups_after_the_sample_do_not_count_for_it() -> None:
    s = Story().change(0, 0).sample(20, 100).event(25, "top_up", 130, litres_in=2.0).sample(40, 200)
    first, second = sample_contexts(s.fleet().histories[0])
    assert first.top_ups == []
    assert second.top_ups == [(130, 2.0)]


def test_the_sample_before_is_of_the_same_life() -> None:
    s = ordinary()
    s.event(110, "rebuild", 1700).sample(120, 1720)
    assert [p.before for p in sample_contexts(s.fleet().histories[0])] == [-1, 0, 1, -1]


def test_every_reading_needs_its_sample() -> None:
    f = fleet([ordinary()])
    f.value.resize((4, len(ANALYTES)), refcheck=False)
    with pytest.raises(ValueError, match="some history"):
        all_contexts(f)


def test_padding() -> None:
    at, litres = padded([[(1, 2)], [], [(3, 4), (5, 6)]])
    assert at.shape == (3, 2)
    assert np.isnan(at[1]).all()
    assert litres[2].tolist() == [4, 6]
