"""The history of an engine on paper: what it is and has done, what the record cannot say, charts,
samples with who signed, oil, work, what was found and decided, cases, photographs."""

from collections.abc import Iterator
from dataclasses import dataclass
from html import escape
from itertools import pairwise

from ...core.terms import CHANNELS, LEVELS
from ...core.words import OWN_UNITS, Units, meter_words
from ...exchange.paper import Dot, chart, listed, table
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..answers.collect import OutcomeOut
from ..answers.engine import EngineOut, EngineSample, Lane, LanePoint
from ..judging.currency import currency
from ..recording.log_rows import engine_id
from ..recording.outcomes import outcomes
from . import case, engine, history_found
from .paper import PARTS, meter_said, on_day, two_lines

HISTORY = 300  # samples in the table of a history; our choice
CASES = 100
FIGURES = 5  # samples whose figures fit beside one another on a sheet; our choice
LONG_GAP = 400  # days without a sample or an oil change that a buyer must know of; our choice


def history(connection: Connection, code: str, units: Units = OWN_UNITS) -> tuple[str, str]:
    """(title, body) of an engine's history in `units`. Raises NotThere."""
    e = engine.engine(connection, code, units)
    signed = {
        d["sample"]: d["decided_by"]
        for d in reversed(e["trail"])
        if d["kind"] == "sign_off" and d["sample"]
    }
    known = engine_id(connection, code)
    beside = _Beside(
        signed=signed,
        cases=[
            f"{on_day(k['since'])}: {k['name']}, {k['ended'] or 'open'}"
            for k in case.listed(connection, code, CASES)
        ],
        work=rows(connection, "work_of_engine", engine=known),
        outcomes=outcomes(connection, code),
        photos=rows(
            connection, "small_photos_of_engine", engine=known, most=history_found.PICTURES
        ),
        laboratories=rows(connection, "laboratories_of_engine", engine=known),
        units=units,
        currency=currency(connection),
    )
    return f"{e['code']}, history", "".join(_history(e, beside))


@dataclass(frozen=True, slots=True, kw_only=True)
class _Beside:
    """What a history tells beside the engine's page: who signed what, cases, work decided, what was
    found, photographs, which laboratory analysed from when; `units`: those the person reads;
    `currency`: what stands beside amounts of money."""

    signed: dict[str, str]
    cases: list[str]
    work: list[Row]
    outcomes: list[OutcomeOut]
    photos: list[Row]
    laboratories: list[Row]
    units: Units
    currency: str


def _history(engine: EngineOut, b: _Beside) -> Iterator[str]:
    units = b.units
    yield f"<h1>{escape(engine['code'])} {escape(engine['name'])}</h1>"
    facts = (
        engine["engine_class"].replace("_", " "), engine["model"], engine["layout"],
        engine["depot"] or "",
        f"oil {engine['oil']}" if engine["oil"] else "",
        "" if engine["sump_l"] is None else f"sump {units.litres(engine['sump_l'])}",
        f"grades {', '.join(engine['allowed_grades'])}" if engine["allowed_grades"] else "",
        f"now {meter_said(engine['dial'], engine['unit'])}",
    )  # fmt: skip
    yield f'<p class="muted">{escape(", ".join(x for x in facts if x))}</p>'
    yield two_lines(engine["state"]["level"], engine["state"]["what"], engine["state"]["what_next"])
    yield "<h2>What this record can and cannot say</h2>" + listed(_gaps(engine, b.laboratories))
    yield from _charts(engine)
    yield f"<h2>Samples, {len(engine['samples'])}</h2>"
    head = ("Sample", "Drawn", f"Meter, {engine['unit']}", "Level", "Signed by")
    newest = list(reversed(engine["samples"]))[:HISTORY]
    yield table(head, (_sample(s, b.signed) for s in newest), numbers=(2,))
    yield from _figures(engine)
    if engine["charges"]:
        yield "<h2>Oil</h2>"
        yield listed(
            f"{on_day(q['start_on']) if q['start_on'] else 'day not known'}: {q['oil']}"
            + (f", {units.litres(q['litres'])}" if q["litres"] else "")
            + (
                f", topped up {units.litres(sum(t['litres'] for t in q['top_ups']))}"
                if q["top_ups"]
                else ""
            )
            for q in reversed(engine["charges"])
        )
    work = [f"{on_day(x['on'])}: {x['words']}" for x in reversed(engine["events"])]
    if work:
        yield "<h2>Work, looks and what was noticed</h2>" + listed(work)
    yield history_found.found(b.outcomes, b.currency)
    yield history_found.decided(engine["trail"], engine["unit"])
    yield history_found.work_decided(b.work, b.currency)
    if b.cases:
        yield "<h2>Cases</h2>" + listed(b.cases)
    yield from history_found.pictures(history_found.dated(b.photos))


def _charts(engine: EngineOut) -> Iterator[str]:
    yield (
        "<h2>Wear and oil over the meter</h2>"
        '<p class="muted">Shaded: expected of this engine, 95 %. Limits as they held each day.</p>'
        "<div class='charts'>"
    )
    yield "".join(_lane(lane, engine) for lane in engine["lanes"] if _drawn(lane))
    yield "</div>"


def _drawn(lane: Lane) -> bool:
    return sum(p["value"] is not None for p in lane["points"]) > 1


LIMITS = ("Watch", "Act", "Watch, low", "Act, low")
GRADE = ("Grade from", "Grade to")


def _dot(p: LanePoint, rates: bool, grade: tuple[float | None, ...]) -> Dot | None:
    """A reading on a chart, with its limits of that day, the grades allowed and what was expected;
    None without a place or a figure."""
    value, band = (p["rate"], p["expected_rate"]) if rates else (p["value"], p["expected"])
    if p["total"] is None or value is None:
        return None
    limits = (
        (p["watch_rate"], p["act_rate"])
        if rates
        else (p["watch"], p["act"], p["watch_low"], p["act_low"])
    )
    ends = None if band is None else (max(band[0], 0.0), max(band[1], 0.0))
    return Dot(p["total"], value, p["censor"] != 0, p["level"], (*limits, *grade), ends)


def _lane(lane: Lane, engine: EngineOut) -> str:
    """A lane as a chart: rates per 100 of the meter for wear, else figures as read; viscosity in
    the grades allowed."""
    rates, unit = lane["channel"] == "wear", engine["unit"]
    hot = lane["column"] == "KV100_mm2_s"
    grade = (engine["grade_low"], engine["grade_high"]) if hot else ()
    dots = [d for p in lane["points"] if (d := _dot(p, rates, grade))]
    if len(dots) < 2:
        return ""
    said = f"{lane['unit']} per 100 {unit}" if rates else lane["unit"]
    names = LIMITS[:2] if rates else (*LIMITS, *GRADE) if hot else LIMITS
    return chart(lane["name"], dots, names, said)


def _sample(s: EngineSample, signed: dict[str, str]) -> list[str]:
    level = s["level"]
    said = ("figures out" if not s["arrived"] else "not judged") if level is None else LEVELS[level]
    who = signed.get(s["sample"], "") if s["signed"] else ""
    meter = "" if s["dial"] is None else meter_words(s["dial"], "").strip()
    return [s["sample"], on_day(s["on"]), meter, said, who]


def _oil_gaps(engine: EngineOut) -> Iterator[str]:
    """Where the record of oil changes is silent."""
    changed = sorted(q["start_on"] for q in engine["charges"] if q["start_on"])
    if not changed:
        yield "No oil change is on record."
        return
    for a, b in pairwise(changed):
        if (b - a).days > LONG_GAP:
            days = (b - a).days
            yield f"No oil change on record for {days} days, from {on_day(a)} to {on_day(b)}."
    since = (engine["today"] - changed[-1]).days
    if since > LONG_GAP:
        yield f"No oil change on record for the last {since} days."


def _figures(engine: EngineOut) -> Iterator[str]:
    """The figures of the newest samples as the laboratory wrote them, oldest on the left."""
    wanted = [s for s in engine["samples"] if s["arrived"]][-FIGURES:]
    if not wanted:
        return
    rows_ = []
    for lane in engine["lanes"]:
        said = {p["sample"]: p["text"] for p in lane["points"]}
        if any(said.get(s["sample"]) for s in wanted):
            name = f"{lane['name']}, {lane['unit']}"
            rows_.append([name, *(said.get(s["sample"]) or "" for s in wanted)])
    if rows_:
        yield f"<h2>Figures of the newest {len(wanted)} samples</h2>"
        head = ("Figure", *(on_day(s["on"]) for s in wanted))
        yield table(head, rows_, numbers=tuple(range(1, len(wanted) + 1)))


def _gaps(engine: EngineOut, laboratories: list[Row]) -> Iterator[str]:
    """What a buyer, a fitter or an insurer must know of the record before trusting it."""
    samples = engine["samples"]
    arrived = [s for s in samples if s["arrived"]]
    asked = "; ".join(engine["rules"])
    yield f"To be sampled {asked}." if asked else "No rule says when it is to be sampled."
    yield from _oil_gaps(engine)
    if not samples:
        yield "No sample was ever drawn."
        return
    first, newest = on_day(samples[0]["on"]), on_day(samples[-1]["on"])
    yield f"{len(samples)} samples, the first {first}, the newest {newest}."
    if len(laboratories) > 1:
        yield (
            "Analysed by "
            + "; ".join(
                f"{r['laboratory']} ({r['n']}, {on_day(r['first'])} to {on_day(r['last'])})"
                for r in laboratories
            )
            + ". Laboratories read a few per cent apart; a step where they change may be theirs."
        )
    unsigned = sum(not s["signed"] for s in arrived)
    yield f"{unsigned} of {len(arrived)} verdicts are signed by nobody." if unsigned else ""
    out = len(samples) - len(arrived)
    yield f"{out} without figures: under way, or never analysed." if out else ""
    days = [(b["on"] - a["on"]).days for a, b in pairwise(samples)]
    usual = sorted(days)[len(days) // 2] if days else 0
    for (a, b), gap in zip(pairwise(samples), days, strict=True):
        if gap > LONG_GAP or (usual and gap > 3 * usual):
            yield f"No sample for {gap} days, from {on_day(a['on'])} to {on_day(b['on'])}."
    since = (engine["today"] - samples[-1]["on"]).days
    if since > LONG_GAP or (usual and since > 3 * usual):
        yield f"No sample for the last {since} days."
    if engine["queries"]:
        yield f"{len(engine['queries'])} queries about the record are not answered: " + " ".join(
            q["words"] for q in engine["queries"][:PARTS]
        )
    never = [
        w
        for code, w in CHANNELS.items()
        if not any(t["channel"] == code and t["level"] is not None for t in engine["comb"])
    ]
    yield f"Never measured: {', '.join(never).lower()}." if never else ""
