"""What takes long to work out, kept while what it rests on stays."""

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

Found = TypeVar("Found")


class Kept(Generic[Found]):
    """The `most` things asked for last, each with the mark of what it rests on.

    >>> kept = Kept[str](2)
    >>> kept.get("G-01", "monday", lambda: "made"), kept.get("G-01", "monday", lambda: "again")
    ('made', 'made')
    >>> kept.get("G-01", "tuesday", lambda: "again")
    'again'
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._held: OrderedDict[Hashable, tuple[Hashable, Found]] = OrderedDict()
        self._lock = Lock()

    def find(self, key: Hashable, mark: Hashable) -> Found | None:
        """What is kept under the key, where it rests on this mark."""
        with self._lock:
            held = self._held.get(key)
            if held is None or held[0] != mark:
                return None
            self._held.move_to_end(key)
            return held[1]

    def keep(self, key: Hashable, mark: Hashable, found: Found) -> None:
        """A mark of None keeps nothing."""
        if mark is None:
            return
        with self._lock:
            self._held[key] = (mark, found)
            while len(self._held) > self._most:
                self._held.popitem(last=False)

    def get(self, key: Hashable, mark: Hashable, make: Callable[[], Found]) -> Found:
        """What is kept, or what `make` gives now.

        The mark is asked for before the rows are read: what is written meanwhile then makes this
        one old at the next look.
        """
        held = self.find(key, mark)
        if held is not None:
            return held
        found = make()
        self.keep(key, mark, found)
        return found
