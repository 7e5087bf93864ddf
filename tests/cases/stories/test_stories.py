"""A hundred and twenty engines with what a careful analyst would say of each, written down before
the rules that shall satisfy them.

Stories that do not hold yet are named in `not_yet.txt`; one that holds is taken off the list, and
none comes onto it. `pytest tests/cases/stories -s` prints how many hold. Every story is invented.
"""

import tomllib
from datetime import timedelta
from pathlib import Path
from typing import Any

import pytest

from keen_tracer.core.causes import failure_modes
from keen_tracer.core.record import Coolant, DebrisCount, DebrisLook, check_kinds
from keen_tracer.core.status import may_run_now
from keen_tracer.core.terms import MAY_RUN
from keen_tracer.core.verdict import EngineState
from keen_tracer.core.words import action_kinds
from tests.cases.test_cases import DRAIN
from tests.core.baseline.test_expectation import HABIT
from tests.helpers import Story, stated, usual

HERE = Path(__file__).parent
DAYS = 40  # of a charge
STORIES: list[dict[str, Any]] = [
    story
    for file in sorted(HERE.glob("*.toml"))
    for story in tomllib.loads(file.read_text(encoding="utf-8"))["story"]
]
NOT_YET = set((HERE / "not_yet.txt").read_text(encoding="utf-8").splitlines())


def _quiet(s: Story, story: dict[str, Any]) -> None:
    """Drains behind the engine, and the change that begins the present charge."""
    drains = story.get("quiet", 0)
    for k in range(drains):
        s.change(DAYS * k, DRAIN * k)
        changes = story.get("before", {}) if k == drains - 1 else {}
        s.sample(DAYS * k + DAYS - 2, DRAIN * k + 245, usual(**{**HABIT, **changes}))
    if drains:
        s.change(DAYS * drains, DRAIN * drains)


def _logged(s: Story, first: float, dial: float, told: dict[str, Any]) -> None:
    more = {k: told[k] for k in ("part", "details", "litres_in") if k in told}
    if told["kind"] == "look":
        counts = tuple(DebrisCount(*x) for x in told["look"])
        tool, share = told.get("tool", "roller_cutter"), told.get("share", 1.0)
        more["look"] = DebrisLook(told.get("place", "filter"), tool, share, counts)
    s.event(first + told["day"], told["kind"], dial + told["dial"], **more)


def engine_of(story: dict[str, Any]) -> Story:
    """A story as the log of an engine. With quiet drains its own rows count from thirty days into
    the present charge, and its sample is the newest row but for what was found after it."""
    fields = dict(story.get("engine", {}))
    fields.pop("in_service_days", None)
    fields["features"] = frozenset(fields.get("features", []))
    s = Story("STORY", **{"bearing_type": "leaded tri-metal", **fields})
    s.coolants = {name: Coolant(**x) for name, x in story.get("coolants", {}).items()}
    drains = story.get("quiet", 0)
    _quiet(s, story)
    dial = DRAIN * drains
    first = DAYS * drains + (30 if drains else 0)
    for told in story.get("log", []):
        _logged(s, first, dial, told)
    if "sample" in story:
        readings = {k: v for k, v in usual(**{**HABIT, **story["sample"]}).items() if v != ""}
        after = story.get("early", 245.0)
        s.sample(DAYS * drains + DAYS * after / DRAIN - 1, dial + after, readings)
    return s


def wrong_in(story: dict[str, Any], state: EngineState, may_run: str) -> list[str]:
    """What of a state a careful analyst would not accept, in words."""
    out = []
    level = -1 if state.level is None else int(state.level)
    if "level" in story and level not in story["level"]:
        out.append(f"level {level}, not of {story['level']}")
    if "may_run" in story and may_run not in story["may_run"]:
        out.append(f"{may_run}, not of {story['may_run']}")
    if "leads" in story and state.lead not in story["leads"]:
        out.append(f"{state.lead or 'nothing'} leads, not of {story['leads']}")
    offered = set(state.checks)
    asked = offered | {a.code for a in state.actions}
    if "next" in story and not asked & set(story["next"]):
        out.append(f"offers {sorted(offered)}, none of {story['next']}")
    if bad := offered & set(story.get("never", [])):
        out.append(f"offers {sorted(bad)}")
    return out


def judged(story: dict[str, Any]) -> list[str]:
    """What of the program's word on a story does not hold."""
    s = engine_of(story)
    state = stated(s)
    newest = max(r.on for r in s.log) + timedelta(days=story.get("today", 0))
    dial = max((r.dial for r in s.log if r.dial is not None), default=None)
    may_run = may_run_now(state.may_run, state.until, state.until_on, dial, newest)
    return wrong_in(story, state, may_run)


@pytest.mark.parametrize("story", STORIES, ids=[s["name"].replace(" ", "-") for s in STORIES])
def test_a_careful_analyst_would_say_the_same(story: dict[str, Any]) -> None:
    wrong = judged(story)
    if not story.get("aside"):
        print(f"\n  {story['name']}: {story['why']}\n    {'; '.join(wrong) or 'holds'}")
    if story["name"] in NOT_YET:
        assert wrong, "it holds now: take it off not_yet.txt"
    else:
        assert not wrong, f"{story['name']}: {story['why']} The program: {'; '.join(wrong)}"


def test_the_stories_name_only_what_there_is() -> None:
    modes, checks = {m.code for m in failure_modes()}, {*check_kinds(), *action_kinds()}
    assert len(STORIES) >= 120
    assert sum(bool(s.get("aside")) for s in STORIES) >= 40
    names = [s["name"] for s in STORIES]
    assert len(set(names)) == len(names)
    assert set(names) >= NOT_YET
    for s in STORIES:
        assert set(s.get("leads", [])) <= modes, s["name"]
        assert set(s.get("next", [])) | set(s.get("never", [])) <= checks, s["name"]
        assert set(s.get("may_run", [])) <= set(MAY_RUN), s["name"]
        assert set(s.get("level", [])) <= {-1, 0, 1, 2, 3}, s["name"]
