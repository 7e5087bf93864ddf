"""What the bounds allow, the core can judge and say: engines, logs, samples and fresh oils made of
the corners of all bounds together."""

import re
from collections.abc import Mapping
from datetime import timedelta

from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.core.baseline import NOTHING_PUBLISHED, assess
from keen_tracer.core.bounds import BOUNDS, Bound, reading_range
from keen_tracer.core.judge import verdicts
from keen_tracer.core.laboratory import ANALYTES
from keen_tracer.core.limits import Policies, default_limits
from keen_tracer.core.review import label_queries, record_queries
from keen_tracer.core.terms import CLASSES, METER_UNITS
from keen_tracer.core.words import query_words, sentence
from tests.helpers import DAY, Story, stated, two_lines

TINY = 1e-300
NO_FIGURE = re.compile(r"\b(nan|inf|infinity)\b|[\d.]e[+-]?\d", re.IGNORECASE)
# Words that stand for an unknown figure where a sentence needs none.
SYMBOLS = [a.symbol for a in ANALYTES]


def corners(name: str) -> st.SearchStrategy[float]:
    b: Bound = BOUNDS[name]
    low = b.low if not b.above else b.low + (1.0 if b.whole else TINY)
    middle = min(max((low + b.high) / 2, low), b.high)
    found = [low, min(1.0, b.high) if low <= 1.0 else low, middle, b.high]
    return st.sampled_from([float(int(x)) if b.whole else x for x in found])


@st.composite
def readings(draw) -> dict[str, object]:
    """Some figures at the ends of what they may be; a non-detect now and then."""
    out: dict[str, object] = {}
    for symbol in draw(st.lists(st.sampled_from(SYMBOLS), unique=True, max_size=12)):
        least, most = reading_range(next(a.column for a in ANALYTES if a.symbol == symbol))
        figure = draw(st.sampled_from([least, most, min(max(20.0, least), most)]))
        mark = draw(st.sampled_from(["", "", "<", ">"]))
        out[symbol] = f"{mark}{figure!r}"
    return out


@st.composite
def stories(draw) -> tuple[Story, Mapping[str, object]]:
    s = Story(
        engine_class=draw(st.sampled_from(sorted(CLASSES))),
        meter_unit=draw(st.sampled_from(sorted(METER_UNITS))),
        oil_total_l=draw(st.none() | corners("capacity")),
        sump_l=draw(st.none() | corners("capacity")),
        carry_over=draw(corners("share")),
        nominal_drain=draw(corners("interval")),
        interval_meter=draw(st.none() | corners("interval")),
        interval_days=draw(st.none() | corners("whole_days").map(int)),
    )
    for n in range(draw(st.integers(1, 7))):
        day = n * draw(st.sampled_from([0, 1, 400, 9000]))
        dial = draw(st.none() | corners("meter"))
        match draw(st.sampled_from(["sample", "sample", "change", "top_up", "coolant", "reading"])):
            case "sample":
                s.sample(
                    day,
                    dial,
                    draw(readings()),
                    top_up_l=draw(st.none() | corners("litres")),
                    hours_on_oil=draw(st.none() | corners("meter")),
                    level_on_stick=draw(st.none() | corners("stick")),
                )
            case "change":
                s.event(day, "oil_change", dial, litres_in=draw(st.none() | corners("litres")))
            case "top_up":
                s.event(day, "top_up", dial, litres_in=draw(corners("litres")))
            case "coolant":
                s.event(day, "coolant_top_up", dial, litres_in=draw(corners("litres")))
            case _:
                s.event(day, "meter_reading", dial)
    return s, draw(readings())


def check_words(text: str) -> None:
    assert text, "nothing is said"
    assert not NO_FIGURE.search(text), text


@settings(max_examples=60, deadline=None)
@given(stories())
def test_what_the_bounds_allow_is_judged_and_said(made: tuple[Story, Mapping[str, object]]) -> None:
    s, fresh = made
    if s.readings:
        plain = {k: v for k, v in fresh.items() if str(v)[0] not in "<>"}
        a = assess(s.fleet(plain), default_limits(), NOTHING_PUBLISHED, Policies(), ())
        for v in verdicts(a):
            for f in v.findings:
                check_words(sentence(f))
        for found in (record_queries(a.evaluation), label_queries(a)):
            for q in found.get(s.engine.code, []):
                for words in query_words(q.code, q.numbers, s.engine.meter_unit):
                    check_words(words)
    state = stated(s)
    for r in state.reasons:
        check_words(sentence(r.finding))
    today = DAY + timedelta(days=10_000)
    check_words(two_lines(s, state, today))
