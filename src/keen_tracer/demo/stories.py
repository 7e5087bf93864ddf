"""What happens at Skarrow Fell: each storyline changes the simulated engine, never the
judgement."""

from datetime import date
from typing import TYPE_CHECKING

from .resort import OILS, Machine
from .simulator import Twist

if TYPE_CHECKING:
    from .simulator import EngineYears, State


def _ramp(days_left: int, begins: int, full: int = 0) -> float:
    """0 before `begins` days to the end, rising to 1 at `full`."""
    return min(max((begins - days_left) / max(begins - full, 1), 0.0), 1.0)


class Stories:
    """Storylines by name; `twist` each working day, `day` for things that happen once."""

    def twist(self, machine: Machine, on: date, state: "State", end: date) -> Twist:
        left, out = (end - on).days, Twist()
        for story in machine.stories:
            match story:
                case "rod_bearing":
                    x = _ramp(left, 230, 5)
                    out.factor = {
                        "Pb": 1 + 7 * x,
                        "Sn": 1 + 5 * x,
                        "Cu": 1 + 7 * max(x - 0.25, 0),
                        "Fe": 1 + 0.6 * x,
                    }
                case "cooler_leak":
                    x = _ramp(left, 45, 10)
                    out.extra = {"Na": 150 * x, "K": 130 * x, "Cu": 12 * x}
                case "cold_running" if on.month in (10, 11, 12, 1, 2):
                    out.fuel = 10.5 if left < 70 else 4.0
                case "cracked_hose":
                    x = _ramp(left, 120, 45)
                    out.extra = {"Si": 34 * x, "Al": 9 * x, "Fe": 30 * x, "Cr": 5 * x}
                case "run_in":
                    x = 2.718 ** (-(state.dial) / 70)
                    out.extra = {"Fe": 260 * x, "Cu": 95 * x, "Si": 62 * x, "Al": 30 * x}
                case "rebuilt_with_sealant" if 0 < (left_of_rebuild := 360 - left) < 330:
                    out.extra = {"Si": 75 * 2.718 ** (-left_of_rebuild / 90), "Cu": 8.0, "Fe": 14.0}
                case "condensation" if on.month in (10, 11, 12, 1, 2, 3):
                    out.water = 0.045 if left < 60 else 0.012
                case "collapsed_filter" if 395 < left < 440:
                    out.extra = {"Fe": 55.0, "Al": 8.0}
                case "chain_guide":
                    out.factor = {"Fe": 1.2}
        return out

    def forgets_change(self, machine: Machine, on: date, end: date) -> bool:
        """An oil change that nobody wrote down."""
        return "unrecorded_change" in machine.stories and 300 < (end - on).days < 400

    def day(self, engine: "EngineYears", on: date) -> None:  # noqa: C901  a list of days, read down
        left, code = (engine.end - on).days, engine.s.machine.code
        match code, left:
            case "G-07", 2:
                engine.event(
                    on,
                    "symptom",
                    part="bearing_flakes",
                    note="copper-coloured flakes in the filter, about forty, no noise yet",
                )
            case "L-11", 5:
                engine.sample(on)
            case "S-04", 8:
                engine.sample(on)
            case "P-03", 20 | 7:
                engine.sample(on, "resample" if left == 7 else "routine")
            case "X-01", 6:
                engine.sample(on)
            case "G-09", 32 | 16 | 8:
                engine.sample(on)
            case "G-01", 9:
                engine.top_up(on, 3.0, OILS["Marrowby LT"])
            case "G-04", 360:
                engine.event(on, "rebuild", part="engine", note="top end and bearings, new gaskets")
                engine.s.metal[:] *= 0.2
                engine.fill(on)
            case "W-01", 395:
                engine.event(
                    on, "symptom", part="filter_collapsed", note="element folded in, spring missing"
                )
                engine.sample(on, drained=True)
            case "W-01", 393:
                engine.event(
                    on,
                    "repair",
                    part="oil filter",
                    note="filter head and element renewed, pan looked at",
                )
                engine.fill(on)
            case "P-05", 300:
                engine.event(
                    on, "symptom", part="chunks", note="one bright fragment, 4 mm, on the strainer"
                )
            case "P-05", 296:
                engine.event(
                    on,
                    "repair",
                    part="strainer",
                    note="pan off, nothing found that it could be from",
                )
            case "U-05", 118:
                engine.event(
                    on, "symptom", part="noise", note="rattle for two seconds after a cold start"
                )
            case "G-03", 390:
                engine.event(
                    on, "repair", part="additive", note="additive trial begins, 0.5 L with the fill"
                )
            case _:
                pass
