"""A second opinion: whether a solution keeps every rule of its problem. It shares no line with the search."""

from __future__ import annotations

from .problem import Cleaned, Paint, Problem, Solution


def check(p: Problem, s: Solution) -> list[str]:
    """What is wrong with a solution, in words; empty where nothing is. Lags already listed as broken are left out."""
    wrong = [*_times(p, s), *_lags(p, s), *_hands(p, s), *_resources(p, s), *_places(p, s), *_airbrushes(p, s)]
    return wrong + _fine_work(p, s)


def _end(p: Problem, s: Solution, i: int) -> int:
    return s.starts[i] + p.jobs[i].length


def _times(p: Problem, s: Solution) -> list[str]:
    wrong, broken = [], {i - len(p.lags) for i, _ in s.over}
    for i, job in enumerate(p.jobs):
        start, end = s.starts[i], _end(p, s, i)
        if start < job.release:
            wrong.append(f"{job.id} starts before it may")
        if job.deadline is not None and end > job.deadline and i not in broken:
            wrong.append(f"{job.id} ends after it must")
        if job.stretch and p.stretches and not any(a <= start and end <= z for a, z in p.stretches):
            wrong.append(f"{job.id} is in no sitting, or straddles its end")
        if job.within is not None and not any(a <= start and end <= z for a, z in job.within):
            wrong.append(f"{job.id} lies outside the hours that are allowed for it")
    return wrong


def _lags(p: Problem, s: Solution) -> list[str]:
    wrong, broken = [], {i for i, _ in s.over}
    for i, lag in enumerate(p.lags):
        end, after = _end(p, s, lag.before), s.starts[lag.after]
        kept = False
        for option in lag.options:
            least = p.value(option.least, end)
            most = p.value(option.most, end) if option.most is not None else None
            kept = kept or (after - end >= least and (most is None or after - end <= most))
        if lag.marks and after < next((m for last, m in lag.marks if end <= last), after + 1):
            wrong.append(f"{p.jobs[lag.after].id} comes before its mark after {p.jobs[lag.before].id}")
        if not kept and i not in broken:
            wrong.append(f"{p.jobs[lag.after].id} comes too early or too late after {p.jobs[lag.before].id}")
    return wrong


def _fine_work(p: Problem, s: Solution) -> list[str]:
    """Whether fine work has its rests: from the end of a rest to the next one no more of it than may be."""
    if p.fine_most is None:
        return []
    work = sorted((s.starts[i], _end(p, s, i), job) for i, job in enumerate(p.jobs) if job.fine is not None)
    wrong, began, ended = [], -1, -1
    for start, end, job in work:
        assert job.fine is not None
        if ended < 0 or start - ended >= p.rest:
            began = start
        if start + job.fine[0] - began > p.fine_most:
            wrong.append(f"{job.id} comes without a rest before it")
        if job.fine[1] < end - start:
            began = end - job.fine[1]
        ended = end
    return wrong


def _apart(spans: list[tuple[int, int, str]]) -> list[str]:
    """Which of some stretches overlap with the one before."""
    spans = sorted(x for x in spans if x[1] > x[0])
    return [f"{b[2]} starts before {a[2]} is over" for a, b in zip(spans, spans[1:], strict=False) if b[0] < a[1]]


def _hands(p: Problem, s: Solution) -> list[str]:
    if not p.hands:
        return []
    work = [(s.starts[i], _end(p, s, i), job.id) for i, job in enumerate(p.jobs) if job.hands]
    return _apart([*work, *((c.start, c.start + c.length, "cleaning") for c in s.cleanings)])


def _peak(loads: list[tuple[int, int, int]]) -> int:
    events = sorted([(a, n) for a, z, n in loads if z > a] + [(z, -n) for a, z, n in loads if z > a])
    now = most = 0
    for _, n in events:  # at one instant what ends goes first: it sorts first
        now += n
        most = max(most, now)
    return most


def _resources(p: Problem, s: Solution) -> list[str]:
    wrong = []
    for name, capacity in p.resources.items():
        loads = [(s.starts[i], _end(p, s, i), dict(j.needs).get(name, 0)) for i, j in enumerate(p.jobs)]
        if _peak(loads) > capacity:
            wrong.append(f"more than {capacity} of {name} are needed at one time")
    return wrong


def _places(p: Problem, s: Solution) -> list[str]:
    if p.places is None:
        return []
    loads = [(s.starts[i], _end(p, s, i) + j.dries, j.places) for i, j in enumerate(p.jobs)]
    return [f"more than {p.places} parts dry at one time"] if _peak(loads) > p.places else []


def _airbrushes(p: Problem, s: Solution) -> list[str]:
    """Whether between two paints, and at the end of a sitting, an airbrush can have been cleaned as told."""
    wrong = []
    for a, z in p.stretches:
        here_sprayed = [
            (s.starts[i], _end(p, s, i), job.paint)
            for i, job in enumerate(p.jobs)
            if job.stretch and job.paint is not None and a <= s.starts[i] < z
        ]
        sprayed = sorted(here_sprayed, key=lambda x: x[0])
        if not sprayed:
            continue
        here = [c for c in s.cleanings if a <= c.start and c.start + c.length <= z]
        keys = {paint.key for _, _, paint in sprayed}
        cleaned = {c.after for c in here}
        if p.clean[2] and not any(c.length >= p.clean[2] for c in here):
            wrong.append("an airbrush is put away uncleaned")
        if p.clean[2] and min(p.clean) > 0 and keys != cleaned:
            wrong.append("a paint is left in an airbrush")
        wrong += _runs(p, sprayed, here)
    return wrong


def _runs(p: Problem, sprayed: list[tuple[int, int, Paint]], cleanings: list[Cleaned]) -> list[str]:
    """With one airbrush: each change of paint has its cleaning between."""
    if p.guns != 1:
        return []
    wrong = []
    for (_, end, one), (start, _, other) in zip(sprayed, sprayed[1:], strict=False):
        need = p.cleaning(one, other)
        between = sum(c.length for c in cleanings if end <= c.start and c.start + c.length <= start)
        if between < need:
            wrong.append("a paint is changed without the cleaning that it needs")
    return wrong
