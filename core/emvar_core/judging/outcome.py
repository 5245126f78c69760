"""What an assessment says: its models. Times are minutes since the build's start.

They are made with `Model.stated`, since their values come from the core itself; the tests validate them.
"""

from __future__ import annotations

from ..plan import Timing
from ..vocabulary import Basis, Contact, FilmState, Kind, Model, Sheen, Sure, Verdict, WorkAction


class RangeOut(Model):
    """An instant as a range: minutes since the build's start. None: never."""

    early: float | None
    best: float | None
    late: float | None


class StateMark(Model):
    """A state of a film and the minute (since the build's start) from which it is in it."""

    state: FilmState
    from_min: float


class WindowOut(Model):
    """When a coat can be worked: from, easily until, at all until; minutes since the build's start."""

    action: WorkAction
    opens: RangeOut
    easy_until_min: float | None
    closes: RangeOut
    rests_on: str


class CoatOut(Model):
    """A coat (step, zone): how thick, how it looks, and how it changes with time."""

    id: str
    step_id: str
    zone_id: str
    start_min: float
    end_min: float
    film_um: float
    coverage: float
    colour: str
    sheen: Sheen
    system: str
    states: list[StateMark]
    events: dict[str, RangeOut]
    windows: list[WindowOut]


class FindingOut(Model):
    """One thing that happens at a seam: its mechanism, how grave (0–1), where, in words."""

    mechanism: str
    kind: Kind
    severity: float
    word: str
    sentence: str
    advice: str
    basis: Basis
    rests_on: str
    step_id: str | None
    depth: int
    school: str | None


class ReachOut(Model):
    """How far a carrier gets into a layer: share of its thickness and power there, 0–1; RED where computed."""

    step_id: str | None
    name: str
    share: float
    power: float
    red: float | None


class SeamOut(Model):
    """A contact and its verdict. `lower_step` None is the base material; `responsible` may lie deeper. `share` of the
    upper coat meets the lower one, which is `zone_share` of the zone.

    `sections`: of work by sections, how many. `sure`: how far from another verdict. `check` proves a wait is over;
    `assumes` is the film and air it rests on.
    """

    id: str
    zone_id: str
    upper_step: str
    lower_step: str | None
    contact: Contact
    at_min: float
    share: float
    zone_share: float
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    kind: Kind
    basis: Basis
    rests_on: str
    responsible: str | None
    depth: int
    opens_best_min: float | None
    opens_careful_min: float | None
    eventual: Verdict | None
    closes: RangeOut | None
    missed: bool
    findings: list[FindingOut]
    reach: list[ReachOut]
    sections: int | None
    sure: Sure
    would_change: str
    disputed: str
    check: str
    if_fails: str
    assumes: str


class PourOut(Model):
    """One part of a cup: mL, whole drops (none of a paste), and the grams that the recipe asks."""

    material: str
    name: str
    role: str
    ml: float
    drops: int | None
    grams: float


class CupOut(Model):
    """One cup of the mix for a step; so many `cups` serve the area of its zones."""

    pours: list[PourOut]
    total_ml: float
    ratio_error_pct: float
    wet_film_um: float
    landed_ml: float
    lost_ml: float
    left_ml: float
    basis: str
    helps: str = ""
    cups: int = 1


class Remark(Model):
    """Something about a step that no seam decides: its mix, its technique, its place in the order.

    Verdict sound is a hint, told at the step and counted nowhere.
    """

    id: str
    step_id: str
    zones: list[str]
    code: str
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    kind: Kind
    basis: Basis
    rests_on: str
    school: str | None


class Story(Model):
    """What is not sound, told once: seams that tell the same in several zones, or a remark on a step (`remark`)."""

    upper_step: str
    lower_step: str | None
    contact: Contact
    verdict: Verdict
    word: str
    sentence: str
    advice: str
    zones: list[str]
    seams: list[str]
    missed: bool
    remark: str | None = None


class Score(Model):
    """How many seams and remarks are of each verdict; clashes count before missed windows, waits, cautions."""

    clashes: int
    missed: int
    waits: int
    cautions: int
    sound: int

    @property
    def order(self) -> tuple[int, int, int, int]:
        return self.clashes, self.missed, self.waits, self.cautions


class StepNote(Model):
    """A usual caution at a step. It is no permission."""

    step_id: str
    caution: str
    text: str


class Assessment(Model):
    """Everything that is said of a plan. Keys are ids (`ids.py`); times are minutes since the build's start."""

    times: dict[str, Timing]
    coats: dict[str, CoatOut]
    seams: dict[str, SeamOut]
    cups: dict[str, CupOut]
    notes: list[StepNote]
    remarks: list[Remark]
    stories: list[Story]
    score: Score
    end_min: float
