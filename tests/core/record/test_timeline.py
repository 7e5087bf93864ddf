"""The one time line: order, charges, lives and the true meter, whatever order rows arrive in."""

from datetime import date, time, timedelta
from itertools import permutations

from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.record import Engine, History, LogRow, Sample, build_time_line
from keen_tracer.core.record.timeline import order

D = date(2026, 3, 1)
ENGINE = Engine("E", "heavy_diesel")


def row(key: str, day: int, kind: str, dial: float | None = None, **more) -> LogRow:
    sample = Sample(key, 0) if kind == "sample" else None
    return LogRow(key, D + timedelta(days=day), kind, dial, sample=sample, **more)


def line(*rows: LogRow):
    return build_time_line(History(ENGINE, rows))


def test_a_sample_at_the_drain_belongs_to_the_old_charge() -> None:
    for rows in permutations(
        [row("c0", 0, "oil_change", 0), row("c1", 9, "oil_change", 250), row("s", 9, "sample", 250)]
    ):
        moments = line(*rows).moments
        assert [m.row.id for m in moments] == ["c0", "s", "c1"]
        assert moments[1].charge == 1
        assert moments[2].charge == 2


def test_a_look_and_a_top_up_on_the_day_of_the_drain() -> None:
    rows = [
        row("t", 0, "top_up", 250, litres_in=1.0),
        row("c", 0, "oil_change", 250),
        row("l", 0, "look", 250),
        row("s", 0, "sample", 250),
    ]
    assert [r.id for r, _ in order(tuple(rows))] == ["s", "l", "c", "t"]


def test_the_clock_decides_within_a_day_where_both_have_one() -> None:
    rows = [
        row("s", 0, "sample", 250, at=time(15, 0)),
        row("c", 0, "oil_change", 250, at=time(9, 0)),
    ]
    assert [r.id for r, _ in order(tuple(rows))] == ["c", "s"]


def test_the_meter_decides_where_a_clock_is_missing() -> None:
    rows = [row("s", 0, "sample", 260, at=time(8, 0)), row("c", 0, "oil_change", 250)]
    assert [r.id for r, _ in order(tuple(rows))] == ["c", "s"]


def test_seq_decides_between_two_of_a_kind() -> None:
    rows = [row("b", 0, "oil_change", 250, seq=2), row("a", 0, "oil_change", 250, seq=1)]
    assert [r.id for r, _ in order(tuple(rows))] == ["a", "b"]


def test_a_replaced_meter_never_runs_back() -> None:
    rows = (
        row("a", 0, "meter_reading", 4990),
        row("m", 5, "meter_replaced", 5000, dial_new=12),
        row("b", 9, "meter_reading", 40),
        row("c", 20, "sample", 140),
    )
    totals = [m.total for m in line(*rows).moments]
    assert totals == [4990, 5000, 5028, 5128]
    assert not line(*rows).backwards


def test_on_the_day_of_the_swap_a_figure_belongs_to_the_nearer_dial() -> None:
    rows = (
        row("c", 5, "oil_change", 3),
        row("m", 5, "meter_replaced", 5000, dial_new=0),
        row("s", 5, "sample", 4999),
    )
    got = {m.row.id: m.total for m in line(*rows).moments}
    assert got == {"s": 4999, "m": 5000, "c": 5003}


def test_two_replaced_meters_add_up() -> None:
    rows = (
        row("m1", 1, "meter_replaced", 1000, dial_new=0),
        row("m2", 100, "meter_replaced", 500, dial_new=10),
        row("s", 120, "sample", 30),
    )
    assert line(*rows).moments[-1].total == 1520


def test_a_dial_running_backwards_is_named_not_mended() -> None:
    rows = (
        row("a", 0, "meter_reading", 500),
        row("b", 5, "meter_reading", 400),
        row("c", 9, "meter_reading", 510),
    )
    found = line(*rows)
    assert [(b.row.id, b.before.id) for b in found.backwards] == [("b", "a")]
    assert [m.total for m in found.moments] == [500, 400, 510]


def test_a_rebuild_opens_a_life_and_one_charge_with_its_fill() -> None:
    rows = (
        row("c0", 0, "oil_change", 0, oil="A||"),
        row("r", 30, "rebuild", 900),
        row("c1", 30, "oil_change", 900, oil="B||"),
        row("s", 40, "sample", 950),
    )
    found = line(*rows)
    last = found.moments[-1]
    assert (last.life, last.life_start) == (2, 900)
    assert (
        len(found.charges) == 3
    )  # what was found in it, the first fill, the fill after the rebuild
    assert found.charges[-1].oil == "B||"


def test_top_ups_go_to_their_charge() -> None:
    rows = (
        row("c0", 0, "oil_change", 0),
        row("t0", 3, "top_up", 50, litres_in=1.0),
        row("c1", 9, "oil_change", 250),
        row("t1", 12, "top_up", 300, litres_in=2.0),
        row("t2", 13, "top_up", litres_in=0.5),
    )
    found = line(*rows)
    assert found.charges[1].top_ups == [(50, 1.0)]
    assert found.charges[2].top_ups == [(300, 2.0)]
    assert found.charges[2].untimed_top_up_l == 0.5


KINDS = ["sample", "oil_change", "top_up", "meter_reading", "repair", "look", "meter_replaced"]
rows_strategy = st.lists(
    st.tuples(
        st.integers(0, 6),
        st.sampled_from(KINDS),
        st.one_of(st.none(), st.integers(0, 900)),
        st.one_of(st.none(), st.integers(0, 23)),
        st.integers(0, 2),
    ),
    min_size=1,
    max_size=9,
)


@given(rows_strategy, st.randoms(use_true_random=False))
def test_any_order_of_arrival_gives_the_same_time_line(found, random) -> None:
    rows = [
        LogRow(
            f"r{n}",
            D + timedelta(days=day),
            kind,
            dial,
            None if hour is None else time(hour),
            seq,
            dial_new=0 if kind == "meter_replaced" else None,
            litres_in=1.0 if kind == "top_up" else None,
            sample=Sample(f"r{n}", n) if kind == "sample" else None,
        )
        for n, (day, kind, dial, hour, seq) in enumerate(found)
    ]
    shuffled = rows[:]
    random.shuffle(shuffled)
    one, other = line(*rows), line(*shuffled)
    assert one.moments == other.moments
    assert one.charges == other.charges


@given(rows_strategy)
def test_days_never_run_backwards_and_nothing_is_lost(found) -> None:
    rows = [
        LogRow(
            f"r{n}", D + timedelta(days=day), kind, dial, None if hour is None else time(hour), seq
        )
        for n, (day, kind, dial, hour, seq) in enumerate(found)
    ]
    got = [r for r, _ in order(tuple(rows))]
    assert sorted(r.id for r in got) == sorted(r.id for r in rows)
    assert [r.on for r in got] == sorted(r.on for r in rows)


WITH_REBUILDS = [*KINDS, "rebuild"]


@given(st.lists(st.tuples(st.integers(0, 9), st.sampled_from(WITH_REBUILDS)), max_size=12))
def test_lives_and_work_are_found_by_their_place(found) -> None:
    """What is looked up by place is what a walk through every moment finds."""
    rows = [LogRow(f"r{n}", D + timedelta(days=day), kind) for n, (day, kind) in enumerate(found)]
    one = line(*rows)
    lives = {m.life for m in one.moments} | {one.newest_life}
    for life in lives:
        walked = [n for n, m in enumerate(one.moments) if m.life == life]
        assert list(one.places_of(life)) == walked
    works = [n for n, m in enumerate(one.moments) if m.row.kind in ("repair", "rebuild")]
    for place in range(len(one.moments) + 1):
        assert one.last_work(before=place) == max((n for n in works if n < place), default=-1)


@given(st.lists(st.tuples(st.integers(0, 23), st.sampled_from(KINDS[:5])), min_size=2, max_size=6))
def test_timed_rows_of_a_day_keep_the_clocks_order(found) -> None:
    rows = [LogRow(f"r{n}", D, kind, 100.0, time(hour)) for n, (hour, kind) in enumerate(found)]
    hours = [r.at for r, _ in order(tuple(rows))]
    assert hours == sorted(hours)


def test_two_meters_replaced_on_one_day() -> None:
    rows = [
        row("m2", 5, "meter_replaced", 7, seq=2, dial_new=100),
        row("m1", 5, "meter_replaced", 5000, seq=1, dial_new=0),
        row("s", 6, "sample", 130),
    ]
    for shuffled in permutations(rows):
        assert [m.total for m in line(*shuffled).moments] == [5000, 5007, 5037]
