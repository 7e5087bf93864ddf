"""What the eye finds: sizes measured on a photograph, and what a tray of debris comes to."""

from .clearances import Figure, clearances
from .damage import Link, proposed, roots, settled
from .measuring import END_PX, Line, Measured, Scale, measured_mm, size_class, tilt_shortens
from .tray import Earlier, Rate, Tray, earlier_looks, hours_of, tray_of

__all__ = [
    "END_PX",
    "Earlier",
    "Figure",
    "Line",
    "Link",
    "Measured",
    "Rate",
    "Scale",
    "Tray",
    "clearances",
    "earlier_looks",
    "hours_of",
    "measured_mm",
    "proposed",
    "roots",
    "settled",
    "size_class",
    "tilt_shortens",
    "tray_of",
]
