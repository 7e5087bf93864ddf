"""What a laboratory writes in a cell."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import Unreadable
from keen_tracer.core.laboratory import Censor, parse_reading, reading_text
from keen_tracer.core.laboratory.reading import Reading


@pytest.mark.parametrize(
    ("cell", "value", "censor", "unit"),
    [
        ("12", 12.0, Censor.EXACT, None),
        (" 12.50 ", 12.5, Censor.EXACT, None),
        ("1e2", 100.0, Censor.EXACT, None),
        ("<1", 1.0, Censor.BELOW, None),
        ("< 0.1 %", 0.1, Censor.BELOW, "%"),
        (">5", 5.0, Censor.ABOVE, None),
        ("0.2%", 0.2, Censor.EXACT, "%"),
        ("212 °F", 212.0, Censor.EXACT, "°F"),
        ("ND", None, Censor.ND, None),
        ("n.d.", None, Censor.ND, None),
        ("trace", None, Censor.TRACE, None),
        ("NEG", None, Censor.NEGATIVE, None),
        ("pos", None, Censor.POSITIVE, None),
    ],
)
def test_cells(cell: str, value: float | None, censor: Censor, unit: str | None) -> None:
    assert parse_reading(cell) == Reading(value, censor, unit)


@pytest.mark.parametrize("cell", ["", "   "])
def test_an_empty_cell_is_no_reading(cell: str) -> None:
    assert parse_reading(cell) is None


@pytest.mark.parametrize("cell", ["1,250", "1,25", "<1,5", "1.250,5", "12,000 ppm"])
def test_a_comma_is_asked_about_not_guessed(cell: str) -> None:
    with pytest.raises(Unreadable):
        parse_reading(cell)


def test_the_question_about_a_comma_names_both_meanings() -> None:
    with pytest.raises(Unreadable) as caught:
        parse_reading("1,250")
    assert "1250" in caught.value.hint
    assert "1.250" in caught.value.hint


@pytest.mark.parametrize(
    "cell", ["twelve", "--", "1..2", "nan", "inf", "-inf", "1e999", "<", "≈3", "=1+1"]
)
def test_what_cannot_be_read_is_refused(cell: str) -> None:
    with pytest.raises(Unreadable):
        parse_reading(cell)


def test_a_non_detect_is_never_zero() -> None:
    for cell in ("ND", "<1", "trace", "neg"):
        reading = parse_reading(cell)
        assert reading is not None
        assert reading.value != 0


@given(
    st.floats(0, 1e7, allow_nan=False), st.sampled_from([Censor.EXACT, Censor.BELOW, Censor.ABOVE])
)
def test_written_and_read_again_a_reading_is_the_same(value: float, censor: Censor) -> None:
    assert parse_reading(reading_text(value, censor)) == Reading(value, censor)


@pytest.mark.parametrize("censor", [Censor.ND, Censor.TRACE, Censor.POSITIVE, Censor.NEGATIVE])
def test_words_survive_the_round_trip(censor: Censor) -> None:
    assert parse_reading(reading_text(None, censor)) == Reading(None, censor)


@given(st.text(max_size=20))
def test_any_text_gives_a_finite_reading_or_a_clear_refusal(text: str) -> None:
    try:
        reading = parse_reading(text)
    except Unreadable as error:
        assert error.hint
        return
    assert reading is None or reading.value is None or math.isfinite(reading.value)
