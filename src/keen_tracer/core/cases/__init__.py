"""A case: one engine and one trouble, from an alarm to its end."""

from .balance import (
    NONE,
    SHOWN,
    Aside,
    Balance,
    Explanation,
    Own,
    Piece,
    Pull,
    Said,
    Unknown,
    balance,
    check_said,
    check_weight,
)
from .beginning import beginning
from .drained import Drained, last_drained
from .flushing import Fill, Flush, FlushWait, fills_needed, flush, flush_waits, share_left
from .similar import Past, similar

__all__ = [
    "NONE",
    "SHOWN",
    "Aside",
    "Balance",
    "Drained",
    "Explanation",
    "Fill",
    "Flush",
    "FlushWait",
    "Own",
    "Past",
    "Piece",
    "Pull",
    "Said",
    "Unknown",
    "balance",
    "beginning",
    "check_said",
    "check_weight",
    "fills_needed",
    "flush",
    "flush_waits",
    "last_drained",
    "share_left",
    "similar",
]
