"""Textbook statistics without a word of the trade: lines, trends, control charts."""

from .control_charts import cusum, ewma
from .regression import FEWEST, Crossing, Line, crossing, fit_line
from .shares import wilson
from .trend import Trend, trend

__all__ = [
    "FEWEST",
    "Crossing",
    "Line",
    "Trend",
    "crossing",
    "cusum",
    "ewma",
    "fit_line",
    "trend",
    "wilson",
]
