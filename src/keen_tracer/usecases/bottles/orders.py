"""Bottles given to the simulated laboratory, and its answers taken in through the same import as
any other's."""

import logging
import tempfile
from collections.abc import Sequence
from datetime import date, datetime, timedelta
from pathlib import Path
from uuid import UUID, uuid4

import numpy as np

from ... import clock
from ...core.laboratory import ANALYTES
from ...core.limits import reference
from ...core.record import Floats, sample_contexts
from ...core.roles import anybody
from ...standins.laboratory import MISCHIEF, NAME, BottleIn, answer
from ...storage import fleet
from ...storage.db import Connection, Database
from ...storage.errors import Unavailable
from ...storage.records import Row, row, rows, run
from ..answers.bottles import OrderOut
from ..answers.from_rows import answers
from ..days import day_at
from ..errors import CannotRecord
from ..importing.files import run_import
from .steps import step

log = logging.getLogger("keen_tracer")
LONGEST_DELAY = timedelta(days=30)


def send(
    connection: Connection,
    key: UUID,
    codes: Sequence[str],
    delay: timedelta,
    mischief: str,
    on: date,
    who: str,
) -> None:
    """Give bottles to the simulated laboratory; its file comes back after `delay`. Sent twice it is
    one order."""
    if row(connection, "order_known", id=key):
        return
    if not codes:
        raise CannotRecord("no_bottles", "choose at least one bottle")
    if mischief not in MISCHIEF or not timedelta(0) <= delay <= LONGEST_DELAY:
        raise CannotRecord(
            "unknown_word",
            f"the laboratory does not know {mischief!r}, or waits longer than 30 days",
        )
    for b in rows(connection, "bottles_by_code", codes=list(codes)):
        if b["step"] not in (None, "found"):
            raise CannotRecord(
                "gone_already", f"bottle {b['code']} is {b['step']} already; take it off the list"
            )
    step(connection, codes, "sent", on, NAME, "", [uuid4() for _ in codes], who)
    _order(connection, key, codes, clock.now() + delay, mischief, key.int % 2**31, who)


def _order(
    connection: Connection,
    key: UUID,
    codes: Sequence[str],
    due: datetime,
    mischief: str,
    seed: int,
    who: str,
) -> None:
    run(
        connection,
        "order_put",
        id=key,
        laboratory=NAME,
        samples=list(codes),
        mischief=mischief,
        seed=seed,
        due=due,
        by=who,
    )


def _numbers(figures: Floats) -> dict[str, float]:
    return {a.column: float(figures[a.index]) for a in ANALYTES if np.isfinite(figures[a.index])}


def _bottle(connection: Connection, code: str) -> BottleIn:
    """What is known of a bottle: its engine's last figures, the fresh oil, how long the oil has
    run."""
    place = row(connection, "draw_of_sample", code=code)
    if place is None:
        return BottleIn(code, 0.0, reference=True)
    loaded = fleet.load(connection, [place["engine_id"]])
    found = sample_contexts(loaded.fleet.histories[0])
    here = next((p for p in found if p.sample.code == code), None)
    if here is None:
        return BottleIn(code, 0.5)
    drain = here.engine.nominal_drain
    drains = here.hours_on_oil / drain if np.isfinite(here.hours_on_oil) else 0.5
    fresh = _numbers(reference(here.oil, loaded.fleet.fresh)[0])
    before = next(
        (
            p
            for p in reversed(found)
            if p is not here
            and p.moment.life == here.moment.life
            and _numbers(loaded.fleet.value[p.row])
            and np.isfinite(p.hours_on_oil)
        ),
        None,
    )
    if before is None:
        return BottleIn(code, max(drains, 0.0), fresh=fresh)
    return BottleIn(
        code,
        max(drains, 0.0),
        _numbers(loaded.fleet.value[before.row]),
        before.hours_on_oil / drain,
        fresh,
    )


class _Refused(Exception):
    """A file the import refused; everything of it is taken back."""


def _take_in(connection: Connection, name: str, text: str) -> str:
    """Import one of its files; what was wrong with it, or an empty text."""
    with tempfile.TemporaryDirectory(prefix="keen-laboratory-") as folder:
        file = Path(folder) / name
        file.write_text(text, encoding="utf-8")
        try:
            with connection.transaction():
                found = run_import(connection, [(name, file)], anybody(NAME))
                if not found.written:
                    raise _Refused("; ".join(f"{p.what} ({p.fix})" for p in found.problems[:5]))
        except _Refused as refused:
            return f"refused: {refused}"
    return ""


def _one(connection: Connection, order: Row) -> None:
    now = clock.now()
    said = answer(
        str(order["id"])[:8],
        [_bottle(connection, code) for code in order["samples"]],
        order["mischief"],
        order["seed"],
        day_at(connection),
    )
    refused = [p for name, text in said.files if (p := _take_in(connection, name, text))]
    if said.held_back:
        later = now + max(order["due_at"] - order["made_at"], timedelta(seconds=1)) * 2
        _order(
            connection, uuid4(), said.held_back, later, "none", order["seed"] + 1, order["made_by"]
        )
    run(connection, "order_done", id=order["id"], outcome="; ".join([said.outcome, *refused]))


def answer_due(database: Database) -> None:
    """Take in the answers that are due, each in a transaction of its own; one that fails ends there
    and says so."""
    while True:
        order = None
        try:
            with database.transaction() as connection:
                order = row(connection, "order_due", now=clock.now())
                if order is None:
                    return
                _one(connection, order)
        except Unavailable:
            raise
        except Exception:
            if order is None:
                raise
            log.exception("the simulated laboratory could not answer")
            with database.transaction() as connection:
                run(
                    connection,
                    "order_done",
                    id=order["id"],
                    outcome="could not be answered; send the bottles again",
                )


def orders(connection: Connection) -> list[OrderOut]:
    """Orders of the last weeks, newest first."""
    return answers(OrderOut, rows(connection, "orders"))
