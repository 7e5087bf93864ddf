"""Anybody's report: forty invented laboratories read without one wrong figure and with at most one
question each; twenty more were drawn after the rules were written and are only measured."""

import random
from pathlib import Path

import pytest

from keen_tracer.core.laboratory import BY_COLUMN, convert
from keen_tracer.exchange.layouts import Layout, Reader, propose, read, settle, sheets_of
from tests.exchange.layouts.laboratories import Laboratory, Sample, laboratory, samples

TUNED, HELD_OUT = range(40), range(1000, 1020)


def answered(layout: Layout, about: str, of: Laboratory) -> Layout:
    """What a person who knows the laboratory says."""
    said = {
        "decimal": "comma" if of.comma else "point",
        "days": {"us": "month_first"}.get(of.days, "day_first"),
        "water": "%",
    }
    return Layout(
        **{f: getattr(layout, f) for f in Layout.__dataclass_fields__} | {about: said[about]}
    )


def told(path: Path, of: Laboratory) -> tuple[list[tuple[dict, dict]], int]:
    """(facts, figures in our units) of every sample, and how many questions were asked."""
    sheet = max(sheets_of(path.name, path, path.with_suffix(".made")), key=lambda s: s.rows)
    grid = list(read(sheet))
    found = propose(grid)
    asked = len(found.questions)
    layout = found.layout
    for q in found.questions:
        layout = answered(layout, q.about, of)
    assert not settle(layout, grid).questions
    reader = Reader(settle(layout, grid).layout)
    out = []
    for t in reader.samples(grid):
        figures = {}
        for column, said, unit in t.figures:
            sign = said[0] if said[0] == "<" else ""
            value = convert(
                float(said.lstrip("<")), unit or BY_COLUMN[column].unit, BY_COLUMN[column].unit
            )
            figures[column] = (sign, pytest.approx(value))
        out.append((t.facts, figures))
    assert not reader.unread
    return out, asked


def right(found: list[tuple[dict, dict]], listed: list[Sample]) -> None:
    assert len(found) == len(listed)
    for (facts, figures), true in zip(found, listed, strict=True):
        for k, v in true.facts.items():
            assert (
                (float(facts[k]) == float(v)) if k in ("meter", "hours_on_oil") else facts[k] == v
            )
        said = {
            k: (v[0] if v[0] == "<" else "", float(v.lstrip("<"))) for k, v in true.figures.items()
        }
        assert said == figures


@pytest.mark.parametrize("seed", [*TUNED, *HELD_OUT])
def test_a_laboratory_is_read_without_one_wrong_figure(seed: int, tmp_path: Path) -> None:
    of = laboratory(seed)
    listed = samples(random.Random(seed), 9)
    found, asked = told(of.write(listed, tmp_path), of)
    assert asked <= 1
    right(found, listed)
