"""Sheets of a workbook that are laid out alike, as one: a sheet an engine, a sheet a report."""

import csv
from collections.abc import Sequence
from pathlib import Path

from .grid import MOST_ROWS, Sheet, read, sheets_of
from .layout import HEAD, LOOKED, SHEET_NAME, Layout, fingerprint
from .names import meaning, plain
from .proposing import propose

ALIKE = 0.8  # of all known headings of two sheets, those both have; our choice
KNOWN = 3  # known headings that make a sheet a table of samples; our choice


def head_of(sheet: Sheet) -> list[list[str]]:
    """The rows a layout is proposed from."""
    return [r for _, r in zip(range(HEAD + LOOKED), read(sheet), strict=False)]


def sheets_in(name: str, path: Path, into: Path) -> list[Sheet]:
    """The sheets of a file; ahead of them those that are alike, as one, where there are several.

    Raises BadCell as `sheets_of` does.
    """
    found = sheets_of(name, path, into)
    # What a workbook hides is another's, or of another day: it is read where a person chooses it.
    proposed = [(s, propose(head_of(s)).layout) for s in found]
    # A workbook opens on a sheet with figures, not on its cover.
    found = [
        s for s, layout in sorted(proposed, key=lambda p: (p[0].hidden, len(_known(p[1])) < KNOWN))
    ]
    alike = _alike([p for p in proposed if not p[0].hidden])
    if len(alike) < 2 or sum(s.rows for s in alike) > MOST_ROWS:
        return found
    return [_joined(alike, into.with_suffix(".all.csv")), *found]


def _alike(sheets: Sequence[tuple[Sheet, Layout]]) -> list[Sheet]:
    """The most sheets that are laid out alike."""
    groups: list[tuple[Layout, list[Sheet]]] = []
    for sheet, layout in sheets:
        if len(_known(layout)) < KNOWN:
            continue
        group = next((g for first, g in groups if _same(first, layout)), None)
        if group is None:
            groups.append((layout, [sheet]))
        else:
            group.append(sheet)
    return max((g for _, g in groups), key=len, default=[])


def _known(layout: Layout) -> set[str]:
    return {plain(c.heading) for c in layout.columns if meaning(c.heading)[0]}


def _same(one: Layout, other: Layout) -> bool:
    """Whether two sheets are laid out alike. Where samples run down, columns are read by their
    place, so that the headings have to be the same; elsewhere by their headings."""
    if one.way != other.way:
        return False
    if one.way == "rows":
        heads = [[c.heading for c in x.columns] for x in (one, other)]
        return fingerprint(heads[0]) == fingerprint(heads[1])
    a, b = _known(one), _known(other)
    return len(a & b) >= ALIKE * len(a | b)


def _joined(sheets: Sequence[Sheet], target: Path) -> Sheet:
    """Sheets one below the other, each under its name."""
    rows = 0
    with target.open("w", newline="", encoding="utf-8") as out:
        writer = csv.writer(out, lineterminator="\n")
        for sheet in sheets:
            writer.writerow([SHEET_NAME, sheet.name])
            writer.writerows(read(sheet))
            rows += 1 + sheet.rows
    names = ", ".join(s.name for s in sheets[:3]) + (", …" if len(sheets) > 3 else "")
    width = max(s.columns for s in sheets)
    hidden = tuple(what for s in sheets for what in s.hidden_parts)
    name = f"all {len(sheets)} that are alike: {names}"
    return Sheet(name, target, rows, max(width, 2), hidden_parts=hidden)
