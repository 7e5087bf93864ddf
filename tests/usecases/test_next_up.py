"""What comes next at one engine, drawn from the plan's own tasks."""

from datetime import date, timedelta
from typing import Any

from keen_tracer.usecases.answers.engine import NextUp
from keen_tracer.usecases.answers.plan import Listed
from keen_tracer.usecases.pages.next_up import next_up, waits

TODAY = date(2026, 12, 1)


def task(key: str, form: str, days: int, **more: Any) -> Listed:
    day = TODAY + timedelta(days=days)
    given: dict[str, Any] = {
        "kind": "work",
        "code": key,
        "short": key,
        "what": key,
        "tools": "",
        "caution": "",
        "at_dial": None,
        "hours": 1.0,
        "level": 0,
        "late": max(-days, 0),
        "at_rest": True,
        "movable": True,
        **more,
    }
    return Listed(key=key, form=form, day=day, earliest=day, latest=day, **given)


def said(found: list[NextUp]) -> list[tuple[str, str]]:
    return [(n["group"], n["words"]) for n in found]


def test_the_first_of_each_group_and_the_late_ones_before() -> None:
    tasks = [
        task("resample", "bottle", -3),
        task("compression", "check", 1, at_rest=False),
        task("open filter", "look", 2),
        task("change", "oil_change", 9),
        task("yearly sample", "bottle", 30),
    ]
    found = next_up(tasks, TODAY, halted=False)
    assert said(found) == [
        ("sample", "resample"),
        ("look or check", "compression"),
        ("oil change", "change"),
    ]
    assert found[0]["late"] == 3
    assert found[0]["on"] == TODAY  # what is late is due today


def test_what_waits_is_not_next_and_says_for_what() -> None:
    grind = task("grind the crank", "work", 5)
    shells = task("new shells", "work", 1, after=(grind.key,))
    assert said(next_up([shells, grind], TODAY, halted=False)) == [("work", "grind the crank")]
    assert waits([shells, grind]) == [{"words": "new shells", "until": ["grind the crank"]}]
    # What it waited for is done and gone: nothing is said of it.
    assert waits([shells]) == []


def test_under_a_stop_nothing_that_turns_and_never_a_sample_alone() -> None:
    turning = task("listen", "check", 0, at_rest=False)
    bottle, decide = task("sample", "bottle", 0), task("decide", "run", 0)
    assert next_up([turning, bottle], TODAY, halted=True) == []
    assert said(next_up([bottle, turning, decide], TODAY, halted=True)) == [
        ("decision", "decide"),
        ("sample", "sample"),
    ]


def test_a_bottle_on_its_way_is_nothing_to_do() -> None:
    assert next_up([task("bottle expected", "tracking", 0)], TODAY, halted=False) == []
