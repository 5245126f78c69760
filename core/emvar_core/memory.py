"""The one memory of the core: what was worked out before, by content. It can be emptied, and it cannot lie.

A door stands where one stage of the work hands over to the next; each has its own store here. What a door remembers is
found by a key that holds everything the result depends on, so nothing is ever made stale: what changed has another key.
Keys that are long are stood for by small integers (`intern`), so that comparing them costs little.

It is bounded twice. A door keeps so many results, and no more than twice as many. And all doors together hold so much
that the process stays about as large as `limit_bytes`: each keeps a young and an old half; what is asked for moves to
the young one; when there is no more room the old halves go, and the young ones become old. So what was not asked for
goes first, and asking costs next to nothing. What was freed stays with the process and is used again; so it is counted
how many results there were when the limit was reached, and room is made before there are as many again.

Reading takes no lock; writing and emptying do. Everything that is put in is immutable and could be worked out again, so
several threads may work out the same thing at once and either answer is right.
"""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Hashable
from itertools import count
from typing import Any, TypeVar

MOST_INTERNED = 400_000
LIMIT_BYTES = 210_000_000  # of the whole process, from which on the old halves go
EVERY_PUTS = 1_000  # how often it is looked how large the process is
SHRINK, CREEP, AT_FIRST = 0.9, 1.01, 1.15
LEAST_RESULTS = 80_000  # that stay in any case, young and old: what the longest plan needs to be edited
T = TypeVar("T")


def resident_bytes() -> int:
    """How much memory the process has, bytes; 0 where the system does not tell it this way."""
    try:
        with open("/proc/self/statm", encoding="ascii") as facts:
            return int(facts.read().split()[1]) * os.sysconf("SC_PAGE_SIZE")
    except (OSError, ValueError, AttributeError):
        return 0


class Memory:
    """All stores of the core, and the integers that stand for keys.

    `measure`: how large the process is, in bytes; the server gives one that works on every system.
    """

    def __init__(self) -> None:
        self._lock = threading.RLock()
        self.doors: list[Door] = []
        self._young: dict[Hashable, int] = {}
        self._old: dict[Hashable, int] = {}
        self._next = count()  # never used again, so that a key made before a clearing means nothing else after it
        self._puts, self._most, self._high = 0, 0, 0  # results that there is room for; bytes that were reached
        self.limit_bytes = LIMIT_BYTES
        self.measure: Callable[[], int] = resident_bytes

    def door(self, name: str, most: int) -> Door:
        """A store in which so many results stay, and at most twice as many; what was not asked for goes first."""
        with self._lock:
            made = Door(name, most, self)
            self.doors.append(made)
            return made

    def intern(self, key: Hashable) -> int:
        """A small integer that stands for a key."""
        known = self._young.get(key)
        if known is not None:
            return known
        with self._lock:
            if len(self._young) >= MOST_INTERNED:
                self._old, self._young = self._young, {}
            known = self._old.get(key)
            return self._young.setdefault(key, next(self._next) if known is None else known)

    def forget(self) -> None:
        """Empties every store: what is asked next is worked out from nothing."""
        with self._lock:
            for each in self.doors:
                each.clear()
            self._young, self._old = {}, {}

    def sizes(self) -> dict[str, int]:
        """How many results each door holds."""
        with self._lock:
            return {d.name: len(d) for d in self.doors}

    def counted(self) -> None:
        """Looks now and then whether there is room; asked at each writing, with the lock held."""
        self._puts += 1
        if self._puts % EVERY_PUTS:
            return
        size = self.measure()
        if size > max(self._high, self.limit_bytes):
            results = sum(len(d) for d in self.doors)
            self._most = max(int(SHRINK * min(results, self._most or results)), LEAST_RESULTS)
            # The first time nothing goes yet: only what is asked for again can be known to be in use.
            self._high = int(max(size * CREEP, self.limit_bytes * AT_FIRST))
            self.make_room()
        elif self._most and 2 * sum(d.young for d in self.doors) > self._most:
            self.make_room()

    def make_room(self) -> None:
        """Lets go of what was not asked for since the last time."""
        with self._lock:
            for each in self.doors:
                each.grow_old()
            self._old, self._young = self._young, {}


class Door:
    """One store: results by key, or by an object that never changes."""

    def __init__(self, name: str, most: int, memory: Memory) -> None:
        self.name = name
        self._young: dict[Any, Any] = {}
        self._old: dict[Any, Any] = {}
        self._most, self._memory, self._lock = most, memory, memory._lock

    def __len__(self) -> int:
        return len(self._young) + len(self._old)

    def get(self, key: Hashable) -> Any:
        known = self._young.get(key)
        return known if known is not None else self._from_old(key)

    def _from_old(self, key: Hashable) -> Any:
        """What lies in the old half moves to the young one, so that it stays."""
        known = self._old.get(key)
        if known is not None:
            with self._lock:
                self._old.pop(key, None)
                self._put(key, known)
        return known

    def put(self, key: Hashable, value: T) -> T:
        with self._lock:
            self._put(key, value)
            self._memory.counted()
        return value

    def _put(self, key: Hashable, value: Any) -> None:
        if len(self._young) >= self._most and key not in self._young:
            self.grow_old()
        self._young[key] = value

    def once(self, key: Hashable, work: Callable[[], T]) -> T:
        """The result for a key, worked out where it is not known. `work` never gives None."""
        known: T | None = self._young.get(key)
        if known is None:
            known = self._from_old(key)
        return known if known is not None else self.put(key, work())

    def of(self, thing: Any, work: Callable[[], T], *more: Hashable) -> T:
        """The result for an object that never changes (held along with it, so that its identity stays its own)."""
        key = (id(thing), *more)
        kept = self._young.get(key)
        if kept is None:
            kept = self._from_old(key)
        if kept is not None and kept[0] is thing:
            result: T = kept[1]
            return result
        result = work()
        self.put(key, (thing, result))
        return result

    def knows(self, thing: Any, *more: Hashable) -> bool:
        """Whether a result for this very object is kept."""
        kept = self.get((id(thing), *more))
        return kept is not None and kept[0] is thing

    @property
    def young(self) -> int:
        """How many results were put in or asked for since the last time that room was made."""
        return len(self._young)

    def grow_old(self) -> None:
        """The old half goes, the young one becomes old."""
        self._old, self._young = self._young, {}

    def clear(self) -> None:
        with self._lock:
            self._young, self._old = {}, {}


MEMORY = Memory()
intern = MEMORY.intern
forget = MEMORY.forget
