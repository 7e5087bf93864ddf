"""How much oil an engine uses up, from what was topped up in its charges."""

from .model import Engine
from .timeline import LONG_ENOUGH, Charge


def topped_up(charge: Charge) -> float:
    """Litres topped up in a charge so far."""
    return sum(q for _, q in charge.top_ups) + charge.untimed_top_up_l


def use_of(charge: Charge, engine: Engine) -> list[float]:
    """Litres a meter unit of a charge that was long enough; nothing where it was not."""
    if charge.start is None or charge.end is None:
        return []
    ran = charge.end - charge.start
    return [topped_up(charge) / ran] if ran >= LONG_ENOUGH * engine.nominal_drain else []
