"""Every printed piece of evidence is true (VERDICT 8.4): recomputed from the figures, not from the
code that printed it. On 0.10 a person found 96 of 243 such words false."""

from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.core.baseline import assess
from keen_tracer.core.cases import balance
from keen_tracer.core.causes import evidence_table, evidence_words
from keen_tracer.core.diagnosis import SampleFacts, causes_of
from keen_tracer.core.laboratory import BY_SYMBOL
from keen_tracer.core.limits import default_limits
from tests.core.baseline.test_expectation import HABIT
from tests.helpers import Story, usual

DRAIN, DAYS = 250.0, 40
METALS = ("Fe", "Cr", "Pb", "Cu", "Sn", "Al", "Si", "Na", "K")
TIMES = st.sampled_from([0.6, 0.9, 1.0, 1.1, 1.5, 2.5, 5.0])


@settings(max_examples=60, deadline=None)
@given(st.fixed_dictionaries(dict.fromkeys(METALS, TIMES)))
def test_up_is_said_only_where_it_is_up(times: dict[str, float]) -> None:
    s = Story("E", bearing_type="leaded tri-metal")
    for k in range(8):
        s.change(DAYS * k, DRAIN * k)
        s.sample(DAYS * k + DAYS - 2, DRAIN * k + 245, usual(**HABIT))
    s.change(DAYS * 8, DRAIN * 8)
    now = {m: round(HABIT.get(m, 4) * x, 2) for m, x in times.items()}
    s.sample(DAYS * 9, DRAIN * 8 + 245, usual(**{**HABIT, **now}), code="NOW")
    a = assess(s.fleet(), default_limits())
    row = next(p.row for p in a.evaluation.contexts if p.sample.code == "NOW")
    facts = SampleFacts(a, row)
    said = {p.words for r in balance(causes_of(facts)).rows for p in (*r.for_, *r.against)}
    names = {BY_SYMBOL[m].name.lower(): m for m in METALS}
    for name, m in names.items():
        above = now[m] > HABIT.get(m, 4) or facts.evaluation.level[row, BY_SYMBOL[m].index] > 0
        if f"{name} up" in said:
            assert above, (name, now[m])
            assert f"{name} as usual" not in said
        if f"{name} as usual" in said:
            assert times[m] <= 2.5, (name, now[m])
    if "copper without tin, lead or iron" in said:
        assert not {"tin up", "lead up", "iron up"} & said


def test_what_is_not_there_is_never_called_there() -> None:
    """Seen and absent read differently for every piece of evidence."""
    for code in evidence_table():
        assert evidence_words(code, True) != evidence_words(code, False), code
