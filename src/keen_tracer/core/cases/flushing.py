"""Flushing after coolant, stop-leak, fuel or swarf: how many fills, what each should leave, what
was measured instead, and when to stop (the-trade 3.17).

What stays in filter, cooler and galleries at a drain (the trapped volume) mixes with the next fill:
after it there is r = trapped / (trapped + new) of what was there above fresh oil. Each measured
fill replaces the computed one, and where more stayed than was computed, the fills still to come are
reckoned with the larger share.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, inf, log
from typing import Literal

from ..errors import OutOfRange
from ..terms import HALTED, MayRun

WORSE = 1.25  # measured over computed share, before dead legs or a leak are spoken of; our choice
MOST_FILLS = 50  # a plan longer than that is no plan; our choice


FlushWait = Literal["", "turned", "mended"]


def flush_waits(may_run: MayRun, is_mended: bool) -> FlushWait:
    """What a flush waits for: that the engine may be turned, since every fill is run warm; that
    what let it in was mended, since every fill is contaminated while it leaks. "" for nothing.

    >>> flush_waits("do_not_run", True), flush_waits("runs", False), flush_waits("runs", True)
    ('turned', 'mended', '')
    """
    if may_run in HALTED:
        return "turned"
    return "" if is_mended else "mended"


FlushWord = Literal["leaks", "unclear", "done", "measure", "never", "dead_legs", "more"]


@dataclass(frozen=True, slots=True, kw_only=True)
class Fill:
    """One fill that was run and drained. Litres; `measured` [ppm, or the marker's own unit] in the
    oil that came out, None where nobody measured."""

    new_l: float
    trapped_l: float
    measured: float | None = None
    filter_changed: bool = False


@dataclass(frozen=True, slots=True)
class Stage:
    """What a fill should have left and what it left; `share` stayed by the litres, `stayed` by what
    was measured, None where it was not or the one before was not."""

    computed: float
    measured: float | None
    share: float
    stayed: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Flush:
    """Where a flush stands.

    left : what is in the oil now · more : fills still needed, None where they cannot get there
    share : what the fills to come are reckoned with · litres, filters : used so far
    litres_more : oil the fills to come take
    word : "done" measured under the target; "measure" under it by computation only; "more";
        "leaks" what was measured rose from one fill to the next: it still comes in; "unclear" one
        figure rose, the next fill shows; "dead_legs" more stays than the litres
        say; "never" the target is not under what stays with each fill
    """

    stages: tuple[Stage, ...]
    left: float
    more: int | None
    share: float
    litres: float
    litres_more: float
    filters: int
    word: FlushWord


def share_left(new_l: float, trapped_l: float) -> float:
    """Share of what was there that is left after a fill was run and mixed.

    Raises OutOfRange for a fill of nothing or less.

    >>> share_left(18, 2)
    0.1
    """
    if not 0 < new_l < inf:
        raise OutOfRange("new oil of a fill", new_l, 0, inf, "L")
    if not 0 <= trapped_l < inf:
        raise OutOfRange("trapped oil", trapped_l, 0, inf, "L")
    return trapped_l / (trapped_l + new_l)


def fills_needed(start: float, target: float, share: float) -> int | None:
    """Fills until `start` is under `target`, both above fresh oil, each leaving `share`. None where
    no number of fills gets there, or a figure is not one.

    n = ceil(ln(target/start)/ln(share)); a share of 0 takes one.

    >>> fills_needed(200, 10, 0.10)
    2
    """
    if start <= target:
        return 0
    if not (target > 0 and start < inf and 0 <= share < 1):
        return None
    n = 1 if share <= 0 else ceil(log(target / start) / log(share) - 1e-9)
    return n if n <= MOST_FILLS else None


def flush(
    start: float, target: float, planned: Fill, fills: Sequence[Fill] = (), fresh: float = 0.0
) -> Flush:
    """How far a flush has come after the fills that were run.

    start : what was measured before the first drain · target : when to stop · planned : litres of
    the fills to come · fresh : what the new oil itself carries; all in the marker's own unit

    Raises OutOfRange where the target is not above fresh oil or a figure cannot be meant.

    >>> f = flush(200, 10, Fill(new_l=18, trapped_l=2))
    >>> f.more, f.litres_more, f.word
    (2, 36, 'more')
    >>> flush(200, 10, Fill(new_l=18, trapped_l=2), [Fill(new_l=18, trapped_l=2, measured=61)]).word
    'dead_legs'
    """
    # A figure that cannot be, taken for a small one, would call an engine clean.
    told = [("start of the flush", start), ("fresh oil of the flush", fresh)]
    told += [("what was measured", f.measured) for f in fills if f.measured is not None]
    for name, x in told:
        if not 0 <= x < inf:
            raise OutOfRange(name, x, 0, inf, "")
    if not fresh < target < inf:
        raise OutOfRange("target of the flush", target, fresh, start, "")
    left, share = start, share_left(planned.new_l, planned.trapped_l)
    stages: list[Stage] = []
    measured_before: float | None = start
    drained: float | None = None  # what the fill before measured: the start is of another oil
    worst, rose, unclear = 1.0, False, False
    for fill in fills:
        by_litres = share_left(fill.new_l, fill.trapped_l)
        computed = fresh + (left - fresh) * by_litres
        stayed = None
        if fill.measured is not None and measured_before is not None and measured_before > fresh:
            stayed = max((fill.measured - fresh) / (measured_before - fresh), 0.0)
            if stayed <= 1:
                worst = max(worst, stayed / by_litres if by_litres else 1.0)
        unclear = fill.measured is not None and fill.measured > left
        rose = fill.measured is not None and drained is not None and fill.measured > drained
        stages.append(Stage(computed, fill.measured, by_litres, stayed))
        left = computed if fill.measured is None else fill.measured
        measured_before = drained = fill.measured
    share = min(share * worst, 1.0) if worst > WORSE else share
    more = fills_needed(left - fresh, target - fresh, share)
    return Flush(
        stages=tuple(stages),
        left=left,
        more=more,
        share=share,
        litres=sum(f.new_l for f in fills),
        litres_more=(more or 0) * planned.new_l,
        filters=sum(f.filter_changed for f in fills),
        word=_word(stages, left, target, more, worst, rose=rose, unclear=unclear),
    )


def _word(
    stages: Sequence[Stage],
    left: float,
    target: float,
    more: int | None,
    worst: float,
    *,
    rose: bool,
    unclear: bool,
) -> FlushWord:
    if left <= target:
        return "done" if stages and stages[-1].measured is not None else "measure"
    if rose or unclear:
        return "leaks" if rose else "unclear"
    if more is None:
        return "never"
    return "dead_legs" if worst > WORSE else "more"
