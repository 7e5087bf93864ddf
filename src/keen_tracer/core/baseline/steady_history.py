"""What engines tell their peers: steady histories, changes of laboratory, seasons. Read when peers
are published."""

import numpy as np
from numpy.typing import NDArray

from ..limits import Evaluation
from ..record import Floats, SampleContext
from ..verdict import Level
from .model_inputs import duty, model_inputs, rise_in_charge, sigma, walk_order
from .peer_summary import Member
from .peers import NOTHING_PUBLISHED, SPREADS, month_of


def _switches(
    rows: list[int], evaluation: Evaluation, y: Floats
) -> tuple[tuple[str, str, Floats], ...]:
    """Changes of laboratory inside a life: what the (up to) three samples after read above the
    three before."""
    out = []
    for k in range(1, len(rows)):
        p, q = evaluation.contexts[rows[k - 1]], evaluation.contexts[rows[k]]
        a, b = p.sample.laboratory, q.sample.laboratory
        if not a or not b or a == b or p.moment.life != q.moment.life or p.run_in or q.run_in:
            continue
        then = [r for r in rows[max(k - 3, 0) : k] if evaluation.contexts[r].sample.laboratory == a]
        now = [r for r in rows[k : k + 3] if evaluation.contexts[r].sample.laboratory == b]
        out.append((a, b, _median(y[now]) - _median(y[then])))
    return tuple(out)


def _median(x: Floats) -> Floats:
    """Median of every column, NaN where a column holds nothing."""
    n = np.sum(~np.isnan(x), axis=0)
    last = np.maximum(n - 1, 0)
    columns, ordered = np.arange(x.shape[1]), np.sort(x, axis=0)  # NaN goes last
    out: Floats = np.where(
        n > 0, (ordered[last // 2, columns] + ordered[(last + 1) // 2, columns]) / 2, np.nan
    )
    return out


def _with_figures(y: Floats, exact: NDArray[np.bool_]) -> tuple[Floats, NDArray[np.bool_]]:
    """(y without the elements of which most samples are non-detects, whether an element has none):
    of those nobody knows the habit, and half a limit must not become one."""
    there = ~np.isnan(y)
    n, known = np.sum(there, axis=0), np.sum(there & exact, axis=0)
    return np.where(2 * known > n, y, np.nan), known == n


def _spoken_against(newest: SampleContext) -> bool:
    """Whether something seen, heard or measured at the engine in this life is at Act or worse:
    it is nobody's peer then, however quiet its figures are (VERDICT 8.13)."""
    life = newest.moment.life
    return any(
        f.level >= Level.ACT and f.moment.life == life and not f.answered for f in newest.log_facts
    )


def members(evaluation: Evaluation) -> list[Member]:
    """What each engine of an evaluation tells its peers, from its steady samples; nothing of an
    engine that something speaks against. Medians, so that a fault still unknown does not become a
    habit of the fleet."""
    inputs = model_inputs(evaluation, NOTHING_PUBLISHED)
    steady = np.where(inputs.learn[:, None], inputs.y - inputs.shift, np.nan)
    worked = duty(evaluation.contexts)
    out = []
    for rows in walk_order(evaluation.contexts):
        life = evaluation.contexts[rows[-1]].moment.life
        kept = [r for r in rows if evaluation.contexts[r].moment.life == life]
        engine, exact = evaluation.contexts[rows[0]].engine, inputs.exact[kept]
        y, told = _with_figures(steady[kept], exact)
        if np.isnan(y).all() or _spoken_against(evaluation.contexts[rows[-1]]):
            continue
        mean = _median(y)
        at = inputs.figure(np.array(kept), mean)
        noise2 = np.arcsinh(sigma(at) * inputs.noise_scale[kept] / np.exp(mean)) ** 2
        charge = inputs.charge[kept]
        charges = np.array([len(set(charge[~np.isnan(c)].tolist())) for c in y.T], dtype=float)
        residual = y - mean
        # Where some lie under the detection limit, the upper half alone tells how far they scatter.
        residual = np.where(exact & (told | (residual > 0)), residual, np.nan)
        before = np.array([-1, *kept[:-1]])
        before = np.where(inputs.charge[before] == charge, before, -1)
        before[0] = -1
        rises, _ = rise_in_charge(inputs, np.array(kept), before, mean + inputs.shift[kept], at)
        out.append(
            Member(
                engine=engine.code,
                model=engine.model,
                engine_class=engine.engine_class,
                mean=mean,
                n=np.sum(~np.isnan(y), axis=0).astype(float),
                charges=charges,
                residuals=residual,
                standard=residual / np.sqrt(np.maximum(SPREADS**2, noise2)),
                rises=np.where(
                    inputs.exact[kept] & inputs.learn[kept][:, None], rises / SPREADS, np.nan
                ),
                duty=worked[kept],
                quarter=np.array(
                    [(evaluation.contexts[r].moment.row.on.month % 12) // 3 for r in kept],
                    dtype=np.int8,
                ),
                depot=engine.depot,
                month=np.array(
                    [month_of(evaluation.contexts[r].moment.row.on) for r in kept], np.int32
                ),
                switches=_switches(kept, evaluation, steady),
            )
        )
    return out
