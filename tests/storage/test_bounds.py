"""What a figure may be stands in one table: files, forms, the API and the database refuse the
same."""

import math
from pathlib import Path

import psycopg
import pytest
from psycopg import sql

from keen_tracer import api, usecases
from keen_tracer.core.bounds import BOUNDS, Bound, check
from keen_tracer.core.errors import OutOfRange
from keen_tracer.exchange.cells import BadCell, bounded
from keen_tracer.storage.backup import backup, restore
from keen_tracer.storage.db import single
from keen_tracer.storage.migrate import ensure_database
from tests.conftest import at

COLUMNS = [(b, column) for b in BOUNDS.values() for column in b.columns]


def edges(b: Bound) -> tuple[list[float], list[float]]:
    """Figures that may be, and figures that may not."""
    step = 1.0 if b.whole else max(abs(b.high), 1.0) * 1e-9
    low = b.low + step if b.above else b.low
    bad = [b.low if b.above else b.low - step, b.high + step]
    return [low, (b.low + b.high) // 2, b.high], bad


@pytest.mark.parametrize(("b", "column"), COLUMNS, ids=[c for _, c in COLUMNS])
def test_the_database_refuses_what_the_table_says(
    b: Bound, column: str, unchanged_url: str
) -> None:
    table, name = column.split(".")
    with psycopg.connect(unchanged_url) as c:
        found = c.execute(
            "select pg_get_expr(conbin, conrelid) from pg_constraint "
            "where conname = %s and conrelid = %s::regclass",
            [f"bound_{name}", table],
        ).fetchone()
        assert found, f"{column} has no constraint"
        asked = sql.SQL("select {} from (values (%s::double precision)) as v({})").format(
            sql.SQL(found[0]), sql.Identifier(name)
        )
        good, bad = edges(b)
        assert [c.execute(asked, [x]).fetchone()[0] for x in good] == [True] * 3
        bad += [math.nan, math.inf]
        assert [c.execute(asked, [x]).fetchone()[0] for x in bad] == [False] * 4


@pytest.mark.parametrize("b", BOUNDS.values(), ids=list(BOUNDS))
def test_files_and_forms_refuse_the_same(b: Bound) -> None:
    good, bad = edges(b)
    parse = bounded(b.name)
    assert [parse(f"{x:.17g}") for x in good] == pytest.approx(good)
    for x in bad:
        with pytest.raises(BadCell):
            parse(f"{x:.17g}")
        with pytest.raises(OutOfRange):
            check(b.name, x)
    for word in ("nan", "inf", "1e999", "+1", "1_000", *(["-0"] if b.low >= 0 else [])):
        with pytest.raises(BadCell):
            parse(word)


def test_what_is_sent_has_no_bounds_but_those_of_the_table() -> None:
    folders = (Path(api.__file__).parent, Path(usecases.__file__).parent)
    for file in (f for folder in folders for f in folder.rglob("*.py")):
        if file.name != "fields.py":
            text = file.read_text()
            assert "allow_inf_nan" not in text.replace("ge=1, le=5, allow_inf_nan", "").replace(
                "gt=0, le=1, allow_inf_nan", ""
            ), file.name


def test_rows_of_before_the_bounds_come_back_from_a_backup(
    url: str, cluster: str, tmp_path: Path
) -> None:
    with psycopg.connect(url) as c:
        c.execute("alter table engine drop constraint bound_interval_days")
        c.execute(
            "insert into engine (code, class, interval_days) values ('E-1', 'petrol', 2000000000)"
        )
        c.execute(
            "alter table engine add constraint bound_interval_days "
            "check (interval_days >= 1 and interval_days <= 3650) not valid"
        )
    backup(url, tmp_path / "b.keen")
    empty = at(cluster, f"keen_test_restored_{tmp_path.name}")
    ensure_database(empty)
    restore(empty, tmp_path / "b.keen")
    with single(empty) as c:
        assert c.execute("select interval_days from engine").fetchone() == (2_000_000_000,)
    with pytest.raises(psycopg.errors.CheckViolation), psycopg.connect(empty) as c:
        c.execute("insert into engine (code, class, interval_days) values ('E-2', 'petrol', 5000)")
