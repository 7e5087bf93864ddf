"""The list of work that grows out of findings, and readings of the bench sheet."""

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import NotPossible, OutOfRange, UnknownName
from keen_tracer.core.inspection import Work, check_work, sums, work_proposed
from keen_tracer.core.inspection.work import may_become
from keen_tracer.core.record import LogRow, clearances, conditions, parts
from keen_tracer.core.terms import DETAIL, WORK_KINDS, WORK_STATES


def found(key: str, part: str, condition: str, **more: str) -> LogRow:
    details = {"condition": condition, **more}
    return LogRow(key, date(2026, 11, 26), "finding", 1200, part=part, details=details)


def test_findings_ask_for_work_and_sound_parts_do_not() -> None:
    listed = [
        found("a", "rod_bearing", "copper", position="3", side="cap side"),
        found("b", "rod_journal", "scored", position="3"),
        found("c", "pickup", "sealant"),
        found("d", "main_bearing", "like_new", position="2"),
    ]
    asked = work_proposed(listed, [])
    assert [(p.finding, p.kind, p.words) for p in asked] == [
        ("a", "renew", "rod bearing 3, cap side"),
        ("b", "machine", "rod journal 3"),
        ("c", "clean", "pick-up and strainer"),
    ]
    assert [p.finding for p in work_proposed(listed, ["a", "c"])] == ["b"]


def test_everything_that_must_not_run_asks_for_work() -> None:
    for scale, listed in conditions().items():
        for c in listed.values():
            assert c.work in {*WORK_KINDS, ""}, (scale, c.code)
            assert (c.grade == 0) <= (c.work == "")
            assert (c.grade >= 2) <= (c.work != ""), (scale, c.code)


def a_work(**more) -> Work:
    return Work(**{"kind": "renew", "words": "cooler", "state": "open", **more})


def test_a_state_goes_only_where_it_may() -> None:
    assert all(may_become("", s) for s in WORK_STATES)
    assert all(may_become(s, "open") for s in WORK_STATES)
    check_work(a_work(state="done"), "decided")
    with pytest.raises(NotPossible, match="open it again"):
        check_work(a_work(state="done"), "dropped")
    with pytest.raises(NotPossible, match="open it again"):
        check_work(a_work(state="decided"), "done")
    with pytest.raises(UnknownName):
        check_work(a_work(kind="burn"), "")
    with pytest.raises(NotPossible, match="what is to be done"):
        check_work(a_work(words="  "), "")


def test_sums_take_what_was_paid_and_name_what_nobody_knows() -> None:
    pairs = [
        (a_work(estimate=700), a_work(state="done", estimate=700, cost=640)),
        (a_work(), a_work(state="decided", hours=4)),
        (a_work(estimate=100), a_work(state="dropped", estimate=100)),
        (a_work(kind="leave"), a_work(kind="leave", state="decided")),
        (a_work(), a_work(estimate=2900, hours=11)),
    ]
    found = sums(pairs)
    assert (found.first, found.now, found.hours, found.unknown) == (800, 3540, 15, 1)


money = st.one_of(st.none(), st.floats(0, 1e6))


@given(st.lists(st.tuples(money, money, st.sampled_from([*WORK_STATES])), max_size=8))
def test_sums_never_fall_by_another_piece_of_work(rows) -> None:
    pairs = [(a_work(estimate=e), a_work(state=s, estimate=e, cost=c)) for e, c, s in rows]
    for n in range(len(pairs)):
        less, more = sums(pairs[:n]), sums(pairs[: n + 1])
        assert (more.now, more.first, more.unknown) >= (less.now, less.first, less.unknown) or (
            more.now >= less.now and more.first >= less.first
        )


# The bench sheet


def test_every_reading_of_a_part_can_be_written_down() -> None:
    for part in parts().values():
        assert part.measured
        for name in part.measured:
            assert DETAIL[name].kind == "finding"
            assert DETAIL[name].many


def test_a_bearing_of_a_textbook() -> None:
    """Shigley's Mechanical Engineering Design, 8th edition, problem 12-1 (from memory): journal
    25 mm -0.03, bushing 25.03 mm +0.04: the diametral clearance lies from 0.03 to 0.10 mm."""
    least = clearances({"bore_top": "25.03", "piston": "25.00"})[0]
    most = clearances({"bore_top": "25.07", "piston": "24.97"})[0]
    assert least.mm == pytest.approx(0.03)
    assert most.mm == pytest.approx(0.10)


def test_each_figure_is_held_against_limits_of_its_own() -> None:
    found = {
        f.what: f
        for f in clearances(
            {
                "bore_top": "100.060 100.062 100.064 100.071",
                "bore_bottom": "100.050 100.051 100.052 100.051",
                "piston": "99.940",
                "piston_clearance_high": "0.090",
                "taper_high": "0.030",
                "out_of_round_high": "0.008",
            }
        )
    }
    assert found["piston clearance"].verdict == "outside"
    assert found["taper"].verdict == "within"
    assert found["out of round"].mm == pytest.approx(0.011)
    assert found["out of round"].verdict == "at its limit"


def test_valve_by_valve_is_not_averaged() -> None:
    tight = clearances(
        {"inlet_valve": "0.25 0.10 0.24", "inlet_valve_low": "0.20", "inlet_valve_high": "0.30"}
    )
    assert [f.verdict for f in tight] == ["within", "outside", "within"]


def test_the_old_limits_hold_for_the_oil_clearance() -> None:
    found = clearances(
        {"bore": "85.020", "shell": "2.452", "journal_front": "79.962", "limit_high": "0.110"}
    )
    assert found[0].what == "oil clearance"
    assert found[0].verdict == "outside"
    with pytest.raises(OutOfRange, match="piston clearance"):
        clearances({"bore_top": "100", "piston": "80"})
