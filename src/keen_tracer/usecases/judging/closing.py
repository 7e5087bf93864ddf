"""The closing of an opened engine: it says of every part that was not sound whether it was renewed
or left."""

from ...core.record import build_time_line, facts_of
from ...core.status import NotSound, not_sound
from ...core.verdict import Reason
from ...storage import fleet
from ...storage.db import Connection
from ...storage.records import rows
from ..errors import CannotDecide


def stands_open(reasons: list[Reason]) -> bool:
    """Whether an engine is in pieces."""
    return any(r.finding.code == "in_pieces" for r in reasons)


def to_close(connection: Connection, engine: int) -> list[NotSound]:
    """The parts that somebody who closes an opened engine has to name."""
    history = fleet.load(connection, [engine], {}, figures=False).fleet.histories[0]
    line = build_time_line(history)
    life = line.moments[-1].life if line.moments else 1
    lifted = frozenset(
        key
        for d in rows(connection, "run_decisions", engines=[engine])
        if d["run_state"] == "release"
        for key in d["lifts"] or ()
    )
    return not_sound(facts_of(history.engine, line), life, lifted)


def closed(parts: list[NotSound], renewed: tuple[str, ...], left: tuple[str, ...]) -> str:
    """What became of every part, in words. Raises CannotDecide where one is not spoken of, or both
    ways.

    >>> closed([NotSound("a", "rod bearing 3, worn to copper")], ("a",), ())
    'Renewed or put right: rod bearing 3, worn to copper.'
    """
    words = {p.row: p.words for p in parts}
    open_ = [words[row] for row in words if (row in renewed) == (row in left)]
    if open_:
        raise CannotDecide(
            "closing",
            "say of every part that was not sound whether it was renewed or left as it is: "
            + "; ".join(open_),
        )
    said = (("Renewed or put right", renewed), ("Left as it is", left))
    return " ".join(
        f"{head}: {'; '.join(words[row] for row in words if row in chosen)}."
        for head, chosen in said
        if any(row in words for row in chosen)
    )
