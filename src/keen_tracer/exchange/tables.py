"""The canonical tables (docs/formats.md), and which of them a file holds."""

from .fleet_tables import FLEET
from .people_tables import PEOPLE
from .record_tables import RECORD
from .table import Table

__all__ = ["TABLES", "Table", "kind_of"]

_TABLES = (*FLEET, *RECORD, *PEOPLE)
TABLES = {t.name: t for t in _TABLES}


def kind_of(file_name: str, header: list[str]) -> Table | None:
    """The table a file holds: by its name, else the one whose required columns the header has
    best."""
    stem = file_name.lower().rsplit("/", 1)[-1].split(".")[0].split(" ")[0].split("-")[0]
    if stem in TABLES:
        return TABLES[stem]
    have = set(header)
    fits = [t for t in _TABLES if set(t.required) <= have]
    return max(fits, key=lambda t: len(have & set(t.columns)), default=None)
