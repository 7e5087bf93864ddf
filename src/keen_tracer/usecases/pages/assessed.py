"""One engine with everything computed of it, for the pages that show it.

A page of an engine is seldom looked at alone: its samples follow, and the steps of their figures.
"""

from ... import clock
from ...core.baseline import Assessment
from ...storage.db import Connection, address
from ...storage.fleet import Loaded, load
from ...storage.records import row
from ..judging.standards import standards, standards_mark
from ..kept import Kept

Assessed = tuple[Loaded, Assessment | None]
_kept = Kept[Assessed](32)  # one of 500 samples takes a few megabytes; our choice


def assessed(connection: Connection, engine: int) -> Assessed:
    """One engine with everything computed of it; None in place of that when it has no sample
    yet."""
    return _kept.get(
        (address(connection), engine),
        _basis(connection, engine),
        lambda: _assess(connection, engine),
    )


def _basis(connection: Connection, engine: int) -> str | None:
    """What an engine's figures rest on; None while it waits to be judged, since what was written to
    it last shows in no mark then."""
    judged = row(connection, "judged_at", ids=[engine])
    return f"{judged['at']}|{standards_mark(connection)}|{clock.quarter()}" if judged else None


def _assess(connection: Connection, engine: int) -> Assessed:
    loaded, held = load(connection, [engine]), standards(connection)
    return loaded, held.assess(connection, loaded.fleet) if loaded.sample_ids and held else None
