"""Explanations of contamination and viscosity, and which part they point to."""

from dataclasses import replace

import numpy as np
import pytest

from keen_tracer.core.causes import (
    Hypothesis,
    evidence_table,
    evidence_words,
    failure_modes,
    ranking,
)
from keen_tracer.core.causes.failure_modes import possible
from keen_tracer.core.errors import OutOfRange, UnknownName
from keen_tracer.core.findings import Finding, payloads
from keen_tracer.core.judge import judge
from keen_tracer.core.limits import default_limits
from keen_tracer.core.record import (
    RENEWED,
    Coolant,
    DebrisCount,
    DebrisLook,
    Engine,
    Fleet,
    check_kinds,
    debris_types,
    parts,
)
from keen_tracer.core.record.debris import EarlierLook, Said, look_says
from keen_tracer.core.terms import CHANNELS, CLASSES, FEATURES, FUELS
from keen_tracer.core.words import sentence
from tests.core.baseline.test_expectation import history
from tests.helpers import Story, stated

DEFAULT = "expectation_and_fixed"


def found(s, code: str):
    return next(f.numbers for f in s.judged(policy=DEFAULT)[-1].findings if f.code == code)


def said(n: payloads.CoolantIn) -> str:
    return sentence(Finding(code="coolant_in", channel="coolant", level=0, numbers=n))


def codes(s) -> set[str]:
    return {f.code for f in s.judged(policy=DEFAULT)[-1].findings}


def test_litres_of_coolant_where_the_register_knows_the_coolant() -> None:
    s = history("A", 8, Na=86, K=43)
    f = s.fleet()
    import dataclasses

    engine = dataclasses.replace(f.histories[0].engine, coolant="Glint")
    held = {"Glint": Coolant(4000, 2000)}
    f = Fleet(
        (dataclasses.replace(f.histories[0], engine=engine),), f.value, f.censor, f.fresh, held
    )
    n = next(x.numbers for x in judge(f, default_limits())[-1].findings if x.code == "coolant_in")
    # 43 - 1 mg/kg above fresh, less what 3 ppm of silicon as dust may bring: 42 · 34 · 0.87 / (2000
    # · 1.07) = 0.58 L
    assert n.litres["K"] == pytest.approx(0.58, abs=0.03)
    assert n.agree
    assert "At least" in said(n)


def test_litres_are_left_out_where_nobody_knows_the_coolant() -> None:
    n = found(history("A", 8, Na=86, K=43), "coolant_in")
    assert n.litres == {}
    assert "At least" not in said(n)


def test_brazing_flux_in_a_new_engine_and_coolant_in_an_old_one() -> None:
    from datetime import date

    new = history("A", 2, K=32, Al=20, Na=6)
    import dataclasses

    new.engine = dataclasses.replace(new.engine, in_service_on=date(2026, 1, 5))
    new.log = [
        dataclasses.replace(r, dial=None if r.dial is None else r.dial - 1000) for r in new.log
    ]
    assert "brazing_flux" in codes(new)
    assert "brazing_flux" not in codes(history("B", 8, K=32, Al=20, Na=6))


def test_fuel_that_nobody_measured_is_bounded_by_viscosity() -> None:
    n = found(history("A", 6, KV100=11.6, Fuel=None), "fuel_by_viscosity")
    assert n.least < n.most
    assert n.most == pytest.approx(5.0, abs=0.5)


def test_fuel_hides_thickening() -> None:
    assert "fuel_hides_thickening" in codes(history("A", 6, KV100=14.4, Fuel=3.2))


def test_quiet_samples_are_not_explained() -> None:
    v = history("A", 10).judged(policy=DEFAULT)[-1]
    assert v.level == 0
    assert not [f for f in v.findings if f.school == "X"]
    assert v.lead == ""


# Which part


def test_the_tables_name_only_what_exists() -> None:
    known = evidence_table()
    places = (
        set(CLASSES) | set(FUELS) | set(FEATURES) | {"leaded", "aluminium", "lead_free", "unknown"}
    )
    for m in failure_modes():
        assert set(m.weights) <= set(known), m.code
        assert m.where <= places, m.code
        assert m.channel in {*CHANNELS, ""}, m.code
        assert m.prior < 0, "no mode is likely before there is evidence"
    assert len({m.code for m in failure_modes()}) == len(failure_modes()) >= 40
    assert set(known) <= {c for m in failure_modes() for c in m.weights}, "evidence nobody weighs"
    assert {e.check for e in known.values()} - {""} <= set(check_kinds())


def test_what_an_engine_cannot_have_is_not_offered() -> None:
    diesel = {m.code for m in possible(Engine("E", "heavy_diesel", fuel="diesel"), "leaded")}
    assert "clutch_lining" not in diesel
    assert "pump_diaphragm" not in diesel
    assert "lead_free_bearing" not in diesel
    assert "particulate_filter_dilution" not in diesel
    filtered = Engine("E", "light_diesel", features=frozenset({"particulate_filter"}))
    assert "particulate_filter_dilution" in {m.code for m in possible(filtered, "unknown")}


def hypotheses(engine: Engine, bearings: str, known: dict[str, bool]) -> list[Hypothesis]:
    return ranking(engine, bearings, known).hypotheses()


def test_evidence_for_and_against_adds_up_to_the_score() -> None:
    engine = Engine("E", "heavy_diesel")
    for h in hypotheses(engine, "leaded", {"Pb": True, "Sn": True, "Cu": False, "knock": True}):
        told = sum(w for _, w in (*h.for_, *h.against))
        assert h.score == pytest.approx(h.mode.prior + told)
        assert all(w > 0 for _, w in h.for_)
        assert all(w < 0 for _, w in h.against)


def test_what_is_unknown_counts_nothing() -> None:
    engine = Engine("E", "heavy_diesel")
    without = {h.mode.code: h.score for h in hypotheses(engine, "leaded", {})}
    assert without == {m.code: m.prior for m in possible(engine, "leaded")}


def test_the_next_check_tells_the_leading_modes_apart_and_is_never_known_already() -> None:
    engine, known = Engine("E", "heavy_diesel"), {"Na": True, "K": True, "coolant_marks": True}
    found = ranking(engine, "leaded", known)
    leading, checks = found.hypotheses(), found.checks()
    assert {h.mode.code for h in leading[:3]} <= {
        "oil_cooler_leak",
        "head_gasket",
        "liner_seal",
        "egr_cooler_leak",
    }
    assert {c.check for c in checks} & {"cooling", "cooler"}
    per_hour = [c.per_hour for c in checks]
    assert per_hour == sorted(per_hour, reverse=True)
    done = ranking(engine, "leaded", {**known, "cooler_fails": True}).checks()
    assert "cooler_fails" not in {e for c in done for e in c.evidence}


def test_a_test_that_is_done_moves_the_lead() -> None:
    engine, known = (
        Engine("E", "heavy_diesel"),
        {"Na": True, "K": True, "coolant_marks": True, "overheated": True},
    )
    assert (
        hypotheses(engine, "leaded", {**known, "cooler_fails": True})[0].mode.code
        == "oil_cooler_leak"
    )
    tight = {**known, "cooler_fails": False, "cooling_fails": True}
    assert hypotheses(engine, "leaded", tight)[0].mode.code == "head_gasket"


# Debris


def look(*counts: tuple[str, str, int], share: float = 1.0, tool: str = "") -> DebrisLook:
    return DebrisLook("filter", tool, share, tuple(DebrisCount(*c) for c in counts))


def worst(seen: DebrisLook, *earlier: DebrisLook) -> int:
    before = [EarlierLook(x, 250.0) for x in earlier]
    return max((x.level for x in look_says(seen, before, 250.0).values()), default=0)


def test_hard_stops_of_a_look() -> None:
    assert worst(look(("chunk", "1-3", 1))) == 3
    assert worst(look(("part_fragment", "", 1))) == 3
    assert worst(look(("bright_flakes", "over 3", 1))) == 3
    one = look(("copper_flakes", "1-3", 1))
    assert look_says(one) == {"copper_flakes": Said(level=2, size="1-3")}
    assert worst(one, one) == 3, "over 1 mm in two looks"


def test_bearing_metal_speaks_from_its_first_flake() -> None:
    """VERDICT 8.1: Watch from the first, Act from about three of half a millimetre or ten smaller,
    Stop from about forty of half a millimetre or threefold since the look before."""
    few, many = look(("copper_flakes", "0.1-0.5", 4)), look(("copper_flakes", "0.1-0.5", 40))
    assert worst(look(("copper_flakes", "0.1-0.5", 1))) == 1
    assert worst(few) == 1
    assert worst(many, few, few) == 3, "threefold since the look before"
    assert worst(many, many, many) == 2, "a look that was raised is nobody's peer"
    assert worst(look(("copper_flakes", "0.1-0.5", 6), share=0.25)) == 2, "24 on the whole element"
    assert worst(look(("copper_flakes", "0.5-1", 3))) == 2
    assert worst(look(("copper_flakes", "0.5-1", 40))) == 3


def test_a_saw_taints_slivers_and_a_clean_look_says_nothing() -> None:
    assert worst(look(("slivers", "", 3))) == 2
    assert worst(look(("slivers", "", 3), tool="saw")) == 1
    assert look_says(look()) == {}


def test_a_look_refuses_what_makes_no_sense() -> None:
    with pytest.raises(OutOfRange, match="share"):
        look(share=0)
    with pytest.raises(UnknownName, match="debris"):
        look(("gold", "", 1))
    with pytest.raises(UnknownName, match="size"):
        look(("fuzz", "huge", 1))
    with pytest.raises(UnknownName, match="place"):
        DebrisLook("boot")
    assert np.isfinite([t.level for t in debris_types().values()]).all()


def test_findings_hold_plain_numbers_that_can_be_stored() -> None:
    import json

    every = (
        {"Na": 86, "K": 43},
        {"Si": 40, "Al": 12, "Fe": 60},
        {"Cu": 80},
        {"Pb": 30, "AN": 5},
        {"Fuel": 5, "KV100": 11},
    )
    for changes in every:
        for v in history("A", 8, **changes).judged(policy=DEFAULT):
            json.dumps([f.as_dict() for f in v.findings])


def test_what_another_engine_of_the_model_had_weighs_and_never_leads_alone() -> None:
    alone = Engine("E", "heavy_diesel")
    of_model = replace(alone, earlier=frozenset({"head_gasket"}))
    lost = {"coolant_added": True}
    assert ranking(alone, "leaded", lost).lead() == "oil_cooler_leak"
    told = ranking(of_model, "leaded", lost)
    assert told.lead() == "head_gasket"
    assert "found at another engine of this model" in {
        evidence_words(code) for code, _ in told.hypotheses()[0].for_
    }
    assert ranking(of_model, "leaded", {}).lead() == ""


@pytest.mark.parametrize("part", [p.code for p in parts().values() if p.mode])
def test_work_to_no_avail_speaks_against_its_part_alone(part: str) -> None:
    engine = Engine("E", "heavy_diesel", features=frozenset({"air_compressor"}))
    before = {h.mode.code: h.score for h in ranking(engine, "leaded", {}).hypotheses()}
    after = ranking(engine, "leaded", {RENEWED + part: True})
    lower = {h.mode.code for h in after.hypotheses() if h.score < before[h.mode.code]}
    assert lower == {parts()[part].mode} & set(before)
    assert all(h.score <= before[h.mode.code] for h in after.hypotheses())
    assert after.lead() == ""


@pytest.mark.parametrize(("before", "blamed"), [(4, False), (400, True)])
def test_a_part_renewed_long_ago_can_fail_like_any_other(before: int, blamed: bool) -> None:
    s = Story("LOST", features=frozenset())
    lost = {"details": {"result": "fallen"}, "part": "coolant_level"}
    s.event(0, "field_check", 500, **lost)
    s.event(2, "repair", 510, part="oil cooler")
    for day in (2 + before, 8 + before):
        s.event(day, "coolant_top_up", 520 + day, details={"coolant_l": "3"})
    assert (stated(s).lead == "oil_cooler_leak") is blamed
