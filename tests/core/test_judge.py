"""The verdict by the fixed school: levels, channels, stops, run-in, what is not known."""

import dataclasses

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.core.judge import judge
from keen_tracer.core.laboratory import ANALYTES, idx
from keen_tracer.core.limits import LimitRow, LimitSet, default_limits, evaluate
from keen_tracer.core.record import Fleet
from keen_tracer.core.terms import CHANNELS
from keen_tracer.core.verdict import Level
from keen_tracer.core.words import sentence
from tests.helpers import FRESH, OIL, QUIET, Story, channel, codes, fleet, ordinary, usual


def test_a_quiet_sample_is_steady_in_every_channel_that_was_measured() -> None:
    v = ordinary().last()
    assert v.level == Level.STEADY
    assert codes(v) == []
    assert v.channels == (0, 0, 0, 0, 0, 0, None)
    assert v.may_run == "runs"
    assert v.actions == ()


def test_not_measured_is_never_steady() -> None:
    v = ordinary(Fuel=None, Si=None).last()
    assert channel(v, "fuel") is None
    assert channel(v, "dirt") is None
    assert v.level == Level.STEADY


def test_nothing_measured_is_no_verdict() -> None:
    s = Story().change(0, 0).sample(10, 100, {})
    v = s.last()
    assert v.level is None
    assert set(v.channels) == {None}


def test_a_metric_without_any_limit_measures_no_channel() -> None:
    v = Story().change(0, 0).sample(10, 100, {"Ca": 2500, "Mo": 50}).last()
    assert v.level is None


@pytest.mark.parametrize(
    ("changes", "name", "level"),
    [
        ({"Fe": 90}, "wear", 2),
        ({"Fe": 55}, "wear", 1),
        ({"Cr": 9}, "wear", 2),
        ({"Pb": 14}, "wear", 1),
        ({"Si": 15}, "dirt", 1),
        ({"Si": 25}, "dirt", 2),
        ({"Na": 40}, "coolant", 1),
        ({"K": 45}, "coolant", 2),
        ({"Water": 0.12}, "coolant", 1),
        ({"Fuel": 2.4}, "fuel", 1),
        ({"Fuel": 4.2}, "fuel", 2),
        ({"Soot": 3.3}, "oil_life", 1),
        ({"BN": 4.6}, "oil_life", 1),
        ({"BN": 3.2}, "oil_life", 2),
        ({"Oxidation": 15}, "oil_life", 1),
        ({"AN": 4.4}, "oil_life", 2),
        ({"KV100": 16.6}, "thickness", 2),
    ],
)
def test_a_raised_reading_raises_its_own_channel_and_no_other(changes, name, level) -> None:
    v = ordinary(**changes).last()
    assert channel(v, name) == level
    assert v.level == level
    others = [x for n, x in zip(CHANNELS, v.channels, strict=True) if n != name]
    assert set(others) <= {0, None}


def test_rates_count_as_well_as_concentrations() -> None:
    """80 ppm of iron is Watch at a full drain, and Act when half the hours made it."""
    half = ordinary(Fe=80).last()
    full = Story().change(0, 1000).sample(40, 1250, usual(Fe=80)).last()
    assert (channel(half, "wear"), channel(full, "wear")) == (2, 1)
    assert half.findings[0].numbers.basis == "rate"
    assert full.findings[0].numbers.basis == "conc"


def test_a_rate_is_withheld_early_in_a_charge() -> None:
    s = Story().change(0, 1000).sample(3, 1010, usual(Fe=14))
    e = evaluate(s.fleet(), default_limits())
    assert e.rate_withheld[0, idx("Fe")]
    assert s.last().level == Level.STEADY


def test_topping_up_does_not_hide_wear() -> None:
    def story(litres: float) -> Story:
        s = Story(oil_total_l=20.0, sump_l=18.0).change(0, 1000)
        for n in range(1, 5):
            if litres:
                s.event(n * 20, "top_up", 1000 + 50 * n, litres_in=litres)
        return s.sample(100, 1240, usual(Fe=60))

    bare, topped = (evaluate(story(litres).fleet(), default_limits()) for litres in (0.0, 3.0))
    assert topped.rate[0, idx("Fe")] > 1.2 * bare.rate[0, idx("Fe")]


def test_carried_over_metal_is_not_counted_as_wear_twice() -> None:
    """A tenth of a dirty charge stays behind; a clean charge after it starts from there."""
    s = (
        Story()
        .change(0, 0)
        .sample(40, 250, usual(Fe=100))
        .change(40, 250)
        .sample(80, 375, usual(Fe=20))
    )
    e = evaluate(s.fleet(), default_limits())
    assert e.start[1, idx("Fe")] == pytest.approx(0.1 * 100 + 0.9 * 1)
    assert e.rate[1, idx("Fe")] == pytest.approx((20 - 10.9) / 125)


def test_the_end_of_a_charge_is_projected_to_the_drain() -> None:
    s = (
        Story()
        .change(0, 0)
        .sample(20, 125, usual(Fe=51))
        .change(40, 250)
        .sample(60, 375, usual(Fe=20))
    )
    e = evaluate(s.fleet(), default_limits())
    assert e.start[1, idx("Fe")] == pytest.approx(0.1 * (1 + 0.4 * 250) + 0.9 * 1)


@pytest.mark.parametrize(("value", "word"), [(75.5, "high_at_limit"), (110, "high")])
def test_at_the_limit_and_past_it(value: float, word: str) -> None:
    """Passed when value - 0.59 R is past too; until then a resample confirms, the level stays."""
    v = Story().change(0, 0).sample(40, 250, usual(Fe=value)).last()
    assert codes(v) == [word]
    assert v.level == 1


def test_a_non_detect_that_cannot_clear_says_so() -> None:
    v = ordinary(Water="<0.3").last()
    assert codes(v) == []
    assert "unproven" in {f.code for f in v.findings}
    assert channel(v, "coolant") in (0, None)
    alone = Story().change(0, 0).sample(40, 250, {"Water": "<0.3"}).last()
    assert channel(alone, "coolant") is None, "nothing else clears it"


def test_a_non_detect_below_the_limit_is_steady() -> None:
    assert channel(ordinary(Pb="<5").last(), "wear") == 0


def test_lead_is_not_judged_with_leaded_fuel() -> None:
    s = Story(engine_class="petrol", fuel="petrol_leaded", nominal_drain=160.0, allowed_grades=())
    v = s.change(0, 0).sample(20, 100, usual(Pb=400)).last()
    assert channel(v, "wear") == 0
    assert "leaded" in [f.code for f in v.findings]


def test_out_of_every_allowed_grade_is_act_and_a_thinner_allowed_grade_is_not() -> None:
    """A 9.0 mm²/s oil is below grade 30 yet valid where 20 is allowed (common practice)."""
    only30 = Story(allowed_grades=("30",)).change(0, 0).sample(40, 250, {"KV100": 9.0})
    also20 = Story(allowed_grades=("30", "20")).change(0, 0).sample(40, 250, {"KV100": 9.0})
    assert "out_of_grade" in codes(only30.last(fresh=None))
    assert "out_of_grade" not in codes(also20.last(fresh=None))


def test_base_number_below_acid_number() -> None:
    v = ordinary(BN=5.5, AN=5.8).last()
    assert "bn_below_an" in codes(v)
    assert channel(v, "oil_life") == 2


def test_large_iron_and_a_quiet_magnetic_index() -> None:
    assert channel(ordinary(PQ=40).last(), "debris") == 1
    assert channel(ordinary(PQ=4).last(), "debris") == 0
    assert channel(ordinary(PQ="<5").last(), "debris") == 0
    assert channel(ordinary(PQ="<30").last(), "debris") is None


def drains(*last: object, quiet: int = 4) -> Story:
    """Drains with the additives of one oil, and a newest sample with others."""
    s = Story()
    for n in range(quiet + 1):
        zinc, phosphorus, calcium = last if n == quiet else (1100 + n, 950 - n, 2900)
        s.change(40 * n, 1000 + 250 * n)
        figures = usual(Zn=zinc, P=phosphorus, Ca=calcium)
        s.sample(40 * n + 39, 1240 + 250 * n, figures)
    return s


NO_ADDITIVES = {k: v for k, v in FRESH.items() if k not in ("Zn", "P", "Ca", "Mg")}


@pytest.mark.parametrize(
    ("last", "raised"),
    [
        ((300, 260, 800), True),
        ((300, 260, 2900), True),
        (("<5", "<5", 2900), True),  # a non-detect is far under what the oil holds
        ((300, 950, 2900), False),  # one alone may be a slip
        ((900, 800, 2400), False),  # an oil that works
        ((None, 300, 2900), False),
    ],
)
def test_two_additives_far_under_what_the_oil_holds_are_another_oil(last, raised: bool) -> None:
    v = drains(*last).last(fresh=NO_ADDITIVES)
    assert ("additives_fell" in codes(v)) is raised
    assert (channel(v, "oil_life") == 1) is raised
    if raised:
        said = next(sentence(f) for f in v.findings if f.code == "additives_fell")
        assert "in its earlier samples of this oil" in said
        assert "where 1\u202f1" in said or "where 949" in said


def test_additives_are_held_against_the_fresh_oil_where_it_is_known() -> None:
    v = drains(300, 260, 800, quiet=0).last(fresh={**FRESH, "Zn": 1100, "P": 950, "Ca": 2900})
    found = next(f for f in v.findings if f.code == "additives_fell")
    assert found.level == 1
    assert "in this oil when fresh" in sentence(found)


def test_without_a_reference_and_samples_the_least_of_the_class_is_asked_for() -> None:
    v = drains(300, 260, 800, quiet=0).last(fresh=NO_ADDITIVES)
    found = next(f for f in v.findings if f.code == "additives_fell")
    assert found.level == 1
    assert "where at least 600 is usual" in sentence(found)
    assert "in oils for this class of engine" in sentence(found)


def test_two_samples_say_nothing_of_what_is_usual() -> None:
    assert "additives_fell" not in codes(drains(500, 450, 800, quiet=2).last(fresh=NO_ADDITIVES))


def test_the_least_is_asked_of_oils_for_road_engines_only() -> None:
    """Oils of gas engines hold about 300 ppm of each."""
    s = Story(engine_class="gas")
    s.sample(39, 1240, usual(Zn=300, P=280, Ca=1500))
    assert "additives_fell" not in codes(s.last(fresh=NO_ADDITIVES))


def test_after_three_samples_of_the_other_oil_it_is_what_is_usual() -> None:
    s = drains(300, 260, 800)
    for n in (5, 6, 7, 8):
        s.change(40 * n, 1000 + 250 * n)
        s.sample(40 * n + 39, 1240 + 250 * n, usual(Zn=300, P=260, Ca=800))
    found = [("additives_fell" in codes(v)) for v in s.judged(fresh=NO_ADDITIVES)]
    assert found == [False] * 4 + [True] * 3 + [False] * 2


@pytest.mark.parametrize("glycol", ["pos", "0.2", ">0.1"])
def test_glycol_by_strip_waits_for_sodium_or_potassium(glycol: str) -> None:
    alone = ordinary(Glycol=glycol, Cu=1.5, Pb=1).last()
    agreed = ordinary(Glycol=glycol, K=40, Cu=1.5, Pb=1).last()
    assert channel(alone, "coolant") == 1
    assert channel(agreed, "coolant") == 2


def test_glycol_by_chromatography_is_act_and_with_bearing_metal_stop() -> None:
    s = Story().change(0, 0).sample(20, 125, usual(Glycol="0.1"), glycol_method="GC")
    assert channel(s.last(), "coolant") == 2
    s.sample(30, 200, usual(Glycol="0.2", Pb=9, Cu=16), glycol_method="GC")
    assert s.last().level == Level.STOP


def test_glycol_not_found_measures_the_channel_steady() -> None:
    v = Story().change(0, 0).sample(20, 125, {"Glycol": "neg"}).last()
    assert channel(v, "coolant") == 0


@pytest.mark.parametrize("appearance", ["coolant_visible", "emulsion", "mud", "chunks"])
def test_what_is_seen_in_the_sample_stops_whatever_the_figures_say(appearance: str) -> None:
    v = Story().change(0, 0).sample(20, 125, usual(), appearance=appearance).last()
    assert v.level == Level.STOP
    assert v.may_run == "do_not_run"


@pytest.mark.parametrize(
    ("look", "name"), [("specks", "debris"), ("grit", "debris"), ("grey", "fuel")]
)
def test_an_odd_look_is_watch_whatever_the_figures_say(look: str, name: str) -> None:
    v = Story().change(0, 0).sample(20, 125, usual(), appearance=look).last()
    assert channel(v, name) == 1
    assert v.level == Level.WATCH


def test_an_ordinary_look_stops_nothing() -> None:
    assert Story().change(0, 0).sample(20, 125, usual(), appearance="dark").last().level == 0


@pytest.mark.parametrize(
    "part",
    [
        "coolant_in_sump",
        "level_rising",
        "low_oil_pressure_hot",
        "oil_lamp_hot_idle",
        "knock",
        "bearing_flakes",
        "chunks",
        "part_fragment",
        "filter_collapsed",
        "pickup_blocked",
    ],
)
def test_a_reported_hard_stop_stops_and_a_clean_report_does_not_clear_it(part: str) -> None:
    s = ordinary()
    s.event(110, "symptom", 1650, part=part)
    assert s.last().level == Level.STOP
    s.sample(115, 1660, usual(), code="clean")
    assert s.judged()[-2].level == Level.STOP


def test_a_repair_ends_what_is_at_watch_and_never_a_stop() -> None:
    def after(part: str) -> int | None:
        s = Story().change(0, 0).event(10, "symptom", 60, part=part).event(12, "repair", 60)
        return s.sample(20, 125, usual()).last().level

    assert after("smoke") == Level.STEADY
    assert after("knock") == Level.STOP


def test_a_failure_stops() -> None:
    s = ordinary()
    assert s.event(111, "failure", 1660, note="seized").last().level == Level.STOP


def test_a_symptom_without_a_stop_is_left_to_people() -> None:
    s = ordinary()
    assert s.event(110, "symptom", 1650, part="rattle").last().level == Level.STEADY


def test_water_and_fuel_stops() -> None:
    assert ordinary(Water=0.6).last().level == Level.STOP
    assert ordinary(Fuel=6, KV100=9.8).last().level == Level.STOP
    assert ordinary(Fuel=6, KV100=13.0).last().level == Level.ACT


def test_three_metals_threefold_with_smoke_in_under_fifty_hours() -> None:
    def story(smoke: bool) -> Story:
        s = Story().change(0, 0).sample(20, 125, usual(Fe=12, Cr=1.5, Al=3))
        if smoke:
            s.event(24, "symptom", 140, part="smoke")
        return s.sample(26, 160, usual(Fe=40, Cr=5, Al=10))

    assert "ring_scuff" in codes(story(True).last())
    assert "ring_scuff" not in codes(story(False).last())


def test_run_in_is_expected_high_and_must_fall() -> None:
    """Copper and silicon high on the first oil of a new engine is run-in (common practice)."""
    from datetime import date

    s = (
        Story(in_service_on=date(2026, 1, 5))
        .change(0, 0)
        .sample(10, 50, usual(Cu=60, Si=30, Fe=90), code="1")
    )
    first = s.judged()[-1]
    assert first.level == Level.WATCH
    assert {"run_in_first"} == set(codes(first))
    s.change(10, 50).sample(20, 110, usual(Cu=12, Si=9, Fe=30), code="2")
    assert s.judged()[-1].level in (Level.STEADY, Level.WATCH)
    worse = (
        Story(in_service_on=date(2026, 1, 5))
        .change(0, 0)
        .sample(10, 50, usual(Cu=20))
        .change(10, 50)
    )
    worse.sample(20, 110, usual(Cu=90))
    assert "run_in_not_falling" in codes(worse.last())
    assert worse.last().level == Level.ACT


@pytest.mark.parametrize(
    "changes", [{"Pb": 60}, {"Na": 120}, {"K": 60}, {"Fuel": 5}, {"Water": 0.3}]
)
def test_run_in_excuses_neither_lead_nor_coolant_nor_fuel(changes) -> None:
    from datetime import date

    s = Story(in_service_on=date(2026, 1, 5)).change(0, 0).sample(10, 50, usual(**changes))
    assert s.last().level == Level.ACT


def test_without_a_fresh_reference_rises_are_not_judged_and_that_is_said() -> None:
    v = Story().change(0, 0).sample(40, 250, usual(Si=40)).last(fresh=None)
    assert channel(v, "dirt") is None
    assert "no_reference" in [f.code for f in v.findings]


def test_nothing_is_its_own_reference() -> None:
    """One early sample is no fresh oil of itself; with a second one the lower stands in for the
    higher."""
    s = Story().change(0, 0).sample(3, 30, usual(Si=40))
    assert channel(s.last(fresh=None), "dirt") is None
    s.change(30, 250).sample(33, 280, usual(Si=5))
    first, second = s.judged(fresh=None)
    assert channel(first, "dirt") == 2
    assert channel(second, "dirt") == 0


def test_water_has_no_fresh_reference() -> None:
    s = (
        Story()
        .change(0, 0)
        .sample(3, 30, usual(Water=0.3))
        .change(30, 250)
        .sample(33, 280, usual(Water=0.3))
    )
    e = evaluate(s.fleet(None), default_limits())
    assert np.isnan(e.fresh[:, idx("Water")]).all()


def test_hours_on_oil_that_are_not_known_are_said() -> None:
    v = Story().sample(20, 125, usual()).last()
    assert "hours_unknown" in [f.code for f in v.findings]
    told = Story().sample(20, 125, usual(), oil_change_dial=25.0)
    assert "hours_unknown" not in [f.code for f in told.last().findings]
    assert evaluate(told.fleet(), default_limits()).contexts[0].hours_on_oil == 100


def test_a_sample_drawn_too_early_for_a_rate_says_why_nothing_is_expected() -> None:
    early, later = (
        Story().change(0, 1000).sample(5, 1000 + hours, usual()).last() for hours in (12, 40)
    )
    assert "too_early" in [f.code for f in early.findings]
    assert "too_early" not in [f.code for f in later.findings]


def test_reported_and_recorded_hours_that_differ_are_shown_with_both_figures() -> None:
    s = Story().change(0, 100).sample(20, 225, usual(), oil_change_dial=50.0)
    found = next(f for f in s.last().findings if f.code == "hours_differ")
    assert (found.numbers.reported, found.numbers.recorded) == (175, 125)


def test_other_limits_judge_otherwise() -> None:
    strict = LimitSet(
        "strict", (LimitRow("engine", "E-1", "Fe_ppm", "conc", 5, 10, "ppm", "test"),)
    )
    v = ordinary().last(limits=strict)
    assert channel(v, "wear") == 2
    assert channel(v, "dirt") is None


def test_oil_that_evaporates_leaves_its_metal_behind() -> None:
    """phi 0 of the-trade 3.5: C1 = (C0·V0 + w·t)/V1, so what reads the same was less wear than
    where oil is burnt."""

    def rate(features: frozenset[str]) -> float:
        s = (
            Story(features=features)
            .change(0, 0)
            .event(20, "top_up", 100, litres_in=4.0)
            .sample(40, 200, usual(Fe=40))
        )
        e = evaluate(s.fleet(), default_limits())
        return float(e.rate[0, 0])

    burnt, evaporated = rate(frozenset()), rate(frozenset({"evaporating_oil"}))
    assert evaporated < burnt
    # Nothing is lost: after the top-up at 100 h the sump holds 34 L again; 4 L more are gone at 200
    # h.
    fresh, volume = 1.0, 34.0
    at_100 = (fresh * volume + 100 * evaporated * volume) / (volume - 4)
    refilled = (at_100 * (volume - 4) + fresh * 4) / volume
    assert (refilled * volume + 100 * evaporated * volume) / (volume - 4) == pytest.approx(
        40, rel=0.01
    )


def test_judging_many_is_judging_each() -> None:
    stories = [ordinary(Fe=30 + 20 * n) for n in range(5)]
    for n, s in enumerate(stories):
        s.engine = dataclasses.replace(s.engine, code=f"E-{n}")
    together = judge(fleet(stories), default_limits())
    apart = [v for s in stories for v in judge(s.fleet(), default_limits())]
    assert [(v.level, v.findings) for v in together] == [(v.level, v.findings) for v in apart]
    assert [v.input_hash for v in together] == [v.input_hash for v in apart]


def test_the_hash_changes_with_what_matters_and_with_nothing_else() -> None:
    same = ordinary().last().input_hash
    assert ordinary().last().input_hash == same
    assert ordinary(Fe=13).last().input_hash != same
    assert ordinary().last(fresh={**FRESH, "Si": 5}).input_hash != same
    lower = tuple(
        dataclasses.replace(r, watch=9.0)
        if r.analyte == "Fe_ppm" and r.scope_name == "heavy_diesel"
        else r
        for r in default_limits().rows
    )
    assert ordinary().last(limits=LimitSet("x", lower)).input_hash != same


def test_an_empty_fleet_is_refused() -> None:
    with pytest.raises(ValueError, match="no sample"):
        evaluate(
            Fleet((), np.empty((0, len(ANALYTES))), np.empty((0, len(ANALYTES)), dtype=np.int8)),
            default_limits(),
        )


METALS = [a.symbol for a in ANALYTES if a.kind == "wear" and a.symbol in QUIET]


@settings(max_examples=60, deadline=None)
@given(symbol=st.sampled_from(METALS), low=st.floats(0, 150), more=st.floats(0, 150))
def test_more_of_one_wear_metal_never_lowers_wear_or_the_whole(symbol, low, more) -> None:
    before, after = ordinary(**{symbol: low}).last(), ordinary(**{symbol: low + more}).last()
    assert (channel(after, "wear") or 0) >= (channel(before, "wear") or 0)
    assert (after.level or 0) >= (before.level or 0)


@settings(max_examples=40, deadline=None)
@given(
    changes=st.dictionaries(st.sampled_from(METALS), st.floats(0, 90), max_size=3),
    part=st.sampled_from(["knock", "chunks", "filter_collapsed"]),
)
def test_a_hard_stop_never_lowers_anything(changes, part) -> None:
    bare = ordinary(**changes)
    with_stop = ordinary(**changes)
    with_stop.event(105, "symptom", 1640, part=part)
    for a, b in zip(bare.last().channels, with_stop.last().channels, strict=True):
        assert (b or 0) >= (a or 0)


@settings(max_examples=40, deadline=None)
@given(
    symbol=st.sampled_from([*METALS, "Si", "K", "Water", "Fuel"]),
    limit=st.floats(0.01, 60),
    share=st.floats(0, 1),
)
def test_a_non_detect_never_raises_and_says_what_it_does_not_clear(symbol, limit, share) -> None:
    """No level of its own, whatever it may hide; where it may hide a Watch it says so."""
    read = ordinary(**{symbol: limit * share}).last()
    below = ordinary(**{symbol: f"<{limit}"}).last()
    assert (below.level or 0) <= (ordinary(**{symbol: 0.01 * limit}).last().level or 0)
    hides = any(f.code in ("high", "high_at_limit") and f.analyte for f in read.findings)
    if hides and share <= 1:
        assert "unproven" in {f.code for f in below.findings}


@settings(max_examples=25, deadline=None)
@given(st.randoms(use_true_random=False))
def test_the_order_of_the_log_changes_nothing(random) -> None:
    s = (
        Story()
        .change(0, 0)
        .event(5, "top_up", 40, litres_in=2.0)
        .sample(10, 60, usual(Fe=40), code="a")
        .change(10, 60)
    )
    s.event(12, "symptom", 70, part="rattle").sample(30, 200, usual(Cu=70), code="b").event(
        30, "filter_change", 200
    )
    before = s.judged()
    random.shuffle(s.log)
    assert s.judged() == before


def test_the_oil_named_with_the_sample_wins_over_another_brand_in_the_register() -> None:
    s = (
        Story()
        .change(0, 0, oil="Other oil|15W-40|9")
        .sample(40, 250, usual(Si=20), oil="Test oil||")
    )
    assert channel(s.last(), "dirt") == 1
    assert OIL.startswith("Test oil")
