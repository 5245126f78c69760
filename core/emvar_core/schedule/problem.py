"""A schedule as a problem in whole units of time: jobs, lags, bench time, hands, airbrushes. No chemistry in here.

General enough for the published project-scheduling instances that it is checked against: lags with a least and a most,
renewable resources, and, for benches, time that is only there in stretches.
"""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from dataclasses import dataclass, field

from ..vocabulary import Goal

Stretch = tuple[int, int]
# A search may take so many times the seconds it is given: on a busy machine what it finds is the same.
PATIENCE = float(os.environ.get("EMVAR_PATIENCE", "1"))


def clock() -> float:
    """The seconds that a search goes by."""
    return time.monotonic() / PATIENCE


@dataclass(frozen=True)
class Paint:
    """What a job has in the airbrush. The same key needs no cleaning between; `light` is 0–1."""

    key: int
    system: str
    light: float


LIGHTER = 0.1  # of 0 to 1, from which a paint is lighter than one before it


def between(before: Paint, after: Paint, clean: tuple[int, int, int]) -> int:
    """Cleaning between two paints in one airbrush: of like to like, dark to light, and another system."""
    if before.key == after.key:
        return 0
    if before.system != after.system:
        return clean[2]
    return clean[1] if after.light > before.light + LIGHTER else clean[0]


@dataclass(frozen=True)
class Job:
    """One piece of work. It starts inside `release` and `deadline` (for its end), in one stretch of bench time.

    `bench` False: it may run at any time. `hands` False: it takes nobody's. `needs`: units of each resource while it
    runs. `places`: drying places that it takes from its start until `dries` after its end. `within`: stretches of which
    one has to hold it whole; None: no matter. `fine`: fine work, how long before its first rest and after its last one;
    where no rest lies in it, both are its length.
    """

    id: str
    length: int
    stretch: bool = True
    hands: bool = True
    paint: Paint | None = None
    release: int = 0
    deadline: int | None = None
    needs: tuple[tuple[str, int], ...] = ()
    places: int = 0
    dries: int = 0
    within: tuple[Stretch, ...] | None = None
    fine: tuple[int, int] | None = None


@dataclass(frozen=True)
class Option:
    """One allowed stretch: `after` starts at least `least` after `before` ends, and starts at most `most` after.

    One value for each cell in which `before` may end, or a single one for all.
    """

    least: tuple[int, ...]
    most: tuple[int, ...] | None = None


@dataclass(frozen=True)
class Lag:
    """Two jobs, by index, and the allowed stretches between them: one must hold.

    `marks`: pairs, in order; where `before` ends at or before the first of a pair, `after` starts at or after its
    second. The first pair that fits counts.
    """

    before: int
    after: int
    options: tuple[Option, ...]
    name: str = ""
    marks: tuple[tuple[int, int], ...] = ()

    def mark(self, end: int) -> int:
        """Before which mark `after` may not start, for an end of `before`."""
        return next((mark for last, mark in self.marks if end <= last), self.marks[-1][1] if self.marks else 0)


@dataclass(frozen=True)
class Cell:
    """A part of a bench stretch in which waits are taken to be alike: an end falls in (start, end]."""

    start: int
    end: int
    stretch: int


@dataclass(frozen=True)
class Problem:
    """Everything in whole units from 0 to `horizon`. `clean`: like to like, dark to light, other or end of sitting.

    `fine_most`: how long fine work may go on until there is a gap of `rest` in it; None: no limit.
    """

    jobs: tuple[Job, ...]
    lags: tuple[Lag, ...]
    horizon: int
    stretches: tuple[Stretch, ...] = ()
    cells: tuple[Cell, ...] = ()
    hands: bool = True
    guns: int = 1
    clean: tuple[int, int, int] = (0, 0, 0)
    resources: dict[str, int] = field(default_factory=dict)
    places: int | None = None
    goals: tuple[Goal, ...] = (Goal.FINISH,)
    slack_cap: int = 120
    fine_most: int | None = None
    rest: int = 0
    order: tuple[tuple[int, int], ...] = ()  # jobs that are alike: the first of each pair starts first

    def cleaning(self, before: Paint, after: Paint) -> int:
        """Cleaning between two paints in one airbrush, in one sitting."""
        return between(before, after, self.clean)

    def cell_of(self, end: int) -> int:
        """The cell that an end falls in; -1 where there is none."""
        return next((i for i, c in enumerate(self.cells) if c.start < end <= c.end), -1)

    def value(self, values: tuple[int, ...], end: int) -> int:
        """The value of a lag for an end of its `before`."""
        return values[0] if len(values) == 1 else values[self.cell_of(end)]


@dataclass(frozen=True)
class Cleaned:
    """Cleaning of an airbrush after a run of one paint."""

    gun: int
    start: int
    length: int
    after: int  # the paint's key


@dataclass(frozen=True)
class Reached:
    """How well one goal was met. `gap`: distance to the solver's bound, as a share of the value."""

    goal: str
    value: int
    bound: int
    proven: bool

    @property
    def gap(self) -> float:
        return 0.0 if self.proven else abs(self.value - self.bound) / max(abs(self.value), 1)


@dataclass(frozen=True)
class Solution:
    """Starts of all jobs in order, cleanings, and how good it is. `over`: by how much lags are broken, by lag index."""

    starts: tuple[int, ...]
    cleanings: tuple[Cleaned, ...]
    reached: tuple[Reached, ...]
    over: tuple[tuple[int, int], ...] = ()

    @property
    def proven(self) -> bool:
        return all(r.proven for r in self.reached)


@dataclass(frozen=True)
class Progress:
    """What is known while the search runs."""

    goal: str
    value: int | None
    bound: int | None
    seconds: float
    solution: Solution | None


Tell = Callable[[Progress], None]


class Unsolvable(Exception):
    """There is no schedule within the horizon. `known`: proven, or only not found in the time."""

    def __init__(self, known: bool) -> None:
        self.known = known
        super().__init__("no schedule" if known else "no schedule was found in the time")
