"""A version of peers as rows, as files and the database hold it."""

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from datetime import date

import numpy as np

from ..laboratory import ANALYTES
from ..record import Floats
from .peer_summary import Offset, offset_table
from .peers import ELEMENTS, SYMBOLS, E, Group, PeerSet, month_of


@dataclass(frozen=True, slots=True, kw_only=True)
class PeerRow:
    """One line of a published version, as files and the database hold it. See the migration for the
    columns."""

    kind: str
    name: str
    other: str = ""
    analyte: int
    n: int = 0
    mean: float | None = None
    median: float | None = None
    sd: float | None = None
    factor: float | None = None
    origin: str


def _digits(x: float) -> float | None:
    """Five digits: the same on any machine, and exact through a file."""
    return float(f"{x:.5g}") if np.isfinite(x) else None


_CODES = [ANALYTES[i].code for i in ELEMENTS]


def _group_rows(kind: str, groups: Mapping[str, Group]) -> Iterator[PeerRow]:
    """Means of models or classes; nothing is said of an element no engine has."""
    for name, g in groups.items():
        for e in np.flatnonzero(g.engines > 0):
            yield PeerRow(
                kind=kind,
                name=name,
                analyte=_CODES[e],
                n=int(g.engines[e]),
                mean=_digits(g.mean[e]),
                median=_digits(g.median[e]),
                sd=_digits(np.sqrt(g.between[e])),
                factor=_digits(g.factor[e]),
                origin=g.origin,
            )


def _engine_rows(means: Mapping[str, Floats]) -> Iterator[PeerRow]:
    for engine, mean in means.items():
        for e in np.flatnonzero(np.isfinite(mean)):
            yield PeerRow(
                kind="engine",
                name=engine,
                analyte=_CODES[e],
                mean=_digits(mean[e]),
                origin="median of its steady samples",
            )


def _laboratory_rows(peers: PeerSet) -> Iterator[PeerRow]:
    for (a, b), (offset, sd, n) in peers.offsets.items():
        for e in np.flatnonzero(n > 0):
            yield PeerRow(
                kind="laboratories",
                name=a,
                other=b,
                analyte=_CODES[e],
                n=int(n[e]),
                mean=_digits(offset[e]),
                sd=_digits(sd[e]),
                origin=f"{int(n[e])} engines that changed laboratory",
            )


def _season_rows(seasons: Mapping[str, Floats]) -> Iterator[PeerRow]:
    for name, shift in seasons.items():
        for q, e in np.argwhere(shift != 0):
            yield PeerRow(
                kind="season",
                name=name,
                other=str(q),
                analyte=_CODES[e],
                mean=_digits(shift[q, e]),
                origin="median of this fleet's steady samples in these months",
            )


def _neighbour_rows(neighbours: Mapping[tuple[str, int], Floats]) -> Iterator[PeerRow]:
    for (depot, month), shift in neighbours.items():
        for e in np.flatnonzero(shift):
            yield PeerRow(
                kind="neighbours",
                name=depot,
                other=f"{month // 12}-{month % 12 + 1:02d}",
                analyte=_CODES[e],
                mean=_digits(shift[e]),
                origin="median of this depot's engines in this month",
            )


def _duty_rows(duties: Mapping[str, Floats]) -> Iterator[PeerRow]:
    for name, slope in duties.items():
        for e in np.flatnonzero(slope):
            yield PeerRow(
                kind="duty",
                name=name,
                analyte=_CODES[e],
                mean=_digits(slope[e]),
                origin="slope of this fleet's steady samples on meter per day",
            )


def _rise_rows(rises: Mapping[str, Floats]) -> Iterator[PeerRow]:
    for name, factor in rises.items():
        for e in np.flatnonzero(factor != 1):
            yield PeerRow(
                kind="rise",
                name=name,
                analyte=_CODES[e],
                factor=_digits(factor[e]),
                origin="rises within a charge of this fleet's steady samples",
            )


def rows_of(peers: PeerSet) -> list[PeerRow]:
    """A version as rows; what says nothing is left out."""
    return [
        *_group_rows("model", peers.models),
        *_group_rows("class", peers.classes),
        *_engine_rows(peers.means),
        *_laboratory_rows(peers),
        *_season_rows(peers.seasons),
        *_neighbour_rows(peers.neighbours),
        *_duty_rows(peers.duties),
        *_rise_rows(peers.rises),
    ]


def _nothing_known() -> dict[str, Floats]:
    """A group of which no element is known yet."""
    fills = {"engines": 0.0, "mean": np.nan, "median": np.nan, "between": np.nan, "factor": 1.0}
    return {name: np.full(E, fill) for name, fill in fills.items()}


def _into(held: dict[str, Floats], e: int, r: PeerRow) -> None:
    """One element of a group, as its row says it."""
    held["engines"][e] = r.n
    held["mean"][e] = np.nan if r.mean is None else r.mean
    held["median"][e] = np.nan if r.median is None else r.median
    held["between"][e] = np.nan if r.sd is None else r.sd**2
    held["factor"][e] = 1.0 if r.factor is None else r.factor


def peers_of_rows(name: str, rows: Iterable[PeerRow]) -> PeerSet:
    """The version its rows say; the inverse of `rows_of` up to five digits.

    Season, laboratories and engines nobody measured an element of are simply absent.
    """
    at = {ANALYTES[i].code: e for e, i in enumerate(ELEMENTS)}
    groups: dict[tuple[str, str], dict[str, Floats]] = {}
    origins: dict[tuple[str, str], str] = {}
    means: dict[str, Floats] = {}
    seasons: dict[str, Floats] = {}
    duties: dict[str, Floats] = {}
    rises: dict[str, Floats] = {}
    neighbours: dict[tuple[str, int], Floats] = {}
    offsets = []
    for r in rows:
        e, value = at[r.analyte], np.nan if r.mean is None else r.mean
        if r.kind in ("model", "class"):
            _into(groups.setdefault((r.kind, r.name), _nothing_known()), e, r)
            origins[r.kind, r.name] = r.origin
        elif r.kind == "engine":
            means.setdefault(r.name, np.full(E, np.nan))[e] = value
        elif r.kind == "neighbours":
            key = r.name, month_of(date.fromisoformat(f"{r.other}-01"))
            neighbours.setdefault(key, np.zeros(E))[e] = value
        elif r.kind == "duty":
            duties.setdefault(r.name, np.zeros(E))[e] = value
        elif r.kind == "rise":
            rises.setdefault(r.name, np.ones(E))[e] = 1.0 if r.factor is None else r.factor
        elif r.kind == "season":
            seasons.setdefault(r.name, np.zeros((4, E)))[int(r.other), e] = value
        else:
            offsets.append(
                Offset(r.name, r.other, SYMBOLS[e], value, np.nan if r.sd is None else r.sd, r.n)
            )
    made = {key: Group(origin=origins[key], **held) for key, held in groups.items()}
    return PeerSet(
        name=name,
        models={n: g for (k, n), g in made.items() if k == "model"},
        classes={n: g for (k, n), g in made.items() if k == "class"},
        means=means,
        offsets=offset_table(offsets),
        seasons=seasons,
        duties=duties,
        rises=rises,
        neighbours=neighbours,
    )
