"""Field checks raise what they say, with their caution; a later check of the same kind takes its
word back."""

import pytest

from keen_tracer.core.errors import UnknownName
from keen_tracer.core.record import check_kinds, check_result, field_checks
from keen_tracer.core.words import sentence
from tests.helpers import Story, channel, codes, ordinary

ALL = [r for found in field_checks().values() for r in found]


def checked(s: Story, check: str, code: str, day: float = 105, **more) -> Story:
    return s.event(day, "field_check", 1640, part=check, details={"result": code}, **more)


@pytest.mark.parametrize("one", ALL, ids=[f"{r.check}-{r.code}" for r in ALL])
def test_each_result_raises_its_channel_to_its_level(one) -> None:
    v = checked(ordinary(), one.check, one.code).last()
    assert (codes(v) == ["field_check"]) == (one.level > 0)
    if one.level:
        assert channel(v, one.channel) == one.level
        said = sentence(v.findings[0])
        assert one.words in said
        assert one.meaning in said


def test_crackle_thresholds_are_those_of_common_practice() -> None:
    """the-trade 3.15: silent under 0.05 %; 0.05 to 0.1; 2 mm bubbles 0.1 to 0.2; audible over 0.2.
    Watch 0.1 %, Act 0.2 %."""
    assert [r.level for r in field_checks()["crackle"]] == [0, 0, 1, 2]
    assert "2 % fuel" in check_kinds()["crackle"].caution
    assert "goggles" in check_kinds()["crackle"].caution


def test_every_check_has_a_caution_and_starts_with_a_quiet_result() -> None:
    assert set(field_checks()) <= set(check_kinds())
    assert all(kind.caution and kind.words for kind in check_kinds().values())
    assert all(found[0].level == 0 for found in field_checks().values())


def test_the_newest_check_of_a_kind_speaks() -> None:
    s = checked(checked(ordinary(), "crackle", "audible", 105), "crackle", "silent", 106)
    assert codes(s.last()) == []
    s = checked(checked(ordinary(), "crackle", "silent", 105), "magnet", "slivers", 106)
    assert codes(s.last()) == ["field_check"]


def test_a_repair_clears_it_for_the_next_sample() -> None:
    s = checked(ordinary(), "settle", "water").event(107, "repair", 1645, part="cooler")
    assert codes(s.sample(110, 1660, code="after").last()) == []


def test_another_result_gives_another_hash() -> None:
    one, other = (checked(ordinary(), "smell", r).last().input_hash for r in ("fuel", "burnt"))
    assert one != other


def test_words_that_are_not_in_the_table() -> None:
    with pytest.raises(UnknownName, match="crackle"):
        check_result("crackle", "loud")
    with pytest.raises(UnknownName):
        check_result("taste", "oily")
    assert codes(checked(ordinary(), "taste", "oily").last()) == []  # kept on record, says nothing
