"""What comes next: when a sample is due, where a line leads, when to drain, what to take along."""

from .meter_forecast import in_storage, usage
from .oil_balance import ChargeBalance, above_full_l, oil_balance
from .oil_life import Ageing, oil_life
from .outlook import Outlook, outlooks
from .sampling_kit import ChecklistStep, checklist, sampling_kit, tube_length_mm
from .sampling_plan import TIGHTENED, Due, Plan, check_tightened, next_due

__all__ = [
    "TIGHTENED",
    "Ageing",
    "ChargeBalance",
    "ChecklistStep",
    "Due",
    "Outlook",
    "Plan",
    "above_full_l",
    "check_tightened",
    "checklist",
    "in_storage",
    "next_due",
    "oil_balance",
    "oil_life",
    "outlooks",
    "sampling_kit",
    "tube_length_mm",
    "usage",
]
