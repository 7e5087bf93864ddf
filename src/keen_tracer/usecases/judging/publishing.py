"""Peers, offsets between laboratories and seasons: worked out from the fleet, and published as a
new version.

An import never publishes. `./keen judge --publish-peers` does, the program while it serves does
once a week, and the first version comes by itself once there are samples enough to learn from. What
the program publishes by itself lowers no Act and no Stop that an engine's newest sample stands at:
such a version waits for a person, who sees first what it would lower (VERDICT 8.13).
"""

from collections.abc import Iterable, Iterator
from datetime import date, datetime, timedelta

from ... import clock
from ...core.baseline import Member, PeerSet, members, peer_set, peers_of_rows, rows_of
from ...core.judge import verdicts
from ...core.limits import evaluate
from ...core.verdict import Level
from ...storage import fleet
from ...storage.db import Connection, Database
from ...storage.peers import publish_peers
from ...storage.records import number, row, rows, run, set_setting, setting
from ..answers.library import TriedOut, VerdictChange
from .standards import Standards, standards, with_peers

EVERY = timedelta(days=7)
PROGRAM = "Keen Tracer"  # who publishes what no person does
ENOUGH_SAMPLES = 200  # for a first version; our choice
TRIED = 2000  # engines a new version is tried on before it is published; our choice
SHOWN = 300
WAITS = "peers_wait"  # setting: a version that waits for a person


def changed_levels(connection: Connection, engines: Iterable[int], held: Standards) -> TriedOut:
    """Which current verdicts other standards would change, from what to what. Nothing is
    written."""
    changes: list[VerdictChange] = []
    samples = tried = eased = 0
    for part in fleet.batches(connection, list(engines)):
        loaded = fleet.load(connection, part)
        tried += len(part)
        if not loaded.sample_ids:
            continue
        a = held.assess(connection, loaded.fleet)
        now = {
            r["sample_id"]: r
            for r in rows(connection, "levels_of_samples", samples=loaded.sample_ids)
        }
        samples += len(loaded.sample_ids)
        for key, context, verdict in zip(
            loaded.sample_ids, a.evaluation.contexts, verdicts(a), strict=True
        ):
            was = now.get(key)
            newest = list(context.time_line.samples())[-1][1].code == verdict.sample
            if was is not None and newest:
                eased += (was["level"] or 0) >= Level.ACT and (verdict.level or 0) < was["level"]
            if was is not None and was["level"] != verdict.level:
                changes.append(
                    {
                        "sample": verdict.sample,
                        "engine": context.engine.code,
                        "on": context.moment.row.on,
                        "was": was["level"],
                        "now": verdict.level,
                        "signed": was["signed"],
                    }
                )
    changes.sort(key=lambda x: (-_worse(x), -x["on"].toordinal(), x["sample"]))
    return {
        "engines": tried,
        "tried": tried,
        "samples": samples,
        "raised": sum((x["now"] or 0) > (x["was"] or 0) for x in changes),
        "lowered": sum((x["now"] or 0) < (x["was"] or 0) for x in changes),
        "eased": eased,
        "changes": changes[:SHOWN],
    }


def _worse(x: VerdictChange) -> int:
    """The graver of a change's two levels. The list begins with what rises to Act or falls from
    it."""
    return max(x["was"] or 0, x["now"] or 0)


def _members(connection: Connection, ids: list[int], held: Standards) -> Iterator[Member]:
    fresh = fleet.fresh_references(connection)
    for part in fleet.batches(connection, ids):
        loaded = fleet.load(connection, part, fresh)
        if loaded.sample_ids:
            yield from members(evaluate(loaded.fleet, held.limits))


def propose(connection: Connection, held: Standards, name: str) -> PeerSet:
    """The version the fleet's steady samples make today, with the digits it would be published
    with."""
    ids = [r["id"] for r in rows(connection, "engine_ids", codes=None)]
    return peers_of_rows(name, rows_of(peer_set(name, _members(connection, ids, held))))


def _next_name(connection: Connection, now: datetime) -> str:
    name, n = f"peers {now:%Y-%m-%d}", 1
    while row(connection, "peers_named", name=name) is not None:
        n += 1
        name = f"peers {now:%Y-%m-%d} ({n})"
    return name


def publish(
    connection: Connection, who: str, preview: bool = False, seen: bool = True
) -> tuple[str, TriedOut] | None:
    """Work out the peers of today, list the levels they would change, publish them and mark every
    engine.

    seen : somebody has seen what it would change; else nothing is published that would lower an
        Act or a Stop of an engine's newest sample, and the version waits for a person
    Returns the version's name and the list; None where no engine has a steady history. A preview
    only lists.
    """
    held = standards(connection)
    if held is None:
        return None
    name = _next_name(connection, clock.now())
    peers = propose(connection, held, name)
    if not peers.classes:
        return None
    ids = [r["id"] for r in rows(connection, "engine_ids", codes=None)]
    changes = changed_levels(connection, ids[:TRIED], with_peers(held, peers))
    if preview:
        return name, changes
    if changes["eased"] and not seen:
        kept = {"name": name, "on": clock.today().isoformat(), "eased": changes["eased"]}
        set_setting(connection, WAITS, kept)
        return name, changes
    publish_peers(connection, name, who, rows_of(peers), changes)
    set_setting(connection, WAITS, None)
    run(connection, "mark_all_stale")
    return name, changes


def publish_weekly(database: Database) -> None:
    """What the program does while it serves: the first version, then one a week."""
    with database.transaction() as connection:
        if is_due(connection, weekly=True):
            publish(connection, PROGRAM, seen=False)


def is_due(connection: Connection, weekly: bool) -> bool:
    """Whether a version should be published now: the first one, or where `weekly` holds the next.
    One that waits for a person is tried again after a week."""
    waits = setting(connection, WAITS)
    if waits and clock.today() - date.fromisoformat(waits["on"]) < EVERY:
        return False
    last = row(connection, "peers_latest")
    if last is None:
        return (
            number(connection, "count_samples") >= ENOUGH_SAMPLES
            and number(connection, "stale_count") == 0
        )
    return weekly and clock.now() - last["published_at"] >= EVERY
