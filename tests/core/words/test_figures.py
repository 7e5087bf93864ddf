"""Numbers as people read them, against the table both formatters are held against."""

import pytest

from keen_tracer.core import tables
from keen_tracer.core.words import computed, figure


@pytest.mark.parametrize("row", tables.read("figures_as_read"), ids=lambda r: r["value"])
def test_a_number_is_written_as_the_table_says(row: dict[str, str]) -> None:
    assert figure(float(row["value"])) == row["figure"]
    assert computed(float(row["value"])) == row["computed"]
