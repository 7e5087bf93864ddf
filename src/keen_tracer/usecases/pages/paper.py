"""Letters about samples. The same words and figures as on the pages, made from their answers."""

from base64 import b64encode
from collections.abc import Iterator
from datetime import date
from html import escape
from math import floor, log10

from ...core.terms import LEVELS
from ...core.words import OWN_UNITS, Units, computed, day, meter_words
from ...exchange.paper import listed, table
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..answers.judge import LadderOut, SaidFinding, SampleOut, VerdictAction, VerdictOut
from ..errors import NotThere
from . import judge

PARTS = 3
PHOTOS = 4  # in a letter; our choice
LETTERS = 40  # in one document; our choice
PLAINLY_RUNS = ("runs", "run_until", "unknown")  # what the level of the letter says already


def on_day(on: object) -> str:
    return day(str(on))


def meter_said(x: float | None, unit: str) -> str:
    return "meter not known" if x is None else meter_words(x, unit)


def two_lines(level: int | None, what: str, then: str) -> str:
    return f'<div class="two level{level or 0}"><p>{escape(what)}</p><p>{escape(then)}</p></div>'


def _ends(low: float, high: float) -> str:
    """From where to where a reading was expected, no finer than three figures of the upper end.

    >>> _ends(0.00769, 2.04), _ends(18.7, 32.2), _ends(0.0, 0.0)
    ('0.01 to 2.04', '18.7 to 32.2', '0 to 0')
    """
    places = 2 - floor(log10(high)) if high > 0 else 0
    return f"{computed(round(low, places))} to {computed(high)}"


def _figure(one: LadderOut) -> list[str]:
    expected = one["expected"]
    return [
        one["name"],
        f"{one['text']} {one['unit']}",
        "" if expected is None else _ends(expected["low"], expected["high"]),
        "" if one["watch"] is None else computed(one["watch"]),
        "" if one["act"] is None else computed(one["act"]),
    ]


def _action(a: VerdictAction, known: str) -> str:
    """One action as a sentence: what to do, its deadline where that is not the letter's own
    (`known`), the caution at that step, and what became of it."""
    what = (
        f"{a['words']}, before {a['ends']}." if a["ends"] not in ("", known) else f"{a['words']}."
    )
    return " ".join(x for x in (what, a["caution"], a["became"]) if x)


def letter(connection: Connection, code: str, units: Units = OWN_UNITS) -> tuple[str, str]:
    """(title, body) of the letter about a sample, amounts in `units`. Raises NotThere."""
    s = judge.sample(connection, code, units)
    title = f"{s['engine']}, sample {s['sample']}"
    return title, "".join(_letter(s, rows(connection, "photos_of_sample", code=code, most=PHOTOS)))


def letters(
    connection: Connection, since: date, depot: str | None, units: Units = OWN_UNITS
) -> tuple[str, list[str]]:
    """(title, bodies) of the letters about what was signed since a day, an engine after the other.
    Raises NotThere."""
    signed = rows(connection, "signed_since", since=since, depot=depot, most=LETTERS)
    if not signed:
        raise NotThere(f"nothing was signed since {since}")
    bodies = [letter(connection, r["sample"], units)[1] for r in signed]
    return f"Letters since {since}{f', {depot}' if depot else ''}", bodies


def _photos(photos: list[Row]) -> str:
    """Photographs of the bottle in a row, as they are kept small."""
    return "".join(
        f'<img class="photo" alt="{escape(p["caption"] or "photograph of the bottle")}" '
        f'src="data:{p["media"]};base64,{b64encode(bytes(p["content"])).decode()}">'
        for p in photos
    )


def _letter(sample: SampleOut, photos: list[Row]) -> Iterator[str]:
    verdict = sample["verdict"]
    on_oil = (
        ""
        if sample["hours_on_oil"] is None
        else f", {sample['hours_on_oil']:g} {sample['unit']} on the oil"
    )
    yield f"<h1>{escape(sample['engine'])} {escape(sample['engine_name'])}</h1>"
    yield from _between_whom(sample)
    yield (
        f'<p class="muted">Sample {escape(sample["sample"])}, drawn '
        f"{on_day(sample['drawn_on'])} at "
        f"{meter_said(sample['dial'], sample['unit'])}{on_oil}. Oil {escape(sample['oil'])}. "
        "Analysed by "
        f"{escape(sample['laboratory'] or 'nobody yet')}.</p>"
    )
    if verdict is None:
        yield "<p>No figures yet.</p>"
        return
    deadline = next((a["ends"] for a in verdict["actions"] if a["ends"]), "")
    level = _stands_at(sample, verdict)
    yield two_lines(level, _worst(level, verdict), _first_to_do(verdict, deadline))
    yield from _today(sample)
    yield f"<p>{escape(verdict['summary'])}</p>"
    origins = list(dict.fromkeys(x["origin"] for x in verdict["said"] if x["origin"]))
    yield f'<div class="small">{listed(_said(x, origins) for x in verdict["said"])}</div>'
    if verdict["actions"]:
        yield "<h2>What to do</h2>"
        yield listed(_action(a, deadline) for a in verdict["actions"])
    if sample["parts"]:
        yield "<h2>What it points to</h2>"
        yield listed(
            f"{p['words']}: {', '.join(w['words'] for w in p['speaks_for'])}"
            for p in sample["parts"][:PARTS]
        )
    yield "<h2>Figures</h2>"
    head = ("", "As read", "Expected, 95 %", "Watch", "Act")
    half = (len(sample["ladders"]) + 1) // 2
    sides = (sample["ladders"][:half], sample["ladders"][half:])
    both = "".join(table(head, map(_figure, side), numbers=(1, 2, 3, 4)) for side in sides if side)
    yield f'<div class="sheet">{both}</div>'
    yield _photos(photos)
    beside = [f"{x['name']}: {x['average']['words']}" for x in sample["ladders"] if x["average"]]
    if beside:
        yield "<h2>Beside the laboratory's averages, for information</h2>" + listed(beside)
    asked = [q["words"] for q in sample["queries"]]
    if asked:
        yield "<h2>Asked, and not answered yet</h2>" + listed(asked)
    yield from _foot(verdict, origins)


def _between_whom(sample: SampleOut) -> Iterator[str]:
    """From whom the letter is, to which depot, and when it was signed."""
    signed = sample["decision"]
    to = f"To {sample['depot']}" if sample["depot"] else "To whoever keeps the engine"
    if signed and signed["kind"] == "sign_off":
        told = f"{to}, from {signed['decided_by']}, {on_day(signed['decided_at'].date())}"
    else:
        told = f"{to}. A draft: nobody has signed it"
    yield f"<p><b>{escape(told)}.</b></p>"


def _stands_at(sample: SampleOut, verdict: VerdictOut) -> int | None:
    """The level that was signed, else the proposed one."""
    signed = sample["decision"]
    if signed and signed["kind"] == "sign_off" and signed["level"] is not None:
        return signed["level"]
    return verdict["level"]


def _worst(level: int | None, verdict: VerdictOut) -> str:
    """The level and the first of what was found at the verdict's own."""
    at = "Not judged" if level is None else LEVELS[level]
    first = next(
        (x["sentence"] for x in verdict["said"] if x["level"] and x["level"] == verdict["level"]),
        "",
    )
    return f"{at}. {first}".strip()


def _first_to_do(verdict: VerdictOut, deadline: str) -> str:
    """What to do first, and the one deadline of the letter."""
    if not verdict["actions"]:
        return "Nothing to do but the next sample."
    by = f", before {deadline}" if deadline else ""
    return f"{verdict['actions'][0]['words']}{by}."


def _today(sample: SampleOut) -> Iterator[str]:
    """Who proposed and signed what, and how the engine stands where it may not simply run."""
    signed, verdict = sample["decision"], sample["verdict"]
    if signed and signed["kind"] == "sign_off" and signed["level"] is not None and verdict:
        level = verdict["level"]
        proposed = "not judged" if level is None else LEVELS[level]
        said = f"Signed {LEVELS[signed['level']]}; the program proposed {proposed}."
        yield f"<p>{escape(' '.join((said, signed['reason'], signed['note'])).strip())}</p>"
    state = sample["state"]
    # Until when it runs is the letter's own deadline, unless a person set one.
    if state["may_run"] not in PLAINLY_RUNS or state["run"]:
        yield f'<p class="caution">The engine today: {escape(state["may_run_words"])}.</p>'


def _said(x: SaidFinding, origins: list[str]) -> str:
    """A sentence with the number of what it rests on, where there is more than one such thing."""
    many = len(origins) > 1 and x["origin"]
    return f"{x['sentence']} [{origins.index(x['origin']) + 1}]" if many else x["sentence"]


def _foot(verdict: VerdictOut, origins: list[str]) -> Iterator[str]:
    """The foot of the letter: what its sentences rest on, each source once, and which limits, rules
    and peers judged."""
    if origins:
        rests = "; ".join(f"[{n}] {x}" if len(origins) > 1 else x for n, x in enumerate(origins, 1))
        yield f'<p class="muted">It rests on {escape(rests)}.</p>'
    yield (
        f'<p class="muted">Limits {escape(verdict["limits"])}; rules {escape(verdict["rules"])}; '
        f"{escape(verdict['policy'])}{_peers(verdict['peers'])}. Limits and habits are not the "
        "maker's manual, which comes first.</p>"
    )


def _peers(name: str | None) -> str:
    return f"; {escape(name)}" if name else ""
