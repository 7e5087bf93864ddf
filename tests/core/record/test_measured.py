"""Test results as figures: what a gauge reads against typed, model and general criteria. The
conversions are checked against exact definitions (1 psi = 6.894757 kPa, NIST SP 811, table B.8)."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import CoreError, OutOfRange, UnknownName
from keen_tracer.core.record import check_event, checked, field_checks
from keen_tracer.core.record.ladders import IDLE_FLOOR_BAR, NEAR_GENERAL
from keen_tracer.core.record.measured import measured
from keen_tracer.core.terms import DETAILS, TEST_LIMITS

SAYS = [
    ("oil_pressure", {"hot_idle": "1.4"}, "enough"),
    ("oil_pressure", {"hot_idle": "0.5"}, "low"),
    ("oil_pressure", {"hot_idle": "0.55"}, "much_lower"),
    ("oil_pressure", {"hot_idle": "0.65"}, "lower"),
    ("oil_pressure", {"hot_idle": "1.4", "minimum_hot": "2"}, "low"),
    ("oil_pressure", {"cold": "5"}, "cold_only"),
    ("oil_pressure", {"hot_rated": "3"}, "enough"),
    ("oil_pressure", {"hot_rated": "3", "minimum_rated": "3.5"}, "low"),
    ("oil_pressure", {"hot_rated": "2", "speed_rpm": "3000"}, "low"),
    ("oil_pressure", {"hot_idle": "2.0", "hot_rated": "0.9"}, "low"),
    ("oil_pressure", {"hot_rated": "1.0"}, "low"),
    ("cooling", {"drop": "0", "minutes": "10"}, "holds"),
    ("cooling", {"drop": "0", "minutes": "2"}, "short"),
    ("cooling", {"drop": "0"}, "short"),
    ("cooling", {"drop": "0.2", "minutes": "10", "allowed_drop": "0.3"}, "holds"),
    ("cooler", {"drop": "3", "minutes": "10", "pressure_unit": "psi"}, "falls"),
    ("compression", {"cylinders": "28 27 27"}, "even"),
    ("compression", {"cylinders": "400; 330; 395", "pressure_unit": "psi"}, "one_low"),
    ("compression", {"cylinders": "28 20 28"}, "very_low"),
    ("compression", {"cylinders": "28 23 28", "allowed_spread": "20"}, "even"),
    ("leak_down", {"leaks": "5 8 6"}, "even"),
    ("leak_down", {"leaks": "5 30 6"}, "leaks"),
    ("leak_down", {"leaks": "5 55 6"}, "gross"),
    ("leak_off", {"returned": "20 22 21"}, "even"),
    ("leak_off", {"returned": "20 50 21"}, "one_leaks"),
    ("crankcase", {"crankcase_pressure": "4"}, "usual"),
    ("crankcase", {"crankcase_pressure": "6", "pressure_unit": "inH2O"}, "high"),
    ("crankcase", {"crankcase_pressure": "40"}, "very_high"),
    ("level", {"above_full_mm": "-5", "between_marks_mm": "20"}, "between"),
    ("level", {"above_full_mm": "-25", "between_marks_mm": "20"}, "below_low"),
    ("level", {"above_full_mm": "4"}, "above_full"),
    ("layers", {"coolant_drained_l": "0", "oil_drained_l": "28"}, "oil_only"),
    ("layers", {"coolant_drained_l": "0.4"}, "coolant"),
]


@pytest.mark.parametrize(("check", "details", "says"), SAYS)
def test_what_figures_come_to(check: str, details: dict[str, str], says: str) -> None:
    check_event("field_check", check, details)
    assert checked(check, details)[0].code == says


def test_the_models_own_criterion_stands_between_the_typed_and_the_general() -> None:
    read = {"hot_idle": "1.0"}
    assert checked("oil_pressure", read)[0].code == "enough"
    result, figures = checked("oil_pressure", read, {"minimum_hot": 1.5})
    assert figures is not None
    assert (result.code, figures.limit_from) == ("low", "model")
    assert checked("oil_pressure", {**read, "minimum_hot": "0.8"}, {"minimum_hot": 1.5})[
        0
    ].code == ("enough")
    assert set(TEST_LIMITS) <= {d.name for d in DETAILS}


@given(st.floats(0.01, 15))
def test_the_gauges_unit_changes_nothing(bar: float) -> None:
    """1 psi = 6.894757 kPa exactly to seven digits, 1 bar = 100 kPa by definition."""
    said = {
        "bar": f"{bar:.6f}",
        "kPa": f"{100 * bar:.6f}",
        "psi": f"{100 * bar / 6.894757:.6f}",
    }
    found = {
        unit: checked("oil_pressure", {"hot_idle": text, "pressure_unit": unit})[0].code
        for unit, text in said.items()
    }
    edges = [IDLE_FLOOR_BAR * x for x in (1.0, *NEAR_GENERAL)]
    if all(abs(bar - edge) > 1e-4 for edge in edges):
        assert len(set(found.values())) == 1


def test_a_result_milder_than_its_figures_is_refused() -> None:
    with pytest.raises(CoreError, match="figures say"):
        checked("cooling", {"result": "holds", "drop": "0.5", "minutes": "10"})
    assert checked("cooling", {"result": "falls", "drop": "0", "minutes": "9"})[0].code == "falls"


@pytest.mark.parametrize(
    ("check", "details", "error"),
    [
        ("oil_pressure", {"hot_idle": "35"}, OutOfRange),  # psi typed as bar
        ("oil_pressure", {"hot_idle": "1,4"}, OutOfRange),
        ("compression", {"cylinders": "28 twenty"}, OutOfRange),
        ("cooling", {"drop": "0.1", "pressure_unit": "mmHg"}, UnknownName),
        ("leak_down", {"leaks": "5 130"}, OutOfRange),
        ("cooling", {}, UnknownName),
    ],
)
def test_what_cannot_be_meant_is_refused(check: str, details: dict[str, str], error: type) -> None:
    with pytest.raises(error):
        check_event("field_check", check, details)


def test_where_the_air_comes_out_is_evidence() -> None:
    leaks = {"leaks": "5 60 6"}
    found = measured("leak_down", {**leaks, "air_heard": "coolant"}, {})
    assert found is not None
    others = {"air_in_crankcase": False, "air_in_ports": False}
    assert dict(found.evidence) == {"air_in_coolant": True, **others}
    found = measured("leak_down", {**leaks, "air_heard": "crankcase"}, {})
    assert found is not None
    others = {"air_in_coolant": False, "air_in_ports": False}
    assert dict(found.evidence) == {"air_in_crankcase": True, **others}


def test_every_check_with_figures_has_results_for_them() -> None:
    for check, _, says in SAYS:
        assert says in {r.code for r in field_checks()[check]}
