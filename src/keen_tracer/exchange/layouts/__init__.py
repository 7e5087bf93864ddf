"""Anybody's report: a grid of texts, how it is read, and the samples it tells."""

from .arranged import labelled
from .grid import MOST_ROWS, Sheet, read, sheets_of, taken_up, written_down
from .joined import head_of, sheets_in
from .later import body_of
from .layout import (
    DAYS,
    FIGURES,
    HEAD,
    LOOKED,
    SHEET_NAME,
    Column,
    Layout,
    Line,
    Proposal,
    Question,
    fingerprint,
    targets,
)
from .names import METERS, meaning, plain
from .pasted import Pasted, from_text
from .pdf_text import pdf_text
from .proposing import MOST_TURNS, propose
from .reader import Reader, meter_unit, volume_unit
from .settling import MOST_PARTS, parts_seen, settle
from .told import Told, Unread
from .values import apart, name

__all__ = [
    "DAYS",
    "FIGURES",
    "HEAD",
    "LOOKED",
    "METERS",
    "MOST_PARTS",
    "MOST_ROWS",
    "MOST_TURNS",
    "SHEET_NAME",
    "Column",
    "Layout",
    "Line",
    "Pasted",
    "Proposal",
    "Question",
    "Reader",
    "Sheet",
    "Told",
    "Unread",
    "apart",
    "body_of",
    "fingerprint",
    "from_text",
    "head_of",
    "labelled",
    "meaning",
    "meter_unit",
    "name",
    "parts_seen",
    "pdf_text",
    "plain",
    "propose",
    "read",
    "settle",
    "sheets_in",
    "sheets_of",
    "taken_up",
    "targets",
    "volume_unit",
    "written_down",
]
