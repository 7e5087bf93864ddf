"""What engines are judged by: the versions of limits and peers in force, and the chosen
policies."""

from dataclasses import dataclass, replace

from ...core.baseline import Assessment, PeerSet, assess
from ...core.causes import WeightRow
from ...core.limits import LimitSet, Policies
from ...core.record import Fleet
from ...storage.db import Connection
from ...storage.peers import peers_in_force, policies_in_force, weights_in_force, with_means
from ...storage.records import limits_in_force, row


@dataclass(frozen=True)
class Standards:
    """One state of everything that is published."""

    limits_id: int
    limits: LimitSet
    peers_id: int | None
    peers: PeerSet
    policies: Policies
    weights: tuple[WeightRow, ...] = ()

    def assess(self, connection: Connection, fleet: Fleet) -> Assessment:
        """A fleet by these standards; the means of its engines are fetched, so that none is its own
        peer."""
        codes = [h.engine.code for h in fleet.histories]
        peers = (
            self.peers
            if self.peers_id is None
            else with_means(connection, self.peers_id, self.peers, codes)
        )
        return assess(fleet, self.limits, peers, self.policies, self.weights)

    def with_weights(self, weights: tuple[WeightRow, ...]) -> "Standards":
        """The same with weights that are not published."""
        return replace(self, weights=weights)


def standards_mark(connection: Connection) -> str:
    """Everything that is published and chosen, as one mark: while it is the same, so are the
    standards."""
    found = row(connection, "standards_mark")
    assert found is not None
    return str(found["mark"])


_last: tuple[str, Standards] | None = None


def standards(connection: Connection) -> Standards | None:
    """What is in force now; None before any limits are published.

    Published versions never change, so they are read anew only when one was added or a policy was
    chosen.
    """
    global _last
    held, mark = _last, standards_mark(connection)
    if held is not None and held[0] == mark:
        return held[1]
    limits = limits_in_force(connection)
    if limits is None:
        return None
    found = Standards(
        *limits,
        *peers_in_force(connection),
        policies_in_force(connection),
        weights_in_force(connection)[1],
    )
    _last = mark, found
    return found


def with_peers(held: Standards, peers: PeerSet) -> Standards:
    """The same with a version of peers that is not published; it carries the means of all engines
    itself."""
    return replace(held, peers_id=None, peers=peers)
