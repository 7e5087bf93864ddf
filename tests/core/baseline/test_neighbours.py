"""What a depot's engines share in a month: road salt in all of them, and a leak in one."""

from dataclasses import replace

import numpy as np
import pytest

from keen_tracer.core.baseline import PeerSet, members, peer_set, peers_of_rows, rows_of
from keen_tracer.core.baseline.peer_summary import ENOUGH_NEIGHBOURS
from keen_tracer.core.judge import judge
from keen_tracer.core.limits import default_limits, evaluate
from keen_tracer.core.terms import CHANNELS, rank
from tests.core.baseline.test_expectation import history
from tests.helpers import Story, fleet

COOLANT = rank(CHANNELS, "coolant")
SALT = 24.0  # ppm of sodium, habit 6


def depot(salted: int, engines: int = 9, name: str = "North") -> list[Story]:
    """Engines of one depot, the last sample of all in the same month; some of them salted."""
    out = []
    for n in range(engines):
        more = {"Na": SALT} if n < salted else {}
        s = history(f"{name}{n}", 8, seed=n, **more)
        s.engine = replace(s.engine, depot=name)
        out.append(s)
    return out


def learnt(stories: list[Story]) -> PeerSet:
    return peer_set("test", members(evaluate(fleet(stories), default_limits())))


def level_of_last(story: Story, peers: PeerSet) -> int:
    verdict = judge(story.fleet(), default_limits(), peers)[-1]
    return int(verdict.channels[COOLANT] or 0)


def test_sodium_in_the_whole_depot_is_no_news_of_one_engine() -> None:
    stories = depot(salted=9)
    assert level_of_last(stories[0], learnt(depot(salted=1))) >= 1
    assert level_of_last(stories[0], learnt(stories)) == 0


def test_a_leak_in_a_salted_month_is_still_seen() -> None:
    leaking = history("North0", 8, seed=0, Na=SALT + 40, K=24)
    leaking.engine = replace(leaking.engine, depot="North")
    assert level_of_last(leaking, learnt(depot(salted=9))) >= 1


def test_one_engine_alone_or_too_few_of_them_make_no_neighbours() -> None:
    assert not learnt(depot(salted=1)).neighbours
    assert not learnt(depot(ENOUGH_NEIGHBOURS - 1, engines=ENOUGH_NEIGHBOURS - 1)).neighbours
    assert learnt(depot(ENOUGH_NEIGHBOURS, engines=ENOUGH_NEIGHBOURS)).neighbours


@pytest.mark.parametrize("other", ["South", ""])
def test_another_depot_does_not_share_it(other: str) -> None:
    peers = learnt(depot(salted=9))
    elsewhere = depot(salted=9)[0]
    elsewhere.engine = replace(elsewhere.engine, depot=other)
    assert level_of_last(elsewhere, peers) >= 1


def test_they_are_published_as_rows_and_read_again() -> None:
    peers = learnt(depot(salted=9))
    again = peers_of_rows("test", rows_of(peers))
    assert list(again.neighbours) == list(peers.neighbours)
    for key, shift in peers.neighbours.items():
        assert np.allclose(again.neighbours[key], shift, rtol=1e-4)
    rows = [r for r in rows_of(peers) if r.kind == "neighbours"]
    assert {r.name for r in rows} == {"North"}
