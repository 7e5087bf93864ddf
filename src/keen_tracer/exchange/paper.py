"""Paper worth handing over: a letter about one sample, the history of an engine. HTML of our own,
drawn by `printing`; text stays text, charts are drawn from the same figures as the page's.

What stands on it is decided elsewhere: here is only how it is laid out.
"""

from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date
from html import escape
from pathlib import Path
from typing import Literal

from .printing import printed

Size = Literal["A4", "letter"]
INK, QUIET, WATCH, ACT = "#22303a", "#5c6870", "#8a6a00", "#a63216"
EXPECTED = "#dfe8e6"
# What was expected may stretch a chart this far above what happened; our choice.
ROOM_FOR_BANDS = 1.5
_STYLE = """
@page { size: %(size)s; margin: 13mm 15mm 15mm;
  @bottom-left { content: "%(foot)s"; font: 8pt 'Paper', sans-serif; color: #5c6870 }
  @bottom-right { content: counter(page) " of " counter(pages); font: 8pt 'Paper', sans-serif;
    color: #5c6870 } }
body { font: 9.5pt/1.3 'Paper', sans-serif; color: #22303a; margin: 0 }
h1 { font-size: 17pt; margin: 0 0 1mm } h2 { font-size: 10.5pt; margin: 3.5mm 0 1mm;
  break-after: avoid }
p { margin: 0 0 1.2mm } ul + p, ol + p, .sheet + p { margin-top: 1.5mm }
.muted { color: #5c6870 } ul, ol { margin: 0; padding-left: 4.5mm }
.two { border-left: 1.6mm solid #22303a; padding: 1mm 0 1mm 3mm; margin: 3mm 0 }
.two p:first-child { font-size: 12pt; font-weight: 700 }
.level2, .level3 { border-color: #a63216 } .level1 { border-color: #8a6a00 }
table { border-collapse: collapse; width: 100%% } th { text-align: left; font-weight: 600;
  color: #5c6870; border-bottom: .4mm solid #22303a } td { border-bottom: .1mm solid #b8bec2;
  vertical-align: top } td:first-child { white-space: nowrap }
th, td { padding: .7mm 3mm .7mm 0 } tr { break-inside: avoid }
.num { text-align: right; font-variant-numeric: tabular-nums; white-space: nowrap }
.raised { font-weight: 700 } .charts { display: grid; grid-template-columns: 1fr 1fr; gap: 3mm }
figure { margin: 0; break-inside: avoid } figcaption { font-size: 8.5pt }
svg { width: 100%%; height: 27mm } .sheet { display: grid; grid-template-columns: 1fr 1fr; gap: 6mm;
  font-size: 8pt }
.sheet th, .sheet td { padding: .25mm 2mm .25mm 0 } .small { font-size: 8.5pt }
.pictures { display: flex; flex-wrap: wrap; gap: 3mm } .pictures figure { width: 54mm }
.pictures img.photo { height: 38mm; max-width: 54mm; margin: 0 }
img.photo { height: 30mm; margin-right: 2mm } .next { break-before: page }
.caution { border-left: 1mm solid #5b1140; padding-left: 2mm }
"""


Along = Callable[[float], float]  # where a figure lies on the chart


@dataclass(frozen=True, slots=True)
class Dot:
    """A reading on a chart: where it lies, what it reads, whether it is only below that; `limits`
    as they held that day, `band` what was expected of it, from low to high."""

    at: float
    value: float
    below: bool = False
    level: int | None = None
    limits: tuple[float | None, ...] = ()
    band: tuple[float, float] | None = None


def _row(cells: Iterable[str], head: bool = False, numbers: Sequence[int] = ()) -> str:
    """A row of a table; `numbers` are the columns that stand to the right."""
    tag = "th" if head else "td"
    made = (
        f'<{tag} class="num">{escape(c)}</{tag}>' if n in numbers else f"<{tag}>{escape(c)}</{tag}>"
        for n, c in enumerate(cells)
    )
    return f"<tr>{''.join(made)}</tr>"


def table(head: Sequence[str], rows: Iterable[Sequence[str]], numbers: Sequence[int] = ()) -> str:
    body = "".join(_row(r, numbers=numbers) for r in rows)
    return f"<table><thead>{_row(head, True, numbers)}</thead><tbody>{body}</tbody></table>"


def listed(lines: Iterable[str], tag: str = "ul") -> str:
    made = "".join(f"<li>{escape(x)}</li>" for x in lines if x)
    return f"<{tag}>{made}</{tag}>" if made else ""


def numbered(lines: Iterable[str]) -> str:
    return listed(lines, "ol")


WIDE, HIGH, LEFT, FOOT = 300.0, 96.0, 30.0, 14.0


def chart(title: str, dots: Sequence[Dot], names: Sequence[str], unit: str) -> str:
    """One figure over the meter, scaled to what happened, over what was expected. Limits, `names`
    them in the order of each dot's, are steps as they held; one that lies outside now stands named
    at the edge; a non-detect is an open mark at its limit."""
    if not dots:
        return ""
    happened = max(d.value for d in dots)
    bands = [min(d.band[1], happened * ROOM_FOR_BANDS) for d in dots if d.band]
    top = max(happened, *bands, 0.0) * 1.12 or 1.0
    low = min(0.0, *(d.value for d in dots)) if min(d.value for d in dots) < top / 3 else (
        min(d.value for d in dots) * 0.9
    )  # fmt: skip
    first, last = dots[0].at, dots[-1].at

    def x(at: float) -> float:
        return LEFT + (WIDE - LEFT - 8) * ((at - first) / (last - first) if last > first else 0.5)

    def y(value: float) -> float:
        return 6 + (HIGH - FOOT - 6) * (1 - (value - low) / (top - low))

    marks = _marks(dots, x, y)
    line = " ".join(f"{x(d.at):.1f},{y(d.value):.1f}" for d in dots if not d.below)
    limits = [(n, v) for n, v in zip(names, dots[-1].limits, strict=False) if v is not None]
    edges = "".join(_steps(dots, n, name, (low, top), x, y) for n, name in enumerate(names))
    edges += _outside([(name, v) for name, v in limits if not low <= v <= top], top)
    expected = _ribbon(dots, (low, top), x, y)
    # The newest is written beside the ends of the scale where it does not run into them.
    newest = [dots[-1].value] if min(abs(y(dots[-1].value) - y(v)) for v in (low, top)) > 14 else []
    at = (
        [low, *newest, top / 1.12]
        if not newest or y(newest[0]) - y(top / 1.12) > 8
        else [low, top / 1.12]
    )
    scale = "".join(_text(LEFT - 3, y(v) + 3, f"{v:.3g}", QUIET) for v in at)
    ends = _text(LEFT, HIGH - 3, _whole(first), QUIET, "start")
    ends += _text(WIDE - 8, HIGH - 3, _whole(last), QUIET)
    said = f"{title}, {unit}: {dots[0].value:.4g} to {dots[-1].value:.4g} in {len(dots)} readings"
    return (
        f'<figure><figcaption><b>{escape(title)}</b> <span class="muted">{escape(unit)}'
        f"</span></figcaption>"
        f'<svg viewBox="0 0 {WIDE:g} {HIGH:g}" role="img" aria-label="{escape(said)}">'
        f'<line x1="{LEFT}" x2="{WIDE - 8}" y1="{HIGH - FOOT}" y2="{HIGH - FOOT}" stroke="{QUIET}" '
        f'stroke-width=".6"/>{expected}{edges}<polyline points="{line}" fill="none" stroke="{INK}" '
        f'stroke-width="1"/>{marks}{scale}{ends}</svg></figure>'
    )


MANY = 60  # readings on a chart beyond which quiet ones are drawn in one stroke; our choice


def _marks(dots: Sequence[Dot], x: Along, y: Along) -> str:
    """A mark a reading. Of many, those that say nothing by themselves are one path of dots: drawing
    thousands of circles takes seconds."""
    plain = [d for d in dots if not d.below and not d.level] if len(dots) > MANY else []
    path = "".join(f"M{x(d.at):.1f} {y(d.value):.1f}h.01" for d in plain)
    one = (
        f'<path d="{path}" stroke="{INK}" stroke-width="3" stroke-linecap="round"/>' if path else ""
    )
    quiet = set(map(id, plain))
    return one + "".join(_mark(x(d.at), y(d.value), d) for d in dots if id(d) not in quiet)


def _mark(x: float, y: float, d: Dot) -> str:
    colour = {1: WATCH, 2: ACT, 3: ACT}.get(d.level or 0, INK)
    fill = "#fff" if d.below else colour
    return f'<circle cx="{x:.1f}" cy="{y:.1f}" r="2.2" fill="{fill}" stroke="{colour}"/>'


def _text(x: float, y: float, said: str, colour: str, anchor: str = "end") -> str:
    return (
        f'<text x="{x:.1f}" y="{y:.1f}" font-size="7" text-anchor="{anchor}" fill="{colour}">'
        f"{escape(said)}</text>"
    )


def _whole(x: float) -> str:
    return f"{x:,.0f}".replace(",", "\u202f")


def _colour(name: str) -> str:
    return ACT if name.startswith("Act") else WATCH if name.startswith("Watch") else QUIET


def _ribbon(dots: Sequence[Dot], ends: tuple[float, float], x: Along, y: Along) -> str:
    """What was expected, from reading to reading; it ends where nothing was."""
    low, top = ends
    out, run = "", list[tuple[float, float, float]]()
    for d in [*dots, None]:
        if d is not None and d.band is not None:
            least, most = (min(max(end, low), top) for end in d.band)
            run.append((x(d.at), y(most), y(least)))
            continue
        if len(run) > 1:
            there = " ".join(f"{px:.1f},{high:.1f}" for px, high, _ in run)
            back = " ".join(f"{px:.1f},{least:.1f}" for px, _, least in reversed(run))
            out += f'<polygon points="{there} {back}" fill="{EXPECTED}"/>'
        run = []
    return out


def _steps(
    dots: Sequence[Dot], n: int, name: str, ends: tuple[float, float], x: Along, y: Along
) -> str:
    """A limit as it held at each reading: flat, then a step; its name is at its present height."""
    low, top = ends
    colour, before, path, stood = _colour(name), LEFT, "", ""
    for d in dots:
        value = d.limits[n] if n < len(d.limits) else None
        if value is None or not low <= value <= top:
            stood = ""
        else:
            line = f"{y(value):.1f}"
            begun = f"M{before:.1f} {line}" if not stood else "" if line == stood else f"V{line}"
            path, stood = f"{path}{begun}H{x(d.at):.1f}", line
        before = x(d.at)
    if not path:
        return ""
    now = dots[-1].limits[n]
    drawn = f'<path d="{path}" fill="none" stroke="{colour}" stroke-width=".7" '
    drawn += 'stroke-dasharray="3 2"/>'
    if now is not None and low <= now <= top:
        drawn += _text(LEFT + 2, y(now) - 2, f"{name} {now:.3g}", colour, "start")
    return drawn


def _outside(limits: Sequence[tuple[str, float]], top: float) -> str:
    """Limits outside what happened, named at the edge they lie beyond."""
    above = [f"{name} {v:.3g}" for name, v in limits if v > top]
    below = [f"{name} {v:.3g}" for name, v in limits if v <= top]
    out = _text(WIDE - 8, 5, f"{', '.join(above)} ↑", QUIET) if above else ""
    return out + (_text(WIDE - 8, HIGH - FOOT - 2, f"{', '.join(below)} ↓", QUIET) if below else "")


def together(bodies: Iterable[str]) -> str:
    """Several documents as one, each on a page of its own."""
    return "".join(
        f'<section class="{"next" if n else "first"}">{body}</section>'
        for n, body in enumerate(bodies)
    )


def drawn(title: str, body: str, size: Size, font: Path | None, on: date) -> bytes:
    """A document as PDF, its title and the day it was made in the foot of each page. Raises
    CannotPrint."""
    face = (
        f"@font-face {{ font-family: 'Paper'; src: url('{font.as_uri()}'); font-weight: 200 800 }}"
        if font
        else ""
    )
    foot = f"{title}, {on.isoformat()}, Keen Tracer"
    quoted = foot.replace("\\", "\\\\").replace('"', '\\"').replace("<", "\\3c ").replace("\n", " ")
    style = face + _STYLE % {"size": size, "foot": quoted}
    html = (
        f'<!doctype html><html lang="en"><head><meta charset="utf-8"><title>{escape(title)}</title>'
        f"<style>{style}</style></head><body>{body}</body></html>"
    )
    return printed(html, font)
