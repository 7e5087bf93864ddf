"""What a grid settles of its layout by itself, and what is left to ask."""

import re
from collections.abc import Sequence
from dataclasses import replace

from ...core.laboratory import BY_COLUMN
from ...core.terms import DaysWritten, DecimalMark, WaterUnit
from .arranged import held
from .later import body_of
from .layout import DAYS, FIGURES, HEAD, LOOKED, Layout, Proposal, Question
from .names import meaning
from .parts import sorted_out
from .reader import Reader

_POINT_ONLY = re.compile(r"^[<>]?\s*\d+\.\d+(\s*[^\d\s,.]\S*)?$|^[<>]?\s*\d{1,3}(,\d{3})+\.\d+$")
_COMMA_ONLY = re.compile(
    r"^[<>]?\s*\d+,(\d{1,2}|\d{4,})(\s*[^\d\s,.]\S*)?$"
    r"|^[<>]?\s*0,\d+$"
    r"|^[<>]?\s*\d{1,3}(\.\d{3})+,\d+$"
)
_EITHER = re.compile(r"^[<>]?\s*[1-9]\d{0,2}([.,]\d{3})+(\s*[^\d\s,.]\S*)?$")
_POINTED = re.compile(r"^[<>]?\s*[1-9]\d{0,2}\.\d{3}$")
_SLASHED = re.compile(r"^(\d{1,2})[/.\-](\d{1,2})[/.\-](\d{4}|\d{2})(?:[ T].*)?$")
MOST_PARTS = 40  # parts of machines shown; our choice


def settle(layout: Layout, grid: Sequence[Sequence[str]]) -> Proposal:
    """A layout with what the grid settles filled in, and the questions that are left. What a person
    said stands."""
    body = body_of(grid, layout)

    def under(wanted: Sequence[str]) -> list[str]:
        return [
            r[n]
            for r in body
            for n, c in enumerate(layout.columns)
            if c.target in wanted and n < len(r) and r[n]
        ]

    questions: list[Question] = []
    made = layout
    if not layout.decimal:
        decimal, doubt = _decimal(under([*BY_COLUMN, *FIGURES]))
        questions += [Question("decimal", doubt)] if doubt else []
        made = replace(made, decimal=decimal)
    if not layout.days:
        held_days = [d for r in grid[:HEAD] if (d := held(r, layout.lines).get("drawn_on", ""))]
        days, doubt = _days([*under(DAYS), *held_days])
        questions += [Question("days", doubt)] if doubt else []
        made = replace(made, days=days)
    if not layout.water:
        water, doubt = _water(layout, body)
        questions += [Question("water", doubt)] if doubt else []
        made = replace(made, water=water)
    if layout.tells("compartment"):
        found = sorted_out(parts_seen(layout, grid, body), layout.parts or (), layout.others)
        questions += [Question("parts", found.open)] if found.open else []
        made = replace(made, parts=found.engines)
    if doubt := _blank(made, grid):
        questions.append(Question("blank", doubt))
    return Proposal(made, tuple(questions))


def _decimal(cells: Sequence[str]) -> tuple[DecimalMark, tuple[str, ...]]:
    """How decimals are written, or the cells that leave it open."""
    point = any(_POINT_ONLY.match(c) and not _POINTED.match(c) for c in cells)
    comma = any(_COMMA_ONLY.match(c) for c in cells)
    open_ = tuple(dict.fromkeys(c for c in cells if _EITHER.match(c)))[:3]
    if point and not comma:
        return "point", ()
    if comma and not point:
        return "comma", ()
    if point and comma:
        mixed = [next(c for c in cells if p.match(c)) for p in (_POINT_ONLY, _COMMA_ONLY)]
        return "", tuple(mixed)
    return ("", open_) if open_ else ("point", ())


def _days(cells: Sequence[str]) -> tuple[DaysWritten, tuple[str, ...]]:
    """In which order days are written, or the cells that leave it open."""
    slashed = [(c, m) for c in cells if (m := _SLASHED.match(c))]
    if not slashed:
        return "iso", ()
    # Three pairs of figures with dashes: the year may stand first or last.
    pairs = [(c, m) for c, m in slashed if len(m[3]) == 2 and "-" in c]
    if pairs and not any(int(m[1]) > 31 or int(m[3]) > 31 for _, m in pairs):
        return "", tuple(dict.fromkeys(c for c, _ in pairs))[:3]
    if any(int(m[1]) > 31 for _, m in pairs):
        return "iso", ()
    day_first = any(int(m[1]) > 12 for _, m in slashed)
    month_first = any(int(m[2]) > 12 for _, m in slashed)
    if day_first != month_first:
        return ("day_first" if day_first else "month_first"), ()
    # Days written with points are written day first wherever they are written.
    if not day_first and all("." in c for c, _ in slashed):
        return "day_first", ()
    return "", tuple(dict.fromkeys(c for c, _ in slashed))[:3]


def _water(layout: Layout, body: Sequence[Sequence[str]]) -> tuple[WaterUnit, tuple[str, ...]]:
    """Whether water without a unit is % or ppm: more than a fifth of an oil cannot be water."""
    at = layout.at("water_pct")
    if at is None or layout.columns[at].unit:
        return "%", ()
    cells = [r[at] for r in body if at < len(r) and r[at]]
    figures = [float(m[0]) for c in cells if (m := re.search(r"\d+(\.\d+)?", c.replace(",", ".")))]
    if not figures or all("%" in c or "ppm" in c for c in cells):
        return "%", ()
    if max(figures) > 20:
        return "ppm", ()
    return "", tuple(dict.fromkeys(cells))[:3]


def _blank(layout: Layout, grid: Sequence[Sequence[str]]) -> tuple[str, ...]:
    """Rows that hold a figure and nobody's name, while others have an engine."""
    if layout.blank or not layout.tells("engine"):
        return ()
    reader = Reader(layout)
    told = list(reader.samples([list(r) for r in grid]))
    return tuple(reader.nobodys[:3]) if any(t.facts.get("engine") for t in told) else ()


def parts_seen(
    layout: Layout, grid: Sequence[Sequence[str]], body: Sequence[Sequence[str]] | None = None
) -> tuple[str, ...]:
    """Every part of a machine the file names, as it writes it."""
    at = layout.at("compartment")
    rows = body_of(grid, layout) if body is None else body
    cells = [r[at] for r in rows if at is not None and at < len(r)] if at is not None else []
    above = [held(r, layout.lines).get("compartment", "") for r in grid[: HEAD + LOOKED]]
    # A heading that comes again is no part.
    heads = {"compartment", *BY_COLUMN}
    named = [c for c in (*cells, *(a for a in above if a)) if meaning(c)[0] not in heads]
    return tuple(dict.fromkeys(" ".join(c.split()) for c in named))[:MOST_PARTS]
