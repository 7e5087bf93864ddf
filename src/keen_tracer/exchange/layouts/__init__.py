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
from .pasted import Pasted, one_report
from .reader import Reader, Told, Unread, apart, meter_unit, name, volume_unit

__all__ = [
    "DAYS",
    "FIGURES",
    "HEAD",
    "LOOKED",
    "MOST_ROWS",
    "Column",
    "Layout",
    "Pasted",
    "Proposal",
    "Question",
    "Reader",
    "Sheet",
    "Told",
    "Unread",
    "apart",
    "fingerprint",
    "meaning",
    "meter_unit",
    "name",
    "one_report",
    "propose",
    "read",
    "settle",
    "sheets_of",
    "targets",
    "turned",
    "volume_unit",
]
