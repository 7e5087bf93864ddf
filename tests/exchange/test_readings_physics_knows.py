"""What no oil can have is refused where it is given, with what to write instead."""

import pytest

from keen_tracer.exchange.cells import BadCell
from keen_tracer.exchange.csvfile import reading_cell


@pytest.mark.parametrize(
    ("column", "cell", "says"),
    [
        ("KV100_mm2_s", "0", "leave it empty where it was not measured"),
        ("KV100_mm2_s", "1e-306", "check the figure"),
        ("flash_C", "0", "leave it empty"),
        ("Fe_ppm", "1e-160", "check the figure"),
        ("Fe_ppm", "2000000", "check the figure"),
        ("KV40_mm2_s", "1e8", "check the figure"),
        ("BN_mgKOH_g", "9000", "check the figure"),
    ],
)
def test_a_slip_is_refused(column: str, cell: str, says: str) -> None:
    with pytest.raises(BadCell) as bad:
        reading_cell(column, cell)
    assert says in bad.value.fix


@pytest.mark.parametrize(
    ("column", "cell"),
    [
        ("Fe_ppm", "0"),
        ("Fe_ppm", "<0.1"),
        ("water_pct", "0.0001"),
        ("KV100_mm2_s", "1.1"),
        ("BN_mgKOH_g", "0"),
        ("particles_4um_mL", "2500000"),
    ],
)
def test_what_a_test_tells_is_taken(column: str, cell: str) -> None:
    assert reading_cell(column, cell) is not None
