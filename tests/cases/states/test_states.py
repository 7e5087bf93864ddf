"""Engines written by hand with the state a careful analyst would give them, most of them without
any laboratory; the program's two lines are printed beside it.

Run `pytest tests/cases/states -s` to read them. Every case is invented.
"""

import tomllib
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest

from keen_tracer.core.causes import failure_modes
from keen_tracer.core.record import DebrisCount, DebrisLook, check_event, check_kinds
from keen_tracer.core.terms import CHANNELS, LEVELS, rank
from keen_tracer.core.words import action_kinds, may_run_words, reason_words
from tests.cases.test_cases import DRAIN
from tests.core.baseline.test_expectation import HABIT
from tests.helpers import DAY, Story, now, stated, two_lines, usual

CASES: list[dict[str, Any]] = tomllib.loads(
    Path(__file__).with_name("state.toml").read_text(encoding="utf-8")
)["case"]
NO_FIGURES = [c for c in CASES if not c.get("quiet")]


def _story(case: dict[str, Any]) -> tuple[Story, int]:
    """A case as a log; days of its own log count from the returned day."""
    s = Story("CASE", **{"bearing_type": "leaded tri-metal", **case.get("engine", {})})
    quiet = case.get("quiet", 0)
    for k in range(quiet):
        last = k == quiet - 1
        s.change(40 * k, DRAIN * k)
        changes = case.get("before", {}) if last else {}
        s.sample(40 * k + 38, DRAIN * k + 245, usual(**{**HABIT, **changes}))
    first = 40 * quiet
    if quiet:
        s.change(first, DRAIN * quiet)
    for told in case.get("log", []):
        _log(s, first, DRAIN * quiet, told)
    if "sample" in case:
        more = {k: case[k] for k in ("purpose", "glycol_method") if k in case}
        readings = usual(**{**HABIT, **case["sample"]})
        s.sample(first + 38, DRAIN * quiet + 245, readings, **more)
    return s, first


def _log(s: Story, first: int, dial: float, told: dict[str, Any]) -> None:
    more = {k: told[k] for k in ("part", "details", "appearance", "smell") if k in told}
    day, at = first + 30 + told["day"] if dial else told["day"], dial + told["dial"]
    if told["kind"] == "sample":
        s.sample(day, at, {}, **more)
        return
    if told["kind"] == "look":
        counts = tuple(DebrisCount(*x) for x in told["look"])
        tool = told.get("tool", "roller_cutter")
        more["look"] = DebrisLook(told.get("place", "filter"), tool, 1.0, counts)
    check_event(told["kind"], more.get("part", ""), more.get("details", {}))
    s.event(day, told["kind"], at, **more)


@pytest.mark.parametrize("case", CASES, ids=[c["name"].replace(" ", "-") for c in CASES])
def test_an_engine_stands_where_a_careful_analyst_would_put_it(case: dict[str, Any]) -> None:
    s, _ = _story(case)
    state = stated(s)
    today = s.log[-1].on + timedelta(days=case.get("today", 0))
    said = two_lines(s, state, today)
    told = "\n".join(f"      {reason_words(r)}" for r in state.reasons)
    level = "nothing known" if state.level is None else LEVELS[state.level]
    text = (
        f"\n  {case['name']}: {case['why']}\n    program: {level}, {now(s, state, today)}, "
        f"{state.lead}\n    {said}\n{told}\n    actions {[a.code for a in state.actions]} "
        f"checks {state.checks}"
    )
    print(text)
    _stands(case, state, now(s, state, today), today, text)
    _speaks(case, s, state, said + told, text)


def _stands(case: dict[str, Any], state: Any, may_run: str, today: Any, text: str) -> None:
    if "level" in case:
        assert state.level == case["level"], text
    if "may_run" in case:
        assert may_run == case["may_run"], text
    if "days" in case:
        assert state.until_on is not None, text
        assert (state.until_on - today).days <= case["days"], text
    for name, level in case.get("channels", {}).items():
        assert state.channels[rank(CHANNELS, name)] == level, text


def _speaks(case: dict[str, Any], s: Story, state: Any, said: str, text: str) -> None:
    actions = [a.code for a in state.actions]
    if "first" in case:
        assert actions[0] == case["first"], text
    assert not set(actions) & set(case.get("never_actions", [])), text
    if "lead" in case:
        assert state.lead == case["lead"], text
    assert set(case.get("offered", [])) <= set(state.checks), text
    assert not set(case.get("refused", [])) & set(state.checks), text
    for word in (*case.get("says", []), *case.get("reasons", [])):
        assert word in said, text
    for word in case.get("never", []):
        assert word not in said, text


def test_under_stop_nothing_that_turns_the_engine_is_offered_or_asked() -> None:
    stops = [stated(_story(c)[0]) for c in CASES if c.get("level") == 3]
    assert len(stops) >= 15
    for state in stops:
        assert {check_kinds()[c].state for c in state.checks} <= {"rest"}
        assert {action_kinds()[a.code].state for a in state.actions} == {"rest"}
        assert may_run_words(state.may_run, state.until, state.until_on, "h") == "Do not run"


def test_there_are_forty_cases_and_thirty_without_any_laboratory() -> None:
    assert len(CASES) >= 40
    assert len(NO_FIGURES) >= 30
    modes = {m.code for m in failure_modes()}
    assert {c["lead"] for c in CASES if "lead" in c} <= modes
    checks = {x for c in CASES for x in (*c.get("offered", []), *c.get("refused", []))}
    assert checks <= set(check_kinds())
    assert all(s.on >= DAY for c in CASES for s in _story(c)[0].log)
