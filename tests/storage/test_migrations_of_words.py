"""Words written before there was a vocabulary: migration 9 loses none of them."""

from collections.abc import Iterator
from uuid import uuid4

import psycopg
import pytest

from keen_tracer.core.terms import SYMPTOMS, TOOLS
from keen_tracer.storage.migrate import drop_database, ensure_database, migrate
from tests.conftest import at

# what was written, with its note -> what it is now, with its note
SYMPTOM_WAS = {
    ("power", ""): ("power_down", ""),
    ("knock", "at idle"): ("knock", "at idle"),
    ("smells burnt", ""): ("other", "smells burnt"),
    ("whine", "only cold"): ("other", "whine: only cold"),
    ("", "see photo"): ("other", "see photo"),
}
TOOL_WAS = {
    ("Roller cutter", ""): ("roller_cutter", ""),
    ("SAW", "much chaff"): ("saw", "much chaff"),
    ("angle grinder", "hot"): ("", "angle grinder: hot"),
    ("", "by hand"): ("", "by hand"),
}


@pytest.fixture
def before(cluster: str) -> Iterator[str]:
    """A database as version 8 left it, with words of every kind."""
    url = at(cluster, f"words_{uuid4().hex[:8]}")
    ensure_database(url)
    migrate(url, up_to=8)
    with psycopg.connect(url) as owner:
        owner.execute("insert into engine (code, class) values ('E', 'petrol')")
        for kind, said in (("symptom", SYMPTOM_WAS), ("filter_cut", TOOL_WAS)):
            for word, note in said:
                log = owner.execute(
                    "insert into log (id, engine_id, on_date, kind) "
                    "select gen_random_uuid(), id, '2026-01-01', %s from engine returning id",
                    [kind],
                ).fetchone()
                assert log
                if kind == "symptom":
                    owner.execute(
                        "insert into event (log_id, part, note) values (%s, %s, %s)",
                        [log[0], word, note],
                    )
                else:
                    owner.execute(
                        "insert into look (log_id, name, place, tool, note) "
                        "values (%s, %s, 'full_flow_filter', %s, %s)",
                        [log[0], f"look of {word!r}", word, note],
                    )
    yield url
    drop_database(url)


def test_no_word_is_lost_and_every_word_is_of_the_vocabulary(before: str) -> None:
    migrate(before)
    with psycopg.connect(before) as owner:
        symptoms = owner.execute("select part, coalesce(note, '') from event").fetchall()
        tools = owner.execute("select tool, coalesce(note, '') from look").fetchall()
    assert sorted(symptoms) == sorted(SYMPTOM_WAS.values())
    assert sorted(tools) == sorted(TOOL_WAS.values())
    assert {s for s, _ in symptoms} <= set(SYMPTOMS)
    assert {t for t, _ in tools} <= {"", *TOOLS}


def test_every_engine_is_judged_again(before: str) -> None:
    migrate(before)
    with psycopg.connect(before) as owner:
        assert owner.execute("select count(*) from judging_queue").fetchone() == (1,)
