"""Which contaminants the rises of an oil are made of: least squares on their fingerprints, nothing
below zero, each amount with its interval, and what none of them explains."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache

import numpy as np

from .. import tables
from ..record import Floats

# chi-square of two amounts, 95 % (NIST/SEMATECH e-Handbook 1.3.6.7.4): with that of one, which a
# fit without bounds would ask for, intervals beside amounts held at zero cover nine tenths only
# (tried by drawing)
BOUND = 5.991
LEFT = 3.0  # sd by which a rise stands above what every mixture explains; our choice
# Elements that wear and additives bring as well: alone they are no misfit of a contaminant.
_OF_ELSEWHERE = ("Al", "Mg", "B")
HALVINGS = 12  # of the interval's edge: a thousandth of its distance is beyond what is shown


@dataclass(frozen=True, slots=True)
class Source:
    """A contaminant and how much of it came in: ppm of its lead element, with its 95 % interval."""

    name: str
    amount: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Fit:
    """What rises are made of. `left`: the elements that no mixture of the sources explains."""

    sources: tuple[Source, ...]
    left: tuple[str, ...]


@cache
def fingerprints() -> Mapping[str, Mapping[str, float]]:
    """Contaminant → element → mass ratio to its lead element.

    >>> round(fingerprints()["brazing_flux"]["K"] / fingerprints()["brazing_flux"]["Al"], 2)
    1.45
    """
    out: dict[str, dict[str, float]] = {}
    for r in tables.read("fingerprints"):
        out.setdefault(r["source"], {})[r["element"]] = float(r["share"])
    return out


def lead_element(fingerprint: Mapping[str, float]) -> str:
    """The element a contaminant is measured by.

    >>> lead_element(fingerprints()["dust"])
    'Si'
    """
    return max(fingerprint, key=lambda m: fingerprint[m])


def sources_of(
    rises: Mapping[str, tuple[float, float]], prints: Mapping[str, Mapping[str, float]]
) -> Fit:
    """How much of each contaminant explains the rises best, and what none of them explains.

    rises : element → (rise [ppm], its sd, above 0); negative rises count as they are
    prints : contaminant → element → share; elements nobody measured say nothing, and a contaminant
        whose lead element nobody measured is not spoken of

    The interval of an amount holds every value that some mixture of the others makes as likely, by
    the likelihood ratio (normal errors). Source: C. L. Lawson and R. J. Hanson, "Solving Least
    Squares Problems", 1974, for the non-negative fit (`scipy.optimize.nnls`).

    >>> rises = {"Na": (50.0, 2.0), "K": (25.0, 2.0)}
    >>> found = sources_of(rises, {"coolant": {"Na": 1.0, "K": 0.5}, "salt": {"Na": 1.0}})
    >>> [round(s.amount) for s in found.sources], found.left
    ([50, 0], ())
    >>> sources_of({"Na": (2.0, 2.0), "K": (40.0, 2.0)}, {"salt": {"Na": 1.0}}).left
    ('K',)
    """
    elements = [m for m, (x, sd) in rises.items() if np.isfinite(x) and sd > 0]
    names = [n for n, p in prints.items() if lead_element(p) in elements]
    if not elements:
        return Fit((), ())
    weight = np.array([1 / rises[m][1] for m in elements])
    b = np.array([rises[m][0] for m in elements]) * weight
    shares = np.array([[prints[n].get(m, 0.0) for n in names] for m in elements])
    a = shares.reshape(len(elements), len(names)) * weight[:, None]
    amounts, best, over = _fitted(a, b)
    alone = [k for k in range(len(elements)) if over[k] > LEFT]
    if alone:  # each stands for itself, so that it draws no source along
        a = np.hstack([a, np.eye(len(elements))[:, alone]])
        amounts, best, _ = _fitted(a, b)
    return Fit(
        tuple(
            Source(name, float(amounts[k]), *_interval(a, b, k, float(amounts[k]), best))
            for k, name in enumerate(names)
        ),
        tuple(elements[k] for k in alone if elements[k] not in _OF_ELSEWHERE),
    )


def _fitted(a: Floats, b: Floats) -> tuple[Floats, float, Floats]:
    """(amounts, sum of squares left, what each element stands above the fit [sd])."""
    from scipy.optimize import nnls  # half the start of the program, and seldom asked

    if not a.shape[1]:
        return np.zeros(0), float(b @ b), b
    amounts, residual = nnls(a, b)
    return amounts, float(residual) ** 2, b - a @ amounts


def _interval(a: Floats, b: Floats, k: int, amount: float, best: float) -> tuple[float, float]:
    """(low, high) of the k-th amount, the others free."""
    from scipy.optimize import nnls

    column, rest = a[:, k], np.delete(a, k, axis=1)

    def misfit(x: float) -> float:
        left = b - x * column
        cost = nnls(rest, left)[1] if rest.shape[1] else np.linalg.norm(left)
        return float(cost) ** 2 - best - BOUND

    far = amount + 4 / float(np.linalg.norm(column))
    while misfit(far) < 0:
        far = amount + 2 * (far - amount)
    low = 0.0 if misfit(0.0) <= 0 else _edge(misfit, amount, 0.0)
    return low, _edge(misfit, amount, far)


def _edge(misfit: Callable[[float], float], inside: float, outside: float) -> float:
    """Where the misfit crosses its bound."""
    for _ in range(HALVINGS):
        middle = (inside + outside) / 2
        inside, outside = (middle, outside) if misfit(middle) <= 0 else (inside, middle)
    return (inside + outside) / 2
