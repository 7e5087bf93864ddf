"""Text as it is copied out of documents: each written by hand before the rule that reads it."""

import pytest

from keen_tracer.exchange.layouts import from_text

# What was copied, the figures in it, its facts, lines that are named instead of guessed.
COPIED = [
    (
        "Unit ID: G-03  Lab No: 70001\nSample Date: 04-Jan-2026\n"
        "Hours on Unit: 1,200 Hours on Oil: 100\n"
        "Iron 14\nChromium <1\nLead 3 *\nCopper 25 H\nVisc @ 100C 14.1\nFuel <1.0%\n",
        {"Fe_ppm": "14", "Cr_ppm": "<1", "Pb_ppm": "3", "Cu_ppm": "25", "KV100_mm2_s": "14.1",
         "fuel_pct": "<1.0 %"},
        {"engine": "G-03", "report": "70001", "drawn_on": "2026-01-04", "meter": "1200",
         "hours_on_oil": "100"},
        [],
    ),
    (
        "Element\tResult\tUnit\tNormal range\tStatus\nIron\t14\tppm\t0-50\tNormal\n"
        "Copper\t25\tppm\t0-20\tHigh\nViscosity 100\t14.1\tcSt\t12.5-16.3\tNormal\n",
        {"Fe_ppm": "14 ppm", "Cu_ppm": "25 ppm", "KV100_mm2_s": "14.1 cSt"},
        {},
        ["Normal range", "Status"],
    ),
    (
        "Date\t26/01/2026\t15/01/2026\t04/01/2026\nHours\t1460\t1330\t1200\nIron\t9\t22\t14\n",
        {"Fe_ppm": "9"},
        {"drawn_on": "2026-01-26", "meter": "1460"},
        ["Date 26/01/2026 15/01/2026 04/01/2026"],
    ),
    (
        "Test\tCurrent\tPrevious\tUniversal average\nIron\t14\t12\t20\nCopper\t5\t4\t7\n",
        {"Fe_ppm": "14", "Cu_ppm": "5"},
        {},
        [],
    ),
    ("Fe Cr Pb\n14 1 3\n", {"Fe_ppm": "14", "Cr_ppm": "1", "Pb_ppm": "3"}, {}, []),
    ("Fe=14, Cr=1, V100=14.1", {"Fe_ppm": "14", "Cr_ppm": "1", "KV100_mm2_s": "14.1"}, {}, []),
    # A limit beside a figure is no thousand of it.
    ("Iron 14 100\nCopper 5\n", {"Cu_ppm": "5"}, {}, []),  # it is asked which
    ("Wasser < 0,1 %\nEisen 14 mg/kg\n", {"water_pct": "<0.1 %", "Fe_ppm": "14 mg/kg"}, {}, []),
    ("Fuel 2 % vol\nGlycol negative\n", {"fuel_pct": "2 % vol", "glycol_pct": "negative"}, {}, []),
    ("Iron 14\nIron 15\n", {"Fe_ppm": "14"}, {}, ["Iron 15 (told twice)"]),
    (
        "Component: Gearbox\nIron 114\n",
        {"Fe_ppm": "114"},
        {},
        ["this report is of Gearbox, which is no engine"],
    ),
    # Two samples and no day: which is meant only the sheet can say.
    ("Fe\tCu\tPb\n14\t5\t1\n15\t6\t2\n", {}, {}, ["Fe Cu Pb", "14 5 1", "15 6 2"]),
]  # fmt: skip


@pytest.mark.parametrize(("text", "figures", "facts", "unread"), COPIED)
def test_text_as_it_is_copied(
    text: str, figures: dict[str, str], facts: dict[str, str], unread: list[str]
) -> None:
    found = from_text(text)
    assert (found.figures, found.facts, found.unread) == (figures, facts, unread)
