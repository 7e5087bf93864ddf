"""Invented laboratories: the same samples written down the way each of them would.

A laboratory is drawn from a seed: its delimiter or workbook, which way its samples run, how it
heads its columns and in which language, its decimals, thousands and days, a letterhead above, a row
of units or of groups, columns nobody asked for.
"""

import csv
import io
import random
from dataclasses import dataclass
from datetime import date, timedelta
from pathlib import Path

from openpyxl import Workbook

# Column of ours → headings, of which a laboratory takes one: (English, English, German).
HEADS = {
    "Fe_ppm": ("Iron", "Fe (ppm)", "Eisen"),
    "Cr_ppm": ("Chromium", "Cr (ppm)", "Chrom"),
    "Pb_ppm": ("Lead", "Pb (ppm)", "Blei"),
    "Cu_ppm": ("Copper", "Cu (ppm)", "Kupfer"),
    "Si_ppm": ("Silicon", "Si (ppm)", "Silizium"),
    "Na_ppm": ("Sodium", "Na (ppm)", "Natrium"),
    "KV100_mm2_s": ("Viscosity @ 100°C", "Visc @100C cSt", "Viskosität bei 100 °C"),
    "BN_mgKOH_g": ("Base Number", "TBN (mg KOH/g)", "Basenzahl"),
    "soot_pct": ("Soot", "Soot %", "Rußgehalt"),
    "water_pct": ("Water", "Water %", "Wasser"),
}
FACTS = {
    "engine": ("Unit ID", "Equipment No.", "Maschine"),
    "drawn_on": ("Sample Date", "Date Sampled", "Entnahmedatum"),
    "meter": ("Hour Meter", "Engine Hours", "Betriebsstunden"),
    "hours_on_oil": ("Hours on Oil", "Oil Hours", "Ölstunden"),
    "report": ("Lab No", "Report No.", "Labornummer"),
}
UNITS = {"KV100_mm2_s": "cSt", "BN_mgKOH_g": "mg KOH/g", "soot_pct": "%", "water_pct": "%"}
MORE = ("Diagnosis", "Severity", "Customer", "Contact")


@dataclass(frozen=True)
class Sample:
    facts: dict[str, str]
    figures: dict[str, str]  # as a person would write them: a decimal point, <limit


def samples(draw: random.Random, count: int) -> list[Sample]:
    """Quiet samples of three engines, days that do not all tell their order."""
    out = []
    for n in range(count):
        meter = 1200 + 130 * n + draw.randrange(60)
        figures = {
            "Fe_ppm": str(draw.randrange(8, 60)),
            "Cr_ppm": draw.choice(["<1", "2", "3"]),
            "Pb_ppm": str(draw.randrange(1, 12)),
            "Cu_ppm": str(draw.randrange(2, 1600) if n % 5 == 4 else draw.randrange(2, 30)),
            "Si_ppm": str(draw.randrange(3, 18)),
            "Na_ppm": str(draw.randrange(2, 9)),
            "KV100_mm2_s": f"{draw.uniform(12.6, 15.4):.1f}",
            "BN_mgKOH_g": f"{draw.uniform(5, 10):.2f}",
            "soot_pct": f"{draw.uniform(0.1, 1.2):.1f}",
            "water_pct": draw.choice(["<0.05", "0.1"]),
        }
        facts = {
            "engine": f"U-{1 + n % 3}",
            "drawn_on": (date(2026, 1, 4) + timedelta(days=11 * n)).isoformat(),
            "meter": str(meter),
            "hours_on_oil": str(40 + draw.randrange(200)),
            "report": f"R{70000 + 7 * n}",
        }
        out.append(Sample(facts, figures))
    return out


@dataclass(frozen=True)
class Laboratory:
    kind: str  # "csv" or "xlsx"
    way: str  # "rows", "columns", "long"
    style: int  # which heading of three
    comma: bool
    thousands: bool
    days: str
    letterhead: int
    unit_row: bool
    group_row: bool
    delimiter: str
    encoding: str
    more: bool

    def number(self, text: str) -> str:
        sign, bare = ("<", text[1:]) if text.startswith("<") else ("", text)
        whole, point, rest = bare.partition(".")
        if self.thousands and len(whole) > 3:
            whole = f"{whole[:-3]}{'.' if self.comma else ','}{whole[-3:]}"
        return f"{sign}{whole}{(',' if self.comma else '.') + rest if point else ''}"

    def day(self, iso: str) -> str:
        d = date.fromisoformat(iso)
        return d.strftime({"iso": "%Y-%m-%d", "dot": "%d.%m.%Y", "uk": "%d/%m/%Y", "us": "%m/%d/%Y",
                           "word": "%d-%b-%Y"}[self.days])  # fmt: skip

    def cells(self, s: Sample) -> dict[str, str]:
        facts = {k: self.day(v) if k == "drawn_on" else v for k, v in s.facts.items()}
        facts |= {k: self.number(facts[k]) for k in ("meter", "hours_on_oil")}
        return facts | {k: self.number(v) for k, v in s.figures.items()}

    def grid(self, listed: list[Sample]) -> list[list[str]]:
        heads = {k: v[self.style] for k, v in (FACTS | HEADS).items()}
        table = [self.cells(s) for s in listed]
        if self.way == "long":
            grid = [[*(heads[k] for k in FACTS), "Test", "Result", "Units"]]
            for row in table:
                said = [row[k] for k in FACTS]
                grid += [[*said, HEADS[k][0], row[k], UNITS.get(k, "ppm")] for k in HEADS]
        else:
            more = list(MORE) if self.more else []
            grid = [[*heads.values(), *more]]
            if self.unit_row:
                grid.append(
                    [
                        *("" for _ in FACTS),
                        *(UNITS.get(k, "ppm") for k in HEADS),
                        *("" for _ in more),
                    ]
                )
            grid += [[row[k] for k in heads] + ["normal" for _ in more] for row in table]
        if self.way == "columns":
            grid = [list(r) for r in zip(*grid, strict=True)]
        if self.group_row and self.way == "rows":
            grid.insert(0, ["Sample", *[""] * 4, "Wear metals", *[""] * (len(grid[0]) - 6)])
        head = [["Northfall Oil Laboratory"], ["Report of the month"], [""], ["Page 1"]]
        return [*head[: self.letterhead], *grid]

    def write(self, listed: list[Sample], into: Path) -> Path:
        grid = self.grid(listed)
        if self.kind == "xlsx":
            book = Workbook()
            book.active.title = "Cover"
            sheet = book.create_sheet("Results")
            for row in grid:
                sheet.append([_typed(c) for c in row])
            book.remove(book["Cover"]) if self.letterhead % 2 else book["Cover"].append(
                ["see Results"]
            )
            path = into / "report.xlsx"
            book.save(path)
            return path
        text = io.StringIO()
        csv.writer(text, delimiter=self.delimiter).writerows(grid)
        path = into / "report.csv"
        path.write_text(text.getvalue(), encoding=self.encoding)
        return path


def _typed(cell: str) -> object:
    """Workbooks hold figures as figures."""
    try:
        return float(cell) if "." in cell else int(cell)
    except ValueError:
        return cell


def laboratory(seed: int) -> Laboratory:
    draw = random.Random(seed)
    kind = draw.choice(["csv", "csv", "xlsx"])
    style = draw.randrange(3)
    comma = (style == 2 and kind == "csv") or (kind == "csv" and draw.random() < 0.15)
    way = draw.choice(["rows", "rows", "rows", "columns", "long"])
    return Laboratory(
        kind=kind,
        way=way,
        style=style,
        comma=comma,
        thousands=kind == "csv" and draw.random() < 0.4,
        days=draw.choice(["dot"] if style == 2 else ["iso", "uk", "us", "word"]),
        letterhead=draw.randrange(5),
        unit_row=style != 1 and (way != "long"),
        group_row=draw.random() < 0.3,
        delimiter=draw.choice([";", "\t"]) if comma else draw.choice([",", ";", "\t", "|"]),
        encoding=draw.choice(["utf-8", "utf-8-sig", "cp1252", "utf-16"]),
        more=draw.random() < 0.5,
    )
