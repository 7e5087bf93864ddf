"""The rate of false alarms and the weights as a site keeps them."""

import pytest

from keen_tracer.core.causes import WeightRow
from keen_tracer.core.limits import AS_SHIPPED
from keen_tracer.core.roles import Actor
from keen_tracer.storage.db import single
from keen_tracer.storage.records import number, set_setting
from keen_tracer.usecases.errors import CannotRecord
from keen_tracer.usecases.judging import dial, weighing
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.judging.standards import standards

ANALYST = Actor("Mira Ostrand", "analyst")


def test_the_factor_is_counted_kept_and_every_engine_judged_by_it(demo_copy: str) -> None:
    with single(demo_copy) as c:
        tried = dial.try_dial(c, 0.5)
        assert tried["quiet"] > 200
        assert tried["kept"]
        assert dial.current(c)["strictness"] == AS_SHIPPED
        assert dial.current(c)["wanted"] is None
        kept = dial.set_dial(c, 0.5, ANALYST)
        assert kept["strictness"] == tried["chosen"]["strictness"]
        assert number(c, "stale_count") == number(c, "count_engines")
        held = standards(c)
        assert held
        assert held.policies.strictness == kept["strictness"]
        dial.set_dial(c, None, ANALYST)
        again = standards(c)
        assert again
        assert again.policies.strictness == AS_SHIPPED


def test_a_stricter_factor_changes_verdicts_and_the_same_one_none(demo_copy: str) -> None:
    levels = "select count(*), sum(level) from verdict v where not exists (select 1 from verdict w \
        where w.sample_id = v.sample_id and w.id > v.id)"
    with single(demo_copy) as c:
        before = c.execute(levels).fetchone()
        c.execute("insert into judging_queue select id from engine on conflict do nothing")
    judge_stale(demo_copy)
    with single(demo_copy) as c:
        assert c.execute(levels).fetchone() == before
        set_setting(c, "false_alarms", {"strictness": 2.0})
        c.execute("insert into judging_queue select id from engine on conflict do nothing")
    judge_stale(demo_copy)
    with single(demo_copy) as c:
        after = c.execute(levels).fetchone()
        assert before
        assert after
        assert after[0] == before[0]
        assert after[1] < before[1]


def test_a_fleet_with_little_history_cannot_be_counted(url: str) -> None:
    with single(url) as c, pytest.raises(CannotRecord, match="quiet samples"):
        dial.try_dial(c, 1.0)


def test_weights_lie_over_those_in_force_and_never_change(demo_copy: str) -> None:
    first = WeightRow("piston", "Al", 1.0, -1.0, "ours")
    second = WeightRow("piston", "prior", -2.0, 0.0, "ours too")
    with single(demo_copy) as c:
        assert weighing.weights(c)["versions"] == []
        assert weighing.try_weights(c, [first])["tried"] > 20
        weighing.publish(c, "one", [first], ANALYST)
        weighing.publish(c, " two ", [second], ANALYST)
        with pytest.raises(CannotRecord, match="published already"):
            weighing.publish(c, "two", [second], ANALYST)
        with pytest.raises(CannotRecord, match="change a weight"):
            weighing.publish(c, "three", [], ANALYST)
        found = weighing.weights(c)
        assert found["version"] == "two"
        piston = next(m for m in found["modes"] if m["code"] == "piston")
        assert (piston["prior"], piston["origin"]) == (-2.0, "ours too")
        aluminium = next(w for w in piston["weights"] if w["evidence"] == "Al")
        assert (aluminium["seen"], aluminium["absent"], aluminium["origin"]) == (1.0, -1.0, "ours")
        other = next(w for w in piston["weights"] if w["evidence"] == "Fe")
        assert other["origin"] == weighing.SHIPPED
        assert number(c, "stale_count") > 0
