"""One engine opened: what its sump showed, in the order it was found, with the bench sheet of a
journal. Invented."""

from collections.abc import Sequence
from datetime import date
from uuid import NAMESPACE_URL, UUID, uuid5

from ..storage.db import Connection
from ..usecases.recording.log_rows import Event, record_event

ENGINE = "G-07"
# part, details, note; the filter had been cut before
FOUND: Sequence[tuple[str, dict[str, str], str]] = (
    ("pan", {"condition": "copper"}, "copper-coloured flakes under the strainer"),
    (
        "relief_valve",
        {
            "condition": "short",
            "figure": "46.2",
            "limit_low": "49.0",
            "limit_source": "bench sheet",
        },
        "spring three millimetres short",
    ),
    (
        "rod_bearing",
        {
            "condition": "copper",
            "position": "3",
            "side": "cap side",
            "share_pct": "40",
            "bore": "85.020 85.022",
            "shell": "2.452 2.458",
            "journal_front": "79.962 79.958 79.947 79.951",
            "journal_rear": "79.960 79.955 79.941 79.949",
            "limit_low": "0.050",
            "limit_high": "0.110",
            "limit_source": "bench sheet",
        },
        "",
    ),
    ("rod_journal", {"condition": "scored", "position": "3"}, "feels with a fingernail"),
    ("rod_bearing", {"condition": "polished", "position": "2", "side": "cap side"}, ""),
    ("main_bearing", {"condition": "polished", "position": "2", "side": "cap side"}, ""),
    ("gallery", {"condition": "clear"}, "rod through every drilling"),
    ("pickup", {"condition": "clear"}, ""),
)


def key_of(number: int) -> UUID:
    """The row of the finding of that number."""
    return uuid5(NAMESPACE_URL, f"skarrow/opened/{ENGINE}/{number}")


def open_engine(connection: Connection, on: date, who: str) -> None:
    """Write the findings down as a person does, one by one."""
    for n, (part, details, note) in enumerate(FOUND, 1):
        told = {**details, "order": str(n)}
        record_event(
            connection,
            Event(
                id=key_of(n),
                engine=ENGINE,
                on=on,
                kind="finding",
                part=part,
                details=told,
                note=note,
            ),
            who,
        )
