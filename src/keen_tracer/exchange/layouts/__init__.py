"""Anybody's report: a grid of texts, how it is read, and the samples it tells."""

from .grid import MOST_ROWS, Sheet, read, sheets_of
from .layout import (
    DAYS,
    FIGURES,
    HEAD,
    LOOKED,
    Column,
    Layout,
    Proposal,
    Question,
    fingerprint,
    propose,
    settle,
    targets,
    turned,
)
from .names import meaning
from .reader import Reader, Told, Unread, meter_unit, name, volume_unit

__all__ = [
    "DAYS",
    "FIGURES",
    "HEAD",
    "LOOKED",
    "MOST_ROWS",
    "Column",
    "Layout",
    "Proposal",
    "Question",
    "Reader",
    "Sheet",
    "Told",
    "Unread",
    "fingerprint",
    "meaning",
    "meter_unit",
    "name",
    "propose",
    "read",
    "settle",
    "sheets_of",
    "targets",
    "turned",
    "volume_unit",
]
