"""From standardised readings to levels: patterns, confirmation, company, policies."""

import numpy as np
import pytest

from keen_tracer.core.baseline import SYMBOLS, assess, bearing_kind, element_place, lenses
from keen_tracer.core.baseline.assessment import ENOUGH_OWN
from keen_tracer.core.baseline.company import Company
from keen_tracer.core.baseline.expectation import Expectation
from keen_tracer.core.baseline.patterns import (
    AGAIN,
    AT_ONCE,
    CAUSE,
    LONE,
    STILL,
    WATCH,
    lens,
    levels,
)
from keen_tracer.core.baseline.peers import E
from keen_tracer.core.baseline.together import WINDOW
from keen_tracer.core.errors import UnknownName
from keen_tracer.core.limits import (
    DEFAULT,
    POLICIES,
    POLICY_WORDS,
    Policies,
    combine,
    default_limits,
)
from keen_tracer.core.record import Engine
from keen_tracer.core.terms import CHANNELS
from keen_tracer.core.words import sentence
from tests.core.baseline.test_expectation import history

LEADED = np.array(["leaded"] * 9)


def seen(*samples: dict[str, float], rise: dict[str, float] | None = None) -> Expectation:
    """An expectation whose readings of one engine lie so many sd up; what is not named lies where
    expected."""
    z = np.zeros((WINDOW, len(samples), E))
    for n, s in enumerate(samples):
        for symbol, value in s.items():
            z[0, n, element_place(symbol)] = value
    z[1:] = np.nan
    rises = np.full((len(samples), E), np.nan)
    for symbol, value in (rise or {}).items():
        rises[-1, element_place(symbol)] = value
    blank = np.zeros((len(samples), E))
    names = [f for f in Expectation.__dataclass_fields__ if f not in ("z", "rise_z", "y_exact")]
    return Expectation(
        z=z, rise_z=rises, y_exact=np.ones_like(blank, dtype=bool), **dict.fromkeys(names, blank)
    )


def level(
    x: Expectation,
    name: str,
    kinds: np.ndarray = LEADED,
    again: int = -1,
    visible: bool = True,
    reach: int = 2,
) -> int:
    """Level of the newest sample; number `again` is a resample; whether company would have been
    `visible`, and how high an element may go by itself."""
    n = x.z.shape[1]
    company = Company(*(np.full(n, visible) for _ in range(3)))
    found = levels(
        x,
        np.arange(n) - 1,
        kinds[:n],
        np.array([k == again for k in range(n)]),
        company,
        np.full((n, E), reach, dtype=np.int8),
    )
    return int(found.level[-1, lens(name)])


def test_one_element_at_three_sd_is_watch_and_needs_the_next_sample_to_be_act() -> None:
    once = {"Fe": WATCH.single + 0.1}
    assert level(seen(once), "Fe") == 1
    assert level(seen(once, {"Fe": AGAIN.single + 0.1}), "Fe") == 2
    assert level(seen(once, {"Fe": AGAIN.single - 0.1}), "Fe") == 0
    assert level(seen({"Fe": AGAIN.single + 0.2}, {"Fe": AGAIN.single + 0.2}), "Fe") == 0, (
        "one of the two must be at Watch"
    )


def test_a_resample_and_the_sample_it_repeats_stand_together_before_the_next() -> None:
    first, weak, none = ({"Fe": v} for v in (WATCH.single + 0.2, AGAIN.single - 0.4, 0.0))
    next_one = {"Fe": AGAIN.single + 0.2}
    assert level(seen(first, weak, next_one), "Fe") == 0, (
        "a routine sample in between speaks for itself"
    )
    assert level(seen(first, weak, next_one), "Fe", again=1) == 0, "neither of the two is at Watch"
    assert level(seen(first, weak, {"Fe": WATCH.single + 0.1}), "Fe", again=1) == 2
    assert level(seen(first, none, {"Fe": WATCH.single + 0.1}), "Fe", again=1) == 1, (
        "the resample took it back"
    )


def test_metals_that_rise_together_speak_before_any_of_them_does_alone() -> None:
    together = {"Pb": 2.2, "Sn": 2.0, "Cu": 1.8}  # each under Watch
    assert max(together.values()) < WATCH.single
    assert level(seen(together), "bearing") >= 1
    assert level(seen(together), "Pb") == 0


def test_far_above_is_act_at_once_for_metals_and_not_for_what_a_dirty_bottle_brings() -> None:
    far = AT_ONCE.single + 0.5
    assert level(seen({"Fe": far}), "Fe") == 2
    assert level(seen({"Na": far}), "Na") == 1
    assert level(seen({"K": far, "Na": far}), "coolant") == 1


def test_a_dirty_bottle_does_not_make_several_samples_speak() -> None:
    """One sample far up lifts what two weigh together; dirt and coolant count only where they were
    up before."""

    def together(before: float) -> int:
        x = seen({"Na": before, "K": before}, {"Na": 4.0, "K": 4.0})
        x.z[1, 1] = x.z[0, 1]
        return level(x, "coolant")

    assert together(0.0) == 1
    assert together(STILL - 0.1) == 1
    assert together(STILL + 0.1) == 2


def test_copper_needs_company_and_silicon_a_metal() -> None:
    high = {"Cu": 6.0}
    assert level(seen(high, high), "Cu") == 1
    assert level(seen(high, {**high, "Sn": 2.0}), "Cu") == 2
    dirt = {"Si": 5.0}
    assert level(seen(dirt, dirt), "Si") == 1
    assert level(seen(dirt, {**dirt, "Fe": 1.5}), "Si") == 2
    assert level(seen(high, high), "Cu", visible=False) == 2, "tin that nobody could see"
    assert level(seen(dirt, dirt), "Si", visible=False) == 2


def test_sodium_alone_may_be_salt_unless_it_is_far_up_or_comes_with_water() -> None:
    some = {"Na": LONE - 1}
    assert level(seen(some, some), "Na") == 1
    assert level(seen(some, {**some, "Water": 1.5}), "Na") == 2
    assert level(seen(some, {"Na": LONE + 0.1}), "Na") == 2
    assert level(seen(some, some), "Na", visible=False) == 2, "a coolant that carries sodium alone"


def test_an_element_reaches_no_higher_than_its_scale_matters() -> None:
    high = {"Soot": 5.0}
    assert [level(seen(high, high), "Soot", reach=n) for n in (0, 1, 2)] == [0, 1, 2]


def test_viscosity_is_looked_at_on_both_sides() -> None:
    thin, thick = ({"KV100": s * (WATCH.single + 0.1)} for s in (-1, 1))
    assert (level(seen(thin), "KV100 low"), level(seen(thin), "KV100")) == (1, 0)
    assert (level(seen(thick), "KV100 low"), level(seen(thick), "KV100")) == (0, 1)
    assert level(seen({"Fuel": 1.9, "KV100": -1.9}), "fuel_thins") == 1, "two tests that agree"
    assert level(seen({"Fuel": 1.9, "KV100": 1.9}), "fuel_thins") == 0


def test_one_loud_member_is_no_pattern() -> None:
    assert level(seen({"Pb": 6.0}), "bearing") == 0
    assert level(seen({"Pb": 2.5, "Sn": 2.5, "Cu": -1.5}), "bearing") >= 1, "no veto by a low one"


def test_a_cause_is_named_beside_the_damage() -> None:
    far = AT_ONCE.single + 0.5
    assert level(seen({"Fe": far, "Na": CAUSE, "K": CAUSE}), "coolant") == 2
    assert level(seen({"Fe": 1.0, "Na": CAUSE, "K": CAUSE}), "coolant") == 0


def test_the_rise_since_the_last_sample_can_speak_by_itself() -> None:
    assert level(seen({"Fe": 1.0}, {"Fe": 1.2}, rise={"Fe": WATCH.single + 0.1}), "Fe") == 1
    assert level(seen({"Fe": 1.0}, {"Fe": 1.2}, rise={"Fe": WATCH.single - 0.1}), "Fe") == 0


def test_bearing_patterns_follow_the_construction() -> None:
    lead_free = {"Al": 3.0, "Sn": 3.0}
    assert level(seen(lead_free), "bearing_lead_free", np.array(["aluminium"])) >= 1
    assert level(seen(lead_free), "bearing_lead_free", np.array(["leaded"])) == -1
    assert level(seen({"Pb": 3.0, "Sn": 3.0}), "bearing", np.array(["aluminium"])) == -1
    assert bearing_kind("lead-free bronze") == "lead_free"
    assert bearing_kind("leaded tri-metal") == "leaded"


def test_what_was_not_measured_does_not_count_as_quiet() -> None:
    x = seen({"Pb": 2.5, "Sn": 2.5})
    with_copper = level(x, "bearing")
    x.z[0, :, element_place("Cu")] = np.nan
    assert level(x, "bearing") >= with_copper
    x.z[0, :, element_place("Sn")] = np.nan
    assert level(x, "bearing") == -1, "one element is no pattern"


def test_every_lens_has_a_channel_and_known_elements() -> None:
    names = [one.name for one in lenses()]
    assert len(names) == len(set(names))
    assert set(names[:E]) == set(SYMBOLS)
    assert {one.channel for one in lenses()} == set(CHANNELS)


@pytest.mark.parametrize(
    ("policy", "expected"),
    [
        ("fixed_only", 0),
        ("own_only", 2),
        ("peers_only", 1),
        ("worst_of_all", 2),
        ("two_of_three", 1),
    ],
)
def test_policies_over_three_schools_that_disagree(policy: str, expected: int) -> None:
    fixed, peers, own = (np.array([x], dtype=np.int8) for x in (0, 1, 2))
    assert combine(policy, fixed, peers, own)[0] == expected


@pytest.mark.parametrize("policy", ["own_only", "peers_only", "two_of_three", "worst_of_all"])
def test_where_no_school_but_the_fixed_can_speak_it_speaks_at_full_level(policy: str) -> None:
    silent = np.array([-1], dtype=np.int8)
    assert combine(policy, np.array([2], dtype=np.int8), silent, silent)[0] == 2


def test_an_engines_policy_comes_before_its_class() -> None:
    chosen = Policies({"E-1": "own_only"}, {"heavy_diesel": "fixed_only"})
    assert chosen.of(Engine("E-1", "heavy_diesel")) == "own_only"
    assert chosen.of(Engine("E-2", "heavy_diesel")) == "fixed_only"
    assert chosen.of(Engine("E-3", "petrol")) == DEFAULT
    assert set(POLICY_WORDS) == set(POLICIES)
    with pytest.raises(UnknownName, match="policy"):
        Policies({"E-1": "whatever"})


def test_every_verdict_names_its_policy_and_own_history_speaks_alone_where_it_is_asked_to() -> None:
    s = history("A", 12, Fe=70)
    fixed, own = (s.judged(policy=p)[-1] for p in ("fixed_only", "own_only"))
    assert fixed.policy == "fixed_only"
    assert fixed.channels[0] == 0, "70 ppm at the drain is under the fixed Watch of 75"
    assert own.channels[0] == 1
    found = next(f for f in own.findings if f.code == "above_own")
    assert found.school == "O"
    assert "11 of its own samples" in sentence(found)


def test_a_school_says_why_it_cannot_speak() -> None:
    from keen_tracer.core.baseline import schools

    a = assess(history("A", ENOUGH_OWN).fleet(), default_limits())
    peers, own = schools(a, ENOUGH_OWN - 1, 0)
    assert peers.why_not == "peers 0, need 30"
    assert own.why_not == "own samples 4, need 5"
    assert schools(a, 0, next(n for n in range(40) if n > 25))[0].why_not
    a = assess(history("A", ENOUGH_OWN + 3).fleet(), default_limits())
    own = schools(a, ENOUGH_OWN + 2, 0)[1]
    assert own.level == 0
    assert own.watch is not None
    assert own.act is not None
    assert 24 < own.watch < own.act


def test_the_sentence_says_value_expectation_and_whose_history_it_is() -> None:
    found = next(
        f for f in history("A", 12, Fe=70).judged(policy=DEFAULT)[-1].findings if f.school == "PO"
    )
    said = sentence(found)
    assert said.startswith("Iron 70 ppm where 2")
    assert "was expected" in said
    assert "from its own history (11 samples)" in said
