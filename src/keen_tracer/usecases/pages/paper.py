"""What stands on paper: the letter about a sample, the history of an engine. The same words and
figures as on the pages, made from their answers."""

from base64 import b64encode
from collections.abc import Iterator
from datetime import date
from html import escape
from itertools import pairwise

from ...core.terms import CHANNELS, LEVELS
from ...core.words import computed, day, litres, meter_words
from ...exchange.paper import Dot, chart, listed, table
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..answers.engine import EngineOut, EngineSample, Lane, LanePoint
from ..answers.judge import LadderOut, SampleOut, VerdictAction
from ..errors import NotThere
from . import case, engine, judge

HISTORY = 300  # samples in the table of a history; our choice
CASES = 100
PARTS = 3
PHOTOS = 4  # in a letter; our choice
LETTERS = 40  # in one document; our choice


def _day(on: object) -> str:
    return day(str(on))


def _meter(x: float | None, unit: str) -> str:
    return "meter not known" if x is None else meter_words(x, unit)


def _two_lines(level: int | None, what: str, then: str) -> str:
    return f'<div class="two level{level or 0}"><p>{escape(what)}</p><p>{escape(then)}</p></div>'


def _figure(one: LadderOut) -> list[str]:
    expected = one["expected"]
    return [
        one["name"],
        f"{one['text']} {one['unit']}",
        "" if expected is None else f"{computed(expected['low'])} to {computed(expected['high'])}",
        "" if one["watch"] is None else computed(one["watch"]),
        "" if one["act"] is None else computed(one["act"]),
    ]


def _action(a: VerdictAction) -> str:
    """What to do, before when, the caution at that step, and what became of it."""
    what = f"{a['words']}, before {a['ends']}." if a["ends"] else f"{a['words']}."
    return " ".join(x for x in (what, a["caution"], a["became"]) if x)


def letter(c: Connection, code: str) -> tuple[str, str]:
    """(title, body) of the letter about a sample. Raises NotThere."""
    s = judge.sample(c, code)
    title = f"{s['engine']}, sample {s['sample']}"
    return title, "".join(_letter(s, rows(c, "photos_of_sample", code=code, most=PHOTOS)))


def letters(c: Connection, since: date, depot: str | None) -> tuple[str, list[str]]:
    """(title, bodies) of the letters about what was signed since a day, an engine after the other.
    Raises NotThere."""
    signed = rows(c, "signed_since", since=since, depot=depot, most=LETTERS)
    if not signed:
        raise NotThere(f"nothing was signed since {since}")
    bodies = [letter(c, r["sample"])[1] for r in signed]
    return f"Letters since {since}{f', {depot}' if depot else ''}", bodies


def _photos(photos: list[Row]) -> str:
    """Photographs of the bottle in a row, as they are kept small."""
    return "".join(
        f'<img class="photo" alt="{escape(p["caption"] or "photograph of the bottle")}" '
        f'src="data:{p["media"]};base64,{b64encode(bytes(p["content"])).decode()}">'
        for p in photos
    )


def _letter(s: SampleOut, photos: list[Row]) -> Iterator[str]:
    verdict, signed = s["verdict"], s["decision"]
    on_oil = "" if s["hours_on_oil"] is None else f", {s['hours_on_oil']:g} {s['unit']} on the oil"
    yield f"<h1>{escape(s['engine'])} {escape(s['engine_name'])}</h1>"
    yield (
        f'<p class="muted">Sample {escape(s["sample"])}, drawn {_day(s["drawn_on"])} at '
        f"{_meter(s['dial'], s['unit'])}{on_oil}. Oil {escape(s['oil'])}. Analysed by "
        f"{escape(s['laboratory'] or 'nobody yet')}.</p>"
    )
    yield _two_lines(s["state"]["level"], s["state"]["what"], s["state"]["what_next"])
    if verdict is None:
        yield "<p>No figures yet.</p>"
        return
    level = verdict["level"]
    proposed = "Not judged" if level is None else LEVELS[level]
    if signed and signed["kind"] == "sign_off" and signed["level"] is not None:
        by = f"Signed {LEVELS[signed['level']]} by {signed['decided_by']}, proposed {proposed}."
        yield f"<p><b>{escape(by)}</b> {escape(signed['reason'])} {escape(signed['note'])}</p>"
    else:
        yield f"<p><b>Proposed {proposed}; nobody has signed it.</b></p>"
    yield f"<p>{escape(verdict['summary'])}</p>"
    said = (
        f"{x['sentence']} ({x['origin']})" if x["origin"] else x["sentence"]
        for x in verdict["said"]
    )
    yield f'<div class="small">{listed(said)}</div>'
    if verdict["actions"]:
        yield "<h2>What to do</h2>"
        yield listed(map(_action, verdict["actions"]))
    if s["parts"]:
        yield "<h2>What it points to</h2>"
        yield listed(
            f"{p['words']}: {', '.join(w['words'] for w in p['speaks_for'])}"
            for p in s["parts"][:PARTS]
        )
    yield "<h2>Figures</h2>"
    head = ("", "As read", "Expected, 95 %", "Watch", "Act")
    half = (len(s["ladders"]) + 1) // 2
    sides = (s["ladders"][:half], s["ladders"][half:])
    both = "".join(table(head, map(_figure, side), numbers=(1, 2, 3, 4)) for side in sides if side)
    yield f'<div class="sheet">{both}</div>'
    yield _photos(photos)
    beside = [f"{x['name']}: {x['average']['words']}" for x in s["ladders"] if x["average"]]
    if beside:
        yield "<h2>Beside the laboratory's averages, for information</h2>" + listed(beside)
    asked = [q["words"] for q in s["queries"]]
    if asked:
        yield "<h2>Asked, and not answered yet</h2>" + listed(asked)
    yield (
        f'<p class="muted">Limits {escape(verdict["limits"])}; rules {escape(verdict["rules"])}; '
        f"{escape(verdict['policy'])}{_peers(verdict['peers'])}. Limits and habits are not the "
        "maker's manual, which comes first.</p>"
    )


def _peers(name: str | None) -> str:
    return f"; {escape(name)}" if name else ""


def history(c: Connection, code: str, volume: str = "L") -> tuple[str, str]:
    """(title, body) of an engine's history, oil in the unit `volume`. Raises NotThere."""
    e = engine.engine(c, code)
    signed = {
        d["sample"]: d["decided_by"]
        for d in reversed(e["trail"])
        if d["kind"] == "sign_off" and d["sample"]
    }
    cases = [
        f"{_day(k['since'])}: {k['name']}, {k['ended'] or 'open'}"
        for k in case.listed(c, code, CASES)
    ]
    return f"{e['code']}, history", "".join(_history(e, signed, cases, volume))


def _history(e: EngineOut, signed: dict[str, str], cases: list[str], volume: str) -> Iterator[str]:
    yield f"<h1>{escape(e['code'])} {escape(e['name'])}</h1>"
    facts = (
        e["engine_class"].replace("_", " "), e["model"], e["layout"], e["depot"] or "",
        f"oil {e['oil']}" if e["oil"] else "",
        "" if e["sump_l"] is None else f"sump {litres(e['sump_l'], volume)}",
        f"grades {', '.join(e['allowed_grades'])}" if e["allowed_grades"] else "",
        f"now {_meter(e['dial'], e['unit'])}",
    )  # fmt: skip
    yield f'<p class="muted">{escape(", ".join(x for x in facts if x))}</p>'
    yield _two_lines(e["state"]["level"], e["state"]["what"], e["state"]["what_next"])
    yield "<h2>What this record can and cannot say</h2>" + listed(_gaps(e))
    yield from _charts(e)
    yield f"<h2>Samples, {len(e['samples'])}</h2>"
    head = ("Sample", "Drawn", f"Meter, {e['unit']}", "Level", "Signed by")
    newest = list(reversed(e["samples"]))[:HISTORY]
    yield table(head, (_sample(s, signed) for s in newest), numbers=(2,))
    if e["charges"]:
        yield "<h2>Oil</h2>"
        yield listed(
            f"{_day(q['start_on']) if q['start_on'] else 'day not known'}: {q['oil']}"
            + (f", {litres(q['litres'], volume)}" if q["litres"] else "")
            + (
                f", topped up {litres(sum(t['litres'] for t in q['top_ups']), volume)}"
                if q["top_ups"]
                else ""
            )
            for q in reversed(e["charges"])
        )
    work = [f"{_day(x['on'])}: {x['words']}" for x in reversed(e["events"])]
    if work:
        yield "<h2>Work, looks and what was noticed</h2>" + listed(work)
    if cases:
        yield "<h2>Cases</h2>" + listed(cases)


def _charts(e: EngineOut) -> Iterator[str]:
    yield (
        "<h2>Wear and oil over the meter</h2>"
        '<p class="muted">Shaded: expected of this engine, 95 %. Limits as they held each day.</p>'
        "<div class='charts'>"
    )
    yield "".join(_lane(lane, e["unit"]) for lane in e["lanes"] if _drawn(lane))
    yield "</div>"


def _drawn(lane: Lane) -> bool:
    return sum(p["value"] is not None for p in lane["points"]) > 1


LIMITS = ("Watch", "Act", "Watch, low", "Act, low")


def _dot(p: LanePoint, rates: bool) -> Dot | None:
    """A reading on a chart, with its limits of that day and what was expected; None without a place
    or a figure."""
    value, band = (p["rate"], p["expected_rate"]) if rates else (p["value"], p["expected"])
    if p["total"] is None or value is None:
        return None
    limits = (
        (p["watch_rate"], p["act_rate"])
        if rates
        else (p["watch"], p["act"], p["watch_low"], p["act_low"])
    )
    ends = None if band is None else (max(band[0], 0.0), max(band[1], 0.0))
    return Dot(p["total"], value, p["censor"] != 0, p["level"], limits, ends)


def _lane(lane: Lane, unit: str) -> str:
    """A lane as a chart: rates per 100 of the meter for wear, else figures as read."""
    rates = lane["channel"] == "wear"
    dots = [d for p in lane["points"] if (d := _dot(p, rates))]
    if len(dots) < 2:
        return ""
    said = f"{lane['unit']} per 100 {unit}" if rates else lane["unit"]
    return chart(lane["name"], dots, LIMITS[:2] if rates else LIMITS, said)


def _sample(s: EngineSample, signed: dict[str, str]) -> list[str]:
    level = s["level"]
    said = ("figures out" if not s["arrived"] else "not judged") if level is None else LEVELS[level]
    who = signed.get(s["sample"], "") if s["signed"] else ""
    meter = "" if s["dial"] is None else meter_words(s["dial"], "").strip()
    return [s["sample"], _day(s["on"]), meter, said, who]


def _gaps(e: EngineOut) -> Iterator[str]:
    """What a buyer, a fitter or an insurer must know of the record before trusting it."""
    samples = e["samples"]
    arrived = [s for s in samples if s["arrived"]]
    if not samples:
        yield "No sample was ever drawn."
        return
    first, newest = _day(samples[0]["on"]), _day(samples[-1]["on"])
    yield f"{len(samples)} samples, the first {first}, the newest {newest}."
    unsigned = sum(not s["signed"] for s in arrived)
    yield f"{unsigned} of {len(arrived)} verdicts are signed by nobody." if unsigned else ""
    out = len(samples) - len(arrived)
    yield f"{out} without figures: under way, or never analysed." if out else ""
    days = [(b["on"] - a["on"]).days for a, b in pairwise(samples)]
    usual = sorted(days)[len(days) // 2] if days else 0
    longest = max(days, default=0)
    if usual and longest > 3 * usual:
        at = samples[days.index(longest) + 1]
        yield f"Longest gap {longest} days, before {_day(at['on'])}; usually {usual}."
    if e["queries"]:
        yield f"{len(e['queries'])} queries about the record are not answered: " + "; ".join(
            q["words"] for q in e["queries"][:PARTS]
        )
    never = [
        w
        for code, w in CHANNELS.items()
        if not any(t["channel"] == code and t["level"] is not None for t in e["comb"])
    ]
    yield f"Never measured: {', '.join(never).lower()}." if never else ""
