"""A version of peers as rows, as files and the database hold it."""

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from ..laboratory import ANALYTES
from ..record import Floats
from .peer_summary import Offset, offset_table
from .peers import ELEMENTS, SYMBOLS, E, Group, PeerSet


@dataclass(frozen=True, slots=True)
class PeerRow:
    """One line of a published version, as files and the database hold it. See the migration for the
    columns."""

    kind: str
    name: str
    other: str
    analyte: int
    n: int
    mean: float | None
    median: float | None
    sd: float | None
    factor: float | None
    origin: str


def _digits(x: float) -> float | None:
    """Five digits: the same on any machine, and exact through a file."""
    return float(f"{x:.5g}") if np.isfinite(x) else None


def rows_of(peers: PeerSet) -> list[PeerRow]:
    """A version as rows; nothing is said of an element no engine has."""
    code = [ANALYTES[i].code for i in ELEMENTS]
    out = []
    for kind, groups in (("model", peers.models), ("class", peers.classes)):
        for name, g in groups.items():
            out += [
                PeerRow(
                    kind,
                    name,
                    "",
                    code[e],
                    int(g.engines[e]),
                    _digits(g.mean[e]),
                    _digits(g.median[e]),
                    _digits(np.sqrt(g.between[e])),
                    _digits(g.factor[e]),
                    g.origin,
                )
                for e in range(E)
                if g.engines[e] > 0
            ]
    for engine, mean in peers.means.items():
        out += [
            PeerRow(
                "engine",
                engine,
                "",
                code[e],
                0,
                _digits(mean[e]),
                None,
                None,
                None,
                "median of its steady samples",
            )
            for e in range(E)
            if np.isfinite(mean[e])
        ]
    for (a, b), (offset, sd, n) in peers.offsets.items():
        out += [
            PeerRow(
                "laboratories",
                a,
                b,
                code[e],
                int(n[e]),
                _digits(offset[e]),
                None,
                _digits(sd[e]),
                None,
                f"{int(n[e])} engines that changed laboratory",
            )
            for e in range(E)
            if n[e] > 0
        ]
    for name, shift in peers.seasons.items():
        out += [
            PeerRow(
                "season",
                name,
                str(q),
                code[e],
                0,
                _digits(shift[q, e]),
                None,
                None,
                None,
                "median of this fleet's steady samples in these months",
            )
            for q in range(4)
            for e in range(E)
            if shift[q, e] != 0
        ]
    for name, slope in peers.duties.items():
        out += [
            PeerRow(
                "duty",
                name,
                "",
                code[e],
                0,
                _digits(slope[e]),
                None,
                None,
                None,
                "slope of this fleet's steady samples on meter per day",
            )
            for e in range(E)
            if slope[e] != 0
        ]
    for name, factor in peers.rises.items():
        out += [
            PeerRow(
                "rise",
                name,
                "",
                code[e],
                0,
                None,
                None,
                None,
                _digits(factor[e]),
                "rises within a charge of this fleet's steady samples",
            )
            for e in range(E)
            if factor[e] != 1
        ]
    return out


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
    offsets = []
    for r in rows:
        e, value = at[r.analyte], np.nan if r.mean is None else r.mean
        if r.kind in ("model", "class"):
            held = groups.setdefault(
                (r.kind, r.name),
                {
                    k: np.full(E, fill)
                    for k, fill in (
                        ("engines", 0.0),
                        ("mean", np.nan),
                        ("median", np.nan),
                        ("between", np.nan),
                        ("factor", 1.0),
                    )
                },
            )
            origins[r.kind, r.name] = r.origin
            held["engines"][e], held["mean"][e] = r.n, value
            held["median"][e] = np.nan if r.median is None else r.median
            held["between"][e] = np.nan if r.sd is None else r.sd**2
            held["factor"][e] = 1.0 if r.factor is None else r.factor
        elif r.kind == "engine":
            means.setdefault(r.name, np.full(E, np.nan))[e] = value
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
        name,
        {n: g for (k, n), g in made.items() if k == "model"},
        {n: g for (k, n), g in made.items() if k == "class"},
        means,
        offset_table(offsets),
        seasons,
        duties,
        rises,
    )
