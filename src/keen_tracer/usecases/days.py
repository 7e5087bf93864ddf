"""Which date it is at an engine's depot. An engine without a depot goes by the date of the site."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from typing import TypedDict

from .. import clock
from ..storage.db import Connection
from ..storage.records import row, rows


class OfDepots(TypedDict):
    """The dates as parameters of a query. A depot that is not in `depots` has the date `site`."""

    site: date
    depots: list[str]
    days: list[date]


@dataclass(frozen=True, slots=True)
class Days:
    """The date of the site, and of each depot whose time zone has another date.

    The site has the date of its first depot in walking order. Without any depot it has the date
    of the machine.
    """

    site: date
    elsewhere: Mapping[str, date]

    def at(self, depot: str | None) -> date:
        """The date at a depot, or with None the date of the site.

        >>> days = Days(date(2026, 12, 1), {"far": date(2026, 11, 30)})
        >>> days.at("far"), days.at(None) == days.at("near") == days.site
        (datetime.date(2026, 11, 30), True)
        """
        return self.elsewhere.get(depot or "", self.site)

    def of_depots(self) -> OfDepots:
        """These dates as parameters of a query."""
        return {
            "site": self.site,
            "depots": list(self.elsewhere),
            "days": list(self.elsewhere.values()),
        }


def days_now(connection: Connection) -> Days:
    """The present date at every depot and at the site."""
    found = rows(connection, "depots")
    moment = clock.now()
    zones = {r["time_zone"] for r in found}
    in_zone = {zone: clock.day(moment, zone) for zone in zones}
    site = in_zone[found[0]["time_zone"]] if found else clock.day(moment, None)
    elsewhere = {r["code"]: in_zone[r["time_zone"]] for r in found}
    return Days(site, {code: on for code, on in elsewhere.items() if on != site})


def day_at(connection: Connection, depot: str | None = None) -> date:
    """The present date at a depot. With None it is the present date of the site."""
    return days_now(connection).at(depot)


def day_of_engine(connection: Connection, engine: str | int) -> date:
    """The present date at the depot of an engine, which is given by its code or its id."""
    code, key = (engine, None) if isinstance(engine, str) else (None, engine)
    found = row(connection, "depot_of_engine", code=code, id=key)
    return day_at(connection, found["depot"] if found else None)
