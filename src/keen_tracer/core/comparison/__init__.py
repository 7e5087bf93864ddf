"""One sample held against everything: ladders, schools side by side, how a figure was reached."""

from .derivation import how_reached
from .ladder import Ladder, ladders

__all__ = ["Ladder", "how_reached", "ladders"]
