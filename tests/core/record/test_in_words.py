"""What people write in their own words is the same fact as through every other door (VERDICT
8.1)."""

import pytest

from keen_tracer.core import tables
from keen_tracer.core.record import fact_kinds, facts_in, facts_of, told_as
from keen_tracer.core.record.timeline import build_time_line
from tests.helpers import Story

SAID = {
    "one cylinder is wet": {"wet_cylinder"},
    "Found water in cylinder 4 through the plug hole": {"wet_cylinder"},
    "there is coolant in the oil": {"coolant_visible"},
    "the oil is milky": {"emulsion"},
    "it knocks under load": {"knock"},
    "Oil pressure is low when hot": {"low_pressure"},
    "no oil pressure at idle": {"low_pressure"},
    "the pick-up was blocked with sealant": {"pickup_blocked"},
    "oil smells of diesel": {"fuel_smell"},
    "the oil has a sweet smell": {"coolant_smell"},
    "it ran hot last week": {"overheated"},
    "blue smoke on start": {"blue_smoke"},
    "level is rising": {"level_rising"},
    "the level rises, coolant is gone": {"level_rising", "coolant_use"},
    "loses water every day": {"coolant_use"},
    "it rumbles at idle": {"noise"},
    "bearing flakes in the filter": {"bearing_flakes"},
}
NOT_SAID = [
    "no knock",
    "the cylinders are not wet",
    "never overheated",
    "wing nut missing",
    "the can smelled of oil",
    "pressure tested, nothing found",
    "something fell in while the filler was open at the summer service",
    "injectors tested, none leaks",
    "ask whether it smokes",
]


@pytest.mark.parametrize("text", SAID)
def test_words_say_their_fact(text: str) -> None:
    assert set(facts_in(text)) == SAID[text]


@pytest.mark.parametrize("text", NOT_SAID)
def test_a_denial_and_something_else_say_nothing(text: str) -> None:
    assert facts_in(text) == ()


@pytest.mark.parametrize("fact", [r["fact"] for r in tables.read("in_words")])
def test_each_is_told_at_the_engine_by_a_row_that_says_it(fact: str) -> None:
    how = told_as(fact)
    assert how is not None
    s = Story().event(0, how.kind, 500, part=how.part, details=how.details)
    said = facts_of(s.engine, build_time_line(s.fleet().histories[0]))
    assert [w.fact for f in said for w in f.words][:1] == [fact]
    assert fact in fact_kinds()
