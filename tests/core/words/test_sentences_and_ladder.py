"""What the program says of a verdict, and how it shows one figure was reached."""

import pytest

from keen_tracer.core import tables
from keen_tracer.core.baseline import assess
from keen_tracer.core.comparison import how_reached, ladders
from keen_tracer.core.limits import DEFAULT, default_limits
from keen_tracer.core.record import fact_kinds
from keen_tracer.core.words import action_kinds, sentence, summary, would_change
from tests.helpers import Story, ordinary, usual


def said(v) -> list[str]:
    return [sentence(f) for f in v.findings if f.level > 0]


@pytest.mark.parametrize(
    ("changes", "parts"),
    [
        ({"Fe": 80}, ["Iron 80 ppm", "per 100 h", "Act", "heavy diesel"]),
        ({"Si": 25}, ["Silicon 25 ppm", "21 above fresh oil (4)", "Act"]),
        ({"BN": 3.2}, ["Base number 3.2", "32 % of fresh oil", "Act"]),
        ({"KV100": 16.6}, ["16.6", "outside every allowed grade"]),
        ({"BN": 5.5, "AN": 5.8}, ["below acid number 5.8"]),
        ({"PQ": 40}, ["too large for the spectrometer"]),
        ({"Glycol": "pos"}, ["quick test only"]),
        ({"Water": 0.7}, ["do not run"]),
        ({"Fuel": 6, "KV100": 9.8}, ["run away on its own sump"]),
    ],
)
def test_the_sentence_names_value_limit_and_scope(changes, parts) -> None:
    text = " ".join(said(ordinary(**changes).last()))
    for part in parts:
        assert part in text, text


def test_what_a_non_detect_does_not_clear_is_said_without_a_level() -> None:
    (f,) = (f for f in ordinary(Water="<0.3").last().findings if f.code == "unproven")
    assert f.level == 0
    assert all(part in sentence(f) for part in ("under 0.3", "Watch", "not cleared"))


def test_no_sentence_carries_code_or_unrounded_numbers() -> None:
    changes = {
        "Fe": 80.123456,
        "Si": 33.33333,
        "K": 61,
        "Fuel": 4.4444,
        "Soot": 6,
        "AN": 5.4321,
        "BN": 2.2222,
    }
    for text in said(ordinary(**changes).last()):
        assert "_" not in text
        assert "None" not in text
        assert not any(
            len(word.strip("().,")) > 7 and word.strip("().,").replace(".", "").isdigit()
            for word in text.split()
        ), text


def test_everything_seen_or_heard_has_its_sentence() -> None:
    told = [
        r
        for r in tables.read("seen_and_heard")
        if r["where"] not in ("smoke", "heard", "air_heard")
    ]
    for known in (r for r in told if r["fact"] and fact_kinds()[r["fact"]].level):
        s = ordinary()
        if known["where"] in ("appearance", "smell"):
            s = Story().change(0, 0).sample(20, 125, usual(), **{known["where"]: known["word"]})
        else:
            part = "" if known["word"] == "*" else known["word"]
            s.event(110, known["where"], 1650, part=part, note="as found")
        texts = said(s.last())
        assert texts, known
        assert "_" not in texts[0]
        if known["where"] not in ("appearance", "smell"):
            assert "“as found.”" in texts[0]


def test_the_summary_keeps_raised_quiet_and_unknown_apart() -> None:
    v = ordinary(K=45, Fuel=None).last()
    assert summary(list(v.channels)) == (
        "Coolant at Act; Wear, Dirt, Thickness and Oil life steady; Fuel and Debris not measured."
    )
    assert summary([None] * 7).startswith("Fuel") is False


def test_what_would_change_it() -> None:
    def words(v):
        return would_change(v.level, v.findings)

    assert "potassium" in words(ordinary(K=45).last())
    assert words(ordinary(BN=3).last()).startswith("Nothing: the oil is spent.")
    looked = ordinary().event(
        108, "field_check", 1640, part="compression", details={"result": "very_low"}
    )
    assert "clears nothing that can be seen" in words(looked.last())
    s = ordinary()
    assert "release signed" in words(s.event(110, "symptom", 1650, part="knock").last())
    assert "clears no visible debris" in words(ordinary().last())


def test_every_action_has_its_words() -> None:
    assert all(a.words and a.short and a.caution for a in action_kinds().values())
    for changes in ({"K": 45}, {"Si": 25}, {"Fe": 90}, {"BN": 3}, {"Water": 0.7}, {"Pb": 14}):
        for action in ordinary(**changes).last().actions:
            assert action_kinds()[action.code].words


def test_act_resamples_before_anything_is_taken_apart() -> None:
    actions = [a.code for a in ordinary(K=45).last().actions]
    assert actions[0] == "resample"
    assert "pressure_test_cooling" in actions


def ladder_of(s: Story, symbol: str):
    from keen_tracer.core.laboratory import BY_SYMBOL

    a = assess(s.fleet(), default_limits())
    return next(x for x in ladders(a, len(s.readings) - 1) if x.column == BY_SYMBOL[symbol].column)


def test_a_ladder_holds_the_reading_its_interval_and_its_limits() -> None:
    one = ladder_of(ordinary(Fe=55), "Fe")
    assert one.low is not None
    assert one.high is not None
    assert one.watch is not None
    assert one.act is not None
    assert one.low < 55 < one.high
    assert one.watch < 55 < one.act
    assert one.level == 1
    assert one.axis_end == pytest.approx(1.25 * one.act)
    assert one.limit is not None
    assert one.limit["origin"]


def test_a_ladder_agrees_with_the_verdict() -> None:
    s = ordinary(Fe=90, Si=15, BN=3, KV100=17)
    a, v = assess(s.fleet(), default_limits()), s.judged()[-1]
    raised = {f.analyte for f in v.findings if f.level and f.code != "out_of_grade"}
    assert {x.column for x in ladders(a, 2) if x.level} == raised


def test_changes_are_only_stated_within_a_charge_and_a_method() -> None:
    s = Story().change(0, 0).sample(10, 100, usual(Fe=20)).sample(20, 200, usual(Fe=60))
    here = ladder_of(s, "Fe")
    assert here.change is not None
    assert here.change.distinguishable
    s.change(21, 205).sample(40, 300, usual(Fe=20))
    assert ladder_of(s, "Fe").change is None
    other = Story().change(0, 0).sample(10, 100, usual(Fe=20), test_method="ICP")
    other.sample(20, 200, usual(Fe=60), test_method="rotating disc")
    assert ladder_of(other, "Fe").change is None
    assert not ladder_of(other, "Fe").comparable


def test_a_non_detect_has_no_interval_and_no_rate() -> None:
    one = ladder_of(ordinary(Pb="<5"), "Pb")
    assert one.text == "<5"
    assert one.low is None
    assert one.rate_withheld == "no exact figure"


def test_why_a_rate_is_withheld_is_said() -> None:
    assert "hours on the oil not known" in str(ladder_of(Story().sample(1, 50), "Fe").rate_withheld)
    assert "tenth" in str(ladder_of(Story().change(0, 0).sample(1, 5), "Fe").rate_withheld)


def test_how_a_figure_was_reached_can_be_followed_by_hand() -> None:
    s = Story().change(0, 0).sample(40, 250, usual(Fe=76))
    found = how_reached(assess(s.fleet(), default_limits()), 0, "Fe_ppm")
    steps = {x.what: x for x in found}
    assert steps["Rate"].result == pytest.approx(100 * (76 - 1) / 250)
    assert steps["Start of charge"].result == pytest.approx(1)
    assert steps["Fixed limit"].result == pytest.approx(75)
    # y = ln(75 + 1): the rise at the nominal drain, a is 1 ppm for iron
    assert steps["On the scale of the expectation"].result == pytest.approx(4.330733, abs=1e-6)
    for x in found:
        assert x.origin
        assert x.unit


def test_a_chip_says_on_which_side_of_its_habit_a_reading_lies() -> None:
    from keen_tracer.core.words import chip

    quiet = Story(model="M", allowed_grades=())
    for k in range(10):
        quiet.change(40 * k, 1000 + 250 * k).sample(
            40 * k + 39, 1250 + 250 * k, usual(**({"KV100": 12.2} if k == 9 else {}))
        )
    (f,) = (f for f in quiet.last(policy=DEFAULT).findings if f.code == "above_expected")
    assert chip(f) == "KV100 below expected"
