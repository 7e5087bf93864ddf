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
from .flushing import Fill, Flush, fills_needed, flush, share_left
from .isolation import AGAINST, FOR, Result, Step, leak_steps, next_step, result_of
from .similar import Past, similar

__all__ = [
    "AGAINST",
    "FOR",
    "NONE",
    "SHOWN",
    "Aside",
    "Balance",
    "Drained",
    "Explanation",
    "Fill",
    "Flush",
    "Own",
    "Past",
    "Piece",
    "Pull",
    "Result",
    "Said",
    "Step",
    "Unknown",
    "balance",
    "beginning",
    "check_said",
    "check_weight",
    "fills_needed",
    "flush",
    "last_drained",
    "leak_steps",
    "next_step",
    "result_of",
    "share_left",
    "similar",
]
