"""Fields of what somebody sends, bounded by the one table (`core/tables/bounds.csv`): checked where
a command comes over the wire, and the type of it everywhere else."""

from datetime import date
from typing import Annotated, Any

from pydantic import AfterValidator, Field

from ..core.bounds import BOUNDS, FACT, FIRST_DAY, LAST_DAY, NAME, NAMEABLE, TEXT, check_text


def _of(name: str) -> Any:
    b = BOUNDS[name]
    return Field(
        gt=b.low if b.above else None,
        ge=None if b.above else b.low,
        le=b.high,
        allow_inf_nan=None if b.whole else False,
    )


def _seen(most: int) -> Any:
    return AfterValidator(lambda text: check_text(text, most))


# A zero with a minus is a zero.
_PLAIN = AfterValidator(lambda value: value + 0)
Meter = Annotated[float, _of("meter"), _PLAIN]
Every = Annotated[float, _of("every"), _PLAIN]
Litres = Annotated[float, _of("litres"), _PLAIN]
StickLevel = Annotated[float, _of("stick"), _PLAIN]
Count = Annotated[int, _of("count")]
Surface = Annotated[float, _of("area"), _PLAIN]
Mass = Annotated[float, _of("mass"), _PLAIN]
Minutes = Annotated[float, _of("minutes"), _PLAIN]
Point = Annotated[float, _of("point"), _PLAIN]
KnownMm = Annotated[float, _of("known_mm"), _PLAIN]
KnownSdMm = Annotated[float, _of("known_sd_mm"), _PLAIN]
FalseRate = Annotated[float, _of("false_rate"), _PLAIN]
Weight = Annotated[float, _of("weight"), _PLAIN]
HoursDown = Annotated[float, _of("hours_down"), _PLAIN]
Money = Annotated[float, _of("money"), _PLAIN]
MgKg = Annotated[float, _of("mg_kg"), _PLAIN]
Capacity = Annotated[float, _of("capacity"), _PLAIN]
Average = Annotated[float, _of("reading"), _PLAIN]
Interval = Annotated[float, _of("interval"), _PLAIN]
Limit = Annotated[float, _of("limit"), _PLAIN]
Day = Annotated[date, Field(ge=FIRST_DAY, le=LAST_DAY)]
# Of rows of the database: what PostgreSQL's integer holds.
RowId = Annotated[int, Field(ge=1, le=2**31 - 1)]
Code = Annotated[str, Field(min_length=1, max_length=NAME, pattern=f"^{NAMEABLE}$"), _seen(NAME)]
Word = Annotated[str, Field(max_length=NAME), _seen(NAME)]
Said = Annotated[str, Field(max_length=FACT), _seen(FACT)]
Text = Annotated[str, Field(max_length=TEXT), _seen(TEXT)]
# A figure as it was typed, by its field. No semicolon: it separates them in the open files.
AsTyped = Annotated[str, Field(max_length=40, pattern=r"^[^;]*$")]
FieldName = Annotated[str, Field(pattern=r"^[a-z_]{1,30}$")]
Typed = Annotated[dict[FieldName, AsTyped], Field(max_length=12)]
Details = Annotated[dict[FieldName, Said], Field(max_length=40)]
TaskKey = Annotated[str, Field(min_length=1, max_length=200)]
# Of a sheet: column → cell as it stands there.
Cells = Annotated[dict[Word, Word], Field(max_length=80)]
