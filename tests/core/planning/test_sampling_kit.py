"""Tubes, kits and checklists."""

import pytest

from keen_tracer.core.errors import OutOfRange, UnknownName
from keen_tracer.core.planning import checklist, sampling_kit, tube_length_mm
from keen_tracer.core.terms import METHODS


def test_a_tube_is_measured_against_the_dipstick() -> None:
    """Stick top to low mark 640 mm, 13 mm below it, 300 mm to the pump."""
    assert tube_length_mm(640) == 953


@pytest.mark.parametrize("mm", [0, -5, 49, 3001, float("nan"), 64])
def test_a_stick_of_no_length_is_refused(mm: float) -> None:
    if mm == 64:
        assert tube_length_mm(mm) == 377
        return
    with pytest.raises(OutOfRange):
        tube_length_mm(mm)


@pytest.mark.parametrize("method", METHODS)
def test_every_method_shows_its_cautions_first(method: str) -> None:
    steps = checklist(method)
    cautions = [s.caution for s in steps]
    assert cautions == sorted(cautions, reverse=True)
    assert any(cautions)
    assert sum(not c for c in cautions) >= 4
    assert any("Label" in s.text for s in steps)


def test_belts_are_warned_of_where_the_engine_runs() -> None:
    assert any("Belts" in s.text for s in checklist("valve"))
    assert not any("Belts" in s.text for s in checklist("vacuum"))


def test_an_unknown_method_is_refused() -> None:
    with pytest.raises(UnknownName):
        checklist("ladle")


def test_the_kit_has_a_new_tube_for_each_engine() -> None:
    found = sampling_kit(
        [("vacuum", 640), ("vacuum", None), ("valve", 640), ("drain_stream", None)]
    )
    assert (found.bottles, found.tubes_mm, found.unknown_tubes, found.flush_bottles) == (
        4,
        (953.0,),
        1,
        1,
    )
    assert found.words() == (
        "4 bottles and labels · tube 0.96 m · 1 tube to measure at the stick · "
        "1 bottle to flush into · gloves · rag"
    )
    assert sampling_kit([]).bottles == 0
