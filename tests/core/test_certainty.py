"""What is called sure is one figure, and stands in one place."""

import ast
from pathlib import Path
from statistics import NormalDist

import pytest

from keen_tracer.core.certainty import SURE

PROGRAM = Path(__file__).parents[2] / "src" / "keen_tracer"


def test_it_holds_95_per_cent_of_a_normal_distribution() -> None:
    """Against Python's own normal distribution."""
    assert pytest.approx(NormalDist().inv_cdf(0.975), abs=1e-4) == SURE


def test_no_other_module_has_the_figure_or_its_double() -> None:
    again = [
        f"{path.relative_to(PROGRAM)}:{node.lineno}"
        for path in PROGRAM.rglob("*.py")
        if path.name != "certainty.py"
        for node in ast.walk(ast.parse(path.read_text()))
        if isinstance(node, ast.Constant) and node.value in (SURE, 2 * SURE)
    ]
    assert again == []
