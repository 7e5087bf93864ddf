"""Samples written by hand with the verdict a careful analyst would give; the program's sentences
are printed beside it.

Run `pytest tests/cases -s` to read them. Every case is invented.
"""

import dataclasses
import tomllib
from datetime import timedelta
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from keen_tracer.core.causes import failure_modes
from keen_tracer.core.judge import judge
from keen_tracer.core.limits import default_limits
from keen_tracer.core.record import Coolant, DebrisCount, DebrisLook, LogRow
from keen_tracer.core.terms import CHANNELS, LEVELS, rank
from keen_tracer.core.verdict import Verdict
from keen_tracer.core.words import sentence, summary
from tests.core.baseline.test_expectation import HABIT
from tests.helpers import DAY, FRESH, OIL, Story, figures, usual

CASES: list[dict[str, Any]] = [
    case
    for file in sorted(Path(__file__).parent.glob("*.toml"))
    for case in tomllib.loads(file.read_text(encoding="utf-8"))["case"]
]
DRAIN = 250.0
# mg/kg of sodium and potassium: with both, with either alone
COOLANTS = {
    "both": Coolant(2600.0, 1300.0),
    "potassium": Coolant(150.0, 4200.0),
    "sodium": Coolant(5200.0, 90.0),
    "plain": Coolant(20.0, 4.0),
}


def _readings(rng: np.random.Generator, changes: dict[str, object]) -> dict[str, object]:
    habit = {m: round(v * float(np.exp(rng.normal(0, 0.1))), 2) for m, v in HABIT.items()}
    return usual(**{**habit, **changes})


def _engine(fields: dict[str, Any]) -> dict[str, Any]:
    return {k: frozenset(v) if k == "features" else v for k, v in fields.items()}


def verdict_of(case: dict[str, Any]) -> Verdict:
    """The newest sample of a case, judged by the default policy without published peers."""
    rng, history = np.random.default_rng(7), case.get("history", 10)
    days = case.get("days", 40)
    start = 0.0 if case.get("new") else 2000.0
    s = Story(
        "CASE",
        bearing_type="leaded tri-metal",
        in_service_on=DAY if case.get("new") else None,
        coolant=case.get("coolant", ""),
        **_engine(case.get("engine", {})),
    )
    habit = {**case.get("habit", {}), **case.get("fresh_too", {})}
    for k in range(history):
        last = k == history - 1
        s.change(days * k, start + DRAIN * k)
        s.sample(
            days * k + days - 2,
            start + DRAIN * k + 245,
            _readings(rng, {**habit, **(case.get("before", {}) if last else {})}),
        )
    now, dial = float(days * history), start + DRAIN * history
    if case.get("repair"):
        part = case["repair"] if isinstance(case["repair"], str) else "oil pan gasket"
        s.event(now - 1, "repair", dial, part=part)
    s.change(now, dial, oil="Other oil|15W-40|1" if case.get("other_oil") else OIL)
    at = 245.0
    if case.get("mid_charge"):
        s.sample(
            now + 20,
            dial + 100,
            _readings(rng, {"Fe": 12, "Cr": 1.2, "Al": 2.4, "Pb": 2, "Cu": 3, "Sn": 1}),
        )
        at = 140.0
    if "symptom" in case:
        more = {"part": case["symptom"], "details": case.get("details", {})}
        s.event(now + days - 3, "symptom", dial + at - 5, **more)
    if "check" in case:
        more = {"part": case["check"], "details": case["details"]}
        s.event(now + days - 3, "field_check", dial + at - 5, **more)
    if "look" in case:
        look = DebrisLook(
            "filter", "roller cutter", 1.0, tuple(DebrisCount(*x) for x in case["look"])
        )
        s.log.append(
            LogRow("look", DAY + timedelta(days=now + days - 3), "look", dial + at - 5, look=look)
        )
    s.sample(
        now + days - 2,
        dial + at,
        _readings(rng, {**habit, **case["sample"]}),
        appearance=case.get("appearance", ""),
    )
    fresh = {**FRESH, **case.get("fresh_too", {})}
    f = s.fleet(fresh)
    f = dataclasses.replace(
        f, coolants=COOLANTS, fresh={**f.fresh, "Other oil|15W-40|1": figures(fresh)[0]}
    )
    return judge(f, default_limits())[-1]


def told(case: dict[str, Any], v: Verdict) -> str:
    """The analyst's word beside the program's."""
    level = "not judged" if v.level is None else LEVELS[v.level]
    said = "\n".join(f"      {sentence(f)}" for f in v.findings)
    head = summary(list(v.channels))
    wanted = LEVELS[case["level"]] if "level" in case else case.get("lead", case.get("leads"))
    return (
        f"\n  {case['name']}: {wanted}. {case['why']}\n    program: "
        f"{level}. {head} {v.lead}\n{said}"
    )


@pytest.mark.parametrize("case", CASES, ids=[c["name"].replace(" ", "-") for c in CASES])
def test_the_program_says_what_a_careful_analyst_would(case: dict[str, Any]) -> None:
    v = verdict_of(case)
    text = told(case, v)
    print(text)
    if "level" in case:
        assert v.level == case["level"], text
    for name, level in case.get("channels", {}).items():
        assert v.channels[rank(CHANNELS, name)] == level, text
    for name in case.get("quiet", []):
        assert v.channels[rank(CHANNELS, name)] == 0, text
    assert set(case.get("codes", [])) <= {f.code for f in v.findings}, text
    if "lead" in case:
        assert v.lead == case["lead"], text
    if "leads" in case:
        assert v.lead in case["leads"], text
    if "may_run" in case:
        assert v.may_run == case["may_run"], text


def test_there_are_thirty_cases_and_every_named_part_exists() -> None:
    assert len(CASES) >= 30
    known = {m.code for m in failure_modes()}
    assert {c["lead"] for c in CASES if "lead" in c} <= known
