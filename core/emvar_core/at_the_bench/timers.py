"""Windows as timers: how long after a coat is down the next step is too early, opens, is easy, closes, is too late.

Ages are plain minutes from the end of the lower step, worked out in the air there will be; a device that has them needs
nobody to run a timer.
"""

from __future__ import annotations

import math

from ..judging import Assessment
from ..plan import CoatStep, Plan, WorkingStep, known_to
from ..schedule.agenda import Agenda
from ..schedule.net import Link, What
from ..schedule.stretches import Stretch, beside, lies_in, together
from ..vocabulary import WHILE_WET, Edge, Event, FilmClass, Model, WorkAction

FAR_MIN = 60 * 1440.0
NO_WAIT_MIN = 0.5  # an opening edge that is no wait
TOUCH_TEST = "Touch it lightly beside the model, or on the spoon sprayed with it: no mark, no pull."
DRY = (FilmClass.LOOSE, FilmClass.RUBBED)


class StretchOut(Model):
    """A later stretch of a window: what comes between is too early again. As `opens` and `closes` of a timer."""

    opens: list[float]
    closes: list[float | None]


class TimerOut(Model):
    """One window, in the stretch that the step is planned in; `again`: those after it.

    Each of `opens` and `closes` is minutes from the end of `before`: hopeful, best and careful opening; careful, best
    and hopeful closing (None: it stays open). `after` None: the coat itself, dry to the touch.

    `shows`: what a check of it says of the film. `check`: what proves that it is ready; `if_not`: what to do then.
    `factor`: what was learned of this paint is in it already, by so much.
    """

    id: str
    before: str
    after: str | None
    zones: list[str]
    words: str
    opens: list[float]
    closes: list[float | None]
    again: list[StretchOut]
    shows: Event | WorkAction
    check: str
    if_not: str
    factor: float


def _finite(value: float) -> float | None:
    return None if not math.isfinite(value) or value > FAR_MIN else round(value, 1)


def timers(agenda: Agenda, assessed: Assessment) -> list[TimerOut]:
    """All windows of a bench, by the end of each lower step as it was or as it is planned, and what else dries.

    Order alone is none, nor is what is open at once and for ever. Where several ask the same of a pair, it is open when
    all of them are.
    """
    links = _links(agenda)
    found = [t for pair in links.values() if (t := _timer(agenda, assessed, pair)) is not None]
    return found + [t for step in agenda.left.steps if (t := _touch(agenda, assessed, step.id)) is not None]


def _links(agenda: Agenda) -> dict[tuple[str, str], list[Link]]:
    """What ties two steps beside their order, by the two."""
    links: dict[tuple[str, str], list[Link]] = {}
    for link in agenda.net.links:
        if link.what is not What.ORDER:
            links.setdefault((link.before, link.after), []).append(link)
    return links


def stretches_of(agenda: Agenda, assessed: Assessment, before: str, after: str) -> list[tuple[float, float | None]]:
    """When a step may come after another, by the careful edge: all stretches of its window, minutes from the end of
    `before`, with None for one that stays open. Empty where nothing ties them, or where it never may."""
    links = _links(agenda).get((before, after), [])
    end = _end_of(agenda, assessed, before)
    windows = [w for link in links if (w := agenda.ageing.instants(link, end, link.ages.careful))]
    return [(round(a - end, 1), _finite(b - end)) for a, b in together(windows)]


def _end_of(agenda: Agenda, assessed: Assessment, step: str) -> float:
    done = agenda.done.get(step)
    if done is not None:
        return done.end_min
    return max(assessed.times[step].end_min if step in assessed.times else 0.0, agenda.since)


def _timer(agenda: Agenda, assessed: Assessment, links: list[Link]) -> TimerOut | None:
    before, after = links[0].before, links[0].after
    end = _end_of(agenda, assessed, before)
    planned = assessed.times.get(after)
    start = planned.start_min if planned is not None else end
    need = planned.end_min if planned is not None and any(link.whole for link in links) else start
    at_edge = {edge: _open(agenda, links, end, edge) for edge in ("hopeful", "best", "careful")}
    careful = at_edge["careful"]
    first, *later = [_stretch(at_edge, s, end) for s in careful[lies_in(careful, start, need) :]]
    if first.opens[2] < NO_WAIT_MIN and first.closes[2] is None and not later:
        return None
    words = _words(agenda, links, end, start, need)
    zones = [z for z in _zones(agenda.plan, before) if z in _zones(agenda.plan, after)]
    test, if_not = _check(agenda.plan, assessed, before, after)
    step = agenda.plan.step(after)
    shows = step.action if isinstance(step, WorkingStep) else Event.RECOAT
    return TimerOut(
        id=f"{before}~{after}", before=before, after=after, zones=zones, words=words,
        opens=first.opens, closes=first.closes, again=later, check=test, if_not=if_not,
        shows=shows, factor=factor_of(agenda.plan, before),
    )  # fmt: skip


def _open(agenda: Agenda, links: list[Link], end: float, edge: str) -> list[Stretch]:
    """When all of these links allow the step, at one edge; where never, from the last opening to the first closing."""
    windows = [w for link in links if (w := agenda.ageing.instants(link, end, getattr(link.ages, edge)))]
    if open_ := together(windows):
        return open_
    return [(max((w[0][0] for w in windows), default=end), min((w[-1][1] for w in windows), default=math.inf))]


def _stretch(at_edge: dict[str, list[Stretch]], careful: Stretch, end: float) -> StretchOut:
    edges = [beside(at_edge["hopeful"], careful), beside(at_edge["best"], careful), careful]
    opens = [round(min(a for a, _ in edges[i:]) - end, 1) for i in range(3)]  # hopeful no later than careful
    return StretchOut(opens=opens, closes=[_finite(b - end) for _, b in reversed(edges)])


def _words(agenda: Agenda, links: list[Link], end: float, start: float, need: float) -> str:
    """What the window is of: the work or the mask, else the link that opens last."""

    def opens(link: Link) -> float:
        window = agenda.ageing.instants(link, end, link.ages.careful)
        return window[lies_in(window, start, need)][0] if window else end

    own = [link for link in links if link.what in (What.WINDOW, What.MASK)]
    return own[-1].words if own else max(links, key=opens).words


def factor_of(plan: Plan, step_id: str) -> float:
    """By how much what was learned of a coat's paint makes it slower (above 1) than what ships says."""
    step = plan.step(step_id)
    if not isinstance(step, CoatStep):
        return 1.0
    k = known_to(plan)
    return k.drying_factor(step.material)


def _zones(plan: Plan, step_id: str) -> list[str]:
    step = plan.step(step_id)
    return list(step.zones) if step is not None else []


def _check(plan: Plan, assessed: Assessment, before: str, after: str) -> tuple[str, str]:
    """The physical check that the seams ask for between two steps; else the usual one."""
    for seam in assessed.seams.values():
        if seam.upper_step == after and before in (seam.lower_step, seam.responsible) and seam.check:
            return seam.check, seam.if_fails
    step = plan.step(after)
    if isinstance(step, WorkingStep) and step.action in (WorkAction.WIPE, *WHILE_WET):
        return "Try it in a corner with an almost dry brush: it moves, and what lies below stays clean.", "Wait."
    return TOUCH_TEST, "Give it half as long again, then try once more."


def _touch(agenda: Agenda, assessed: Assessment, step_id: str) -> TimerOut | None:
    step = agenda.plan.step(step_id)
    if not isinstance(step, CoatStep) or step.existing is not None:
        return None
    k = known_to(agenda.plan)
    if k.systems[k.coats[step.material].system].film in DRY:
        return None
    end = _end_of(agenda, assessed, step_id)
    drying = agenda.ageing.drying(step_id, end)
    edges = [round(drying.event(Event.TOUCH, e) - end, 1) for e in (Edge.EARLY, Edge.BEST, Edge.LATE)]
    if edges[2] < NO_WAIT_MIN:
        return None
    return TimerOut(
        id=f"{step_id}~touch", before=step_id, after=None, zones=list(step.zones), words="dry to the touch",
        opens=edges, closes=[None, None, None], again=[], check=TOUCH_TEST,
        if_not="Leave it as long again before anything touches it.", shows=Event.TOUCH,
        factor=factor_of(agenda.plan, step_id),
    )  # fmt: skip
