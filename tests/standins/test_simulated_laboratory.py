"""The stand-in laboratory: repeatable, noisy within reason, and wrong exactly where it says."""

import csv
import io
from datetime import date

import numpy as np
import pytest

from keen_tracer.standins.laboratory import HERE, BottleIn, Laboratory, analyse, answer

ON = date(2026, 11, 24)
BOTTLES = [BottleIn(str(n), 0.5, {"Fe_ppm": 10.0 * n, "Cu_ppm": 5.0}, 0.5) for n in range(1, 6)]


def figures(text: str) -> dict[str, dict[str, str]]:
    out: dict[str, dict[str, str]] = {}
    for r in csv.DictReader(io.StringIO(text)):
        out.setdefault(r["sample"], {})[r["analyte"]] = r["reading"]
    return out


def test_the_same_seed_gives_the_same_file() -> None:
    assert answer("a", BOTTLES, "none", 7, ON) == answer("a", BOTTLES, "none", 7, ON)
    assert answer("a", BOTTLES, "none", 7, ON) != answer("a", BOTTLES, "none", 8, ON)


def test_a_swap_exchanges_two_labels_and_nothing_else() -> None:
    right, wrong = (figures(answer("a", BOTTLES, m, 7, ON).files[0][1]) for m in ("none", "swap"))
    changed = [s for s in right if right[s] != wrong[s]]
    assert len(changed) == 2
    a, b = changed
    assert (wrong[a], wrong[b]) == (right[b], right[a])
    assert f"labels of {a} and {b}" in answer("a", BOTTLES, "swap", 7, ON).outcome or (
        f"labels of {b} and {a}" in answer("a", BOTTLES, "swap", 7, ON).outcome
    )


def test_one_bottle_cannot_be_swapped() -> None:
    assert answer("a", BOTTLES[:1], "swap", 7, ON).outcome == "as analysed"


def test_one_is_held_back_and_one_is_amended() -> None:
    late = answer("a", BOTTLES, "late", 7, ON)
    assert set(figures(late.files[0][1])) == {b.sample for b in BOTTLES} - set(late.held_back)
    first, second = answer("a", BOTTLES, "amended", 7, ON).files
    ((sample, again),) = figures(second[1]).items()
    was = figures(first[1])[sample]
    assert {k for k in was if was[k] != again[k]} == {"Si_ppm"}


def test_now_and_then_is_seldom() -> None:
    odd = sum(
        answer("a", BOTTLES, "now_and_then", seed, ON).outcome != "as analysed"
        for seed in range(200)
    )
    assert 1 <= odd <= 30


def test_its_figures_lie_about_where_the_engine_was() -> None:
    found = [float(analyse(BOTTLES[4], np.random.default_rng(n))["Fe_ppm"]) for n in range(60)]
    assert np.mean(found) == pytest.approx(50 * HERE.bias, rel=0.06)
    assert np.std(found) > 1


def test_below_its_detection_limit_it_says_so() -> None:
    lab = Laboratory("x", 0.0, 2.0)
    assert lab.reading(np.random.default_rng(1), 0.1, 1, 2.0) == "<2"


def test_fresh_oil_comes_back_as_fresh_oil() -> None:
    found = analyse(
        BottleIn("f", 0.0, fresh={"Ca_ppm": 1350.0}, reference=True), np.random.default_rng(1)
    )
    assert float(found["Ca_ppm"]) == pytest.approx(1350, rel=0.15)
    assert float(found["Fe_ppm"].lstrip("<")) < 4
