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
from .pasted import Pasted, from_text
from .pdf_text import pdf_text
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
    "from_text",
    "meaning",
    "meter_unit",
    "name",
    "pdf_text",
    "propose",
    "read",
    "settle",
    "sheets_of",
    "targets",
    "turned",
    "volume_unit",
]
