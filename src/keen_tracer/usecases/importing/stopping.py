"""What an import brought that may stop an engine: it is stopped before it is judged."""

from ...core.diagnosis import FUEL_STOP, WATER_STOP
from ...core.laboratory import BY_SYMBOL, POSITIVE
from ...core.record import fact_kinds, told
from ...core.status import is_grave
from ...core.verdict import Level
from ...storage import fleet
from ...storage.records import rows
from ..judging.unjudged import wait_stopped
from .task import Task


def wait(task: Task) -> None:
    """Withdraw "runs" of every engine of which something came in that may stop it: a row of the
    log that says Act or worse by itself, a bottle that shows or smells of something, a figure of a
    hard stop."""
    codes = {name: BY_SYMBOL[name].code for name in ("Water", "Glycol", "Fuel", "FAME")}
    found = rows(
        task.connection,
        "may_stop",
        engines=sorted(task.touched),
        sources=task.sources,
        looks=[w for w, f in told("appearance").items() if fact_kinds()[f].level >= Level.ACT],
        water=codes["Water"],
        glycol=codes["Glycol"],
        fuels=[codes["Fuel"], codes["FAME"]],
        positive=POSITIVE,
        water_stop=WATER_STOP,
        fuel_stop=FUEL_STOP,
    )
    said: dict[int, set[str]] = {}
    for r in found:
        said.setdefault(r["engine_id"], set()).add(r["log"] or "")
    sure = {engine for engine, ids in said.items() if "" in ids}
    asked = sorted(said.keys() - sure)
    for part in fleet.batches(task.connection, asked):
        loaded = fleet.load(task.connection, part, {}, figures=False)
        for engine, history in zip(loaded.engines, loaded.fleet.histories, strict=True):
            if is_grave(history, said[engine["id"]]):
                sure.add(engine["id"])
    wait_stopped(task.connection, sorted(sure))
