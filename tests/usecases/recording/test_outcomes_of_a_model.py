"""What was found at one engine bears on the others of its model, and on nothing else."""

from pathlib import Path
from uuid import uuid4

import pytest

from keen_tracer.core.roles import at_the_machine
from keen_tracer.storage import fleet
from keen_tracer.storage.db import Connection, single
from keen_tracer.usecases.importing.files import import_files
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.recording.log_rows import engine_id
from keen_tracer.usecases.recording.outcomes import Outcome, record_outcome
from tests.day import TODAY
from tests.helpers import write_csv

ENGINES = "engine,class,model\nA-1,petrol,M\nA-2,petrol,M\nB-1,petrol,N\n"


@pytest.fixture
def three(url: str, tmp_path: Path) -> str:
    files = {"models.csv": "model,class\nM,petrol\nN,petrol\n", "engines.csv": ENGINES}
    paths = [write_csv(tmp_path, n, t) for n, t in files.items()]
    assert import_files(url, [(p.name, p) for p in paths], at_the_machine("t")).written
    judge_stale(url)
    return url


def waiting(c: Connection) -> set[str]:
    told = c.execute("select e.code from judging_queue q join engine e on e.id = q.engine_id")
    return {code for (code,) in told.fetchall()}


def earlier(c: Connection, code: str) -> frozenset[str]:
    loaded = fleet.load(c, [engine_id(c, code)], {}, figures=False)
    return loaded.fleet.histories[0].engine.earlier


def outcome(found: str, confirmed: str) -> Outcome:
    return Outcome(id=uuid4(), engine="A-1", on=TODAY, found=found, confirmed=confirmed)


def test_a_confirmed_fault_is_known_of_the_others_of_the_model(three: str) -> None:
    with single(three) as c:
        record_outcome(c, outcome("timing_chain", "yes"), "Mira")
        assert "A-2" in waiting(c)
        assert "B-1" not in waiting(c)
        # An engine's own fault is in its own log; here stands what others had.
        assert (earlier(c, "A-2"), earlier(c, "A-1"), earlier(c, "B-1")) == (
            frozenset({"timing_chain"}),
            frozenset(),
            frozenset(),
        )


@pytest.mark.parametrize(("found", "confirmed"), [("nothing", "yes"), ("timing_chain", "no")])
def test_nothing_found_or_unconfirmed_teaches_nothing(
    three: str, found: str, confirmed: str
) -> None:
    with single(three) as c:
        record_outcome(c, outcome(found, confirmed), "Mira")
        assert earlier(c, "A-2") == frozenset()


def test_a_file_of_outcomes_teaches_the_same(three: str, tmp_path: Path) -> None:
    text = f"engine,on,found,confirmed,by\nA-1,{TODAY},timing_chain,yes,t\n"
    file = write_csv(tmp_path, "outcomes.csv", text)
    report = import_files(three, [("outcomes.csv", file)], at_the_machine("t"))
    assert report.written, report.problems
    with single(three) as c:
        assert "A-2" in waiting(c)
        assert earlier(c, "A-2") == frozenset({"timing_chain"})
