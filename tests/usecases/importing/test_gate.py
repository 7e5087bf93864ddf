"""Nobody signs for another: decisions in files go through the gate that pages go through."""

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from uuid import uuid4

import psycopg
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from keen_tracer import clock
from keen_tracer.core.errors import CoreError
from keen_tracer.core.roles import RIGHTS, Actor, NotAllowed, at_the_machine, check_may
from keen_tracer.core.status import Decision, check_decision
from keen_tracer.core.terms import ROLES, RUN_STATES
from keen_tracer.storage.db import single
from keen_tracer.storage.records import row, rows
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.importing.task import ImportReport
from keen_tracer.usecases.judging.deciding import NewRunDecision, decide_run, sign
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages import queue
from keen_tracer.usecases.pages.engine import engine
from keen_tracer.usecases.pages.judge import sample as sample_page
from keen_tracer.usecases.pages.wall import wall
from tests.day import TODAY
from tests.helpers import write_csv

FILES = {
    "engines.csv": "engine,class,meter_unit\nE-1,heavy_diesel,h\n",
    "samples.csv": "sample,engine,drawn_on,meter,water_pct\n"
    f"S-1,E-1,{TODAY - timedelta(days=1)},1125,1.0\n",
}
RELEASER = Actor("Test Releaser", "releaser")
ANALYST = Actor("Test Analyst", "analyst")
TECHNICIAN = Actor("Test Technician", "technician")


@dataclass
class Held:
    """A database with one engine under Stop that a technician holds."""

    url: str
    hold: str
    bring: Callable[..., ImportReport]

    def may_run(self) -> str:
        with single(self.url) as c:
            return str(wall(c, None, None, "need", 0, 9)["rows"][0]["state"]["may_run"])

    def stops(self) -> list[str]:
        with single(self.url) as c:
            return [r["key"] for r in engine(c, "E-1")["state"]["reasons"] if r["level"] == 3]


@pytest.fixture
def held(url: str, tmp_path: Path) -> Held:
    paths = [write_csv(tmp_path, name, text) for name, text in FILES.items()]
    assert import_files(url, [(p.name, p) for p in paths], TECHNICIAN).written
    judge_stale(url)
    with single(url) as c:
        hold = decide_run(c, "E-1", NewRunDecision(state="hold", reason="water"), TECHNICIAN)

    def bring(who: Actor, as_record: bool = False, **cells: object) -> ImportReport:
        one = {"decision": uuid4(), "at": clock.now().isoformat(), **cells}
        text = ",".join(one) + "\n" + ",".join(str(v) for v in one.values()) + "\n"
        file = write_csv(tmp_path, "decisions.csv", text)
        return import_files(url, [(file.name, file)], who, as_record=as_record)

    return Held(url, hold, bring)


def release(held: Held, **changes: object) -> dict[str, object]:
    return {
        "kind": "run",
        "engine": "E-1",
        "run_state": "release",
        "supersedes": held.hold,
        "lifts": ";".join(held.stops()),
        "found": "a hose",
        "done": "renewed",
        "by": RELEASER.name,
        **changes,
    }


@pytest.mark.parametrize("who", [TECHNICIAN, ANALYST, at_the_machine("Nobody")])
def test_nobody_releases_in_the_releasers_name(held: Held, who: Actor) -> None:
    report = held.bring(who, **release(held))
    assert not report.written
    assert "nobody brings in another's word" in report.problems[0].what
    assert held.may_run() == "do_not_run"


def test_a_technician_does_not_release_in_their_own_name_either(held: Held) -> None:
    report = held.bring(TECHNICIAN, **release(held, by=TECHNICIAN.name))
    assert "may not release" in report.problems[0].what
    assert held.may_run() == "do_not_run"


@pytest.mark.parametrize(
    "changes",
    [
        {"lifts": ""},
        {"found": "", "done": "", "reason": "fine"},
        {"supersedes": ""},
        {"at": "2035-01-01T00:00:00+00:00"},
        {"at": "0001-01-01T00:00:00+00:00"},
        {"at": "9999-12-31T23:59:59+00:00"},
        {"run_state": "restrict"},
        {"until_meter": "9000"},
    ],
    ids=str,
)
def test_a_releasers_own_row_needs_what_the_page_needs(held: Held, changes) -> None:
    report = held.bring(RELEASER, **release(held, **changes))
    assert not report.written
    assert held.may_run() == "do_not_run"


def test_a_releasers_own_row_counts_and_keeps_its_file(held: Held) -> None:
    assert held.bring(RELEASER, **release(held)).written
    judge_stale(held.url)
    assert held.may_run() != "do_not_run"
    with single(held.url) as c:
        trail = engine(c, "E-1")["trail"]
    assert (trail[0]["decided_by"], trail[0]["imported_by"]) == (RELEASER.name, RELEASER.name)


def test_a_technician_does_not_sign_a_stop_down(held: Held) -> None:
    with single(held.url) as c:
        stop = queue.waiting(c)[0]
        assert stop["level"] == 3
        down = (c, "S-1", 0, stop["input_hash"], None, "looks fine", "")
        with pytest.raises(NotAllowed, match="an analyst does"):
            sign(*down, TECHNICIAN)
        assert sign(*down, ANALYST)


def test_a_whole_record_comes_in_at_the_machine_and_says_who_brought_it(held: Held) -> None:
    with pytest.raises(NotAllowed):
        held.bring(RELEASER, as_record=True, **release(held))
    assert held.bring(at_the_machine("Ada"), as_record=True, **release(held)).written
    with single(held.url) as c:
        assert engine(c, "E-1")["trail"][0]["imported_by"] == "Ada"


@pytest.mark.parametrize(
    ("cells", "column"),
    [
        ({"kind": "sign_off", "level": 2, "basis": "x"}, "proposed"),
        ({"kind": "sign_off", "proposed": 2, "basis": "x"}, "level"),
        ({"kind": "sign_off", "proposed": 2, "level": 0, "basis": "x"}, "reason"),
        ({"kind": "sign_off", "proposed": 2, "level": 2}, "basis"),
        ({"kind": "sign_off", "proposed": 7, "level": 2, "basis": "x"}, "proposed"),
        ({"kind": "withdraw"}, "supersedes"),
        ({"kind": "withdraw", "supersedes": "11111111-1111-1111-1111-111111111111"}, "supersedes"),
        ({"kind": "run", "run_state": "hold", "reason": "x"}, "engine"),
    ],
    ids=str,
)
def test_a_record_that_says_too_little_is_refused(held: Held, cells, column: str) -> None:
    who = at_the_machine("Ada")
    report = held.bring(who, as_record=True, sample="S-1", by="Somebody", **cells)
    assert [p.column for p in report.problems] == [column]
    with single(held.url) as c:
        assert [r["sample"] for r in queue.waiting(c)] == ["S-1"], "the queue answers as before"


def test_the_database_refuses_it_too(held: Held) -> None:
    """Whatever else writes to the table: a sign-off without a proposal broke the queue for good."""
    with single(held.url) as c:
        sample = row(c, "sample_id", code="S-1")
    assert sample
    with psycopg.connect(held.url) as c, pytest.raises(psycopg.errors.CheckViolation):
        c.execute(
            "insert into decision (id, kind, sample_id, level, basis, decided_by) "
            "values (gen_random_uuid(), 'sign_off', %s, 2, 'x', 'A')",
            [sample["id"]],
        )


def test_rows_of_before_the_gate_break_no_reader(held: Held) -> None:
    """A database that already holds such a sign-off goes on working."""
    with single(held.url) as c:
        sample = row(c, "sample_id", code="S-1")
    assert sample
    with psycopg.connect(held.url) as c:
        c.execute("alter table decision drop constraint decision_fields")
        c.execute(
            "insert into decision (id, kind, sample_id, decided_by, decided_at) "
            "values (gen_random_uuid(), 'sign_off', %s, 'A', %s)",
            [sample["id"], clock.now()],
        )
        c.execute(
            "insert into judging_queue (engine_id) select id from engine on conflict do nothing"
        )
    judge_stale(held.url)
    with single(held.url) as c:
        assert rows(c, "unjudged") == []
        assert [r["sample"] for r in queue.queue(c)] == ["S-1"], "it waits: nobody signed a level"
        assert engine(c, "E-1")["trail"][0]["decided_by"] == "A"
        assert sample_page(c, "S-1")["sample"] == "S-1"


TEXTS = st.sampled_from(["", " ", "x", "\u200b"])
MAYBE_LEVEL = st.none() | st.integers(-1, 4)


@settings(max_examples=300, suppress_health_check=[HealthCheck.too_slow])
@given(
    d=st.builds(
        Decision,
        kind=st.sampled_from(["sign_off", "run", "amendment", "withdraw"]),
        about=st.sampled_from(["engine", "sample", "report"]),
        by=TEXTS,
        supersedes=st.none() | st.uuids(),
        proposed=MAYBE_LEVEL,
        level=MAYBE_LEVEL,
        basis=TEXTS,
        run_state=st.none() | st.sampled_from([*RUN_STATES, "fly"]),
        until=st.none() | st.floats(),
        until_on=st.none() | st.dates(),
        lifts=st.none() | st.just(()) | st.just(("k",)),
        found=TEXTS,
        done=TEXTS,
        accepted=st.none() | st.booleans(),
        reason=TEXTS,
        at=st.none() | st.datetimes(timezones=st.just(UTC)),
    )
)
def test_what_passes_the_gate_has_what_its_readers_need(d: Decision) -> None:
    now = datetime(2026, 11, 27, tzinfo=UTC)
    try:
        check_decision(d, now)
    except CoreError:
        return
    assert d.by.strip()
    assert d.at is None or datetime(1950, 1, 1, tzinfo=UTC) <= d.at < now + timedelta(hours=1)
    if d.kind == "sign_off":
        assert d.about == "sample" and d.proposed in range(4) and d.level in range(4) and d.basis
        assert d.level == d.proposed or d.reason.strip()
    if d.kind == "run":
        assert d.about == "engine" and d.run_state in RUN_STATES and (d.reason or d.found)
        assert (d.run_state == "restrict") == (d.until is not None or d.until_on is not None)
    if d.kind == "withdraw":
        assert d.supersedes is not None


def test_every_right_names_roles_there_are() -> None:
    for what, right in RIGHTS.items():
        assert right.roles <= {*ROLES, "machine"}, what
        for role in ROLES:
            if role not in right.roles:
                with pytest.raises(NotAllowed):
                    check_may(Actor("x", role), what)


@pytest.mark.parametrize("what", ["limits", "peers", "policies", "weights"])
def test_a_technician_publishes_nothing_by_file(held: Held, tmp_path: Path, what: str) -> None:
    heads = {
        "limits": "scope,scope_name,analyte,basis,watch,act,origin,version\n"
        "class,heavy_diesel,Fe_ppm,conc,9000,9999,x,v\n",
        "peers": "version,kind,name,analyte,origin\nv,class,petrol,Fe_ppm,x\n",
        "policies": "scope,scope_name,policy\nclass,heavy_diesel,fixed_only\n",
        "weights": "version,mode,evidence,seen,absent,origin\nv,dirt_ingress,prior,1,0,x\n",
    }
    file = write_csv(tmp_path, f"{what}.csv", heads[what])
    report = import_files(held.url, [(file.name, file)], TECHNICIAN)
    assert not report.written
    assert "a technician may not publish" in " ".join(p.what for p in report.problems)
    with single(held.url) as c:
        assert len(rows(c, "limits_versions")) == 1
