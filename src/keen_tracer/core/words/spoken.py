"""The register of sentences: every kind of finding finds its words here, or a test fails."""

from collections.abc import Callable
from typing import TypeVar

from ..findings import REGISTRY, Finding, payloads
from .amounts import Units

P = TypeVar("P", bound=payloads.Payload)
Words = Callable[[Finding, P], str]
WordsWithAmounts = Callable[[Finding, P, Units], str]
# Of each code: the words of a finding, with amounts in some units.
SENTENCES: dict[str, Callable[[Finding, Units], str]] = {}


def says_amounts(
    payload: type[P], *codes: str
) -> Callable[[WordsWithAmounts[P]], WordsWithAmounts[P]]:
    """A decorator: the function writes the sentence of these kinds of findings, which all carry
    `payload`. It is given the units that the person reads."""
    for code in codes:
        if REGISTRY[code].payload is not payload or code in SENTENCES:
            raise TypeError(
                f"{code!r} carries {REGISTRY[code].payload.__name__}, or has words already"
            )

    def register(does: WordsWithAmounts[P]) -> WordsWithAmounts[P]:
        def spoken(finding: Finding, units: Units) -> str:
            assert isinstance(finding.numbers, payload)
            return does(finding, finding.numbers, units)

        SENTENCES.update(dict.fromkeys(codes, spoken))
        return does

    return register


def says(payload: type[P], *codes: str) -> Callable[[Words[P]], Words[P]]:
    """A decorator like `says_amounts`, for sentences that name no amount of a liquid."""

    def register(does: Words[P]) -> Words[P]:
        says_amounts(payload, *codes)(lambda finding, numbers, _: does(finding, numbers))
        return does

    return register


def always(text: str, code: str) -> None:
    """The words of a finding that needs no figures."""
    SENTENCES[code] = lambda _, __: text
