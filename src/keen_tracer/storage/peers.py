"""Published versions of peers and of weights, and the chosen policies."""

import json
from collections.abc import Iterable, Mapping
from dataclasses import asdict, dataclass, replace
from functools import partial
from typing import Any

import psycopg
from psycopg.types.json import Jsonb

from ..core.baseline import NOTHING_PUBLISHED, PeerRow, PeerSet, peers_of_rows
from ..core.causes import WeightRow
from ..core.limits import AS_SHIPPED, Policies
from .bulk import copy_rows
from .records import row, rows, run, setting

DIAL = "false_alarms"  # the setting that holds how eager the expectation is
COLUMNS = ("kind", "name", "other", "analyte", "n", "mean", "median", "sd", "factor", "origin")


def peers_in_force(connection: psycopg.Connection) -> tuple[int | None, PeerSet]:
    """The newest version without the means of single engines; (None, nothing) before the first."""
    head = row(connection, "peers_latest")
    if head is None:
        return None, NOTHING_PUBLISHED
    return head["id"], peers_of_rows(
        head["name"], (PeerRow(**r) for r in rows(connection, "peer_groups", version=head["id"]))
    )


def with_means(
    connection: psycopg.Connection, version: int | None, peers: PeerSet, codes: list[str]
) -> PeerSet:
    """The version with the means of these engines, so that none of them is its own peer."""
    if version is None:
        return peers
    own = peers_of_rows(
        peers.name,
        (PeerRow(**r) for r in rows(connection, "peer_means", version=version, codes=codes)),
    )
    return replace(peers, means=own.means)


def publish_peers(
    connection: psycopg.Connection,
    name: str,
    by: str,
    given: Iterable[PeerRow],
    changes: Mapping[str, Any],
) -> int:
    """A new version, all rows of it."""
    head = row(
        connection,
        "peers_put",
        name=name,
        by=by,
        changes=Jsonb(changes, dumps=partial(json.dumps, default=str)),
    )
    assert head is not None
    copy_rows(
        connection,
        "peer_row",
        ("version_id", *COLUMNS),
        ((head["id"], *(getattr(r, k) for k in COLUMNS)) for r in given),
    )
    return int(head["id"])


def policies_in_force(connection: psycopg.Connection) -> Policies:
    """What was chosen for classes and engines."""
    found = rows(connection, "policies_now")
    return Policies(
        {r["scope_name"]: r["policy"] for r in found if r["scope"] == "engine"},
        {r["scope_name"]: r["policy"] for r in found if r["scope"] == "class"},
        float((setting(connection, DIAL) or {}).get("strictness", AS_SHIPPED)),
    )


@dataclass(frozen=True, slots=True)
class Choice:
    """Which schools decide for a class or an engine, and why."""

    scope: str
    name: str
    policy: str
    reason: str = ""


def choose_policy(connection: psycopg.Connection, chosen: Choice, by: str) -> None:
    run(connection, "policy_put", **asdict(chosen), by=by)


def weights_in_force(connection: psycopg.Connection) -> tuple[str, tuple[WeightRow, ...]]:
    """The newest version of weights; ("shipped", nothing) before the first."""
    head = row(connection, "weights_latest")
    if head is None:
        return "shipped", ()
    return head["name"], tuple(
        WeightRow(**r) for r in rows(connection, "weight_rows", version=head["id"])
    )


def publish_weights(
    connection: psycopg.Connection, name: str, by: str, given: Iterable[WeightRow]
) -> int:
    """A new version, all rows of it."""
    head = row(connection, "weights_put", name=name, by=by)
    assert head is not None
    copy_rows(
        connection,
        "weight_row",
        ("version_id", "mode", "evidence", "seen", "absent", "origin"),
        ((head["id"], w.mode, w.evidence, w.seen, w.absent, w.origin) for w in given),
    )
    return int(head["id"])
