"""A dry run: the schedule played some hundreds of times with random outcomes, its order kept, shifting to the right.

Each coat gets one draw: how quick or slow it is within its range, for all that hangs on it, so that a slow wash opens
late and closes late. Hands-on time is drawn as well. Whoever is at the bench comes when the schedule says, tests, and
waits if it is not ready. What comes out is how often each window is met, and when the plan is likely to end.
"""

from __future__ import annotations

import math
import random

from ..plan import Schedule
from ..vocabulary import Model, Word
from .agenda import Agenda, times_of
from .net import Ages, Link, Span, What
from .shift import Shifted, Shifter

RUNS = 300
HANDS_SPREAD = 0.12  # of hands-on time, as a log-normal; assumption: two of three times within 12 %
WIDE = 1.645  # the range, early to late, is taken as the middle 90 % of the model's own law
LOOK_MIN = 10  # drying is looked up on this grid and moved by the rest
PUSHED_MIN = 60


class Law(Word):
    """What outcomes are drawn from: the model's own log-normal, even over the range, mostly slow, or beyond it."""

    MODEL = "model"
    EVEN = "even"
    SLOW = "slow"
    BEYOND = "beyond"


class WindowChance(Model):
    """How often a step's window was met. `share` 0–1."""

    before: str
    after: str
    zones: list[str]
    what: What
    share: float


class DryRun(Model):
    """What some hundreds of plays gave. Finish in minutes since the build's start: one in ten, median, nine in ten."""

    runs: int
    law: Law
    planned_min: float
    early_min: float
    likely_min: float
    late_min: float
    on_time: float
    whole: float
    windows: list[WindowChance]
    weakest: str | None
    weakest_why: str


def draw(rng: random.Random, law: Law) -> float:
    """Where in its range an outcome lies: −1 hopeful, 0 the best guess, 1 careful; log-scale in between."""
    if law is Law.EVEN:
        return rng.uniform(-1, 1)
    if law is Law.SLOW:
        return rng.triangular(-1, 1, 0.8)
    if law is Law.BEYOND:
        return max(min(rng.gauss(0, 0.9), 2.5), -2.5)
    while abs(z := rng.gauss(0, 1)) > WIDE:
        pass
    return z / WIDE


def _between(hopeful: float, best: float, careful: float, x: float) -> float:
    """A figure at a place in its range, straight in its logarithm; an edge at 0 or without end stays what it is."""
    if x == 0 or best <= 0 or best == math.inf:
        return best
    other = careful if x > 0 else hopeful
    if other <= 0 or other == math.inf:
        return best + (other - best) * abs(x) if other < math.inf else best
    return float(best * (other / best) ** abs(x))


def spans_at(ages: Ages, x: float) -> tuple[Span, ...]:
    """The allowed ages of a coat that is as quick or slow as `x` says. A slow coat opens late and closes late."""
    if ages.plain or not len(ages.careful) == len(ages.best) == len(ages.hopeful):
        return ages.best
    spans = []
    for careful, best, hopeful in zip(ages.careful, ages.best, ages.hopeful, strict=True):
        opens = _between(hopeful[0], best[0], careful[0], x)
        closes = _between(hopeful[1], best[1], careful[1], -x)
        spans.append((opens, max(closes, opens)))
    return tuple(spans)


class _Play:
    """One bench and schedule, ready to be played."""

    def __init__(self, agenda: Agenda, schedule: Schedule) -> None:
        self.agenda = agenda
        times = times_of(agenda, schedule)
        self.planned = {
            t.id: times[t.id].start_min for t in agenda.net.tasks if t.id in times and t.id not in agenda.done
        }
        self.order = sorted(self.planned, key=lambda s: self.planned[s])
        self.done = {s: t.end_min for s, t in agenda.done.items()}
        self.finish = max((times[s].end_min for s in self.order), default=agenda.since)
        self.cleaning = self._cleaning(schedule)
        self.x: dict[str, float] = {}
        self._spans: dict[tuple[int, float], tuple[Span, ...]] = {}
        self.shifter = Shifter(agenda.net, agenda.stretches, self.instants, sprays=agenda.sprays, rows=agenda.rows)

    def _cleaning(self, schedule: Schedule) -> dict[str, float]:
        """Cleaning that follows a sprayed step."""
        sprayed = [s for s in self.order if self.agenda.net.task(s).mix is not None]
        cleaned: dict[str, float] = {}
        for c in schedule.cleanings:
            at = (c.starts_at - self.agenda.plan.build.starts_at).total_seconds() / 60
            before = [s for s in sprayed if self.planned[s] <= at]
            if before:
                cleaned[before[-1]] = cleaned.get(before[-1], 0.0) + c.length_min
        return cleaned

    def instants(self, link: Link, end_min: float) -> list[tuple[float, float]]:
        x = self.x.get(link.before, 0.0)
        key = (id(link), x)
        spans = self._spans.get(key)
        if spans is None:
            spans = self._spans[key] = spans_at(link.ages, x)
        if link.what is What.NIGHT:
            return self.agenda.ageing.instants(link, end_min, ())
        base = round(end_min / LOOK_MIN) * LOOK_MIN
        return [(a + end_min - base, b + end_min - base) for a, b in self.agenda.ageing.instants(link, base, spans)]

    def play(self, rng: random.Random, law: Law) -> Shifted:
        self._spans.clear()
        self.x = {t.id: round(draw(rng, law), 3) for t in self.agenda.net.tasks if t.coat}
        lengths = {s: self.agenda.net.task(s).minutes * math.exp(rng.gauss(0, HANDS_SPREAD)) for s in self.order}
        for sitting, steps in self._sittings().items():
            # Who sees that it will not fit hurries: work that is a little long does not lose a whole sitting.
            del sitting
            over = sum(lengths[s] for s in steps) / max(sum(self.agenda.net.task(s).minutes for s in steps), 1e-9)
            if over > 1:
                lengths |= {s: lengths[s] / over for s in steps}
        return self.shifter.in_order(
            self.order, not_before=self.planned, lengths=lengths, cleaning=self.cleaning, done=self.done,
            since=self.agenda.since,
        )  # fmt: skip

    def _sittings(self) -> dict[int, list[str]]:
        by_sitting: dict[int, list[str]] | None = self.__dict__.get("_by_sitting")
        if by_sitting is None:
            by_sitting = self.__dict__["_by_sitting"] = {}
            for s in self.order:
                at = next((i for i, (a, b) in enumerate(self.agenda.stretches) if a <= self.planned[s] < b), -1)
                by_sitting.setdefault(at, []).append(s)
        return by_sitting


def dry_run(
    agenda: Agenda, schedule: Schedule, *, runs: int = RUNS, law: Law = Law.MODEL, seed: int = 1
) -> DryRun:  # fmt: skip
    """Plays a schedule `runs` times. The same seed gives the same answer. Linear in runs and steps."""
    rng = random.Random(seed)
    play = _Play(agenda, schedule)
    closing = [k for k in agenda.net.links if any(b < math.inf for _, b in k.ages.careful) and k.after in play.planned]
    met = dict.fromkeys(range(len(closing)), 0)
    place = {id(k): i for i, k in enumerate(closing)}
    finishes: list[float] = []
    whole = 0
    pushed: dict[str, int] = {}
    for _ in range(runs):
        out = play.play(rng, law)
        missed = {place[id(m.link)] for m in out.missed if id(m.link) in place}
        for i in met:
            met[i] += i not in missed
        whole += not missed and not out.unplaced
        finishes.append(max((out.ends[s] for s in play.order if s in out.ends), default=agenda.since))
        first = _first_pushed(play, out)
        if first is not None:
            pushed[first] = pushed.get(first, 0) + 1
    finishes.sort()
    windows = [
        WindowChance(before=k.before, after=k.after, zones=list(k.zones), what=k.what, share=met[i] / runs)
        for i, k in enumerate(closing)
    ]
    weakest, why = _weakest(agenda, windows, pushed, runs)
    return DryRun(
        runs=runs, law=law, planned_min=play.finish, early_min=finishes[int(0.1 * (runs - 1))],
        likely_min=finishes[runs // 2], late_min=finishes[math.ceil(0.9 * (runs - 1))],
        on_time=sum(f <= play.finish + PUSHED_MIN for f in finishes) / runs, whole=whole / runs,
        windows=sorted(windows, key=lambda w: w.share), weakest=weakest, weakest_why=why,
    )  # fmt: skip


def _first_pushed(play: _Play, out: Shifted) -> str | None:
    """The first step that had to go to a later sitting."""
    for s in play.order:
        if s not in out.starts:
            return s
        if out.starts[s] > play.planned[s] + PUSHED_MIN and not _same_sitting(play, out.starts[s], play.planned[s]):
            return s
    return None


def _same_sitting(play: _Play, one: float, other: float) -> bool:
    return any(a <= one < b and a <= other < b for a, b in play.agenda.stretches)


def _weakest(
    agenda: Agenda, windows: list[WindowChance], pushed: dict[str, int], runs: int
) -> tuple[str | None, str]:  # fmt: skip
    lost = [w for w in windows if w.share < 1]
    worst = min(lost, key=lambda w: w.share) if lost else None
    slow = max(pushed, key=lambda s: pushed[s]) if pushed else None
    if worst is not None and (slow is None or (1 - worst.share) * runs >= pushed[slow]):
        name = agenda.net.task(worst.after).name
        return worst.after, f"“{name}” misses its window in {1 - worst.share:.0%} of the runs."
    if slow is not None:
        name = agenda.net.task(slow).name
        return slow, f"“{name}” had to wait for another sitting in {pushed[slow] / runs:.0%} of the runs."
    return None, "Nothing was missed and nothing had to move."
