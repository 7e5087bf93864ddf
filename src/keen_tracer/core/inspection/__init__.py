"""What the eye finds: sizes measured on a photograph, and what a tray of debris comes to."""

from .clearances import Figure, clearances
from .damage import Link, proposed, roots, settled
from .measuring import END_PX, Line, Measured, Scale, measured_mm, size_class, tilt_shortens
from .tray import Earlier, Rate, Tray, earlier_looks, hours_of, tray_of
from .work import Proposed, Sums, Work, check_work, sums, work_proposed

__all__ = [
    "END_PX",
    "Earlier",
    "Figure",
    "Line",
    "Link",
    "Measured",
    "Proposed",
    "Rate",
    "Scale",
    "Sums",
    "Tray",
    "Work",
    "check_work",
    "clearances",
    "earlier_looks",
    "hours_of",
    "measured_mm",
    "proposed",
    "roots",
    "settled",
    "size_class",
    "sums",
    "tilt_shortens",
    "tray_of",
    "work_proposed",
]
