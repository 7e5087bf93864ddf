"""What comes next: when a sample is due, where a line leads, when to drain, what to take along."""

from .following import Drawn, Followed, early, followed
from .meter_forecast import in_storage, usage
from .moving import check_move, hours_on, placed
from .oil_balance import ChargeBalance, above_full_l, came_in, oil_balance
from .oil_life import Ageing, OilLife, oil_life
from .outlook import Outlook, outlooks
from .packing import Packed, Wanted, pack, spread
from .risk import CHANCE, risk
from .sampling_advice import interval_advice, slate_of
from .sampling_kit import ChecklistStep, checklist, sampling_kit, tube_length_mm
from .sampling_plan import TIGHTENED, Due, Plan, check_tightened, dues, next_due, plans_of
from .tasks import Task, tasks_of
from .work_order import before, in_turn

__all__ = [
    "CHANCE",
    "TIGHTENED",
    "Ageing",
    "ChargeBalance",
    "ChecklistStep",
    "Drawn",
    "Due",
    "Followed",
    "OilLife",
    "Outlook",
    "Packed",
    "Plan",
    "Task",
    "Wanted",
    "above_full_l",
    "before",
    "came_in",
    "check_move",
    "check_tightened",
    "checklist",
    "dues",
    "early",
    "followed",
    "hours_on",
    "in_storage",
    "in_turn",
    "interval_advice",
    "next_due",
    "oil_balance",
    "oil_life",
    "outlooks",
    "pack",
    "placed",
    "plans_of",
    "risk",
    "sampling_kit",
    "slate_of",
    "spread",
    "tasks_of",
    "tube_length_mm",
    "usage",
]
