"""Letters about samples. The same words and figures as on the pages, made from their answers."""

from base64 import b64encode
from collections.abc import Iterator
from datetime import date
from html import escape

from ...core.terms import LEVELS
from ...core.words import computed, day, meter_words
from ...exchange.paper import listed, table
from ...storage.db import Connection
from ...storage.records import Row, rows
from ..answers.judge import LadderOut, SampleOut, VerdictAction
from ..errors import NotThere
from . import judge

PARTS = 3
PHOTOS = 4  # in a letter; our choice
LETTERS = 40  # in one document; our choice


def on_day(on: object) -> str:
    return day(str(on))


def meter_said(x: float | None, unit: str) -> str:
    return "meter not known" if x is None else meter_words(x, unit)


def two_lines(level: int | None, what: str, then: str) -> str:
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
        f'<p class="muted">Sample {escape(s["sample"])}, drawn {on_day(s["drawn_on"])} at '
        f"{meter_said(s['dial'], s['unit'])}{on_oil}. Oil {escape(s['oil'])}. Analysed by "
        f"{escape(s['laboratory'] or 'nobody yet')}.</p>"
    )
    yield two_lines(s["state"]["level"], s["state"]["what"], s["state"]["what_next"])
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
