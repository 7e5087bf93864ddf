"""Limits edited as a draft, tried on the verdicts before they are published as a version of their
own."""

from datetime import date
from pathlib import Path

import pytest

from keen_tracer.core.limits import LimitRow
from keen_tracer.core.roles import Actor, at_the_machine
from keen_tracer.storage.db import single
from keen_tracer.storage.records import limits_in_force, number, publish_limits
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging import deciding, library
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import judge, queue
from tests.helpers import write_csv


@pytest.fixture
def judged(url: str, tmp_path: Path) -> str:
    """A petrol and a diesel engine, 60 ppm of iron in each: Watch is 40 and 75, Act 80 and 125."""
    files = {
        "engines.csv": "engine,class\nE-1,petrol\nE-2,heavy_diesel\n",
        "samples.csv": f"sample,engine,drawn_on,meter,Fe_ppm\nP,E-1,{date(2026, 3, 1)},900,60\n"
        f"D,E-2,{date(2026, 3, 1)},900,60\n",
    }
    paths = [write_csv(tmp_path, n, t) for n, t in files.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    judge_stale(url)
    return url


def iron(
    scope: str, name: str, watch: float | None, act: float | None, origin: str = "the maker's sheet"
) -> LimitRow:
    return LimitRow(scope, name, "Fe_ppm", "conc", watch, act, "ppm", origin)


def test_a_draft_says_what_it_would_change_and_writes_nothing(judged: str) -> None:
    with single(judged) as c:
        before = number(c, "count_verdicts")
        found = library.try_out(c, [iron("class", "petrol", 20, 50)])
        assert [(x["sample"], x["was"], x["now"]) for x in found["changes"]] == [("P", 1, 2)]
        assert (found["engines"], found["raised"], found["lowered"]) == (1, 1, 0)
        assert number(c, "count_verdicts") == before
        held = limits_in_force(c)
        assert held
        assert held[1].name == "default 2"


def test_a_narrower_scope_touches_its_own_engine_only(judged: str) -> None:
    with single(judged) as c:
        found = library.try_out(c, [iron("engine", "E-2", 30, 50)])
        assert [(x["engine"], x["was"], x["now"]) for x in found["changes"]] == [("E-2", 0, 2)]
        assert found["samples"] == 1


def test_what_was_tried_is_what_is_published(judged: str) -> None:
    draft = [iron("class", "petrol", 20, 50), iron("engine", "E-2", 30, 50)]
    with single(judged) as c:
        tried = library.try_out(c, draft)
        assert library.publish(c, "workshop 2", draft, Actor("Jo", "analyst")) == 2
    judge_stale(judged)
    with single(judged) as c:
        now = {s: judge.sample(c, s)["verdict"]["level"] for s in "PD"}
        assert now == {x["sample"]: x["now"] for x in tried["changes"]}
        shown = library.limits(c)
        assert shown["version"] == "workshop 2"
        assert shown["versions"][0]["published_by"] == "Jo"
        assert "the maker's sheet" in judge.sample(c, "P")["ladders"][0]["limit"]["origin"]
        assert library.try_out(c, draft)["changes"] == []


def test_a_signed_verdict_is_never_altered_and_comes_back_when_it_would_be_higher(
    judged: str,
) -> None:
    with single(judged) as c:
        v = judge.sample(c, "D")["verdict"]
        deciding.sign(c, "D", 0, v["basis"], None, "", "", Actor("An analyst", "analyst"))
        assert [
            x["signed"] for x in library.try_out(c, [iron("engine", "E-2", 30, 50)])["changes"]
        ] == [True]
        library.publish(c, "2", [iron("engine", "E-2", 30, 50)], Actor("Jo", "analyst"))
    judge_stale(judged)
    with single(judged) as c:
        s = judge.sample(c, "D")
        assert s["decision"]["level"] == 0
        assert "would now say Act" in s["basis_changed"]
        assert "D" in [q["sample"] for q in queue.queue(c)]


def test_a_limit_is_switched_off_for_one_engine_on_both_sides(judged: str) -> None:
    with single(judged) as c:
        off = LimitRow(
            "engine", "E-2", "KV100_mm2_s", "pct_fresh", None, None, "%", "thickens by design"
        )
        library.publish(c, "2", [off], Actor("Jo", "analyst"))
        held = limits_in_force(c)
        assert held
        from keen_tracer.core.record import Engine

        def there(code: str) -> int:
            return sum(
                r.analyte == "KV100_mm2_s"
                for r in held[1].for_engine(Engine(code, "heavy_diesel")).rows.values()
            )

        assert (there("E-2"), there("E-1")) == (0, 2)


@pytest.mark.parametrize(
    ("rows", "text"),
    [
        ([], "change a limit first"),
        ([iron("class", "boats", 1, 2)], "no class boats"),
        ([iron("engine", "E-9", 1, 2)], "no engine E-9"),
        ([iron("model", "M", 1, 2)], "no model M"),
        ([iron("class", "petrol", 50, 20)], "before Watch"),
        ([iron("class", "petrol", 1, 2, " ")], "where the figure comes from"),
    ],
)
def test_a_draft_that_cannot_be_meant_says_why(judged: str, rows, text: str) -> None:
    with single(judged) as c, pytest.raises(CannotRecord, match=text):
        library.try_out(c, rows)


@pytest.mark.parametrize(("name", "text"), [(" ", "name"), ("default 2", "published already")])
def test_a_version_needs_a_name_of_its_own(judged: str, name: str, text: str) -> None:
    with single(judged) as c, pytest.raises(CannotRecord, match=text):
        library.publish(c, name, [iron("class", "petrol", 20, 50)], Actor("Jo", "analyst"))


def test_classes_that_are_new_to_a_version_are_added_and_nothing_else(judged: str) -> None:
    with single(judged) as c:
        assert library.publish_shipped(c) == ""
        held = limits_in_force(c)
        assert held
        older = [r for r in held[1].rows if r.scope_name not in ("other", "two_stroke")]
        mine = [*older, iron("engine", "E-1", 20, 50)]
        publish_limits(c, "mine", "Tester", mine)
        name = library.publish_shipped(c)
        assert name.startswith("mine, new classes of default")
        now = limits_in_force(c)
        assert now
        assert set(mine) < set(now[1].rows)
        assert {r.scope_name for r in set(now[1].rows) - set(mine)} == {"other", "two_stroke"}
        assert library.publish_shipped(c) == ""
