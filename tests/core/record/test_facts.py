"""One fact, one level, through every door (VERDICT 8.1): whatever is seen, heard, smelt or measured
is the same fact wherever somebody tells it."""

from collections.abc import Callable, Iterator
from datetime import timedelta
from itertools import pairwise
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.stats import binomtest

from keen_tracer.core import tables
from keen_tracer.core.causes import evidence_table, failure_modes
from keen_tracer.core.errors import CoreError
from keen_tracer.core.record import (
    DebrisCount,
    DebrisLook,
    Engine,
    barred_by,
    check_event,
    check_kinds,
    conditions,
    debris_types,
    fact_kinds,
    field_checks,
    leak_steps,
    parts,
    told,
    troubles,
)
from keen_tracer.core.record.ladders import (
    BAR_PER_1000_RPM,
    BY_CHANCE,
    bearing_metal,
    pressure,
    threefold,
)
from keen_tracer.core.terms import CHANNELS, DEBRIS_SIZES, FACT_KINDS
from keen_tracer.core.verdict import EngineState
from tests.helpers import DAY, Story, stated

Door = Callable[[Story], Story]


def _symptom(part: str, **details: str) -> Door:
    return lambda s: s.event(0, "symptom", 1200.0, part=part, details=details)


def _check(part: str, result: str) -> Door:
    return lambda s: s.event(0, "field_check", 1200.0, part=part, details={"result": result})


def _look(kind: str) -> Door:
    look = DebrisLook("filter", "", 1.0, (DebrisCount(kind, "", 1),))
    return lambda s: s.event(0, "look", 1200.0, look=look)


def _step(step: str, answer: str) -> Door:
    return lambda s: s.event(0, "case_step", 1200.0, part=step, details={"answer": answer})


def _found(part: str, condition: str) -> Door:
    details = {"condition": condition}
    return lambda s: s.event(0, "finding", 1200.0, part=part, details=details)


def _told() -> Iterator[tuple[str, str, Door]]:
    for word, fact in told("symptom").items():
        if fact:
            yield fact, f"symptom {word}", _symptom(word)
    for colour, fact in told("smoke").items():
        yield fact, f"smoke {colour}", _symptom("smoke", smoke=colour)
    for when, fact in told("heard").items():
        yield fact, f"noise {when}", _symptom("noise", heard=when)


def _checked() -> Iterator[tuple[str, str, Door]]:
    for check, results in field_checks().items():
        for r in (x for x in results if x.fact):
            yield r.fact, f"check {check} {r.code}", _check(check, r.code)
    for step in leak_steps().values():
        for answer in step.results:
            yield answer.fact, f"step {step.code} {answer.code}", _step(step.code, answer.code)


def _seen() -> Iterator[tuple[str, str, Door]]:
    for kind, t in debris_types().items():
        if "flakes" not in kind:
            yield t.fact, f"look {kind}", _look(kind)
    for part in parts().values():
        for c in conditions()[part.scale].values():
            name = f"finding {part.code} {c.code}"
            yield c.fact_of(part.code).fact, name, _found(part.code, c.code)


def doors() -> Iterator[tuple[str, str, Door]]:
    """(fact, door, how it is told) of every fact through every door that offers it. Flakes of
    bearing metal have doors of their own below: there the size and the count decide."""
    yield from _told()
    yield from _checked()
    yield from _seen()


def shape(state: EngineState) -> dict[str, Any]:
    """What a fact does to an engine, beside that it stands open and where it was looked at."""
    said = [r for r in state.reasons if r.finding.code != "in_pieces"]
    worst = max((r.level for r in said), default=0)
    return {
        "level": worst,
        "points": sorted({p for r in said for p in getattr(r.finding.numbers, "points", [])}),
        "facts": sorted({getattr(r.finding.numbers, "fact", "") for r in said}),
        "barred": state.barred,
    }


BY_FACT: dict[str, list[tuple[str, Door]]] = {}
for _fact, _name, _door in doors():
    BY_FACT.setdefault(_fact, []).append((_name, _door))
SEVERAL = {fact: ways for fact, ways in BY_FACT.items() if len(ways) > 1}


@pytest.mark.parametrize("fact", SEVERAL)
def test_a_fact_is_the_same_through_every_door(fact: str) -> None:
    kind = fact_kinds()[fact]
    found = {name: shape(stated(door(Story("E")))) for name, door in SEVERAL[fact]}
    levels = {name: x["level"] for name, x in found.items()}
    assert set(levels.values()) == {kind.level}, levels
    if kind.points:
        assert len({tuple(x["points"]) for x in found.values()}) == 1, found
    assert len({x["barred"] for x in found.values()}) == 1, found


def test_a_hundred_facts_have_doors_and_none_has_none() -> None:
    counted = {"bright_flakes", "copper_flakes", "coolant_added", "oil_added", "outside_limit"}
    of_bottles = {*told("appearance").values(), *told("smell").values()}
    elsewhere = {*told("failure").values(), *told("overheating").values(), "place_clean"}
    spoken = {*told("air_heard").values(), "pressure_lower", "pressure_much_lower"}
    assert set(fact_kinds()) <= {*BY_FACT, *counted, *of_bottles, *elsewhere, *spoken}
    assert len(BY_FACT) >= 100
    assert len(SEVERAL) >= 25


def test_flakes_are_one_fact_told_laid_out_or_found() -> None:
    """Not counted and not measured the worst holds; counted, the size and the number decide."""
    nothing_more = [_symptom("bearing_flakes"), _found("pan", "flakes"), _found("filter", "flakes")]
    assert {shape(stated(door(Story("E"))))["level"] for door in nothing_more} == {3}
    for size in DEBRIS_SIZES:
        look = DebrisLook("filter", "", 1.0, (DebrisCount("bright_flakes", size, 3),))
        laid = stated(Story("E").event(0, "look", 1200.0, look=look))
        said = stated(_symptom("bearing_flakes", largest=size)(Story("E")))
        assert laid.level == said.level, size


def test_what_the_tables_name_exists() -> None:
    for f in fact_kinds().values():
        assert f.kind in FACT_KINDS
        assert f.channel in {"", *CHANNELS}
        assert f.points <= set(troubles()), f.fact
        assert f.evidence in {"", *evidence_table()}, f.fact
        assert f.ends in {"", *check_kinds()}, f.fact
        assert set(f.next) <= set(check_kinds()), f.fact
        assert f.words
    modes = {m.code for m in failure_modes()}
    for t in troubles().values():
        assert t.modes <= modes
    told_by_check = {r.fact for results in field_checks().values() for r in results if r.fact}
    heard = {f for r in tables.read("seen_and_heard") if (f := r["fact"])}
    air = {*told("air_heard").values()}
    for fact in told_by_check | (heard - air) | {t.fact for t in debris_types().values()}:
        assert fact_kinds()[fact].channel, f"{fact} speaks in no channel"


# Levels from figures are continuous


@given(st.sampled_from([s for s in DEBRIS_SIZES if s != "over 3"]), st.booleans())
def test_one_flake_more_is_never_more_than_one_level(size: str, run_in: bool) -> None:
    levels = [bearing_metal([(size, float(n))], run_in)[0] for n in range(1, 900)]
    assert all(0 <= b - a <= 1 for a, b in pairwise(levels))


@given(st.integers(1, 60))
def test_a_larger_flake_is_never_more_than_one_level_up_to_three_millimetres(n: int) -> None:
    sizes = [s for s in DEBRIS_SIZES if s != "over 3"]
    levels = [bearing_metal([(s, float(n))])[0] for s in sizes]
    assert levels == sorted(levels)
    assert bearing_metal([("over 3", float(n))])[0] == 3


@given(
    st.floats(0.3, 4.0),
    st.booleans(),
    st.one_of(st.none(), st.floats(0.5, 6.0)),
)
def test_a_hundredth_of_a_bar_is_never_more_than_one_level(
    floor: float, makers: bool, habit: float | None
) -> None:
    bars = [n / 100 for n in range(600, 0, -1)]
    levels = [pressure(bar, floor, makers, habit) for bar in bars]
    assert all(0 <= b - a <= 1 for a, b in pairwise(levels))
    assert levels[-1] == 3


@given(st.integers(1, 40), st.integers(1, 40), st.floats(0.1, 1.0))
def test_growth_is_more_than_chance(now: int, before: int, share: float) -> None:
    if threefold(now, before, share, share):
        assert now >= 3 * before
        assert threefold(now + 1, before, share, share)


@given(st.integers(1, 60), st.integers(1, 60))
def test_growth_is_held_against_scipys_binomial_test(now: int, before: int) -> None:
    """Outside: scipy.stats.binomtest, one-sided, two looks of the same part and hours."""
    sure = binomtest(now, now + before, 0.5, alternative="greater").pvalue <= BY_CHANCE
    assert threefold(now, before, 1.0, 1.0) == (sure and now >= 3 * before)


def test_the_floor_at_speed_is_ten_psi_a_thousand() -> None:
    """Outside: the workshop's rule is 10 psi per 1 000 rpm; 1 psi = 6.894757 kPa (NIST SP 811)."""
    assert pytest.approx(10 * 6.894757 / 100, abs=0.02) == BAR_PER_1000_RPM


def test_what_is_no_number_is_never_steady() -> None:
    assert pressure(float("nan"), 0.5, False, None) == 3
    for said in ("nan", "-1", "1,4", "psi"):
        with pytest.raises(CoreError):
            check_event("field_check", "oil_pressure", {"hot_rated": said})


# Pressure has a memory


def gauge(s: Story, day: int, bar: float) -> Story:
    return s.event(
        day, "field_check", 1000.0 + day, part="oil_pressure", details={"hot_rated": f"{bar}"}
    )


@pytest.mark.parametrize(("bar", "level"), [(4.0, 0), (3.1, 0), (3.0, 1), (2.4, 2), (1.0, 3)])
def test_pressure_is_held_against_its_own_habit(bar: float, level: int) -> None:
    s = Story("E")
    for day in (0, 20, 40):
        gauge(s, day, 4.0)
    assert stated(gauge(s, 60, bar)).level == level


def test_a_raised_reading_teaches_no_habit() -> None:
    s = gauge(gauge(gauge(Story("E"), 0, 4.0), 20, 2.4), 40, 2.4)
    assert stated(s).level == 2


# What may not be done


def test_petrol_in_the_air_forbids_everything_that_turns_heats_or_sparks() -> None:
    petrol, diesel = Engine("E", "petrol"), Engine("E", "heavy_diesel")
    assert barred_by(petrol, {"fuel_smell"}) == {"cranked", "running", "heat", "spark"}
    assert barred_by(diesel, {"fuel_smell"}) == {"heat", "spark"}
    assert barred_by(diesel, set()) == frozenset()


FACTS = sorted(BY_FACT)
TOLD = st.lists(st.tuples(st.sampled_from(FACTS), st.integers(0, 6)), min_size=1, max_size=6)


@settings(max_examples=2000, deadline=None)
@given(TOLD, st.sampled_from(["heavy_diesel", "petrol", "small_air_cooled", "gas"]))
def test_nothing_that_hurts_is_ever_offered(facts: list[tuple[str, int]], kind: str) -> None:
    """A halted engine is never turned, cranked, heated or sparked; two thousand random engines."""
    s = Story("E", engine_class=kind)
    for fact, which in facts:
        ways = BY_FACT[fact]
        ways[which % len(ways)][1](s)
    state = stated(s)
    for code in state.checks:
        check = check_kinds()[code]
        assert check.state not in state.barred
        assert not check.hazards & set(state.barred)
        if state.may_run == "do_not_run":
            assert check.state == "rest", (facts, code)


@settings(max_examples=400, deadline=None)
@given(TOLD, st.sampled_from([f for f in FACTS if fact_kinds()[f].level]))
def test_another_bad_fact_never_lowers(facts: list[tuple[str, int]], more: str) -> None:
    """Bad facts only: a newer answer to the same question may be milder, and then it answers."""
    bad = [(f, n) for f, n in facts if fact_kinds()[f].level]
    asked = {fact_kinds()[more].ends, *(fact_kinds()[f].ends for f, _ in bad)} - {""}
    before, after = Story("E"), Story("E")
    names: set[str] = set()
    for fact, which in bad:
        name, door = BY_FACT[fact][which % len(BY_FACT[fact])]
        question = name.rsplit(" ", 1)[0]
        if question in names:
            continue
        names.add(question)
        door(before), door(after)
    name, door = BY_FACT[more][0]
    if name.rsplit(" ", 1)[0] in names or len(asked) < len(bad):
        return
    door(after)
    assert (stated(after).level or 0) >= (stated(before).level or 0)


def test_a_look_that_was_raised_is_nobodys_peer() -> None:
    s = Story("E")
    for day, n in ((0, 12), (40, 12), (80, 12)):
        look = DebrisLook("filter", "", 1.0, (DebrisCount("copper_flakes", "0.5-1", n),))
        s.event(day, "look", 1200.0 + day, look=look)
    assert stated(s).level == 2
    assert stated(s).since == DAY + timedelta(days=80)
