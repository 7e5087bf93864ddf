"""What the judgement's own functions refuse: no number, a negative one, a share or a factor that
cannot be."""

import math

import numpy as np
import pytest

from keen_tracer.core.causes import WeightRow, with_weights
from keen_tracer.core.errors import CoreError
from keen_tracer.core.limits import default_limits, evaluate
from keen_tracer.core.oil import coolant_litres, dust_ratio, fuel_from_viscosity
from keen_tracer.core.oil.viscosity import walther
from keen_tracer.core.planning import oil_life
from keen_tracer.core.record import DebrisCount, DebrisLook
from keen_tracer.core.record.debris import on_the_whole, per_100, poisson_interval
from keen_tracer.core.review.before_after import welch
from tests.core.baseline.test_expectation import history
from tests.helpers import Story, usual

NAN = math.nan
REFUSED = {
    "no silicon": lambda: dust_ratio(NAN, 1, 1, 1),
    "no aluminium": lambda: dust_ratio(20, 1, NAN, 1),
    "endless silicon": lambda: dust_ratio(math.inf, 1, 1, 1),
    "no spread": lambda: dust_ratio(20, 0, 5, 1),
    "no number for a spread": lambda: dust_ratio(20, 1, 5, NAN),
    "no oil": lambda: coolant_litres(50, 0, 4000),
    "no number for oil": lambda: coolant_litres(50, NAN, 4000),
    "coolant without a marker": lambda: coolant_litres(50, 20, 0),
    "weightless oil": lambda: coolant_litres(50, 20, 4000, oil_density=0),
    "no number for a density": lambda: coolant_litres(50, 20, 4000, coolant_density=NAN),
    "metres squared for millimetres squared": lambda: fuel_from_viscosity(12e-6, 14e-6),
    "oil of no viscosity": lambda: fuel_from_viscosity(12, NAN),
    "a negative count": lambda: poisson_interval(-1),
    "nothing of the filter seen": lambda: on_the_whole(3, 0),
    "more than the filter seen": lambda: on_the_whole(3, 1.5),
    "no number for the share seen": lambda: on_the_whole(3, NAN),
    "a look at no number of the filter": lambda: DebrisLook("filter", share=NAN),
    "a weight that silences all others": lambda: with_weights(
        [WeightRow("piston", "Al", 50, 0, "x")]
    ),
    "a weight that is no number": lambda: with_weights([WeightRow("piston", "Al", NAN, 0, "x")]),
}


@pytest.mark.parametrize("name", REFUSED)
def test_it_is_refused(name: str) -> None:
    with pytest.raises(CoreError):
        REFUSED[name]()


def test_a_debris_rate_needs_hours() -> None:
    seen = DebrisLook("filter", counts=(DebrisCount("fuzz", "under 0.1", 10),))
    for hours in (0.0, -5.0, NAN, math.inf):
        assert per_100(seen, hours) == {}
    rate, low, high = per_100(seen, 200.0)["fuzz"]
    assert rate == 5
    assert low < rate < high


def test_a_site_policy_that_is_no_number_keeps_to_the_makers_interval() -> None:
    s = Story().change(0, 1000).sample(10, 1050, usual(BN=9.7)).sample(20, 1100, usual(BN=9.4))
    e = evaluate(s.fleet(), default_limits())
    found = oil_life(e, e.contexts, longest=NAN)
    assert found is not None
    assert (found.drain, found.at) == ("at", 1250)


def test_two_means_of_nothing_are_not_compared() -> None:
    for x, y in ((np.array([1.0]), np.array([1.0, 2.0])), (np.ones(3), np.ones(3))):
        with pytest.raises(ValueError, match=r"spread|two figures"):
            welch(x, y)


def test_blending_runs_in_straight_lines_and_grows_with_viscosity() -> None:
    values = [walther(x) for x in (2, 5, 10, 20, 60)]
    assert values == sorted(values)


@pytest.mark.parametrize("text", ["<1", "ND", "<5"])
def test_a_non_detect_is_never_taken_as_zero(text: str) -> None:
    """Half the limit stands in for the expectation; the fixed school keeps the whole range."""
    s = history("A", 6, Pb=text)
    e = evaluate(s.fleet(), default_limits())
    row = e.contexts[-1].row
    lead = e.middle[row, 2]
    assert np.isnan(lead) or lead > 0


def test_a_sample_drawn_before_the_change_or_without_a_meter_has_no_expectation() -> None:
    from keen_tracer.core.baseline import assess, element_place

    s = history("A", 6)
    s.sample(240, None, usual(Fe=500))
    a = assess(s.fleet(), default_limits())
    rises = [element_place(s) for s in ("Fe", "Pb", "Cu", "BN")]
    assert np.isnan(a.expectation.z[0, 6, rises]).all()
    assert (a.lens_levels.level[6, rises] == -1).all()
    assert np.isfinite(a.expectation.z[0, 6, element_place("Fuel")]), "fuel is as it was read"
