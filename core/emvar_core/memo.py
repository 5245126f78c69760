"""Results remembered by content, and keys interned as small integers so that comparing them costs little."""

from __future__ import annotations

from collections import OrderedDict
from itertools import count
from typing import Any

MOST_INTERNED = 400_000
_INTERNED: dict[Any, int] = {}
_NEXT = count()  # never used again, so that a key made before a clearing means nothing else after it
_ALL: list[Memo] = []


class Memo:
    """A bounded store of results by content; the oldest go first."""

    def __init__(self, most: int) -> None:
        self._held: OrderedDict[Any, Any] = OrderedDict()
        self._most = most
        _ALL.append(self)

    def get(self, key: Any) -> Any:
        return self._held.get(key)

    def put(self, key: Any, value: Any) -> None:
        self._held[key] = value
        if len(self._held) > self._most:
            self._held.popitem(last=False)

    def clear(self) -> None:
        self._held.clear()


def forget() -> None:
    """Empties the memory; the benchmark uses it for cold starts."""
    for memo in _ALL:
        memo.clear()
    _INTERNED.clear()


def intern(key: Any) -> int:
    """A small integer that stands for a key."""
    found = _INTERNED.get(key)
    if found is None:
        if len(_INTERNED) >= MOST_INTERNED:
            forget()
        found = _INTERNED[key] = next(_NEXT)
    return found
