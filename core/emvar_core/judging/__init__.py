"""A plan judged in stages, each a pure function of the one before.

    laying     a step, its times and the air: what lands, and what a coat is from then on
    stack      what lies on a zone after each step
    contacts   which layers a landing meets, and what a verdict depends on
    verdicts   what happens there, how grave it is, what waiting would do
    writing    coats, seams and windows as they are shown; stories, counts and trials on top

Memory stands at the doors between them, and nowhere else. `assess.py` is the door for everybody else.
"""

from .conditions import Conditions, base_layer, conditions_of
from .contacts import meetings
from .laying import Laid, landing_of, lay, touching, working
from .outcome import Assessment, CoatOut, CupOut, RangeOut, Remark, Score, SeamOut, StepNote, Story, WindowOut
from .stack import Lying, Stack, after, place_of
from .zone_at import Standing, stand
from .zones import Marks, Stretch, judge_steps, judge_zone, marks_of, window_of

__all__ = [
    "Assessment",
    "CoatOut",
    "Conditions",
    "CupOut",
    "Laid",
    "Lying",
    "Marks",
    "RangeOut",
    "Remark",
    "Score",
    "SeamOut",
    "Stack",
    "Standing",
    "StepNote",
    "Story",
    "Stretch",
    "WindowOut",
    "after",
    "base_layer",
    "conditions_of",
    "judge_steps",
    "judge_zone",
    "landing_of",
    "lay",
    "marks_of",
    "meetings",
    "place_of",
    "stand",
    "touching",
    "window_of",
    "working",
]
