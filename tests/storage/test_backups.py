"""Backups: of every version, of this installation, whole or refused in words, made daily."""

import hashlib
import os
import random
import stat
from datetime import datetime, timedelta
from pathlib import Path
from urllib.parse import urlsplit

import psycopg
import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer import clock
from keen_tracer.cli import _free_name, prepare
from keen_tracer.storage import backup as backups
from keen_tracer.storage.backup import CannotRestore, backup, restore
from keen_tracer.storage.backups_kept import DAYS, MONTHS, WEEKS, backup_key, kept, to_drop
from keen_tracer.storage.bulk import insert, known
from keen_tracer.storage.db import single
from keen_tracer.storage.errors import StorageError
from keen_tracer.storage.migrate import available, drop_database, ensure_database, migrate
from keen_tracer.storage.records import row, run
from keen_tracer.usecases.judging.judging import judge_stale
from keen_tracer.usecases.pages.wall import wall
from tests.conftest import at

# Each made by the program as it was when that migration was its newest, from the same four files
# and one hold on E-1: two engines, three samples.
KEPT = sorted((Path(__file__).parent / "kept").glob("migration-*.keen"))


@pytest.fixture
def empty(cluster: str, tmp_path: Path):
    """A database that does not even exist."""
    url = at(cluster, f"keen_test_back_{hashlib.sha1(str(tmp_path).encode()).hexdigest()[:10]}")
    ensure_database(url)
    yield url
    drop_database(url)


@pytest.fixture(autouse=True)
def own_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("KEEN_HOME", str(tmp_path / "home"))


def test_a_backup_before_a_migration_finds_a_free_name(tmp_path: Path) -> None:
    """Two starts within one second, or after a clock that was set back."""
    names = []
    for _ in range(3):
        names.append(_free_name(tmp_path, "before"))
        names[-1].touch()
    assert [f.name for f in names] == ["before.keen", "before-2.keen", "before-3.keen"]


def test_there_is_a_kept_backup_of_every_migration_before_this_one() -> None:
    newest = max(n for n, _, _ in available())
    assert [int(f.stem.split("-")[1]) for f in KEPT] == list(range(1, newest))


@pytest.mark.parametrize("file", KEPT, ids=lambda f: f.stem)
def test_a_backup_of_an_older_version_comes_back_into_a_fresh_installation(
    file: Path, empty: str
) -> None:
    assert restore(empty, file)["sample"] == 3
    prepare(empty)
    judge_stale(empty, every=True)
    with single(empty) as c:
        found = {r["code"]: r for r in wall(c, None, None, "need", 0, 9)["rows"]}
    assert found["E-1"]["state"]["may_run"] == "do_not_run"
    assert found["E-1"]["state"]["run"]["by"] == "Keeper"
    assert found["E-2"]["sample_code"] is not None
    backup(empty, file_beside(empty), None)


def file_beside(url: str) -> Path:
    folder = Path(os.environ["KEEN_HOME"])
    folder.mkdir(exist_ok=True)
    return folder / f"{urlsplit(url).path[1:]}.keen"


def test_a_backup_is_for_its_owner_alone_and_there_whole_or_not_at_all(
    url: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    file = tmp_path / "b.keen"
    backup(url, file)
    assert stat.S_IMODE(file.stat().st_mode) == 0o600

    def breaks(*_: object) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(backups, "hashes", breaks)
    with pytest.raises(OSError, match="No space"):
        backup(url, tmp_path / "other.keen")
    assert [f.name for f in tmp_path.glob("*.keen*")] == ["b.keen"]


def test_what_another_signed_or_changed_is_refused(url: str, empty: str, tmp_path: Path) -> None:
    file = tmp_path / "b.keen"
    backup(url, file, backup_key())
    assert stat.S_IMODE((tmp_path / "home" / "backup.key").stat().st_mode) == 0o600
    with pytest.raises(CannotRestore, match="--unsigned"):
        restore(empty, file, b"another key")
    with pytest.raises(CannotRestore, match="--unsigned"):
        restore(empty, KEPT[-1], backup_key())
    assert restore(empty, file, backup_key())


@pytest.mark.parametrize(
    ("table", "typed"),
    [
        ("depot", {"code": "mid"}),
        ("model", {"code": "Ostrick D9", "class": "heavy_diesel"}),
        ("coolant", {"code": "OAT", "na_mg_kg": 100.0}),
    ],
)
def test_a_restore_overwrites_nothing_in_any_table(
    url: str, empty: str, tmp_path: Path, table: str, typed: dict
) -> None:
    """Depots and models typed before the first engine were erased once."""
    backup(url, tmp_path / "one.keen")
    migrate(empty)
    with single(empty) as c:
        insert(c, table, typed)
    with pytest.raises(CannotRestore, match="not empty"):
        restore(empty, tmp_path / "one.keen")
    with single(empty) as c:
        assert known(c, table, "code", ["code"], [typed["code"]])


@pytest.mark.parametrize("seed", range(40))
def test_a_damaged_backup_is_refused_in_words(seed: int, empty: str, tmp_path: Path) -> None:
    rng = random.Random(seed)
    whole = bytearray(KEPT[-1].read_bytes())
    if seed % 2:
        whole = whole[: rng.randrange(len(whole))]
    else:
        for _ in range(rng.choice([1, 5, 50])):
            whole[rng.randrange(len(whole))] = rng.randrange(256)
    file = tmp_path / "damaged.keen"
    file.write_bytes(whole)
    try:
        restore(empty, file)
    except StorageError as error:
        assert str(error)
        with psycopg.connect(empty) as c:
            there = c.execute("select to_regclass('engine')").fetchone()
            if there and there[0]:
                assert c.execute("select count(*) from engine").fetchone() == (0,)
        return
    # Damage in what no table rests on, such as a time in the archive's own list.
    with single(empty) as c:
        assert wall(c, None, None, "need", 0, 9)["total"] == 2


def test_a_backup_a_day_is_made_and_the_newest_is_tried_once_a_week(
    url: str, tmp_path: Path
) -> None:
    folder, now = tmp_path / "backups", clock.now()
    said = kept(url, folder, now)
    assert ["daily" in s or "comes back equal" in s for s in said] == [True, True]
    assert kept(url, folder, now + timedelta(hours=1)) == []
    assert len(kept(url, folder, now + timedelta(days=1, hours=1))) == 1
    with single(url) as c:
        assert row(c, "milestone_get", what="backup_tried")
        databases = c.execute("select datname from pg_database where datname like '%_tried_%'")
        assert databases.fetchall() == []
        run(c, "milestone_put", what="backup")


@given(days=st.sets(st.integers(0, 900), min_size=1, max_size=200))
def test_of_many_backups_days_weeks_and_months_are_kept(days: set[int]) -> None:
    now = datetime(2026, 11, 27, 3)
    made = {now - timedelta(days=d) for d in days}
    stays = made - to_drop(made)
    assert max(made) in stays
    assert len(stays) <= DAYS + WEEKS + MONTHS
    assert set(sorted(made, reverse=True)[:DAYS]) <= stays
    assert to_drop(stays) <= stays
