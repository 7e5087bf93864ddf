"""Every kind of finding has a payload, levels and words; nothing else can be made or said."""

import dataclasses
import types
import typing
from collections.abc import Mapping

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.errors import UnknownName
from keen_tracer.core.findings import REGISTRY, Finding, payloads, stored
from keen_tracer.core.laboratory import ANALYTES
from keen_tracer.core.record import (
    debris_types,
    fact_kinds,
    field_checks,
    leak_steps,
    told,
    troubles,
)
from keen_tracer.core.terms import CHANNELS, DEBRIS_PLACES, FACT_KINDS
from keen_tracer.core.words import SENTENCES, chip, sentence

# What a text in a payload may be: codes the core itself makes.
TEXTS = {
    "basis": ["conc", "rise", "rate", "pct_fresh"],
    "on": ["2026-11-04"],
    "type": list(debris_types()),
    "place": list(DEBRIS_PLACES),
    "count": ["3"],
    "size": ["", "0.5 to 1 mm"],
    "grown": ["", "yes"],
    "fact": ["", *fact_kinds()],
    "litres": ["0.85"],
    "days": ["", "6"],
    "fill": ["34"],
    "seen": ["1", "0.25"],
    "used": ["same_oil", "lowest_early", "none"],
    "look": ["sample", "two", "three", "rise"],
    "why": ["", "again", "together", "at_once", "sealant", "run_in", "cause", "small", "flux"],
    "pattern": ["bearing", "bearing_lead_free", "ring", "piston", "bronze", "dirt", "coolant"],
    "word": ["dust", "clay", "casting", "sealant", "siloxane", "unclear"],
    "scope": ["heavy_diesel", "gas+biogas", "all"],
    "per": ["h", "km"],
    "name": ["Iron"],
    "code": ["18/16/13"],
}
LISTS = {
    "sources": ["dust", "road_salt", "coolant"],
    "allowed": ["15W-40"],
    "grades": ["30", "40"],
    "wears": ["Fe", "Cr"],
    "metal": ["Pb", "Sn"],
    "why": ["oxidation", "soot"],
    "missing": ["Pb_ppm", "Sn_ppm"],
    "points": list(troubles()),
    "kinds": list(FACT_KINDS),
    "troubles": list(troubles()),
    "said": ["a knock", "lead"],
    "left": ["K", "Na"],
    "coolants": ["Na", "Si"],
    "carries": ["K", "Na"],
    "unmeasured": ["Mg", "B"],
    "symbols": ["Zn", "P"],
}
FIGURES = st.floats(0.001, 90_000).map(lambda x: float(f"{x:.4g}"))


def _field(f: dataclasses.Field, kind: object) -> st.SearchStrategy:
    if kind is bool:
        return st.booleans()
    if kind is int:
        return st.integers(0, 40)
    if kind is float:
        return FIGURES
    if kind == list[float]:
        return st.lists(FIGURES, min_size=2, max_size=2)
    if kind == list[str]:
        least = {"symbols": 1, "kinds": 2, "said": 2, "troubles": 1}.get(f.name, 0)
        return st.lists(st.sampled_from(LISTS[f.name]), min_size=least, unique=True)
    if typing.get_origin(kind) is Mapping or (kind is not str and f.name in ("litres", "elements")):
        inside = payload(payloads.Expected) if f.name == "elements" else FIGURES
        return st.dictionaries(st.sampled_from(["K", "Na"]), inside, min_size=1)
    if isinstance(kind, types.UnionType) and str not in typing.get_args(kind):
        return FIGURES  # what is not known is left out below
    return st.sampled_from(TEXTS.get(f.name, ["free text"]))


def payload(kind: type[payloads.Payload]) -> st.SearchStrategy:
    """Random payloads of a kind; a limit holds what its basis needs, a check a known result."""
    hints = typing.get_type_hints(kind)
    made = st.builds(kind, **{f.name: _field(f, hints[f.name]) for f in dataclasses.fields(kind)})
    if kind is payloads.CheckedOn:
        known = [(c, r.code) for c, results in field_checks().items() for r in results]
        return st.sampled_from(known).map(
            lambda x: payloads.CheckedOn(on="2026-11-04", check=x[0], result=x[1])
        )
    if kind is payloads.SteppedOn:
        steps = [(s.code, r.code) for s in leak_steps().values() for r in s.results]
        return st.sampled_from(steps).map(
            lambda x: payloads.SteppedOn(on="2026-11-04", step=x[0], answer=x[1])
        )
    if kind is payloads.AtLimit:
        return made.map(lambda x: dataclasses.replace(x, censor=x.censor % 3))
    return made


@st.composite
def findings(draw: st.DrawFn, code: str) -> Finding:
    kind = REGISTRY[code]
    return Finding(
        code=code,
        channel=draw(st.sampled_from(list(CHANNELS))),
        level=draw(st.sampled_from(sorted(kind.levels))),
        analyte=draw(st.sampled_from([a.column for a in ANALYTES])),
        numbers=draw(payload(kind.payload)),
    )


@pytest.mark.parametrize("code", REGISTRY)
@given(data=st.data())
def test_every_finding_that_can_be_made_has_words_and_is_stored_whole(code: str, data) -> None:
    found = data.draw(findings(code))
    said = sentence(found)
    assert said[:1].isupper() or said[:1].isdigit()  # a symbol such as 4 µm
    assert said.rstrip("”").endswith((".", "free text"))
    for never in ("None", "nan", "_", "{", "  "):
        assert never not in said, said
    assert chip(found)
    assert stored(found.as_dict()) == found


def test_words_and_kinds_are_the_same_set() -> None:
    assert set(SENTENCES) == set(REGISTRY)


def test_everything_seen_or_heard_is_a_kind_of_finding_at_a_level_it_may_have() -> None:
    for where in ("appearance", "smell", "symptom", "failure"):
        for fact in filter(None, told(where).values()):
            kind = fact_kinds()[fact]
            if kind.level:
                assert kind.level in REGISTRY[kind.code].levels


@pytest.mark.parametrize(
    ("code", "level", "numbers"),
    [
        ("high", 3, payloads.AtLimit()),  # one limit alone never stops an engine
        ("knock", 2, payloads.AtLimit()),
        ("drift", 1, payloads.Drift()),
    ],
)
def test_another_payload_or_level_is_refused(code, level, numbers) -> None:
    with pytest.raises(ValueError, match="carries"):
        Finding(code=code, channel="wear", level=level, numbers=numbers)


def test_a_code_nobody_registered_is_refused() -> None:
    with pytest.raises(UnknownName):
        Finding(code="rust_in_the_bell", channel="wear", level=1)


def test_findings_of_older_versions_are_read() -> None:
    old = {
        "code": "out_of_grade",
        "channel": "thickness",
        "level": 2,
        "analyte": "KV100_mm2_s",
        "school": "F",
        "origin": "SAE J300",
        "numbers": {"value": 9.0, "low": 12.5, "high": None, "allowed": ["15W-40"], "is": ["20"]},
    }
    assert "grade 20" in sentence(stored(old))


def test_what_older_versions_raised_is_still_read() -> None:
    """A non-detect that could not clear was Watch or Act before 0.5."""
    for level in (1, 2):
        said = {
            "code": "unproven",
            "channel": "coolant",
            "level": level,
            "analyte": "water_pct",
            "school": "F",
            "origin": "",
            "numbers": {"value": 0.3, "censor": 1, "threshold": 0.1},
        }
        assert stored(said).level == level
