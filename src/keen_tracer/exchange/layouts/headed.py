"""Reports with a heading line: the heading says whether a cell below it holds the result, the unit,
the method or a limit."""

from collections.abc import Iterator, Sequence

from ...core.laboratory import BY_COLUMN
from .names import meaning, plain, unit_of
from .values import FIGURE, one_days

# What heads the cells of a report, in the languages we read. Common practice, from memory.
_HEADS = {
    "name": "test|tests|parameter|parameters|element|elements|analysis|property|analyte|component"
    "|essai|paramètre|prüfung|messgröße|kenngröße|ensayo|parámetro|prova|parametro"
    "|badanie|bepaling",
    "figure": "result|results|value|reading|found|measured|this sample|current|current sample"
    "|current result|latest|newest|résultat|ergebnis|messwert|wert|aktuell|resultado|actual"
    "|risultato|wynik|uitslag|resultaat",
    "unit": "unit|units|uom|einheit|unité|unidad|unità|jednostka|eenheid",
    "method": "method|test method|procedure|methode|méthode|método|metodo|metoda|norm|norme|norma"
    "|standard",
    "other": "limit|limits|max|min|maximum|minimum|alarm|warning|caution|critical|specification"
    "|spec|range|grenzwert|warnwert|limite|limites|seuil|límite|previous|previous sample|last"
    "|history|average|avg|mean|typical|durchschnitt|mittelwert|vorwert|moyenne|promedio|media"
    "|status|rating|flag|severity|evaluation|assessment|bewertung|estado|état|remark|remarks"
    "|comment|trend",
}
_ROLE = {plain(word): role for role, words in _HEADS.items() for word in words.split("|")}
FEWEST_ACROSS = 3  # names that stand side by side over their figures


def _role(cell: str) -> str:
    return "day" if one_days([cell]) else _ROLE.get(plain(cell), "")


def _heads(row: Sequence[str]) -> list[str]:
    """What the cells below each heading hold; [] where the row is no heading line. A heading line
    either has one cell such as "Result", or it has the days of several samples."""
    roles = [_role(c) for c in row]
    mine, days = roles.count("figure"), roles.count("day")
    known = all(roles) and len(row) > 2 and roles.count("name") == 1
    return roles if known and (mine == 1 or (not mine and days > 1)) else []


def _fits(row: Sequence[str], heads: Sequence[str]) -> bool:
    """Whether a line holds what its heading says; one with an empty cell has moved."""
    if len(row) != len(heads):
        return False
    said = dict(zip(heads, row, strict=True))
    named = meaning(said["name"])[0] in BY_COLUMN
    return named and ("unit" not in said or unit_of(said["unit"]) is not None)


def _with_unit(name: str, unit: str) -> str:
    return name if not unit or meaning(name)[1] else f"{name} ({unit})"


def under_headings(grid: Sequence[Sequence[str]]) -> Iterator[list[str]]:
    """The lines of a grid with only the name and the figures of samples left of what a heading line
    heads; a unit goes behind its name.

    >>> list(under_headings([["Test", "Method", "Result", "Limit"], ["Iron", "D5185", "36", "90"]]))
    [['Iron', '36']]
    """
    heads: list[str] = []
    for row in grid:
        found = _heads(row)
        if found:
            heads = found
            if "day" in found:
                yield [c for c, role in zip(row, found, strict=True) if role in ("name", "day")]
        elif heads and _fits(row, heads):
            said = list(zip(heads, row, strict=True))
            cells = dict(said)
            keep = ("figure",) if "figure" in heads else ("day",)
            name = _with_unit(cells["name"], cells.get("unit", ""))
            yield [name, *(c for role, c in said if role in keep)]
        else:
            yield _unit_between(row)


def _unit_between(row: Sequence[str]) -> list[str]:
    """A line with its unit between the name and the figure as one with the unit behind the name.

    >>> _unit_between(["Eisen", "mg/kg", "33"])
    ['Eisen (mg/kg)', '33']
    """
    if len(row) > 2 and meaning(row[0])[0] in BY_COLUMN and (unit := unit_of(row[1])):
        return [_with_unit(row[0], unit), *row[2:]]
    return list(row)


def from_across(grid: Sequence[Sequence[str]]) -> Iterator[list[str]]:
    """Names side by side with their figures under them, as a line each. Of several lines of figures
    the newest by its day; without days all of them, so that it is asked which.

    >>> list(from_across([["Fe", "Pb", "Cu"], ["22", "4", "9"]]))
    [['Fe', '22'], ['Pb', '4'], ['Cu', '9']]
    """
    at = 0
    while at < len(grid):
        row, at = grid[at], at + 1
        if not _names_across(row):
            yield list(row)
            continue
        block: list[Sequence[str]] = []
        units: Sequence[str] = [""] * len(row)
        while at < len(grid) and len(grid[at]) == len(row) and not _names_across(grid[at]):
            if not block and all(unit_of(c) for c in grid[at]):
                units = grid[at]
            else:
                block.append(grid[at])
            at += 1
        if not block or not any(FIGURE.match(c) for c in block[0]):
            yield from (list(r) for r in (row, *block))
            continue
        for n, name in enumerate(row):
            cells = [r[n] for r in _newest(row, block)]
            yield [_with_unit(name, unit_of(units[n]) or ""), *cells]


def _names_across(row: Sequence[str]) -> bool:
    targets = [meaning(c)[0] for c in row]
    return all(targets) and sum(t in BY_COLUMN for t in targets) >= FEWEST_ACROSS


def _newest(names: Sequence[str], block: Sequence[Sequence[str]]) -> Sequence[Sequence[str]]:
    """The newest of several lines of figures where their days say which it is."""
    for n, name in enumerate(names):
        if meaning(name)[0] == "drawn_on":
            days = one_days([r[n] for r in block])
            if len(days) == len(block) and days.count(max(days)) == 1:
                return [block[days.index(max(days))]]
    return block
