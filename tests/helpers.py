"""Builders the tests share: an engine's story in a few lines, and open files from rows."""

import csv
from collections.abc import Iterable, Mapping
from dataclasses import replace
from datetime import date, time, timedelta
from pathlib import Path
from typing import Any

import numpy as np

from keen_tracer.core.baseline import NOTHING_PUBLISHED, PeerSet, assess
from keen_tracer.core.judge import judge, verdicts
from keen_tracer.core.laboratory import BY_SYMBOL, N, parse_reading
from keen_tracer.core.limits import LimitSet, Policies, default_limits
from keen_tracer.core.record import Coolant, Engine, Fleet, History, LogRow, Sample
from keen_tracer.core.status import OnRecord, engine_states, may_run_now
from keen_tracer.core.terms import CHANNELS, rank
from keen_tracer.core.verdict import EngineState, RunDecision, Verdict
from keen_tracer.core.words import state_lines

DAY = date(2026, 1, 5)
OIL = "Test oil|15W-40|1"
# A fresh oil with plain figures, and a sample of it after a quiet half drain.
FRESH: dict[str, object] = {
    "Fe": 1,
    "Cr": 0,
    "Pb": 0,
    "Cu": 0,
    "Sn": 0,
    "Al": 1,
    "Ni": 0,
    "Si": 4,
    "Na": 4,
    "K": 1,
    "KV100": 14.3,
    "BN": 10,
    "AN": 1.8,
    "Oxidation": 2,
    "Nitration": 2,
}
QUIET: dict[str, object] = {
    "Fe": 12,
    "Cr": 1.2,
    "Pb": 2,
    "Cu": 3,
    "Sn": "<1",
    "Al": 3,
    "Ni": "<1",
    "Si": 6,
    "Na": 5,
    "K": "<2",
    "KV100": 13.6,
    "BN": 8.1,
    "AN": 2.2,
    "Fuel": 0.4,
    "Soot": 0.4,
    "Water": "<0.05",
    "Oxidation": 5,
    "Nitration": 4,
}


def figures(values: Mapping[str, object]) -> tuple[np.ndarray, np.ndarray]:
    """Readings by symbol, as numbers or as a laboratory writes them."""
    value, censor = np.full(N, np.nan), np.full(N, -1, dtype=np.int8)
    for symbol, text in values.items():
        reading = parse_reading(str(text))
        assert reading is not None
        at = BY_SYMBOL[symbol].index
        value[at] = np.nan if reading.value is None else reading.value
        censor[at] = reading.censor
    return value, censor


class Story:
    """One engine's log, written down as it happened; days count from `DAY`."""

    def __init__(self, code: str = "E-1", engine_class: str = "heavy_diesel", **more: Any):
        given = {
            "oil_total_l": 34.0,
            "sump_l": 30.0,
            "allowed_grades": ("15W-40", "10W-40"),
            "nominal_drain": 250.0,
            "interval_meter": 125.0,
            "interval_days": 60,
            **more,
        }
        self.engine = Engine(code, engine_class, **given)
        self.log: list[LogRow] = []
        self.readings: list[Mapping[str, object]] = []
        self.coolants: dict[str, Coolant] = {}

    def event(self, day: float, kind: str, dial: float | None = None, **more: Any) -> "Story":
        at = time(int(more.pop("hour")), 0) if "hour" in more else None
        self.log.append(
            LogRow(
                f"{self.engine.code}-{len(self.log)}",
                DAY + timedelta(days=day),
                kind,
                dial,
                at,
                **more,
            )
        )
        return self

    def change(self, day: float, dial: float, oil: str = OIL, litres: float = 30.0) -> "Story":
        return self.event(day, "oil_change", dial, oil=oil, litres_in=litres)

    def sample(
        self,
        day: float,
        dial: float | None,
        values: Mapping[str, object] | None = None,
        **more: Any,
    ) -> "Story":
        code = more.pop("code", f"{self.engine.code}/{len(self.readings) + 1}")
        sample = Sample(code, len(self.readings), **{"laboratory": "Lab", **more})
        self.readings.append(QUIET if values is None else values)
        return self.event(day, "sample", dial, sample=sample)

    def fleet(self, fresh: Mapping[str, object] | None = FRESH) -> Fleet:
        return fleet([self], fresh)

    def judged(
        self,
        limits: LimitSet | None = None,
        fresh: Mapping[str, object] | None = FRESH,
        policy: str = "fixed_only",
        peers: PeerSet = NOTHING_PUBLISHED,
    ) -> list[Verdict]:
        """Its verdicts; by the fixed limits alone unless a test names another policy."""
        policies = Policies({self.engine.code: policy})
        return judge(self.fleet(fresh), limits or default_limits(), peers, policies)

    def last(self, **more: Any) -> Verdict:
        return self.judged(**more)[-1]


def fleet(stories: Iterable[Story], fresh: Mapping[str, object] | None = FRESH) -> Fleet:
    """Several engines as the core reads them."""
    stories = list(stories)
    histories, values, censors, base = [], [], [], 0
    for s in stories:
        log = tuple(
            replace(r, sample=replace(r.sample, row=r.sample.row + base)) if r.sample else r
            for r in s.log
        )
        histories.append(History(s.engine, log))
        for v in s.readings:
            value, censor = figures(v)
            values.append(value)
            censors.append(censor)
        base += len(s.readings)
    shape = (0, N)
    return Fleet(
        tuple(histories),
        np.array(values) if values else np.empty(shape),
        np.array(censors) if censors else np.empty(shape, dtype=np.int8),
        {} if fresh is None else {OIL: figures(fresh)[0]},
        {name: held for s in stories for name, held in s.coolants.items()},
    )


def usual(**changes: object) -> dict[str, object]:
    """The quiet sample with some readings changed; None leaves one out."""
    return {k: v for k, v in {**QUIET, **changes}.items() if v is not None}


def ordinary(**changes: object) -> Story:
    """An engine with three drains behind it, and one sample in the middle of the present charge."""
    s = Story()
    s.change(0, 1000).sample(40, 1250, code="old-1").change(40, 1250).sample(
        80, 1500, code="old-2"
    ).change(80, 1500)
    return s.sample(100, 1625, usual(**changes), code="now")


def codes(v: Verdict) -> list[str]:
    return [f.code for f in v.findings if f.level > 0]


def channel(v: Verdict, name: str) -> int | None:

    return v.channels[rank(CHANNELS, name)]


def write_csv(folder: Path, name: str, text_or_rows: str | Iterable[Mapping[str, object]]) -> Path:
    """A CSV file from its text, or from rows."""
    path = folder / name
    if isinstance(text_or_rows, str):
        path.write_text(text_or_rows, encoding="utf-8")
        return path
    listed = list(text_or_rows)
    columns = list(dict.fromkeys(k for r in listed for k in r))
    with path.open("w", newline="", encoding="utf-8") as out:
        writer = csv.DictWriter(out, columns, lineterminator="\n")
        writer.writeheader()
        writer.writerows(listed)
    return path


def stated(s: Story, decisions: Iterable[RunDecision] = (), **record: Any) -> EngineState:
    """The state of one engine from its log and figures, by the default policy."""
    f = s.fleet()
    a = assess(f, default_limits()) if s.readings else None
    on_record = OnRecord(decisions=tuple(decisions), **record)
    found = verdicts(a) if a else []
    return engine_states(a, f.histories, found, {s.engine.code: on_record})[0]


def now(s: Story, state: EngineState, today: date) -> str:
    """May it run, at a day and the newest figure of its dial."""
    dial = next(
        (r.dial for r in sorted(s.log, key=lambda r: r.on)[::-1] if r.dial is not None), None
    )
    return may_run_now(state.may_run, state.until, state.until_on, dial, today)


def two_lines(s: Story, state: EngineState, today: date) -> str:
    """The two lines everybody reads first."""
    return " / ".join(state_lines(state, now(s, state, today), s.engine.meter_unit, today))
