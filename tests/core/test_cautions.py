"""Every caution of the trade (the-trade 5) stands at a step where the work is: in a check, an
action or a way of sampling. The list is walked item by item."""

import pytest

from keen_tracer.core import tables
from keen_tracer.core.record import check_kinds, field_checks
from keen_tracer.core.words import action_kinds

# what can hurt → (where it has to stand, words of its caution)
AT = {
    "hot oil and parts": ("open_filter", "hot oil"),
    "belts and fan": ("listen", "belts and fan"),
    "used oil on skin": ("look", "off the skin"),
    "spills": ("level", "wipe up spills"),
    "cardboard under the drain": ("layers", "cardboard under the drain"),
    "disposal": ("sample_and_change", "by local rules"),
    "coolant poisons": ("cooling", "poisons people and animals"),
    "rated stands": ("bearing_cap", "rated stands"),
    "never on a jack": ("pan", "never on a jack"),
    "battery": ("borescope", "battery off"),
    "acid and gas": ("borescope", "acid and gas"),
    "rated pressure": ("cooler", "rated pressure"),
    "lifting gear": ("inspect_before_start", "lifting gear rated and anchored"),
    "drain plug": ("layers", "overtighten"),
    "hot plate": ("crackle", "goggles"),
    "fuel on the hot plate": ("crackle", "never with over 2 % fuel"),
    "flash point": ("smell", "flash point"),
    "radiator cap": ("cooling", "never open a hot radiator cap"),
    "crankcase doors": ("bearing_cap", "20 min"),
    "a stopped large engine": ("do_not_run", "20 min"),
    "fuel spray": ("leak_off", "penetrates skin"),
    "burnt fluoro-rubber": ("bearing_cap", "fluoro-rubber"),
    "air into the crankcase": ("leak_down", "0.3 bar at most"),
    "smoke into the intake": ("intake", "0.3 bar at most"),
    "a saw": ("open_filter", "a saw adds its own chips"),
    "liquid in a cylinder": ("compression", "never crank with coolant"),
    "starting on coolant": ("layers", "not to be started"),
    "an overfull diesel": ("find_fuel", "run away"),
    "licensed people": ("inspect_before_start", "the licensed person decides"),
    "an injection injury": ("leak_off", "hospital at once"),
    "an injection injury, looking for fuel": ("find_fuel", "hospital at once"),
    "how a runaway diesel is stopped": ("find_fuel", "shut its air"),
    "a diesel over full": ("level", "shut its air"),
    "compressed air at a person": ("leak_down", "never blow compressed air at a person"),
    "compressed air in the cooler": ("cooler", "never blow compressed air at a person"),
    "alone under a machine": ("pan", "never alone under a machine"),
    "alone under a machine, at a cap": ("bearing_cap", "never alone under a machine"),
    "splitting a machine": ("inspect_before_start", "never split a machine alone"),
    "petrol vapour at a spark": ("compression", "petrol vapour"),
    "petrol vapour at the nose": ("smell", "petrol vapour"),
    "the maker's manual": ("bearing_cap", "maker's manual"),
}


@pytest.mark.parametrize("item", AT)
def test_what_can_hurt_is_said_where_it_can(item: str) -> None:
    where, words = AT[item]
    kinds = {**check_kinds(), **action_kinds()}
    assert words in kinds[where].caution.lower()


def test_every_check_and_action_that_turns_the_engine_has_a_caution_of_its_own() -> None:
    for kind in (*check_kinds().values(), *action_kinds().values()):
        assert kind.caution, kind.code
        if kind.state == "running":
            assert "engine runs" in kind.caution or "clear of" in kind.caution, kind.code
    assert set(field_checks()) <= set(check_kinds())


def test_no_engine_runs_in_a_closed_room_unsaid() -> None:
    running = [k for k in check_kinds().values() if k.state == "running"]
    assert len(running) >= 6
    assert [k.check for k in running if "exhaust" not in k.caution.lower()] == []


@pytest.mark.parametrize("words", ["Belts and fan", "glasses", "chocks", "exhaust"])
def test_a_running_engine_is_said_at_the_sampling_valve(words: str) -> None:
    said = [r["text"] for r in tables.read("sampling_methods") if r["method"] == "valve"]
    assert any(words in text for text in said)
