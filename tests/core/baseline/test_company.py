"""Where the absence of company says something: only what would have been seen, or what the record
explains otherwise."""

from dataclasses import replace

import numpy as np
import pytest

from keen_tracer.core.baseline import assess, may_leach
from keen_tracer.core.baseline.company import Company, company_of
from keen_tracer.core.limits import default_limits
from keen_tracer.core.record import Coolant, Fleet
from tests.core.baseline.test_expectation import HABIT, history
from tests.helpers import DAY, Story, usual

LIMITS = default_limits()


def of(s: Story, coolants: dict[str, Coolant] | None = None) -> Company:
    f = s.fleet()
    f = Fleet(f.histories, f.value, f.censor, f.fresh, coolants or {})
    a = assess(f, LIMITS)
    return company_of(
        a.evaluation,
        a.expectation.expected,
        a.expectation.high,
        a.expectation.floor,
        a.expectation.y,
    )


def quiet(n: int = 10, **last: object) -> Story:
    s = Story(model="M")
    for k in range(n):
        values = usual(**HABIT | (last if k == n - 1 else {}))
        s.change(40 * k, 2000 + 250 * k).sample(40 * k + 39, 2248 + 250 * k, values)
    return s


@pytest.mark.parametrize(("copper", "says"), [(8, False), (60, True)])
def test_tin_speaks_by_its_absence_only_where_it_would_have_been_seen(
    copper: float, says: bool
) -> None:
    """A ninth of 54 ppm is 6 ppm of tin, of 2 ppm nothing that a test could tell."""
    assert bool(of(quiet(Cu=copper)).copper[-1]) is says


def test_a_detection_limit_above_it_silences_its_absence() -> None:
    s = Story(model="M")
    for k in range(10):
        values = usual(**HABIT | {"Sn": "<12", "Cu": 60 if k == 9 else 6})
        s.change(40 * k, 2000 + 250 * k).sample(40 * k + 39, 2248 + 250 * k, values)
    assert not of(s).copper[-1]


def test_what_fades_is_asked_for_company_whatever_could_be_seen() -> None:
    s = quiet(10, Cu=14, Si=20)
    s.change(400, 4500).sample(439, 4748, usual(**HABIT | {"Cu": 9, "Si": 12}))
    found = of(s)
    assert found.copper[-1]
    assert found.silicon[-1]


def test_a_new_engine_a_new_cooler_and_another_brand_may_leach() -> None:
    plain = quiet().fleet()
    assert not may_leach(assess(plain, LIMITS).evaluation.contexts[-1])
    cooler = quiet().event(395, "repair", 4490, part="Oil cooler")
    cooler.sample(400, 4495, usual(**HABIT))
    assert may_leach(assess(cooler.fleet(), LIMITS).evaluation.contexts[-1])
    new = Story(model="M", in_service_on=DAY).change(0, 0).sample(39, 248, usual(**HABIT))
    assert may_leach(assess(new.fleet(), LIMITS).evaluation.contexts[-1])
    brand = quiet().change(400, 4500, oil="Other|15W-40|1").sample(439, 4748, usual(**HABIT))
    assert of(brand).copper[-1]


def test_sealing_work_and_a_new_engine_explain_silicon() -> None:
    sealed = quiet().event(395, "repair", 4490, part="rocker cover gasket")
    sealed.sample(400, 4495, usual(**HABIT))
    assert of(sealed).silicon[-1]
    new = Story(model="M", in_service_on=DAY).change(0, 0).sample(39, 248, usual(**HABIT))
    assert of(new).silicon[-1]


def test_a_coolant_that_carries_sodium_alone_needs_no_potassium() -> None:
    s = history("A", 4)
    s.engine = replace(s.engine, coolant="C")
    assert np.all(of(s, {"C": Coolant(2600.0, 1300.0)}).sodium)
    assert not np.any(of(s, {"C": Coolant(5200.0, 90.0)}).sodium)
