"""The one memory of the core: what was worked out before, by content. It can be emptied, and it cannot lie.

A door stands where one stage of the work hands over to the next; each has its own store here. What a door remembers is
found by a key that holds everything the result depends on, so nothing is ever made stale: what changed has another key.
Keys that are long are stood for by small integers (`intern`), so that comparing them costs little.

Reading takes no lock; writing and emptying do. Everything that is put in is immutable and could be worked out again, so
several threads may work out the same thing at once and either answer is right.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Callable, Hashable
from itertools import count
from typing import Any, TypeVar

MOST_INTERNED = 400_000
T = TypeVar("T")


class Memory:
    """All stores of the core, and the integers that stand for keys."""

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self._doors: list[Door] = []
        self._interned: dict[Hashable, int] = {}
        self._next = count()  # never used again, so that a key made before a clearing means nothing else after it

    def door(self, name: str, most: int) -> Door:
        """A store of at most so many results; the oldest go first."""
        with self._lock:
            made = Door(name, most, self._lock)
            self._doors.append(made)
            return made

    def intern(self, key: Hashable) -> int:
        """A small integer that stands for a key."""
        known = self._interned.get(key)
        if known is not None:
            return known
        with self._lock:
            if len(self._interned) >= MOST_INTERNED:
                self.forget()
            return self._interned.setdefault(key, next(self._next))

    def forget(self) -> None:
        """Empties every store: what is asked next is worked out from nothing."""
        with self._lock:
            for each in self._doors:
                each.clear()
            self._interned = {}

    def sizes(self) -> dict[str, int]:
        """How many results each door holds."""
        with self._lock:
            return {d.name: len(d) for d in self._doors}


class Door:
    """One store: results by key, or by an object that never changes."""

    def __init__(self, name: str, most: int, lock: Any) -> None:
        self.name = name
        self._kept: OrderedDict[Any, Any] = OrderedDict()
        self._most, self._lock = most, lock

    def __len__(self) -> int:
        return len(self._kept)

    def get(self, key: Hashable) -> Any:
        return self._kept.get(key)

    def put(self, key: Hashable, value: T) -> T:
        with self._lock:
            if len(self._kept) >= self._most and key not in self._kept:
                self._kept.popitem(last=False)
            self._kept[key] = value
        return value

    def once(self, key: Hashable, work: Callable[[], T]) -> T:
        """The result for a key, worked out where it is not known. `work` never gives None."""
        known: T | None = self._kept.get(key)
        return known if known is not None else self.put(key, work())

    def of(self, thing: Any, work: Callable[[], T], *more: Hashable) -> T:
        """The result for an object that never changes (held along with it, so that its identity stays its own)."""
        key = (id(thing), *more)
        kept = self._kept.get(key)
        if kept is not None and kept[0] is thing:
            result: T = kept[1]
            return result
        result = work()
        self.put(key, (thing, result))
        return result

    def knows(self, thing: Any, *more: Hashable) -> bool:
        """Whether a result for this very object is kept."""
        kept = self._kept.get((id(thing), *more))
        return kept is not None and kept[0] is thing

    def clear(self) -> None:
        with self._lock:
            self._kept = OrderedDict()


MEMORY = Memory()
intern = MEMORY.intern
forget = MEMORY.forget
