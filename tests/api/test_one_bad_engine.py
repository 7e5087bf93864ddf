"""Figures that an older version took in: one bad engine is one bad row, and no list, page or export
answers 500 for it."""

import re

import pytest

from keen_tracer.core.laboratory import BY_COLUMN
from keen_tracer.storage.db import single
from keen_tracer.usecases.judging.judging import judge_stale
from tests.server import Server

PLACES = [
    "/api/state", "/api/wall", "/api/queue", "/api/runs", "/api/round", "/api/plan",
    "/api/queries", "/api/cases", "/api/find?q=G-03", "/api/engines/G-03", "/healthz",
]  # fmt: skip


SYMBOLS = ("KV100_mm2_s", "Fe_ppm", "BN_mgKOH_g")


@pytest.mark.parametrize("value", [1e-306, 0.0])
def test_a_figure_no_oil_can_have_breaks_no_page(changing: Server, value: float) -> None:
    codes = [BY_COLUMN[s].code for s in SYMBOLS]
    with single(changing.url) as c:
        c.execute("reset role")
        c.execute("alter table reading disable trigger user")
        c.execute(
            "update reading set value = %s where analyte = any(%s) and (report_id in (select r.id "
            "from report r join draw d on d.sample_id = r.sample_id join log l on l.id = d.log_id "
            "join engine e on e.id = l.engine_id where e.code = 'G-03') or report_id in (select id "
            "from report where oil_batch_id is not null limit 1))",
            [value, codes],
        )
    judge_stale(changing.url, every=True)
    with changing.client("Mira Ostrand") as c:
        wrong = {p: c.get(p).status_code for p in PLACES}
        assert {p: s for p, s in wrong.items() if s >= 500} == {}
        paths = c.get("/api/openapi.json").json()["paths"]
        samples = [q["sample"] for q in c.get("/api/queue").json()][:2]
        for path in (p for p, ways in paths.items() if "get" in ways and p.startswith("/api/")):
            of = {"{code}": samples[0] if "samples" in path else "G-03", "{engine}": "G-03"}
            filled = path
            for name, x in of.items():
                filled = filled.replace(name, x)
            if re.search("{", filled):
                continue
            answer = c.get(filled)
            assert answer.status_code < 500, (filled, answer.text[:300])
