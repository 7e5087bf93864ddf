"""A laboratory's averages for a model, typed by a person."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated

from pydantic import Field

from ...core.laboratory import BY_COLUMN
from ...core.roles import Actor, check_may
from ...storage.db import Connection
from ...storage.records import row, rows
from ..answers.from_rows import answers
from ..answers.library import AverageRow
from ..errors import CannotRecord
from ..fields import Average, Interval, Text, Word
from ..importing.averages import put_average


@dataclass(frozen=True, slots=True, kw_only=True)
class AverageSheet:
    """What a laboratory prints as usual for a model: column → figure, in the column's unit.

    at_meter : meter units on the oil the averages hold for
    """

    laboratory: Word
    model: Word
    averages: Annotated[dict[Word, Average], Field(min_length=1, max_length=80)]
    at_meter: Interval | None = None
    origin: Text = ""


def averages(connection: Connection) -> Sequence[AverageRow]:
    """What counts, of every laboratory and model."""
    return answers(AverageRow, rows(connection, "averages_now"))


def put_sheet(connection: Connection, sheet: AverageSheet, who: Actor) -> int:
    """Put averages on record; how many were new. Raises NotAllowed, CannotRecord."""
    check_may(who, "publish")
    if not sheet.laboratory.strip():
        raise CannotRecord("laboratory", "name the laboratory", {"laboratory": "name it"})
    if sheet.model not in {r["code"] for r in rows(connection, "model_codes")}:
        what = f"model {sheet.model!r} is not on record"
        raise CannotRecord("unknown_model", what, {"model": what})
    unknown = [k for k in sheet.averages if k not in BY_COLUMN]
    if unknown:
        raise CannotRecord("unknown_analyte", f"{unknown[0]!r} is no figure of a report")
    new = 0
    for column, average in sheet.averages.items():
        key = {
            "laboratory": sheet.laboratory.strip(),
            "model": sheet.model,
            "analyte": column,
        }
        said = {"average": average, "at_meter": sheet.at_meter, "origin": sheet.origin}
        if row(connection, "average_now", **key) != said:
            put_average(connection, {**key, **said}, who.name)
            new += 1
    return new
