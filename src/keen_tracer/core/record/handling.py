"""What may not be done to an engine as it stands: nothing that turns, cranks, heats or sparks where
that can hurt. One rule for state, plan, Inspect, Collect, case and paper."""

from collections.abc import Collection

from ..terms import HALTED
from .model import Engine

TURNS = frozenset({"cranked", "running"})
VAPOUR = frozenset({"heat", "spark"})
_WET = frozenset({"wet_cylinder"})
# White smoke with any of these: coolant may stand in a cylinder.
_WITH_WHITE_SMOKE = frozenset({"coolant_use", "coolant_added", "overheated", "coolant_smell"})
_FUEL = frozenset({"fuel_smell", "grey_oil", "gear_grey", "plug_wet"})
_PETROL = frozenset(
    {"petrol", "petrol_leaded", "petrol_ethanol", "carburettor", "small_air_cooled"}
)


def may_be_wet(facts: Collection[str]) -> bool:
    """Whether coolant may stand in a cylinder: white smoke of an engine that was hot or lost
    coolant. It must not be cranked then, and so not be started.

    >>> may_be_wet({"white_smoke", "overheated"}), may_be_wet({"white_smoke"})
    (True, False)
    """
    known = frozenset(facts)
    return "white_smoke" in known and bool(known & _WITH_WHITE_SMOKE)


def hot_and_low(facts: Collection[str]) -> bool:
    """Whether the engine ran hot while its coolant went somewhere: two facts of one kind that no
    engine bears together.

    >>> hot_and_low({"overheated", "coolant_use"}), hot_and_low({"overheated"})
    (True, False)
    """
    known = frozenset(facts)
    return "overheated" in known and bool(known & {"coolant_use", "coolant_added"})


def barred_by(engine: Engine, facts: Collection[str]) -> frozenset[str]:
    """What the open facts of an engine forbid, of "cranked", "running", "heat" and "spark".

    >>> sorted(barred_by(Engine("E", "petrol"), {"fuel_smell"}))
    ['cranked', 'heat', 'running', 'spark']
    """
    known = frozenset(facts)
    out: frozenset[str] = frozenset()
    if known & _WET or may_be_wet(known):
        out |= TURNS
    if "white_smoke" in known:
        out |= {"cranked"}
    if known & _FUEL:
        out |= VAPOUR | (TURNS if engine.traits & _PETROL else frozenset())
    return out


def barred_now(barred: Collection[str], may_run: str) -> frozenset[str]:
    """What is forbidden today: what the facts forbid, and anything that turns a halted engine.

    >>> sorted(barred_now((), "do_not_run"))
    ['cranked', 'running']
    """
    return frozenset(barred) | (TURNS if may_run in HALTED else frozenset())
