"""Judge the engines whose figures changed, write the verdicts that changed, refresh their row of
the Wall."""

import json
import logging
import os
import threading
from collections.abc import Callable
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from multiprocessing import get_context

from ...core.judge import verdicts
from ...core.record import Floats
from ...core.review import IDENTITY, Query, record_queries, unsampled_queries
from ...core.status import time_lines
from ...core.terms import HALTED
from ...core.verdict import RULES_VERSION, Verdict
from ...storage import fleet as storage
from ...storage.bulk import copy_rows
from ...storage.db import Connection, Database, single, tried
from ...storage.errors import Unavailable
from ...storage.records import number, rows, run, set_setting, setting
from ...storage.sql import query
from ..errors import NoLimits
from .labels import exchanged_labels
from .standards import Standards, standards
from .states import states
from .stored_state import action_kept
from .unjudged import cleared, set_aside
from .wall_row import wall_rows

BATCH_ENGINES = 200
GRAVER = "Graver by the rules of this version: %s. The Wall lists them."
MANY = 1000  # engines that wait, from which on starting helpers pays; our choice
log = logging.getLogger("keen_tracer")


@dataclass(frozen=True, slots=True)
class Judged:
    """What one run did."""

    engines: int = 0
    samples: int = 0
    written: int = 0

    def __add__(self, other: "Judged") -> "Judged":
        return Judged(
            self.engines + other.engines, self.samples + other.samples, self.written + other.written
        )


def judge_engines(
    connection: Connection,
    engine_ids: list[int],
    held: Standards,
    fresh: dict[str, Floats] | None = None,
) -> Judged:
    """Judge these engines inside the caller's transaction; of two who judge the same one, the
    second waits."""
    run(connection, "judging_takes", ids=engine_ids)
    loaded = storage.load(connection, engine_ids, fresh)
    found: list[Verdict] = []
    doubts = unsampled_queries(loaded.fleet.histories)
    assessment = held.assess(connection, loaded.fleet) if loaded.sample_ids else None
    if assessment is not None:
        found = verdicts(assessment)
        doubts |= record_queries(assessment.evaluation)
        for engine, found_labels in exchanged_labels(
            connection, loaded, assessment, held, fresh
        ).items():
            doubts[engine] = [*doubts.get(engine, []), *found_labels]
    asked = _ask(connection, loaded, doubts)
    written = _write(connection, loaded.sample_ids, found, held)
    signed = {
        r["sample"]: r for r in rows(connection, "decisions_of_samples", samples=loaded.sample_ids)
    }
    unsettled = frozenset(q.sample for q in asked if q.code in IDENTITY)
    stands = states(connection, loaded, assessment, found, signed, unsettled)
    lines = time_lines(assessment, loaded.fleet.histories)
    wall_rows(connection, loaded, lines, found, stands, signed, assessment)
    return Judged(len(loaded.engines), len(found), written)


def _ask(
    connection: Connection, loaded: storage.Loaded, doubts: dict[str, list[Query]]
) -> list[Query]:
    """Keep what does not fit and is not answered; those that wait."""
    ids = {e["code"]: e["id"] for e in loaded.engines}
    run(connection, "queries_clear", ids=list(ids.values()))
    answered = {
        (r["engine_id"], r["query"])
        for r in rows(connection, "answers_of_engines", ids=list(ids.values()))
    }
    waiting = [
        (ids[engine], q)
        for engine, found in doubts.items()
        for q in {q.key: q for q in found}.values()
        if (ids[engine], q.key) not in answered
    ]
    copy_rows(
        connection,
        "query",
        ("engine_id", "key", "code", "sample", "log", "on_date", "numbers"),
        [(engine, q.key, q.code, q.sample, q.log, q.on, q.numbers) for engine, q in waiting],
    )
    return [q for _, q in waiting]


def _write(
    connection: Connection, sample_ids: list[int], found: list[Verdict], held: Standards
) -> int:
    """Append the verdicts that have other inputs than before."""
    had = {
        r["sample_id"]: r["input_hash"]
        for r in rows(connection, "current_hashes", samples=sample_ids)
    }
    new = [(i, v) for i, v in zip(sample_ids, found, strict=True) if had.get(i) != v.input_hash]
    if not new:
        return 0
    with connection.cursor() as cursor, cursor.copy(query("copy_verdicts")) as copy:
        for i, v in new:
            copy.write_row(
                (
                    i,
                    held.limits_id,
                    held.peers_id,
                    v.rules,
                    v.policy,
                    v.input_hash,
                    v.level,
                    list(v.channels),
                    json.dumps([f.as_dict() for f in v.findings]),
                    json.dumps([action_kept(a) for a in v.actions]),
                    v.may_run,
                    v.may_run_until,
                    v.may_run_until_on,
                    v.lead,
                    v.second,
                    list(v.checks),
                )
            )
    return len(new)


def _drain(url: str, tell: Callable[[Judged], None] = lambda j: None) -> Judged:
    """Judge, a few hundred engines a transaction, until nobody waits that nobody else has taken."""
    total = Judged()
    with single(url) as connection:
        while True:
            done = judge_some(connection, BATCH_ENGINES)
            connection.commit()
            run(connection, "mark_change")
            if done is None:
                return total
            total += done
            tell(total)


def judge_stale(
    url: str,
    every: bool = False,
    tell: Callable[[Judged, int], None] = lambda j, n: None,
    processes: int | None = None,
) -> Judged:
    """Judge what waits (or `every` engine); `tell` hears of progress. Where many wait, every core
    helps.

    Can be stopped at any time: what is left stays marked. `processes` 1 keeps it in this one.
    """
    with single(url) as connection:
        if every:
            run(connection, "mark_all_stale")
            connection.commit()
        left = number(connection, "stale_count")
    wanted = processes or (os.cpu_count() or 1 if left >= MANY else 1)
    if wanted == 1:
        return _drain(url, lambda j: tell(j, left))
    with ProcessPoolExecutor(wanted - 1, get_context("spawn")) as helpers:
        parts = [helpers.submit(_drain, url) for _ in range(wanted - 1)]
        total = _drain(url, lambda j: tell(j, left))
        for part in parts:
            total += part.result()
    return total


def judge_some(connection: Connection, limit: int) -> Judged | None:
    """Judge up to `limit` waiting engines; None when none waits."""
    waiting = [r["engine_id"] for r in rows(connection, "stale_engines", limit=limit)]
    taken = (
        sorted(r["engine_id"] for r in rows(connection, "take_stale", ids=waiting))
        if waiting
        else []
    )
    if not taken:
        return None
    held = standards(connection)
    if held is None:
        raise NoLimits(
            "no version of limits is published; import limits.csv or start the program once"
        )
    fresh = storage.fresh_references(connection)
    done = Judged()
    for part in storage.batches(connection, taken):
        done += _judge_part(connection, part, held, fresh)
    return done


def _judge_part(
    connection: Connection, part: list[int], held: Standards, fresh: dict[str, Floats] | None = None
) -> Judged:
    """Judge some engines; those that cannot be judged are set aside, and stop nobody else."""
    found = tried(connection, lambda: judge_engines(connection, part, held, fresh))
    if isinstance(found, Judged):
        cleared(connection, part)
        return found
    if len(part) == 1:
        set_aside(connection, part[0], found)
        return Judged(engines=1)
    done = Judged()
    for engine in part:
        done += _judge_part(connection, [engine], held, fresh)
    return done


class Worker(threading.Thread):
    """Judges in the background while the program serves: woken by `wake`, and every few seconds.

    `first` is what else has to happen now and then, before judging: the simulated laboratory's
    answers.
    """

    def __init__(
        self, database: Database, first: Callable[[], None] = lambda: None, pause_s: float = 5.0
    ):
        super().__init__(name="judge", daemon=True)
        self._database, self._first, self._pause = database, first, pause_s
        self._wake, self._ending = threading.Event(), threading.Event()

    def wake(self) -> None:
        self._wake.set()

    def stop(self) -> None:
        self._ending.set()
        self._wake.set()
        self.join(timeout=10)

    def run(self) -> None:
        while not self._ending.is_set():
            # What else is due may fail without keeping anybody from being judged.
            self._step("what is due beside judging", self._first)
            if not self._step("judging", self._judge):
                self._step("reporting what became graver", self._tell_graver)
                self._wake.wait(self._pause)
                self._wake.clear()

    def _judge(self) -> bool:
        with self._database.transaction() as connection:
            return judge_some(connection, 20) is not None

    def _step(self, what: str, does: Callable[[], bool | None]) -> bool:
        """Whether there is more to do. A failure is logged, and tried again after a pause."""
        try:
            return bool(does())
        except Unavailable:
            return False  # the database is away; the pages say so
        except Exception:
            log.exception("%s failed; it is tried again", what)
            return False

    def _tell_graver(self) -> None:
        with self._database.transaction() as connection:
            found = became_graver(connection)
        if found:
            log.warning(GRAVER, ", ".join(found))


def became_graver(connection: Connection) -> list[str]:
    """Engines whose state is graver by this version's rules than before; said once."""
    settled = rows(connection, "before_rules_settle", halted=sorted(HALTED))
    return sorted(r["code"] for r in settled if r["graver"])


def follow_rules(connection: Connection) -> bool:
    """Mark every engine where this program's rules are not those the database was last judged by;
    whether it did."""
    before = setting(connection, "rules")
    if before == RULES_VERSION:
        return False
    run(connection, "before_rules_take", rules=before or "")
    run(connection, "mark_all_stale")
    set_setting(connection, "rules", RULES_VERSION)
    return True


def judge_one(connection: Connection, engine: int) -> Judged:
    """Judge one engine now, inside the caller's transaction (after a decision or a correction)."""
    held = standards(connection)
    return _judge_part(connection, [engine], held) if held else Judged()
