"""Rows and columns a workbook hides. A hidden row is as often a rejected sample or another
customer's as it is this one's: none is read, and each is said."""

import re
import zipfile
from dataclasses import dataclass, field

from openpyxl.utils import get_column_letter

_ROW = re.compile(rb"<row\b[^>]*>")
_COLUMN = re.compile(rb"<col\b[^>]*>")
_HIDDEN = re.compile(rb'\bhidden="(?:1|true)"')
MOST_COLUMNS = 16_384  # of any workbook
_LONGEST_TAG = 2000  # of a row, in bytes
NAMED = 12  # rows named one by one; our choice


@dataclass(slots=True)
class Hides:
    """Rows and columns of a sheet that are hidden, counted from 1, and which of them held anything
    when they were left out; `last`: the last row of the sheet."""

    last: int = 0
    rows: frozenset[int] = frozenset()
    columns: frozenset[int] = frozenset()
    left_rows: list[int] = field(default_factory=list)
    left_columns: set[int] = field(default_factory=set)

    def shown(self, at: int, row: list[str]) -> list[str]:
        """A row as the sheet shows it: empty where it is hidden, so that rows keep their count.

        >>> Hides(9, frozenset({2}), frozenset({1})).shown(1, ["a", "b"])
        ['', 'b']
        """
        if at in self.rows:
            self.left_rows += [at] if any(row) else []
            return []
        self.left_columns |= {n for n in self.columns if n <= len(row) and row[n - 1]}
        return ["" if n in self.columns else c for n, c in enumerate(row, 1)]

    def in_words(self, sheet: str) -> tuple[tuple[int, str], ...]:
        """What was left out, each with its row (1 of a column).

        >>> Hides(left_rows=[3, 4], left_columns={2}).in_words("June")
        ((3, 'June'), (4, 'June'), (1, 'June, column B'))
        """
        of = [(n, sheet) for n in self.left_rows]
        if len(of) > NAMED:
            of = [*of[:NAMED], (of[NAMED][0], f"{sheet}, {len(of) - NAMED} rows more")]
        columns = sorted(self.left_columns)
        return (*of, *((1, f"{sheet}, column {get_column_letter(n)}") for n in columns))


def hides_of(parts: zipfile.ZipFile, sheet: zipfile.ZipInfo) -> Hides:
    """What a sheet of a workbook hides and where it ends, by its own marks."""
    last, rows, columns = 0, set[int](), set[int]()
    with parts.open(sheet) as stream:
        tail = b""
        while part := stream.read(1 << 20):
            seen = tail + part
            for tag in _ROW.findall(seen):
                at = re.search(rb'\br="(\d{1,9})"', tag)
                last = max(last, int(at[1])) if at else last
                if at and _HIDDEN.search(tag):
                    rows.add(int(at[1]))
            for tag in _COLUMN.findall(seen):
                begin = re.search(rb'\bmin="(\d{1,5})"', tag)
                end = re.search(rb'\bmax="(\d{1,5})"', tag)
                if _HIDDEN.search(tag) and begin and end:
                    columns.update(range(int(begin[1]), min(int(end[1]), MOST_COLUMNS) + 1))
            tail = seen[-_LONGEST_TAG:]
    return Hides(last, frozenset(rows), frozenset(columns))
