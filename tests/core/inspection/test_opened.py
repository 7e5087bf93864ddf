"""The opened engine: conditions that speak, clearances with their uncertainty, what led to what."""

from dataclasses import replace
from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.causes import failure_modes
from keen_tracer.core.errors import OutOfRange, UnknownName
from keen_tracer.core.record import (
    Layout,
    LogRow,
    build_time_line,
    check_event,
    check_kinds,
    clearances,
    conditions,
    consequences,
    layout_of,
    many,
    parts,
    proposed,
    roots,
    settled,
)
from keen_tracer.core.record.clearances import INSTRUMENT, oil_clearance, out_of_round, taper
from keen_tracer.core.record.damage import known_links
from keen_tracer.core.terms import CHANNELS
from keen_tracer.core.verdict import RunDecision
from keen_tracer.core.words import event_words, sentence
from tests.helpers import DAY, Story, stated

# A journal as a bench sheet has it: four angles at the front and at the rear.
FRONT, REAR = "79.962 79.958 79.947 79.951", "79.960 79.955 79.941 79.949"


def found(n: int, part: str, condition: str, position: str = "", side: str = "") -> LogRow:
    details = {"condition": condition, "position": position, "side": side}
    return LogRow(f"f{n}", DAY + timedelta(days=n), "finding", 1200, part=part, details=details)


def story(*findings: tuple[str, str, str]) -> Story:
    s = Story("E", bearing_type="leaded tri-metal")
    for n, (part, condition, position) in enumerate(findings):
        s.event(
            n, "finding", 1200.0, part=part, details={"condition": condition, "position": position}
        )
    return s


# Conditions


def found_bad(s: Story) -> list[int]:
    """Levels of what was found, beside that the engine stands open."""
    return [r.level for r in stated(s).reasons if r.finding.code == "finding"]


@pytest.mark.parametrize("condition", ["overlay", "copper", "steel", "contracted", "spun"])
def test_a_shell_that_is_worn_through_must_not_run(condition: str) -> None:
    worst = stated(story(("rod_bearing", condition, "3")))
    assert (worst.level, worst.may_run) == (3, "do_not_run")
    assert worst.lead in ("main_rod_bearing", "bearing_spun")


def test_a_sound_engine_is_in_pieces_and_what_was_opened_is_not_asked_again() -> None:
    """However sound, nobody starts it while it is open (VERDICT 8.1)."""
    s = story(("rod_bearing", "like_new", "1"), ("bore", "like_new", "1"))
    state = stated(s)
    assert [r.finding.code for r in state.reasons] == ["in_pieces"]
    assert state.may_run == "do_not_run"
    worn = stated(story(("rod_bearing", "overlay", "1")))
    assert "bearing_cap" not in worn.checks


def closing(s: Story, day: int) -> RunDecision:
    """A signed closing that names everything that is open."""
    keys = frozenset(r.key for r in stated(s).reasons if r.level == 3)
    on = DAY + timedelta(days=day)
    return RunDecision(state="release", by="A", on=on, lifts=keys, found="shells", done="renewed")


def test_a_signed_closing_ends_it_and_a_new_opening_begins_it_again() -> None:
    s = story(("rod_bearing", "like_new", "1"))
    signed = closing(s, 5)
    assert stated(s, [signed]).may_run == "runs"
    s.event(6, "repair", 1200, part="rod bearing")
    s.event(7, "meter_reading", 1300)
    assert stated(s, [signed]).may_run == "runs"
    s.event(7, "finding", 1300, part="bore", details={"condition": "like_new", "position": "2"})
    assert stated(s, [signed]).may_run == "do_not_run"
    assert stated(s, [signed, closing(s, 7)]).may_run == "runs"


def test_two_parts_of_a_kind_are_two_reasons_and_an_older_release_names_both() -> None:
    s = story(("rod_bearing", "spun", "1"), ("rod_bearing", "spun", "3"))
    keys = [r.key for r in stated(s).reasons if r.finding.code == "finding"]
    assert len(set(keys)) == 2
    older = frozenset(k.split(":@")[0].rstrip(":") for k in keys)
    on = DAY + timedelta(days=9)
    before = RunDecision(state="release", by="A", on=on, lifts=older, found="x", done="y")
    assert not [r for r in stated(s, [before]).reasons if r.finding.code == "finding"]


def test_a_figure_surely_outside_its_limit_must_not_run_whatever_the_condition_says() -> None:
    wide = {"ring_gap": "1.4", "ring_gap_low": "0.3", "ring_gap_high": "0.75"}
    s = Story("E").event(
        0, "finding", 1200.0, part="rings", details={"condition": "like_new", **wide}
    )
    said = [r for r in stated(s).reasons if r.finding.code == "finding"]
    assert [r.level for r in said] == [3]
    assert "ring gap 1.4 mm, allowed 0.3 to 0.75" in sentence(said[0].finding)


@given(st.lists(st.sampled_from(["repair", "meter_reading", "finding", "field_check"]), max_size=4))
def test_nothing_found_or_done_afterwards_lifts_a_stop(later: list[str]) -> None:
    s = story(("rod_bearing", "spun", "2"))
    for n, kind in enumerate(later, 5):
        part, details = {
            "repair": ("rod bearing", {}),
            "meter_reading": ("", {}),
            "finding": ("rod_bearing", {"condition": "like_new", "position": "2"}),
            "field_check": ("listen", {"result": "quiet"}),
        }[kind]
        s.event(n, kind, 1200.0 + n, part=part, details=details)
    assert stated(s).may_run == "do_not_run"


def test_the_same_part_found_sound_answers_an_act() -> None:
    s = story(("cam_lobe", "worn", "2"))
    assert found_bad(s) == [2]
    s.event(
        4, "finding", 1210.0, part="cam_lobe", details={"condition": "like_new", "position": "2"}
    )
    assert found_bad(s) == []
    other = story(("cam_lobe", "worn", "2"), ("cam_lobe", "like_new", "1"))
    assert found_bad(other) == [2]


@pytest.mark.parametrize(
    ("part", "details"),
    [
        ("flywheel", {"condition": "worn"}),
        ("rod_bearing", {"condition": "rusty"}),
        ("rod_bearing", {}),
        ("rod_bearing", {"condition": "copper", "side": "left"}),
        ("rod_bearing", {"condition": "copper", "position": "2.5"}),
        ("rod_bearing", {"condition": "copper", "position": "0"}),
        ("rod_bearing", {"condition": "copper", "bore": "wide"}),
        ("rod_bearing", {"condition": "copper", "length_unit": "furlong"}),
    ],
)
def test_what_cannot_be_meant_is_refused(part: str, details: dict[str, str]) -> None:
    with pytest.raises((UnknownName, OutOfRange)):
        check_event("finding", part, details)


def test_a_finding_in_one_line_of_the_log() -> None:
    details = {"condition": "copper", "position": "3", "side": "cap side", "share_pct": "40"}
    assert event_words("finding", "rod_bearing", "", {**details, "order": "2"}).endswith(
        "rod bearing 3, cap side: worn to copper · 40 % of it"
    )
    # of another version: kept on record, said as it stands
    assert "flywheel" in event_words("finding", "flywheel", "", details)
    assert stated(story(("flywheel", "worn", "1"))).level is None


def test_a_unit_nobody_knows_is_refused() -> None:
    with pytest.raises(UnknownName, match="unit of length"):
        clearances({"figure": "3", "length_unit": "furlong"})


# Layout


@pytest.mark.parametrize(
    ("text", "kind", "cylinders", "mains"),
    [
        ("in line 6", "line", 6, 7),
        ("inline-4", "line", 4, 5),
        ("V8", "vee", 8, 5),
        ("vee 12", "vee", 12, 7),
        ("flat 4", "opposed", 4, 5),
        ("single", "line", 1, 2),
    ],
)
def test_a_layout_in_words(text: str, kind: str, cylinders: int, mains: int) -> None:
    layout = layout_of(text)
    assert layout == Layout(kind, cylinders)
    assert many(parts()["main_bearing"], layout) == mains
    assert many(parts()["piston"], layout) == cylinders
    assert many(parts()["pan"], layout) == 1


@pytest.mark.parametrize("text", ["", "diesel", "radial 9", "many"])
def test_a_layout_nobody_wrote_is_asked(text: str) -> None:
    assert layout_of(text) is None


# Clearances


def test_a_journal_and_its_clearance_by_hand() -> None:
    """By hand: front 79.962-79.947 = 0.015, rear 79.960-79.941 = 0.019; taper at 90° 0.006; bore
    85.021 less two shells of 2.4815 less the mean journal 79.952875 is 0.105."""
    details = {"journal_front": FRONT, "journal_rear": REAR, "bore": "85.020 85.022"}
    got = {
        f.what: f for f in clearances({**details, "shell": "2.481 2.482", "limit_high": "0.110"})
    }
    assert got["out of round"].mm == pytest.approx(0.019)
    assert got["taper"].mm == pytest.approx(0.006)
    assert got["oil clearance"].mm == pytest.approx(85.021 - 4.963 - 79.952875)
    assert got["oil clearance"].verdict == "at its limit"


def test_the_half_width_of_a_clearance_agrees_with_drawing_lots() -> None:
    """Monte Carlo after JCGM 101:2008."""
    rng, n = np.random.default_rng(5), 100_000

    def lots(values: list[float], kind: str) -> np.ndarray:
        return np.mean([v + rng.normal(0, INSTRUMENT[kind], n) for v in values], axis=0)

    bore, shells, journal = [85.020, 85.022], [2.481, 2.482], [79.962, 79.958, 79.947]
    both = sum(v + rng.normal(0, INSTRUMENT["shell"], n) for v in shells)
    drawn = lots(bore, "bore") - both - lots(journal, "journal")
    clearance, sd = oil_clearance(bore, shells, journal)
    assert clearance == pytest.approx(drawn.mean(), abs=1e-4)
    assert sd == pytest.approx(drawn.std(), rel=0.02)
    one = 2 * (2.481 + rng.normal(0, INSTRUMENT["shell"], n))
    drawn = lots(bore, "bore") - one - lots(journal, "journal")
    assert oil_clearance(bore, [2.481], journal)[1] == pytest.approx(drawn.std(), rel=0.02)


@pytest.mark.parametrize(
    ("unit", "per_mm"), [("mm", 1.0), ("inch", 1 / 25.4), ("thou", 1000 / 25.4)]
)
def test_inches_and_thousandths_come_to_the_same(unit: str, per_mm: float) -> None:
    def said(*mm: float) -> str:
        return " ".join(f"{x * per_mm:.8g}" for x in mm)

    details = {
        "journal_front": said(79.962, 79.958),
        "bore": said(85.020),
        "shell": said(2.481),
        "limit_high": said(0.15),
        "length_unit": unit,
    }
    got = next(f for f in clearances(details) if f.what == "oil clearance")
    assert got.mm == pytest.approx(0.098, abs=1e-4)
    assert got.verdict == "within"


@given(st.lists(st.floats(10, 200), min_size=1, max_size=6), st.floats(-5, 5))
def test_shifting_a_micrometer_changes_no_roundness(diameters: list[float], by: float) -> None:
    moved = [d + by for d in diameters]
    assert out_of_round(moved) == pytest.approx(out_of_round(diameters), abs=1e-9)
    assert taper(moved, [d + by for d in diameters]) == 0


def test_parts_that_do_not_belong_together_are_refused() -> None:
    with pytest.raises(OutOfRange, match="oil clearance"):
        clearances({"journal_front": "60.0", "bore": "85.0", "shell": "2.5"})


def test_go_no_go() -> None:
    def verdict(x: str, **limits: str) -> str:
        return clearances({"figure": x, **limits})[0].verdict

    assert verdict("0.40", limit_low="0.30", limit_high="0.60") == "within"
    assert verdict("0.80", limit_low="0.30", limit_high="0.60") == "outside"
    assert verdict("0.20", limit_low="0.30") == "outside"
    assert verdict("0.595", limit_high="0.60") == "at its limit"
    assert verdict("0.40") == ""


# What led to what

STARVED = [
    found(1, "filter", "copper"),
    found(2, "gallery", "sealant"),
    found(3, "rod_bearing", "wiped", "3"),
    found(4, "rod_journal", "scored", "3"),
    found(5, "rod_bearing", "like_new", "2"),
]


def test_sealant_in_the_gallery_stands_before_the_bearing() -> None:
    links = proposed(STARVED)
    pairs = {(x.cause, x.effect) for x in links}
    assert {("f2", "f3"), ("f3", "f4"), ("f3", "f1")} <= pairs
    assert not any("f5" in pair for pair in pairs), "a sound part leads to nothing"
    # The journal and its bearing are known both ways: a person says which.
    assert ("f4", "f3") in pairs
    kept, cut = settled(links, [("f4", "f3", False)])
    assert roots(STARVED, kept) == ["f2"]
    assert [(x.cause, x.effect) for x in cut] == [("f4", "f3")]


def test_a_link_turned_is_cut_the_other_way_and_may_be_taken_back() -> None:
    links = proposed(STARVED)
    kept, cut = settled(links, [("f4", "f3", True)])
    assert ("f3", "f4") in {(x.cause, x.effect) for x in cut}
    kept, cut = settled(links, [("f4", "f3", True), ("f3", "f4", True)])
    assert ("f3", "f4") in {(x.cause, x.effect) for x in kept}
    assert ("f4", "f3") in {(x.cause, x.effect) for x in cut}
    own, _ = settled(links, [("f1", "f2", True)])
    assert next(x for x in own if (x.cause, x.effect) == ("f1", "f2")).why == ""


def test_a_loose_bolt_and_its_bearing_are_of_the_same_cylinder() -> None:
    here = [found(1, "rod_bolt", "loose", "2"), found(2, "rod_bearing", "heat", "2")]
    assert {(x.cause, x.effect) for x in proposed(here)} == {("f1", "f2"), ("f2", "f1")}
    apart = [here[0], replace(here[1], details={**here[1].details, "position": "3"})]
    assert proposed(apart) == []


@given(
    st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4), st.booleans()), max_size=12),
)
def test_whatever_a_person_decides_nothing_leads_to_itself_twice(decided) -> None:
    """The newest word on a pair counts, and of a pair and its turn one at most was kept last."""
    said = [(f"f{a + 1}", f"f{b + 1}", keep) for a, b, keep in decided if a != b]
    kept, cut = settled(proposed(STARVED), said)
    pairs = [(x.cause, x.effect) for x in kept]
    assert len(pairs) == len(set(pairs))
    assert not set(pairs) & {(x.cause, x.effect) for x in cut}
    if said:
        cause, effect, keep = said[-1]
        assert ((cause, effect) in pairs) == keep
        if keep:
            assert (effect, cause) not in pairs
    assert all(key not in {x.effect for x in kept} for key in roots(STARVED, kept))


@pytest.mark.parametrize(
    ("first", "then", "lead"),
    [
        (("relief_valve", "stuck", ""), ("rod_bearing", "copper", "3"), "oil_pump_pickup"),
        (("pickup", "sealant", ""), ("main_bearing", "wiped", "2"), "oil_pump_pickup"),
        (("injector", "leaks", "2"), ("piston", "scuffed", "2"), "injector_leak"),
        (("intake", "leaks", ""), ("bore", "scored", "1"), "intake_leak"),
        (("cooler", "leaks", ""), ("rod_bearing", "copper", "1"), "oil_cooler_leak"),
        (("head", "cracked", ""), ("rod_bearing", "wiped", "1"), "head_gasket"),
    ],
)
def test_what_was_led_to_by_another_finding_is_no_cause(first, then, lead: str) -> None:
    """The graph of the opened engine and the causes of its state are one: in whatever order the two
    were found, and a person who cuts the link cuts it in both."""
    for told in ((first, then), (then, first)):
        s = story(*told)
        assert stated(s).lead == lead
    rows = [r for r in s.log if r.kind == "finding"]
    assert parts()[roots_of(rows)].mode == lead
    line = build_time_line(s.fleet().histories[0])
    assert consequences(s.engine, line) == {r.id for r in rows if r.part == then[0]}
    cut = tuple((a.id, b.id, False) for a in rows for b in rows if a is not b)
    assert not consequences(replace(s.engine, links=cut), line)


def roots_of(rows: list[LogRow]) -> str:
    """The part at the root of findings."""
    first = roots(rows, proposed(rows))[0]
    return next(r.part for r in rows if r.id == first)


def test_in_a_circle_nothing_is_a_consequence() -> None:
    s = story(("cam_lobe", "worn", "1"), ("follower", "flaked", "1"))
    assert stated(s).lead == "cam_follower"


def test_the_tables_name_only_what_exists() -> None:
    scales = conditions()
    for p in parts().values():
        assert p.scale in scales
        assert p.channel in CHANNELS
        assert p.answers in {"", *check_kinds()}
        assert p.many in {"cylinder", "main", "one"}
        assert p.mode in {"", *(m.code for m in failure_modes())}
    for scale in scales.values():
        first = next(iter(scale.values()))
        assert first.grade == 0, "every scale begins sound"
        assert {x.grade for x in scale.values()} <= {0, 1, 2, 3}
    for link in known_links():
        assert link.conditions <= set(scales[parts()[link.cause].scale]), link
        assert link.effect_conditions <= set(scales[parts()[link.effect].scale]), link
        assert link.why
