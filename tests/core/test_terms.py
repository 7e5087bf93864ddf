"""One fact, one place: every vocabulary stands once, and what it names has a meaning."""

import ast
import re
from collections import Counter
from functools import cache
from pathlib import Path

import pytest

from keen_tracer.core import tables, terms
from keen_tracer.core.causes import evidence_table, failure_modes
from keen_tracer.core.laboratory import ANALYTES
from keen_tracer.core.record import fact_kinds, field_checks, told
from launcher.paths import ROOT

SRC = ROOT / "src" / "keen_tracer"
WEB = ROOT / "web" / "src"
VOCABULARIES = {
    name: value
    for name, value in vars(terms).items()
    if name.isupper() and isinstance(value, dict) and len(value) > 2
}
# Codes that are words of other things too say nothing about a list.
COMMON = {"other", "fuel", "look", "filter", "repair", "release", "found", "yes", "no", ""}
# Tables hold what each code does; the simulators know the trade, not the program's lists.
MAY_REPEAT = ("core/terms.py", "demo/", "detection/", "core/findings/registry.py")


@cache
def _lists(file: Path) -> tuple[set[str], ...]:
    """Every written-out list, tuple, set or key list of texts in a file; parsed once."""
    out = []
    for node in ast.walk(ast.parse(file.read_text(encoding="utf-8"))):
        items = (
            node.elts
            if isinstance(node, ast.List | ast.Tuple | ast.Set)
            else [k for k in node.keys if k]
            if isinstance(node, ast.Dict)
            else []
        )
        texts = {i.value for i in items if isinstance(i, ast.Constant) and isinstance(i.value, str)}
        if len(texts) > 2:
            out.append(texts)
    return tuple(out)


@pytest.mark.parametrize("name", VOCABULARIES)
def test_no_list_of_the_core_is_written_a_second_time(name: str) -> None:
    codes = {str(c) for c in VOCABULARIES[name]} - COMMON
    if len(codes) < 3:
        return
    for file in SRC.rglob("*.py"):
        if str(file.relative_to(SRC)).startswith(MAY_REPEAT):
            continue
        for found in _lists(file):
            assert len(found & codes) < max(3, 0.8 * len(codes)), f"{file}: {found & codes}"


@pytest.mark.parametrize("name", ["SYMPTOMS", "EVENT_KINDS", "CLASSES", "METHODS", "PLAN_KINDS"])
def test_no_page_writes_a_list_of_the_core(name: str) -> None:
    codes = {c for c in VOCABULARIES[name] if c not in COMMON and "_" in c}
    for file in (*WEB.rglob("*.svelte"), *WEB.rglob("*.ts")):
        if file.parent.name == "api" or file.name.endswith(".test.ts"):
            continue
        for listed in re.findall(r"\[[^\[\]]*\]", file.read_text(encoding="utf-8")):
            found = {c for c in codes if f"'{c}'" in listed}
            assert len(found) < 4, f"{file}: {found}"


def test_every_symptom_means_something_and_nothing_else_does() -> None:
    assert set(told("symptom")) == set(terms.SYMPTOMS)


def test_every_look_and_smell_that_speaks_can_be_chosen() -> None:
    assert set(told("appearance")) <= set(terms.APPEARANCES)
    assert set(told("smell")) <= set(terms.SMELLS)
    assert set(terms.APPEARANCE_HINTS) == set(terms.APPEARANCES)


def test_every_fact_beside_an_event_belongs_to_a_kind_and_part_that_can_be_logged() -> None:
    for detail in terms.DETAILS:
        assert detail.kind in terms.EVENT_KINDS
        assert set(detail.parts) <= {*terms.SYMPTOMS, *field_checks()}
        assert (detail.choices is None) == (detail.high > detail.low)


# Evidence that figures and history give; the functions that give it are named in the test.
BY_FIGURES = {
    *(a.symbol for a in ANALYTES if "evidence" in a.roles),
    *("copper_alone", "dust_ratio", "sealant_ratio", "coolant_marks", "flux_ratio", "fuel"),
    *("thin", "thick", "water", "glycol", "acid", "oxidation", "soot", "large_iron", "other_oil"),
    *(
        "B",
        "Mg",
        "Zn",
        "PQ",
        "nitration",
        "biodiesel",
        "much_water",
        "copper_over_lead",
        "sea_ratio",
    ),
}
BY_HISTORY = {
    "again",
    "large_flakes",
    "new_engine",
    "sealing_work",
    "brand_changed",
    "late_drain",
    "short_runs",
    "many_starts",
    "stood",
    "coolant_added",
    "plain_coolant",
    "at_sea",
    "oil_use",
    "just_worked_on",
}


def produced() -> set[str]:
    """Every piece of evidence that something a person enters or a laboratory reports can be."""
    out = {r["clears"] for r in tables.read("field_checks")}
    out |= {f.evidence for f in fact_kinds().values()}
    return (out | BY_FIGURES | BY_HISTORY) - {""}


def test_every_row_of_evidence_can_be_produced_and_nothing_else_is() -> None:
    assert produced() == set(evidence_table())


def test_every_result_that_says_something_is_evidence() -> None:
    """So that whatever a check finds, the list of causes moves."""
    silent = [
        (r["check"], r["result"])
        for r in tables.read("field_checks")
        if r["fact"] and fact_kinds()[r["fact"]].level > 0 and not fact_kinds()[r["fact"]].evidence
    ]
    assert not silent


def test_the_code_yields_the_evidence_of_figures_and_history_by_name() -> None:
    rooms = [SRC / "core" / room for room in ("diagnosis", "record")]
    text = "".join(f.read_text(encoding="utf-8") for room in rooms for f in room.glob("*.py"))
    symbols = {a.symbol for a in ANALYTES}
    named = BY_FIGURES | BY_HISTORY
    for code in named - symbols:
        assert f'"{code}"' in text, code


def test_every_mode_names_evidence_that_exists() -> None:
    for mode in failure_modes():
        assert set(mode.weights) <= set(evidence_table()), mode.code


def test_letters_of_the_comb_are_one_each() -> None:
    assert max(Counter(terms.CHANNEL_LETTERS.values()).values()) == 1
