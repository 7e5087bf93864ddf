"""Which schools of limits decide (the-trade 3.7), and how their levels become one. Every verdict
names its policy."""

from collections.abc import Mapping
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from ..errors import UnknownName
from ..record import Engine

DEFAULT = "expectation_and_fixed"
POLICIES = (DEFAULT, "fixed_only", "own_only", "peers_only", "worst_of_all", "two_of_three")
POLICY_WORDS = {
    DEFAULT: "worst of expectation and fixed limits",
    "fixed_only": "fixed limits only",
    "own_only": "own history only",
    "peers_only": "peers only",
    "worst_of_all": "worst of fixed, peers and own",
    "two_of_three": "two of fixed, peers and own agree",
}
AS_SHIPPED = 1.0  # factor on the thresholds of the expectation that ship with the program
CANNOT = -1  # level of a school that cannot speak


@dataclass(frozen=True)
class Policies:
    """What the user chose: engine code or class → policy. Nothing chosen: the default.

    strictness : factor on every threshold of the expectation, chosen by the rate of false alarms a
        site can live with
    """

    engines: Mapping[str, str] = field(default_factory=dict)
    classes: Mapping[str, str] = field(default_factory=dict)
    strictness: float = AS_SHIPPED

    def __post_init__(self) -> None:
        for chosen in (*self.engines.values(), *self.classes.values()):
            if chosen not in POLICIES:
                raise UnknownName("policy", chosen, list(POLICIES))

    def of(self, engine: Engine) -> str:
        """The policy that holds for an engine: its own, else its class's, else the default."""
        return self.engines.get(engine.code) or self.classes.get(engine.engine_class) or DEFAULT


NOTHING_CHOSEN = Policies()


def combine(
    policy: str, fixed: NDArray[np.int8], peers: NDArray[np.int8], own: NDArray[np.int8]
) -> NDArray[np.int8]:
    """The level of each reading by the three schools together; -1 where a school has none.

    Where the chosen school cannot speak the fixed limits do, at full level: no history is no reason
    for silence.

    >>> one = [np.array([level], dtype=np.int8) for level in (2, -1, 1)]
    >>> [int(combine(p, *one)[0]) for p in ("fixed_only", "own_only", "peers_only")]
    [2, 1, 2]
    >>> [int(combine(p, *one)[0]) for p in ("worst_of_all", "two_of_three")]
    [2, 1]
    """
    out = fixed
    if policy == "own_only":
        out = np.where(own != CANNOT, own, fixed)
    elif policy == "peers_only":
        out = np.where(peers != CANNOT, peers, fixed)
    elif policy == "worst_of_all":
        out = np.maximum(np.maximum(fixed, peers), own)
    elif policy == "two_of_three":
        three = np.sort(np.stack([fixed, peers, own]), axis=0)
        out = np.where(
            three[1] != CANNOT, three[1], three[2]
        )  # the second highest; a single voice counts alone
    return out
