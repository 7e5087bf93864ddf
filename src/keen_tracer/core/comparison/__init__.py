"""One sample held against everything: ladders, schools side by side, how a figure was reached."""

from .averages import AgainstAverage, Average, against, best
from .derivation import DerivationStep, how_reached
from .ladder import Ladder, ladders

__all__ = [
    "AgainstAverage",
    "Average",
    "DerivationStep",
    "Ladder",
    "against",
    "best",
    "how_reached",
    "ladders",
]
