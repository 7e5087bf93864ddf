"""A database of version 9 with Stops that were lifted by a repair, a lower signature or a later
quiet sample: they come back, and start and Wall say which; what was released stays released."""

import argparse
from collections.abc import Iterator
from pathlib import Path
from uuid import uuid4

import psycopg
import pytest

from keen_tracer.cli import judge, prepare
from keen_tracer.storage.db import single
from keen_tracer.storage.migrate import drop_database, ensure_database, migrate
from keen_tracer.storage.records import number
from keen_tracer.usecases.judging.judging import became_graver, judge_stale
from keen_tracer.usecases.pages.run import runs
from keen_tracer.usecases.pages.wall import graver_seen, wall
from tests.conftest import at

# engine → what happened to it, as (day, kind, part); day of a release, if there was one
LOST = {
    "KNOCK": [(2, "symptom", "knock"), (4, "repair", "wiper blade")],
    "CHUNK": [(2, "symptom", "chunks")],
    "RELEASED": [(2, "symptom", "knock"), (4, "repair", "bearing shells")],
    "AFTER": [(9, "symptom", "oil_lamp_hot_idle")],
    "QUIET": [(2, "symptom", "noise"), (4, "repair", "belt")],
    "HELD": [(2, "symptom", "pickup_blocked")],
}
RELEASED = ("RELEASED", "AFTER")  # on the sixth day
SHOWN_AS_STOPPED = ("HELD",)


@pytest.fixture
def before(cluster: str) -> Iterator[str]:
    """A database as version 9 left it."""
    url = at(cluster, f"stops_{uuid4().hex[:8]}")
    ensure_database(url)
    migrate(url, up_to=9)
    with psycopg.connect(url) as owner:
        for engine, told in LOST.items():
            made = owner.execute(
                "insert into engine (code, class) values (%s, 'heavy_diesel') returning id",
                [engine],
            ).fetchone()
            assert made
            for day, kind, part in told:
                key = uuid4()
                owner.execute(
                    "insert into log (id, engine_id, on_date, kind) values (%s, %s, %s, %s)",
                    [key, made[0], f"2026-01-{day:02d}", kind],
                )
                owner.execute("insert into event (log_id, part) values (%s, %s)", [key, part])
            if engine in RELEASED:
                owner.execute(
                    "insert into decision (id, kind, engine_id, run_state, reason, decided_by, "
                    "decided_at) values (gen_random_uuid(), 'run', %s, 'release', 'ok', 'R', "
                    "'2026-01-06 12:00Z')",
                    [made[0]],
                )
            owner.execute(
                "insert into wall (engine_id, open_stop, picture) values (%s, %s, '{}')",
                [made[0], engine in SHOWN_AS_STOPPED],
            )
    yield url
    drop_database(url)


def test_lost_stops_come_back_and_the_start_says_which(
    before: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("KEEN_HOME", str(tmp_path))
    prepare(before)
    with single(before) as c:
        assert became_graver(c) == [], "nothing is said before every engine is judged"
    judge_stale(before)
    with single(before) as c:
        assert number(c, "stale_count") == 0
        assert became_graver(c) == ["AFTER", "CHUNK", "KNOCK"]
        assert became_graver(c) == [], "said once"
        state = {r["code"]: r["state"]["may_run"] for r in runs(c)["rows"]}
        listed = wall(c, None, None, "need", 0, 9)["graver"]
        assert [(x["code"], x["was"], x["now"]) for x in listed] == [
            (code, "not judged, not judged yet", "Stop, do not run")
            for code in ("AFTER", "CHUNK", "KNOCK")
        ]
        graver_seen(c, ["AFTER", "CHUNK"], "A")
        assert [x["code"] for x in wall(c, None, None, "need", 0, 9)["graver"]] == ["KNOCK"]
    assert {code for code, may in state.items() if may == "do_not_run"} == {
        *("AFTER", "CHUNK", "HELD", "KNOCK")
    }
    assert state["RELEASED"] == "runs"


def test_judging_from_the_command_line_says_it_too(
    before: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.setenv("KEEN_HOME", str(tmp_path))
    wanted = argparse.Namespace(publish_peers=False, preview=False, all=False, by="t")
    assert judge(before, wanted) == 0
    assert "AFTER, CHUNK, KNOCK" in capsys.readouterr().out


def test_a_new_database_has_nothing_to_say(url: str) -> None:
    with single(url) as c:
        assert became_graver(c) == []
