"""The card of what is laid or worked by hand: the tool, how it is loaded and wiped, how it is led, how often, how much.

Words are common practice (`by_hand.toml`, the material's, the technique's, whose own win); pauses and amounts are
worked out from the plan's own film, mix, area and air.
"""

from __future__ import annotations

import math

from ..judging import Laid
from ..knowledge import Knowledge
from ..knowledge.types import ByHand, StepTemplate
from ..physics.viscosity import is_paste
from ..plan import AnyStep, CoatStep, WorkingStep, method_of, passes_of
from ..plan.placing import technique_of
from ..vocabulary import AIRBRUSHED, FilmClass, Method, Model, Use, capital

# What a hand measures by, from large to small. Of paste, mL: a pea of 7 mm, a rice grain, a pin-head of 2 mm.
# Of powder, g: a pinch, the tip of a knife (both assumed).
OF_PASTE = (("pea", 0.18), ("rice grain", 0.03), ("pin-head", 0.004))
OF_POWDER = (("pinch", 0.1), ("knife tip", 0.02))
LEAST_G = 0.01  # of powder; less is a breath
LEAST_OF_ONE = 0.7  # from which share of a measure on it is counted in that measure
ON_THE_TOOL = 1.5  # times what stays on the model that is loaded and wiped off again (assumption)
LOADED, SHOWN = 0.3, 0.5  # of a tool, where nothing is said


class Hand(Model):
    """How a step is done by hand. Empty words do not apply; `passes` 0: it is worked, not laid.

    `pause`: between passes. `amount`: what to take, and `amount_words` what that is.
    """

    tool: str
    load: str
    wipe: str
    lead: str
    press: str
    look: str
    loaded: float
    shows: float
    passes: int
    pause: str
    amount: str
    amount_words: str

    @property
    def sentences(self) -> str:
        """All of it in a line, for paper and bench."""
        load = ", ".join(w for w in (self.load, self.wipe) if w)
        told = [self.tool, load and f"load: {load}", f"how: {self.lead}", self.press and f"press: {self.press}"]
        return " ".join(f"{capital(words)}." for words in told if words)


def template_of(k: Knowledge, step: AnyStep) -> StepTemplate | None:
    """The step of its technique that a step of a plan is: by its name, else the first that does the same."""
    technique = technique_of(k, step)
    alike = [t for t in technique.steps if t.kind == step.kind] if technique is not None else []
    if isinstance(step, CoatStep):
        use = k.coats[step.material].use
        alike = [t for t in alike if t.material is not None and k.coats[t.material].use is use]
    elif isinstance(step, WorkingStep):
        alike = [t for t in alike if t.action is step.action]
    return next((t for t in alike if t.name == step.name), alike[0] if alike else None)


def by_hand(k: Knowledge, step: AnyStep, laid: Laid | None = None, area_cm2: float | None = None) -> Hand | None:
    """How a step is done by hand; None where an airbrush does it, and for what is fitted.

    `laid`, `area_cm2`: the coat as it is laid and what it covers, for pauses and amounts.
    """
    if isinstance(step, CoatStep):
        method = method_of(k, step)
        if method in AIRBRUSHED:
            return None
        usual = k.by_hand[method]
        found = k.coats[step.material].by_hand.or_else(usual)
    elif isinstance(step, WorkingStep):
        usual = found = k.by_hand[step.action].or_else(k.by_hand[step.method])
    else:
        return None
    template = template_of(k, step)
    if template is not None and _same_way(k, step, template):
        found = template.by_hand.or_else(found)
    carrier = k.thinners[step.carrier].name.lower() if isinstance(step, WorkingStep) and step.carrier else ""
    amount, words = ("", "") if laid is None or area_cm2 is None else _amount(k, step, laid, area_cm2)
    passes = 0 if not isinstance(step, CoatStep) else 1 if method is Method.DRY_BRUSH else passes_of(k, step)
    return Hand(
        tool=step.tool or found.tool,
        load=_with(found.load, carrier),
        wipe=found.wipe,
        lead=found.lead,
        press=found.press,
        look=_look(step, found, usual),
        loaded=LOADED if found.loaded is None else found.loaded,
        shows=SHOWN if found.shows is None else found.shows,
        passes=passes,
        pause=_pause(step, found, laid) if passes > 1 else "",
        amount=amount,
        amount_words=words,
    )


def _same_way(k: Knowledge, step: AnyStep, template: StepTemplate) -> bool:
    """Whether a step is still done as its technique says: words for a brush do not serve a sponge."""
    if isinstance(step, CoatStep):
        assert template.material is not None
        return method_of(k, step) is (template.method or k.coats[template.material].method)
    return True


def _look(step: AnyStep, found: ByHand, usual: ByHand) -> str:
    """What it looks like; of a coat that is led otherwise than usual only where that is said for itself."""
    otherwise = isinstance(step, CoatStep) and found.lead != usual.lead
    return "" if otherwise and found.look == usual.look else found.look


def _with(load: str, carrier: str) -> str:
    return load.format(carrier=carrier) if carrier else load.replace(" in {carrier}", "").replace("{carrier}", "")


def _pause(step: AnyStep, found: ByHand, laid: Laid | None) -> str:
    """The step's own pause, what is usual, else until the pass before has flashed off in this air."""
    own = step.pause_min if isinstance(step, CoatStep) else None
    if own:
        return pause_words(own * 60)
    if found.pause_s is not None:
        return pause_words(found.pause_s)
    return "" if laid is None else pause_words((laid.drying.flash_end_min - laid.drying.end_min) * 60)


def pause_words(seconds: float) -> str:
    """A short time as a hand keeps it, always rounded up.

    >>> pause_words(60), pause_words(42), pause_words(200), pause_words(5400)
    ('60 s', '50 s', '4 min', '1.5 h')
    """
    if seconds <= 90:
        return f"{math.ceil(seconds / 10 - 1e-9) * 10} s"
    if seconds <= 90 * 60 - 1:
        return f"{math.ceil(seconds / 60 - 1e-9)} min"
    return f"{math.ceil(seconds / 360 - 1e-9) / 10:g} h"


def _amount(k: Knowledge, step: AnyStep, laid: Laid, area_cm2: float) -> tuple[str, str]:
    """What to take for an area: powder in grams, paste by its size.

    Liquids stand at the cup, what is cut or sprayed from a can is not measured.
    """
    assert isinstance(step, CoatStep)
    coat = laid.coat
    dry_ml = laid.film_um * 1e-4 * area_cm2
    if coat.use in (Use.MARKING, Use.RUBBED) or method_of(k, step) in (Method.CAN, Method.PLACE) or coat.is_poured:
        return "", ""
    if k.systems[coat.system].film is FilmClass.LOOSE or not laid.cup.carrier.parts:
        grams = dry_ml * coat.density_g_ml * ON_THE_TOOL
        return (f"{grams:.2g} g", f"about {_counted(grams, OF_POWDER)}") if grams >= LEAST_G else ("", "")
    ml = dry_ml / max(laid.cup.volume_solids, 1e-3) * ON_THE_TOOL
    return (_counted(ml * (1 - laid.cup.thinner_share), OF_PASTE), "about, in all") if is_paste(k, coat) else ("", "")


def _counted(much: float, measures: tuple[tuple[str, float], ...]) -> str:
    """An amount in the largest measure that it fills.

    >>> _counted(0.4, OF_PASTE), _counted(0.004, OF_PASTE), _counted(0.2, OF_POWDER)
    ('2 peas', '1 pin-head', '2 pinches')
    """
    name, size = next(((n, s) for n, s in measures if much >= LEAST_OF_ONE * s), measures[-1])
    count = max(round(much / size), 1)
    plural = "" if count == 1 else "es" if name.endswith("ch") else "s"
    return f"{count} {name}{plural}"


__all__ = ["Hand", "by_hand", "pause_words", "template_of"]
