"""Any table in any layout: written down however a laboratory may, mapped, read back equal."""

import random
import tempfile
from pathlib import Path

from hypothesis import given, settings
from hypothesis import strategies as st

from keen_tracer.exchange.layouts import from_text
from tests.exchange.layouts.laboratories import (
    FACTS,
    HEADS,
    UNITS,
    Laboratory,
    samples,
)
from tests.exchange.layouts.test_layouts import right, told

LABORATORIES = st.builds(
    Laboratory,
    kind=st.sampled_from(["csv", "xlsx"]),
    way=st.sampled_from(["rows", "columns", "long"]),
    style=st.integers(0, 2),
    comma=st.booleans(),
    thousands=st.booleans(),
    days=st.sampled_from(["iso", "dot", "uk", "us", "word"]),
    letterhead=st.integers(0, 4),
    unit_row=st.booleans(),
    group_row=st.booleans(),
    delimiter=st.sampled_from([",", ";", "\t", "|"]),
    encoding=st.sampled_from(["utf-8", "utf-8-sig", "cp1252", "utf-16"]),
    more=st.booleans(),
)


def plausible(of: Laboratory) -> bool:
    """What no program writes: decimal commas split by commas, a workbook's figures as text with a
    comma or thousands, a row of units in a table that has a column of them or where the heads name
    them."""
    text = of.comma or of.thousands
    return (
        not (of.comma and of.delimiter == ",")
        and not (of.kind == "xlsx" and text)
        and not (of.unit_row and (of.way == "long" or of.style == 1))
    )


@settings(max_examples=150, deadline=None)
@given(LABORATORIES.filter(plausible), st.integers(0, 10_000), st.integers(3, 14))
def test_any_table_in_any_layout_comes_back_equal(of: Laboratory, seed: int, count: int) -> None:
    listed = samples(random.Random(seed), count)
    with tempfile.TemporaryDirectory() as folder:
        found, _ = told(of.write(listed, Path(folder)), of)
    right(found, listed)


@settings(max_examples=60, deadline=None)
@given(
    st.integers(0, 10_000),
    st.integers(0, 1),
    st.sampled_from(["\t", "  ", " ", ": ", " = ", " | "]),
    st.sampled_from(["<", "< "]),
    st.booleans(),
    st.permutations(list(HEADS)),
)
def test_a_column_of_names_and_figures_comes_back_equal(
    seed: int, style: int, apart: str, below: str, units: bool, order: list[str]
) -> None:
    """As it is copied from a sheet: a line a figure, in any order, whatever stands between."""
    [one] = samples(random.Random(seed), 1)
    lines = [f"{FACTS[k][style]}{apart}{one.facts[k]}" for k in FACTS]
    for k in order:
        unit = f" {UNITS.get(k, 'ppm')}" if units and style == 0 else ""
        lines.append(f"{HEADS[k][style]}{apart}{one.figures[k].replace('<', below)}{unit}")
    found = from_text("\n".join(lines))
    assert found.unread == []
    assert found.facts == one.facts
    assert {k: v.split()[0] for k, v in found.figures.items()} == one.figures
