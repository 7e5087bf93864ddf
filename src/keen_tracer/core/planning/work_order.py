"""What comes before what in work on an engine: an order that no plan may turn round.

Common practice: what may be sound is looked at and measured first, what is to be machined is
machined before what is fitted to it is chosen, everything is clean before it goes together, and it
is flushed when it is together.
"""

import re
from collections.abc import Hashable, Mapping, Sequence

from ..terms import WORK_STAGES

FLUSHED = 5
_FLUSH = re.compile(r"\bflush", re.IGNORECASE)


def stage(kind: str, words: str) -> int:
    """The place of a piece of work in the order, from 1; 0 where it has no place in it.

    >>> stage("machine", "crank, 0.25 under"), stage("renew", "rod shells")
    (2, 4)
    >>> stage("clean", "flush until the filter stays clean"), stage("leave", "liner")
    (5, 0)
    """
    return FLUSHED if _FLUSH.search(words) else WORK_STAGES.get(kind, 0)


def before(work: Mapping[str, tuple[Hashable, str, str]]) -> dict[str, tuple[str, ...]]:
    """Key → the keys of the work that has to be done before it: of one case, every earlier stage.

    work : key → (case, kind, words)

    >>> before({"shells": (1, "renew", ""), "crank": (1, "machine", ""), "hose": (2, "renew", "")})
    {'shells': ('crank',), 'crank': (), 'hose': ()}
    """
    at = {key: (case, stage(kind, words)) for key, (case, kind, words) in work.items()}
    return {
        key: tuple(k for k, (c, s) in at.items() if c == case and 0 < s < here)
        for key, (case, here) in at.items()
    }


def in_turn(after: Mapping[str, Sequence[str]]) -> list[str]:
    """Keys in an order in which each follows everything that has to be done before it.

    >>> in_turn({"c": ("b", "a"), "b": ("a",), "a": ()})
    ['a', 'b', 'c']
    """
    # Whatever comes before something has fewer before itself: stages make it so.
    return sorted(after, key=lambda k: len(after[k]))
