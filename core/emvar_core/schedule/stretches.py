"""Windows as stretches: a seam may allow what is laid into the wet, refuse what comes in between, and allow it again
when the coat is hard. Everything that shows a window of a step shows the stretch that the step lies in.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence

Stretch = tuple[float, float]  # from when to when, minutes
SAME = 1e-6  # nearer than that two instants are one


def together(windows: Iterable[Sequence[Stretch]]) -> list[Stretch]:
    """When all of several windows are open, in order.

    >>> together([[(0, 10), (100, 500)], [(5, 200)]])
    [(5, 10), (100, 200)]
    """
    left: list[Stretch] | None = None
    for window in windows:
        if left is None:
            left = list(window)
            continue
        met = ((max(a, c), min(b, d)) for a, b in left for c, d in window)
        left = sorted((a, b) for a, b in met if a <= b)
    return left or []


def lies_in(window: Sequence[Stretch], start_min: float, need_min: float) -> int:
    """In which stretch a step lies that starts then and is needed open until `need_min`; where in none, the one whose
    opening is nearest.

    >>> window = [(0, 90), (100, 500)]
    >>> lies_in(window, 80, 85), lies_in(window, 300, 300), lies_in(window, 95, 95)
    (0, 1, 1)
    """
    for i, (a, b) in enumerate(window):
        if a <= start_min + SAME and need_min <= b + SAME:
            return i
    return min(range(len(window)), key=lambda i: abs(window[i][0] - start_min))


def beside(window: Sequence[Stretch], stretch: Stretch) -> Stretch:
    """The stretch of the same window at another edge: the one that shares most with it, else the nearest.

    >>> beside([(0, 20), (90, 600)], (100, 500))
    (90, 600)
    """
    return max(window, key=lambda s: (min(s[1], stretch[1]) - max(s[0], stretch[0]), -abs(s[0] - stretch[0])))
