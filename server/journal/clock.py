"""What time it is at the bench. A simulated clock runs an evening in a minute, for tests and for the demo.

`EMVAR_PACE`: how many times faster than the wall; `EMVAR_NOW`: the instant at which it starts, the wall's if not given.
"""

from __future__ import annotations

import os
import time
from datetime import UTC, datetime, timedelta

MOST_PACE = 100_000.0


class BenchClock:
    """A clock that can run faster than the wall, and be set. Only tests and the demo do so."""

    def __init__(self, pace: float = 1.0, starts: datetime | None = None) -> None:
        self.pace, self.simulated = pace, pace != 1.0 or starts is not None
        self._starts, self._began = starts or datetime.now(UTC), time.monotonic()

    def now(self) -> datetime:
        if not self.simulated:
            return datetime.now(UTC)
        return self._starts + timedelta(seconds=(time.monotonic() - self._began) * self.pace)

    def set(self, at: datetime | None = None, pace: float | None = None) -> None:
        """Puts it at an instant, or to another pace, from now on. Without either it goes by the wall again."""
        self._starts, self._began = at or self.now(), time.monotonic()
        self.pace = pace if pace is not None else self.pace if at is not None else 1.0
        self.simulated = at is not None or pace is not None


def _from_environment() -> BenchClock:
    pace = min(max(float(os.environ.get("EMVAR_PACE") or 1.0), 0.0), MOST_PACE)
    starts = os.environ.get("EMVAR_NOW")
    return BenchClock(pace, datetime.fromisoformat(starts) if starts else None)


CLOCK = _from_environment()
