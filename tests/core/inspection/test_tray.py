"""What a look comes to: rates with their interval, against its own looks and its class, and what
must hold whatever lies in the tray."""

from collections.abc import Sequence
from dataclasses import replace
from math import isnan, nan

import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.stats import chi2

from keen_tracer.core.errors import OutOfRange, UnknownName
from keen_tracer.core.inspection import tray_of
from keen_tracer.core.record import (
    TURNS,
    DebrisCount,
    DebrisLook,
    EarlierLook,
    Engine,
    LogRow,
    build_time_line,
    check_kinds,
    debris_key,
    debris_types,
    hours_of_looks,
    look_places,
    looks_before,
    share_seen,
)
from keen_tracer.core.record.debris import look_says, poisson_interval
from keen_tracer.core.terms import DEBRIS_AMOUNTS, DEBRIS_PLACES, DEBRIS_SIZES, SURFACES
from tests.helpers import DAY, Story

DIESEL = Engine("E", "heavy_diesel")
TYPES, SIZES = list(debris_types()), list(DEBRIS_SIZES)


def look(*counts: tuple[str, str, int], share: float = 1.0, **more) -> DebrisLook:
    return DebrisLook(
        "filter", "roller_cutter", share, tuple(DebrisCount(*x) for x in counts), **more
    )


def row(of: DebrisLook) -> LogRow:
    return LogRow("now", DAY, "look", 1000, look=of)


def tray(of: DebrisLook, hours: float = 250, **more):
    return tray_of(row(of), hours, DIESEL, "leaded", more.pop("earlier", []), [], **more)


@pytest.mark.parametrize("n", [0, 1, 3, 10, 41, 500])
def test_the_interval_of_a_count_is_garwoods(n: int) -> None:
    """F. Garwood, Biometrika 28 (1936): by the chi-square distribution, here of SciPy."""
    low, high = poisson_interval(n)
    assert low == pytest.approx(chi2.ppf(0.025, 2 * n) / 2 if n else 0.0)
    assert high == pytest.approx(chi2.ppf(0.975, 2 * n + 2) / 2 if n else 3.0, rel=1e-6)


def test_a_rate_scales_to_the_whole_and_to_a_hundred_hours() -> None:
    # 12 on a fifth of the pleats are 60 on all of them; in 250 h that is 24 per 100 h.
    found = tray(look(("copper_flakes", "0.5-1", 12), share=0.2), 250).rates[0]
    assert found.whole[0] == pytest.approx(60)
    assert found.rate is not None
    assert found.rate[0] == pytest.approx(24)
    low, high = poisson_interval(12)
    assert found.rate[1:] == (pytest.approx(low * 5 / 2.5), pytest.approx(high * 5 / 2.5))


def test_against_its_own_looks_beyond_chance() -> None:
    usual = [EarlierLook(look(("fuzz", "under 0.1", 10)), 250.0)] * 3
    now = tray(look(("fuzz", "under 0.1", 12)), earlier=usual).rates[0]
    assert (now.own, now.word) == (4.0, "as usual")
    assert tray(look(("fuzz", "under 0.1", 60)), earlier=usual).rates[0].word == "more"
    assert tray(look(("fuzz", "under 0.1", 1)), earlier=usual).rates[0].word == "less"
    unknown = tray(look(("fuzz", "under 0.1", 60)), nan, earlier=usual).rates[0]
    assert unknown.rate is None
    assert unknown.word == ""


def test_parts_come_from_what_was_found() -> None:
    copper = tray(look(("copper_flakes", "1-3", 4)))
    assert copper.parts[0][0] == "main_rod_bearing"
    assert "copper_flakes" in copper.parts[0][2]
    assert tray(look(("plastic", "1-3", 2))).parts[0][0] == "timing_chain"
    assert tray(look()).parts == ()
    assert tray(look(("fuzz", "", 9))).keep is False
    assert copper.keep


def test_nothing_magnetic_clears_iron_only() -> None:
    assert tray(look(("copper_flakes", "1-3", 4))).clears == ("iron",)
    assert tray(look(("slivers", "1-3", 4))).clears == ()


def test_at_rest_nothing_that_turns_the_engine_is_offered() -> None:
    found = tray(look(("copper_flakes", "1-3", 4)), barred=TURNS)
    assert {check_kinds()[c].state for c in found.checks} <= {"rest"}
    assert (
        "open_filter"
        not in tray(look(("slivers", "1-3", 4)), done=frozenset({"open_filter"})).checks
    )


COUNTS = st.lists(
    st.tuples(st.sampled_from(TYPES), st.sampled_from(["", *SIZES]), st.integers(0, 400)),
    max_size=6,
)


def _worst(seen: DebrisLook, earlier: Sequence[EarlierLook] = ()) -> int:
    return max((x.level for x in look_says(seen, earlier, 100.0).values()), default=0)


@given(COUNTS, st.integers(0, 5), st.integers(1, 200), st.sampled_from(["", "saw", "snips"]))
def test_more_pieces_never_lower_a_level(
    counts: list[tuple[str, str, int]], which: int, more: int, tool: str
) -> None:
    unique = list({(t, s): (t, s, n) for t, s, n in counts}.values())
    earlier = [EarlierLook(look(("copper_flakes", "0.1-0.5", 3), ("fuzz", "", 20)), 100.0)]
    was = replace(look(*unique), tool=tool)
    if unique:
        t, s, n = unique[which % len(unique)]
        unique[which % len(unique)] = (t, s, n + more)
    now = replace(look(*unique), tool=tool)
    worst = [_worst(x, earlier) for x in (was, now)]
    assert worst[1] >= worst[0]


@given(COUNTS)
def test_a_saw_never_raises_what_a_roller_cutter_would_not(counts) -> None:
    unique = list({(t, s): (t, s, n) for t, s, n in counts}.values())
    rolled, sawn = look(*unique), replace(look(*unique), tool="saw")
    assert _worst(sawn) <= _worst(rolled)


@pytest.mark.parametrize("amount", DEBRIS_AMOUNTS)
@pytest.mark.parametrize("kind", TYPES)
def test_what_nobody_can_count_still_speaks(kind: str, amount: str) -> None:
    found = DebrisLook("filter", "", 1.0, (DebrisCount(kind, "", 0, amount),))
    assert found.present() == {kind}
    said = look_says(found)
    if amount == "covers":
        assert said[kind].level >= 1
    if kind in ("copper_flakes", "bright_flakes"):
        assert said[kind].level == {"dusting": 1, "covers": 3}[amount]


def test_what_is_no_amount_is_refused() -> None:
    with pytest.raises(UnknownName):
        DebrisLook("filter", "", 1.0, (DebrisCount("fuzz", "", 0, "lots"),))


def test_the_share_of_pleats_and_sides() -> None:
    assert share_seen(30, 60) == 0.5
    assert share_seen(30, 60, both_sides=False) == 0.25
    assert share_seen(None, None, both_sides=False) == 0.5
    for bad in ((0, 60), (61, 60), (nan, 60), (10, float("inf"))):
        with pytest.raises(OutOfRange):
            share_seen(*bad)


def looked(*at: tuple[int, float, str, str]) -> Story:
    """(day, meter, kind, place)"""
    s = Story("E")
    for day, dial, kind, place in at:
        if kind == "look":
            one = DebrisLook(place, "", 1.0, (DebrisCount("fuzz", "", 5),))
            s.log.append(
                replace(
                    row(one), id=f"l{day}", on=DAY.fromordinal(DAY.toordinal() + day), dial=dial
                )
            )
        else:
            s.event(day, kind, dial)
    return s


BEFORE, NOW = (0, 1000, "look", "filter"), (9, 1100, "look", "filter")
CHANGE = (5, 1040, "oil_change", "")


@pytest.mark.parametrize(
    ("at", "hours"),
    [
        ([BEFORE, NOW], 100),
        ([BEFORE, CHANGE, NOW], 60),
        ([BEFORE, CHANGE, (9, 1100, "look", "bypass_filter")], nan),
        ([(0, 1000, "look", "plug"), CHANGE, (9, 1100, "look", "plug")], 100),
        ([NOW], nan),
        ([(0, 1000, "rebuild", ""), (9, 1100, "look", "plug")], 100),
    ],
)
def test_a_look_speaks_for_the_time_since_it_was_last_emptied(at, hours: float) -> None:
    s = looked(*at)
    line = build_time_line(s.fleet().histories[0])
    n = max(k for k, m in enumerate(line.moments) if m.row.look is not None)
    found = hours_of_looks(line)[n]
    assert found == hours or (isnan(found) and isnan(hours))
    assert len(looks_before(line, n)) == sum(
        1 for _, _, kind, place in at[:-1] if kind == "look" and place == at[-1][3]
    )


def test_hours_somebody_said_come_first() -> None:
    s = looked((0, 1000, "look", "filter"))
    s.log[0] = replace(s.log[0], look=replace(s.log[0].look, hours=77.0))
    assert hours_of_looks(build_time_line(s.fleet().histories[0]))[0] == 77.0


def test_the_tables_of_looking_name_only_what_exists() -> None:
    assert set(look_places()) == set(DEBRIS_PLACES)
    assert {p.surface for p in look_places().values()} <= set(SURFACES)
    assert all(p.how and p.caution for p in look_places().values())
    steps = {a.step for a in debris_key()}
    assert {a.next for a in debris_key()} <= steps | set(debris_types())
    assert all(any(a.question for a in debris_key() if a.step == s) for s in steps)
