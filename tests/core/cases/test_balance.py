"""The balance: people's own evidence beside the program's, nothing lost from the list."""

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from keen_tracer.core.cases import (
    NONE,
    Aside,
    Own,
    Said,
    balance,
    check_said,
    check_weight,
)
from keen_tracer.core.causes import NONE_OF_THESE, failure_modes, ranking
from keen_tracer.core.errors import NotPossible, UnknownName
from keen_tracer.core.record import Engine
from keen_tracer.core.terms import WEIGHS

ENGINE = Engine("E", "heavy_diesel")
COOLANT = ranking(ENGINE, "leaded", {"Na": True, "K": True, "coolant_marks": True, "Pb": False})
FOR, AGAINST = max(WEIGHS), min(WEIGHS)
codes = st.sampled_from([m.code for m in COOLANT.weights.modes if m.code != "sampling_fault"])
said = st.lists(
    st.builds(
        Said, st.uuids().map(str), codes, st.just("seen"), st.sampled_from([*WEIGHS]), st.just("M")
    ),
    max_size=6,
)
asides = st.lists(
    st.builds(Aside, st.uuids().map(str), codes, st.just("pressed, tight"), st.just("M")),
    max_size=4,
    unique_by=lambda a: a.hypothesis,
)


def row(found, code: str):
    return next(r for r in found.rows if r.code == code)


def test_a_piece_of_ones_own_is_added_and_keeps_its_name() -> None:
    before = row(balance(COOLANT), "head_gasket")
    spoken = Said("e1", "head_gasket", "no bubbles", AGAINST, "Mira")
    after = row(balance(COOLANT, said=[spoken]), "head_gasket")
    assert after.score == pytest.approx(before.score + AGAINST, abs=0.01)
    assert after.against[0].origin == "Mira"
    assert after.against[0].key == "e1"
    assert all(p.origin == "" for p in after.for_)


def test_what_was_set_aside_stays_on_the_list_and_leads_no_more() -> None:
    lead = balance(COOLANT).rows[0].code
    found = balance(COOLANT, asides=[Aside("a1", lead, "pressed alone, tight", "Mira")])
    assert found.rows[0].code != lead
    assert found.rows[-1].code == lead
    assert found.rows[-1].aside is not None
    assert row(found, lead).score == row(balance(COOLANT), lead).score
    # It is not asked for again: no check is chosen to tell it from another.
    first, second = (r.code for r in found.rows[:2])
    for _, pull in found.checks:
        assert pull is None or lead not in (first, second)


def test_none_of_these_leads_where_everything_speaks_against_what_is_listed() -> None:
    found = balance(COOLANT)
    assert row(found, NONE).score == pytest.approx(NONE_OF_THESE)
    against = [
        Said(f"{r.code}{n}", r.code, "ruled out", AGAINST, "Mira")
        for r in found.rows
        if r.code != NONE
        for n in range(3)
    ]
    assert balance(COOLANT, said=against).rows[0].code == NONE


def test_an_explanation_of_ones_own_can_lead() -> None:
    own = Own("h1", "something fell in while the plugs were out", "Jon")
    weighty = [Said(f"e{n}", "h1", "the wing nut is missing", FOR, "Jon") for n in range(3)]
    found = balance(COOLANT, [own], weighty)
    assert found.rows[0].code == "h1"
    assert found.rows[0].own
    check_said("h1", [own])
    with pytest.raises(UnknownName):
        check_said("h2", [own])
    with pytest.raises(UnknownName):
        check_said("sampling_fault", [own])


def test_a_weight_is_one_of_those_offered() -> None:
    check_weight(FOR)
    for wrong in (None, 0.0, 99.0):
        with pytest.raises(NotPossible, match="how it speaks"):
            check_weight(wrong)


def test_a_check_says_how_far_it_pulls_the_first_two_apart() -> None:
    found = balance(COOLANT)
    first, second = (next(m for m in failure_modes() if m.code == r.code) for r in found.rows[:2])
    check, pull = found.checks[0]
    assert pull is not None
    assert pull.evidence in check.evidence
    none = (0.0, 0.0)
    a, b = first.weights.get(pull.evidence, none), second.weights.get(pull.evidence, none)
    assert pull.found == pytest.approx(a[0] - b[0])
    assert pull.absent == pytest.approx(a[1] - b[1])


@given(said, asides)
def test_nothing_is_lost_from_the_list(told: list[Said], away: list[Aside]) -> None:
    """Every explanation that leads, was spoken of or set aside stands once; "none of these" too."""
    found = balance(COOLANT, said=told, asides=away)
    listed = [r.code for r in found.rows]
    assert len(listed) == len(set(listed))
    assert {s.hypothesis for s in told} | {a.hypothesis for a in away} | {NONE} <= set(listed)
    assert {r.code for r in balance(COOLANT).rows} <= set(listed)
    free = [r for r in found.rows if r.aside is None]
    assert [r.score for r in free] == sorted((r.score for r in free), reverse=True)


@given(said, st.randoms())
def test_the_order_in_which_it_was_said_never_matters(told: list[Said], chance) -> None:
    shuffled = list(told)
    chance.shuffle(shuffled)
    one, other = balance(COOLANT, said=told), balance(COOLANT, said=shuffled)
    assert [(r.code, r.score) for r in one.rows] == [(r.code, r.score) for r in other.rows]


@given(st.dictionaries(st.sampled_from(["Na", "K", "Cu", "Fe", "water", "fuel"]), st.booleans()))
def test_what_a_check_tells_is_never_less_than_nothing(known: dict[str, bool]) -> None:
    ranked = ranking(ENGINE, "leaded", known)
    for check, _ in balance(ranked).checks:
        assert check.bits > 0
    assert replace(ranked, leads=0).checks() == []


@given(said, asides)
def test_what_is_not_known_yet_is_what_its_check_would_add(listed, away) -> None:
    found = balance(COOLANT, said=listed, asides=away)
    asked = {c.check: c.evidence for c, _ in found.checks}
    for r in found.rows:
        if r.unknown is None:
            continue
        u = r.unknown
        assert u.evidence in asked[u.check]
        # Neither answer to it is on the balance already.
        assert COOLANT.known.get(u.evidence) is None
        answered = dict(COOLANT.known) | {u.evidence: True}
        before = {x.code: x for x in balance(COOLANT).rows}.get(r.code)
        if before is not None and not r.own:
            after = ranking(ENGINE, "leaded", answered)
            mode = next(h for h in after.hypotheses() if h.mode.code == r.code)
            assert mode.score == pytest.approx(before.score + u.found, abs=0.02)
