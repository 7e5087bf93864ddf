"""What the eye finds: sizes measured on a photograph, and what a tray of debris comes to."""

from .measured_counts import (
    DrawnLine,
    measured_by,
    measured_pieces,
    scale_of,
    with_measured,
)
from .measuring import END_PX, Line, Measured, Scale, measured_mm, size_class, tilt_shortens
from .tray import Rate, Tray, tray_of
from .work import Proposed, Sums, Work, check_work, sums, work_proposed

__all__ = [
    "END_PX",
    "DrawnLine",
    "Line",
    "Measured",
    "Proposed",
    "Rate",
    "Scale",
    "Sums",
    "Tray",
    "Work",
    "check_work",
    "measured_by",
    "measured_mm",
    "measured_pieces",
    "scale_of",
    "size_class",
    "sums",
    "tilt_shortens",
    "tray_of",
    "with_measured",
    "work_proposed",
]
