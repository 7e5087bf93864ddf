"""What really happened to an invented engine: the same words for every generator."""

from dataclasses import dataclass

PLAIN = "healthy"
SHOWS = 3.0  # sd from which a sample shows a fault; docs/judgement.md


@dataclass(frozen=True, slots=True, kw_only=True)
class Truth:
    """One engine as its generator made it.

    kind : the fault or the look-alike, `PLAIN` for a plain engine · growth : how it grows ·
        sampling : how often it is looked at
    channels : those a fault may rightly be named in, empty for a healthy engine
    onset, failure : meter · shows : samples before the failure in which one of its figures stands
        3 sd of habit and test together out of what the engine would show without it
    """

    kind: str
    engine_class: str
    growth: str
    sampling: str
    channels: tuple[str, ...]
    onset: float
    failure: float
    shows: int

    @property
    def faulty(self) -> bool:
        return bool(self.channels)

    @property
    def plain(self) -> bool:
        """Healthy, or healthy until its fault begins, with nothing that looks like a fault."""
        return self.faulty or self.kind == PLAIN

    @property
    def visible(self) -> bool:
        return self.shows > 0
