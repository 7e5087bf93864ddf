"""A sample as it is in a grid, and a cell that could not be read."""

import re
from dataclasses import dataclass, field

from .values import apart

_IN_FIGURES = re.compile(r"^[<>]?\s*-?\d[\d.]*$")


@dataclass(slots=True)
class Told:
    """One sample as it is in a grid: its row (from 1), facts by target, figures as (column, text,
    unit)."""

    row: int
    facts: dict[str, str] = field(default_factory=dict)
    figures: list[tuple[str, str, str]] = field(default_factory=list)
    no_sample: str = ""  # what its row says that makes it no sample of an oil in use
    fresh: bool = False  # it is of fresh oil, no engine's

    @property
    def measured(self) -> bool:
        """Whether it has a figure in figures."""
        if any(_IN_FIGURES.match(f) for _, f, _ in self.figures):
            return True
        return bool(_IN_FIGURES.match(apart(self.facts.get("reading", ""))[0]))


@dataclass(frozen=True, slots=True)
class Unread:
    """A cell that could not be read: where it is, what is wrong, and what to do."""

    row: int
    heading: str
    what: str
    fix: str
