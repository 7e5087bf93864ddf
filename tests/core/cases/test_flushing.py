"""A flush: hand-worked points, a model of compartments by scipy, and what must always hold."""

from math import prod

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp

from keen_tracer.core.cases import Fill, fills_needed, flush, share_left
from keen_tracer.core.errors import OutOfRange

FILL = Fill(new_l=18, trapped_l=2)
litres = st.floats(0.5, 200)
contents = st.floats(0.1, 50_000)


def ran(*measured: float | None) -> list[Fill]:
    return [Fill(new_l=18, trapped_l=2, measured=m, filter_changed=True) for m in measured]


# Worked by hand (the-trade 3.17): 200 to under 10 at a tenth left takes two fills.


@pytest.mark.parametrize(
    ("start", "target", "share", "fills"),
    [
        (200, 10, 0.10, 2),  # 200 → 20 → 2
        (100, 10, 0.10, 1),  # exactly 10
        (4000, 50, 0.25, 4),  # 1000, 250, 62.5, 15.6
        (9, 10, 0.10, 0),
        (200, 10, 0.0, 1),
        (200, 10, 1.0, None),
        (200, 0, 0.10, None),
    ],
)
def test_fills_by_hand(start: float, target: float, share: float, fills: int | None) -> None:
    assert fills_needed(start, target, share) == fills


def test_what_was_measured_takes_the_place_of_what_was_computed() -> None:
    two = flush(200, 10, FILL, ran(61))
    assert two.stages[0].computed == pytest.approx(20)
    assert two.left == 61
    assert two.word == "dead_legs"
    # 61/200 stayed: the fills to come are reckoned with that, 61 → 18.6 → 5.7.
    assert two.share == pytest.approx(0.305)
    assert two.more == 2
    assert two.litres_more == 36


def test_it_is_done_only_when_it_was_measured() -> None:
    assert flush(200, 10, FILL, ran(None, None)).word == "measure"
    assert flush(200, 10, FILL, ran(21, 3)).word == "done"
    assert flush(200, 10, FILL).word == "more"


def test_what_rises_still_comes_in() -> None:
    assert flush(200, 10, FILL, ran(22, 60)).word == "leaks"
    # One figure higher than the start is of another oil: it takes two measured fills to say so.
    assert flush(200, 10, FILL, ran(240)).word == "unclear"
    assert flush(200, 10, FILL, ran(None, 60)).word == "unclear"
    assert flush(200, 10, FILL, ran(240, 260)).word == "leaks"
    # Under the target a rise is the laboratory's noise.
    assert flush(200, 10, FILL, ran(22, 3, 4)).word == "done"


def test_fresh_oil_carries_the_marker_itself() -> None:
    """Sodium of 12 in the new oil: a target of 20 is 8 above it."""
    found = flush(212, 20, FILL, ran(None), fresh=12)
    assert found.stages[0].computed == pytest.approx(12 + 200 * 0.1)
    with pytest.raises(OutOfRange, match="target"):
        flush(212, 12, FILL, fresh=12)


def test_counts_oil_and_filters() -> None:
    found = flush(200, 10, FILL, ran(30, 5))
    assert (found.litres, found.filters) == (36, 2)


def mixed(start: float, fills: list[Fill], dead: float, hours: float) -> list[float]:
    """What a sample from the sump shows after each fill: the trapped oil lies in a dead leg of
    `dead` L that exchanges 1 L/h with the rest. Solved by scipy.integrate.solve_ivp."""
    sump, leg, out = start, start, []
    for f in fills:
        sump = 0.0  # drained; the new oil is clean

        def change(_: float, c: np.ndarray, new: float = f.new_l) -> list[float]:
            return [(c[1] - c[0]) / new, (c[0] - c[1]) / dead]

        solved = solve_ivp(change, (0, hours), [sump, leg], rtol=1e-9)
        sump, leg = solved.y[:, -1]
        out.append(float(sump))
    return out


def test_against_a_model_of_compartments() -> None:
    fills = ran(None, None, None)
    computed = [s.computed for s in flush(200, 10, FILL, fills).stages]
    assert mixed(200, fills, 2, 200) == pytest.approx(computed, rel=1e-3)
    # Not mixed warm, the sample shows too little and the leg keeps it: why it is run at idle.
    short = mixed(200, fills, 2, 0.5)
    assert short[0] < 0.5 * computed[0]
    assert short[2] > computed[2]


@given(contents, st.lists(st.tuples(litres, litres), min_size=1, max_size=6))
def test_computed_fills_are_the_product_of_what_stays(
    start: float, run: list[tuple[float, float]]
) -> None:
    fills = [Fill(new_l=new, trapped_l=old) for new, old in run]
    found = flush(start, 0.01, fills[0], fills)
    expected = start * prod(old / (old + new) for new, old in run)
    assert found.left == pytest.approx(expected)


@given(contents, contents, litres, litres)
def test_the_fills_needed_are_enough_and_one_less_is_not(
    start: float, target: float, new: float, old: float
) -> None:
    share = share_left(new, old)
    n = fills_needed(start, target, share)
    if n is None:
        assert start * share**50 > target
        return
    assert start * share**n <= target * (1 + 1e-6)
    if n:
        assert start * share ** (n - 1) > target * (1 - 1e-6)


@given(st.lists(st.one_of(st.none(), contents), max_size=5), contents)
def test_a_larger_start_never_needs_fewer_fills(measured: list[float | None], start: float) -> None:
    one = flush(start, 0.5, FILL, ran(*measured))
    more = flush(start * 2, 0.5, FILL, ran(*measured))
    if all(m is None for m in measured) and None not in (one.more, more.more):
        assert (more.more or 0) >= (one.more or 0)
    assert one.left >= 0


def test_a_fill_of_nothing_is_refused() -> None:
    with pytest.raises(OutOfRange, match="new oil"):
        share_left(0, 2)
    with pytest.raises(OutOfRange, match="trapped"):
        share_left(10, -1)


@pytest.mark.parametrize("bad", [float("nan"), float("inf"), -5.0])
def test_no_figure_that_cannot_be_calls_an_engine_clean(bad: float) -> None:
    with pytest.raises(OutOfRange, match="measured"):
        flush(200, 10, FILL, ran(bad))
    with pytest.raises(OutOfRange, match="start"):
        flush(bad, 10, FILL)
    with pytest.raises(OutOfRange):
        flush(200, bad, FILL)
    assert fills_needed(float("nan"), 10, 0.1) is None
