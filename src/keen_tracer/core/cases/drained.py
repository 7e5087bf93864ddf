"""What drained from the sump, layer by layer, against what was filled: how much of another liquid
came in, with the drain order as the caution it is (the-trade 3.16)."""

from dataclasses import dataclass
from datetime import date

from ..planning import came_in
from ..record import TimeLine, detail_number


@dataclass(frozen=True, slots=True, kw_only=True)
class Drained:
    """A sump drained from the bottom in layers. Litres; `first_l` coolant or water, `least_in` and
    `most_in` what came in, None where nobody knows the fill."""

    on: date
    first_l: float
    then_l: float
    filled_l: float | None
    topped_l: float
    least_in: float | None
    most_in: float | None


def last_drained(line: TimeLine, sump_l: float | None, since: date) -> Drained | None:
    """The newest sump drained in layers since a day; None where none was.

    sump_l : litres of a fill, where the log does not say how much went in
    """
    for m in reversed(line.moments):
        if m.row.on < since or m.row.kind != "field_check" or m.row.part != "layers":
            continue
        first = detail_number(m.row.details, "coolant_drained_l")
        then = detail_number(m.row.details, "oil_drained_l")
        if first is None and then is None:
            continue
        charge = next((q for q in line.charges if q.number == m.charge), None)
        filled = (charge.litres_in if charge else None) or sump_l
        topped = sum(litres for _, litres in charge.top_ups) if charge else 0.0
        drained = (first or 0.0) + (then or 0.0)
        least, most = came_in(drained, filled, topped) if filled else (None, None)
        return Drained(
            on=m.row.on,
            first_l=first or 0.0,
            then_l=then or 0.0,
            filled_l=filled,
            topped_l=topped,
            least_in=least,
            most_in=most,
        )
    return None
