"""What was to be expected of a reading: peers and own history as one value, and how far the reading
lies above it."""

from .alarm_levels import Expected, School, expected, schools
from .assessment import Assessment, assess, lens_levels
from .bands import Bands, bands
from .company import may_leach
from .dial import PLANTED, Counts, Step, count, count_found, with_fault
from .estimator import PRIOR_SAMPLES
from .expectation import element_ppm
from .model_inputs import rises, scaled, walk_order, y_of
from .patterns import NEVER, bearing_kind, lenses
from .peer_rows import PeerRow, peers_of_rows, rows_of
from .peer_summary import Member, peer_set
from .peers import (
    ELEMENTS,
    EXPECTED,
    FACTOR_RANGE,
    NOTHING_PUBLISHED,
    SPREADS,
    STEEPEST_DUTY,
    SYMBOLS,
    PeerSet,
    element_place,
    started_log,
)
from .steady_history import members

__all__ = [
    "ELEMENTS",
    "EXPECTED",
    "FACTOR_RANGE",
    "NEVER",
    "NOTHING_PUBLISHED",
    "PLANTED",
    "PRIOR_SAMPLES",
    "SPREADS",
    "STEEPEST_DUTY",
    "SYMBOLS",
    "Assessment",
    "Bands",
    "Counts",
    "Expected",
    "Member",
    "PeerRow",
    "PeerSet",
    "School",
    "Step",
    "assess",
    "bands",
    "bearing_kind",
    "count",
    "count_found",
    "element_place",
    "element_ppm",
    "expected",
    "lens_levels",
    "lenses",
    "may_leach",
    "members",
    "peer_set",
    "peers_of_rows",
    "rises",
    "rows_of",
    "scaled",
    "schools",
    "started_log",
    "walk_order",
    "with_fault",
    "y_of",
]
