"""The register of sentences: every kind of finding finds its words here, or a test fails."""

from collections.abc import Callable
from typing import TypeVar

from ..findings import REGISTRY, Finding, payloads

P = TypeVar("P", bound=payloads.Payload)
SENTENCES: dict[str, Callable[[Finding], str]] = {}


def says(
    payload: type[P], *codes: str
) -> Callable[[Callable[[Finding, P], str]], Callable[[Finding, P], str]]:
    """Marks a function as the words of some kinds of findings, all of which carry `payload`."""
    for code in codes:
        if REGISTRY[code].payload is not payload or code in SENTENCES:
            raise TypeError(
                f"{code!r} carries {REGISTRY[code].payload.__name__}, or has words already"
            )

    def register(does: Callable[[Finding, P], str]) -> Callable[[Finding, P], str]:
        def spoken(finding: Finding) -> str:
            assert isinstance(finding.numbers, payload)
            return does(finding, finding.numbers)

        SENTENCES.update(dict.fromkeys(codes, spoken))
        return does

    return register


def always(text: str, code: str) -> None:
    """The words of a finding that needs no figures."""
    SENTENCES[code] = lambda _: text
