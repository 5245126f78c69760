"""Windows of working steps: may this coat still, or already, be wiped, blended, dragged, chipped?"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..knowledge import Knowledge
from ..physics.blend import LACQUERED, Blend, carrier_share, hot_share
from ..physics.hansen import power_on
from ..physics.hardening import Drying, ref_at_degree
from ..vocabulary import (
    ABRASIVE,
    PRACTICE,
    WHILE_WET,
    Carrier,
    Edge,
    Event,
    FilmClass,
    Method,
    SolventFamily,
    SystemRole,
    Verdict,
    WorkAction,
    capital,
)
from .situation import Layer

INSTANT_MIN = 0.01  # nearer than that two instants are one
CHIP_THICK_UM = 20.0
CHIP_TOO_THICK_UM = 35.0
SEALS_MEDIUM = (
    SolventFamily.KETONE,
    SolventFamily.AROMATIC,
    SolventFamily.FAST_ESTER,
    SolventFamily.SLOW_ESTER,
    SolventFamily.SLOW_KETONE,
)
MELTS_MEDIUM = (SolventFamily.ALCOHOL, SolventFamily.GLYCOL_ETHER)
ENOUGH = 0.25  # share of these in the carrier from which they decide
OPENS, REOPENS, SEES_WATER = (
    0.5,
    0.3,
    0.5,
)  # power of a carrier; share of water that wipes


@dataclass(frozen=True)
class Edges:
    """An edge in time as [careful or early, best, late], minutes since the build's start."""

    early: float
    best: float
    late: float


ENDLESS = Edges(math.inf, math.inf, math.inf)


@dataclass(frozen=True)
class OpenWindow:
    """A window on a coat; `never` says why it never opens, `risk` what may go wrong in it."""

    action: WorkAction
    opens: Edges
    easy_until_min: float
    closes: Edges
    rests_on: str
    never: str | None = None
    advice: str = ""
    risk: str = ""
    risk_word: str = "cuts through"
    risk_advice: str = "Use the finest grit, wet where the coat bears it, and few strokes."


def _edges(drying: Drying, refs: tuple[float, ...]) -> Edges:
    return Edges(*(drying.when(r) for r in refs))


def _never(action: WorkAction, drying: Drying, why: str, advice: str) -> OpenWindow:
    zero = Edges(drying.end_min, drying.end_min, drying.end_min)
    return OpenWindow(action, zero, drying.end_min, zero, PRACTICE, why, advice)


def buried(action: WorkAction, layer: Layer, over: Layer) -> OpenWindow:
    """The window on a coat that another one covers: none."""
    assert layer.drying is not None
    why = f"{layer.words} lies under {over.words}: what is covered can no longer be worked."
    return _never(action, layer.drying, why, "Do it before it is covered.")


def windows_of(layer: Layer) -> list[OpenWindow]:
    """The windows that a coat's own system gives it, whatever the plan does with them."""
    if layer.drying is None or layer.system is None:
        return []
    return [
        OpenWindow(
            action,
            _edges(layer.drying, w.opens),
            layer.drying.when(w.easy_until),
            _edges(layer.drying, w.closes),
            f"{PRACTICE} for {layer.system.name.lower()}, moved by this film, thinner and air",
        )
        for action, w in layer.system.windows.items()
    ]


def chip_window(k: Knowledge, layer: Layer, below: Layer | None, carrier: Blend | None = None) -> OpenWindow:
    """Chipping a top coat through the live medium under it: what thinned it decides how long water gets in.

    `carrier`: what it is chipped with, nothing for a dry tool; None: what opens the medium.

    Reference minutes are common practice: water-thinned easiest and up to a day, alcohol-thinned harder,
    lacquer-thinned hardly at all; a thick coat closes sooner.
    """
    assert layer.drying is not None and layer.system is not None
    action = WorkAction.CHIP
    if below is None or not below.is_film(FilmClass.WATER_SOLUBLE):
        return _never(
            action,
            layer.drying,
            f"There is no hairspray or chipping medium under {layer.words}: water has nothing to let go.",
            "Lay a chipping medium under this coat.",
        )
    if carrier is not None and not carrier.parts:
        why = f"Dry, nothing lets {layer.words} go: a dry tool scratches through it and into what lies below."
        return _never(action, layer.drying, why, "Wet it with water first; start a chip with a stick if you must.")
    if carrier is not None and below.system is not None and power_on(k, carrier, below.system).power <= OPENS:
        why = f"This carrier does not open {below.words}: nothing lets go, or the colour itself is taken off."
        return _never(action, layer.drying, why, f"Chip it with {k.carriers[Carrier.WATER].words}.")
    shares = layer.carrier.family_shares(k)
    organic = sum(shares.get(f, 0.0) for f in SEALS_MEDIUM)
    if layer.film_um > CHIP_TOO_THICK_UM:
        return _never(
            action,
            layer.drying,
            f"{layer.words} is {layer.film_um:.0f} µm thick: water cannot get through it.",
            "Lay it thinner, so that the colour below just shows through.",
        )
    if layer.is_film(FilmClass.OXIDISING):
        figures = k.chipping["oxidising"]
    elif organic >= ENOUGH or layer.system.is_a(SystemRole.BITES_MEDIUM):
        return _never(
            action,
            layer.drying,
            f"{layer.words} is thinned with lacquer thinner: it bites into the medium and seals it, "
            "so that water cannot get in and nothing chips.",
            "Thin it with water, or use a water-borne colour.",
        )
    elif sum(shares.get(f, 0.0) for f in MELTS_MEDIUM) >= ENOUGH:
        figures = k.chipping["alcohol"]
    else:
        figures = k.chipping["water"]
    thick = max(layer.film_um / CHIP_THICK_UM, 1.0) ** 2
    # The figures are for the thin film that chipping wants, so its being thin does not close it sooner again.
    drying = layer.drying
    opens = tuple(drying.own_reference(m) for m in figures.opens)
    closes = tuple(drying.own_reference(m / thick) for m in figures.closes)
    return OpenWindow(
        action,
        _edges(drying, opens),
        drying.when(drying.own_reference(figures.easy_until / thick)),
        _edges(drying, closes),
        f"{PRACTICE} for what thins the top coat and how thick it is",
    )


# µm of a film that a few strokes of abrasive go through (assumption).
CUT_UM = {WorkAction.SAND: 10.0, WorkAction.POLISH: 4.0}
TEARS = (FilmClass.LOOSE, FilmClass.WATER_SOLUBLE, FilmClass.DECAL)


def _abrasive(action: WorkAction, layer: Layer) -> OpenWindow:
    """Sanding, polishing and scuffing want a coat that is hard enough to be handled; what is soft clogs and tears."""
    assert layer.drying is not None
    if layer.is_film(*TEARS):
        why = f"{layer.words} is no film that bears abrasive: it tears or comes off."
        return _never(action, layer.drying, why, "Put a clear over it first, and work on that.")
    drying, thin = layer.drying, CUT_UM.get(action, 0.0)
    opens = Edges(*(drying.event(Event.TAPE, e) for e in (Edge.EARLY, Edge.BEST, Edge.LATE)))
    risk = (
        f"{capital(layer.words)} is only {layer.film_um:.0f} µm: a few strokes go through it."
        if layer.film_um < thin
        else ""
    )
    why = f"it wants a film that is hard enough to be handled; {PRACTICE}"
    assert layer.system is not None
    easy = layer.system.polish_easy_until if action is WorkAction.POLISH else None
    return OpenWindow(action, opens, math.inf if easy is None else drying.when(easy), ENDLESS, why, risk=risk)


def _softened(layer: Layer) -> OpenWindow:
    """Setting fluid and softener are for decals, at once and again."""
    assert layer.drying is not None
    if not layer.is_film(FilmClass.DECAL):
        why = f"{layer.words} is no decal: softener only bites into it."
        return _never(WorkAction.SOFTEN, layer.drying, why, "Act on the decal.")
    return OpenWindow(WorkAction.SOFTEN, _at_once(layer.drying), math.inf, ENDLESS, PRACTICE)


def _at_once(drying: Drying) -> Edges:
    return Edges(drying.end_min, drying.end_min, drying.end_min)


WET_TOOLS = (Method.WET_WIPE, Method.SCRUB)


def window_for(
    k: Knowledge, action: WorkAction, layer: Layer, below: Layer | None, carrier: Blend, method: Method | None = None
) -> OpenWindow:
    """The window in which a working step may act on a coat, with the carrier that it uses; none: with a dry tool.

    `method`: how it is done, where that is known.
    """
    window = _window_for(k, action, layer, below, carrier)
    blends = action in (WorkAction.BLEND, WorkAction.STREAK) and layer.is_film(FilmClass.OXIDISING)
    if blends and method in WET_TOOLS and carrier.parts and window.never is None:
        return replace(
            window,
            risk=f"A wet brush washes {layer.words} away instead of drawing it out.",
            risk_word="washes off",
            risk_advice="Wipe the brush twice on a cloth: it leaves no wet print on paper.",
        )
    return window


def _window_for(k: Knowledge, action: WorkAction, layer: Layer, below: Layer | None, carrier: Blend) -> OpenWindow:
    assert layer.drying is not None and layer.system is not None
    if action is WorkAction.CHIP:
        return chip_window(k, layer, below, carrier)
    if action in ABRASIVE:
        return _abrasive(action, layer)
    if action is WorkAction.SOFTEN:
        return _softened(layer)
    like = WorkAction.WIPE if action is WorkAction.LIFT else action
    for window in windows_of(layer):
        if window.action is like:
            needs = layer.system.windows[like].by
            facts = k.carriers[needs]
            # A stronger carrier opens it too; what it meets below is kept apart.
            opened = power_on(k, carrier, layer.system).power > OPENS
            if carrier.parts and not opened and carrier_share(k, carrier, needs) < facts.least:
                return _never(
                    action,
                    layer.drying,
                    f"{layer.words} is moved by {facts.words}; this carrier does not open it, or cuts below it.",
                    f"Work it with {facts.words}.",
                )
            soaks_up = action is WorkAction.WIPE and not carrier.parts  # a dry bud takes up what is still wet
            if action in WHILE_WET or soaks_up:
                return replace(window, action=action, opens=_at_once(layer.drying))
            return window
    fresh = layer.is_film(FilmClass.DISPERSION) and carrier.water >= SEES_WATER
    if fresh and action in (WorkAction.BLEND, WorkAction.STREAK):  # drawn out until it is dry to the touch
        drying = layer.drying
        closes = Edges(*(drying.event(Event.TOUCH, e) for e in (Edge.EARLY, Edge.BEST, Edge.LATE)))
        why = f"a water-borne film is moved until it is dry to the touch; {PRACTICE}"
        return OpenWindow(action, _at_once(drying), closes.early, closes, why)
    if fresh and like is WorkAction.WIPE:  # water takes it off for minutes, until its particles fuse
        drying, system = layer.drying, layer.system
        fused = [math.sqrt(a * b) for a, b in zip(system.event(Event.TOUCH), system.event(Event.RECOAT), strict=True)]
        closes = _edges(drying, (fused[0], math.sqrt(fused[0] * fused[1]), fused[1]))
        why = f"a water-borne film re-opens with water until it has fused; {PRACTICE}"
        return OpenWindow(action, _at_once(drying), drying.when(system.touch[0]), closes, why)
    if layer.is_film(FilmClass.LOOSE) and not carrier.parts:  # a dry brush waits until the powder has dried
        dry = Edges(*(layer.drying.flash_end_min,) * 3)
        return OpenWindow(action, dry, math.inf, ENDLESS, f"powder stays loose; wet it clumps; {PRACTICE}")
    if layer.is_film(FilmClass.OXIDISING) and power_on(k, carrier, layer.system).power > REOPENS:
        return _while_young(action, layer, hot_share(k, carrier))
    soluble = layer.is_film(FilmClass.WATER_SOLUBLE)
    if soluble and carrier.parts and power_on(k, carrier, layer.system).power <= REOPENS:
        why = f"This carrier does not open {layer.words}, and rubbing takes it off in patches."
        return _never(action, layer.drying, why, f"Work it with {k.carriers[Carrier.WATER].words}.")
    if soluble or layer.is_film(FilmClass.LOOSE) or power_on(k, carrier, layer.system).power > REOPENS:
        start = _at_once(layer.drying)
        return OpenWindow(action, start, math.inf, ENDLESS, "it re-opens with this carrier at any age")
    return _never(
        action,
        layer.drying,
        f"{layer.words} sets by itself and this carrier does not re-open it.",
        "Use an enamel wash or oil for work that is wiped or blended, or act on the coat that can be moved.",
    )


# Degrees of hardening up to which an oxidising film comes off: easily, with effort, hardly; hot solvents get a little
# further. Common practice: for hours, a day or two, some days, and after weeks not at all.
COMES_OFF, HOT_OFF = (0.6, 0.75, 0.85), (0.75, 0.9, 0.95)


def _while_young(action: WorkAction, layer: Layer, hot: float) -> OpenWindow:
    """An alkyd or oil comes off with its own spirit until it has cross-linked: easily, then with effort, then not."""
    drying, system = layer.drying, layer.system
    assert drying is not None and system is not None
    degrees = HOT_OFF if hot >= LACQUERED else COMES_OFF
    edges = zip(degrees, (Edge.EARLY, Edge.BEST, Edge.LATE), strict=True)
    closes = _edges(drying, tuple(ref_at_degree(system, degree, edge) for degree, edge in edges))
    why = f"what has not cross-linked yet comes off with what dissolves it; {PRACTICE}"
    return OpenWindow(action, _at_once(drying), drying.when(system.touch[0]), closes, why)


MOST_SECTIONS = 60  # beyond that nobody counts them off


def sections(window: OpenWindow, lay_min: float, work_min: float) -> int:
    """In how many sections a coat is laid and worked, so that each is worked before its first part closes.

    Laying all of it takes `lay_min`, working it `work_min`; the careful edges of the window count, from the laying on.
    """
    whole = lay_min + work_min
    room = window.closes.early - window.opens.late
    if whole <= 0 or room >= whole:
        return 1
    return min(math.ceil(whole / max(room, whole / MOST_SECTIONS) - 1e-9), MOST_SECTIONS)


@dataclass(frozen=True)
class WindowVerdict:
    """What is said of work at an instant, given the window on its coat."""

    verdict: Verdict
    word: str
    sentence: str
    advice: str


def window_verdict(window: OpenWindow, layer: Layer, start_min: float, end_min: float) -> WindowVerdict:
    """Judged at the careful edges; if these leave no window, at the best guess, with the risk flagged."""
    doing = window.action.value
    if window.never is not None:
        return WindowVerdict(Verdict.CLASH, "never opens", capital(window.never), window.advice)
    if start_min < window.opens.best - INSTANT_MIN:
        return WindowVerdict(
            Verdict.WAIT, "too early", f"It is too early to {doing} {layer.words}: it is still wet.",
            "Wait until its shine has gone.",
        )  # fmt: skip
    if end_min > window.closes.best + INSTANT_MIN:
        return WindowVerdict(
            Verdict.CLASH, "window missed",
            f"By then {layer.words} has set: what is left to {doing} hardly moves, and forcing it hurts what is below.",
            f"{doing.capitalize()} it sooner, in the same sitting.",
        )  # fmt: skip
    if start_min < window.opens.late - INSTANT_MIN:
        return WindowVerdict(
            Verdict.CAUTION, "just open", f"{layer.words} may only just be ready to {doing}.",
            "Try a hidden spot first.",
        )  # fmt: skip
    if end_min > window.closes.early + INSTANT_MIN:
        narrow = window.opens.late > window.closes.early
        return WindowVerdict(
            Verdict.CAUTION, "closing",
            f"{layer.words} is setting by then: it takes effort to {doing}, and some of it stays."
            + (" The careful window is empty; this rests on the best guess." if narrow else ""),
            f"{doing.capitalize()} it sooner if you can.",
        )  # fmt: skip
    if window.risk:
        return WindowVerdict(
            Verdict.CAUTION,
            window.risk_word,
            window.risk,
            window.risk_advice,
        )
    if window.action is WorkAction.POLISH and start_min > window.easy_until_min:
        return WindowVerdict(
            Verdict.SOUND, "hard to polish", f"{layer.words} has hardened by then: polishing it takes longer.",
            "Polish it sooner if you can.",
        )  # fmt: skip
    return WindowVerdict(Verdict.SOUND, "in its window", f"{layer.words} can be worked then.", "")
