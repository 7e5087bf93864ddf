"""One sample held against everything: ladders, schools side by side, how a figure was reached."""

from .derivation import DerivationStep, how_reached
from .ladder import Ladder, ladders

__all__ = ["DerivationStep", "Ladder", "how_reached", "ladders"]
