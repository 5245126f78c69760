"""Gloss and wet deepen a colour, matt lightens it: no fault, but told."""

from __future__ import annotations

from collections.abc import Iterator

from ...vocabulary import Edge, Kind, Sheen, Use
from ..checks import Check
from ..mechanism import LAY, Course, Mechanism, NoFault, Scrap, contacts
from ..situation import Finding, Situation

A_HINT = 0.08


def judge(s: Situation, at_min: float, edge: Edge) -> Iterator[Finding]:
    layer, landing = s.layer, s.landing
    if s.index != 0 or not landing.is_for(Use.CLEAR) or layer.system is None:
        return
    if landing.sheen is layer.sheen or Sheen.SATIN in (landing.sheen, layer.sheen):
        return
    deeper = landing.sheen is Sheen.GLOSS
    yield MECHANISM.found(
        Kind.LOOK,
        A_HINT,
        "deepens" if deeper else "lightens",
        lambda: f"Under this {layer.words} looks {'deeper and richer' if deeper else 'lighter and flatter'}.",
        "Judge colours under the last clear, on a trial piece.",
    )


MECHANISM = Mechanism(
    id="tone",
    says="A clear of another sheen changes how deep a colour looks.",
    on=contacts(LAY),
    course=Course.NEVER,
    judge=judge,
    would_change="a clear of the same sheen",
    check=Check(
        "Wet a hidden spot with clean spirit: so deep it looks under gloss; dry, so light under matt.",
        "Judge the colour on a trial piece under the last clear.",
    ),
    scrap=Scrap(120, "Under the clear it is the colour that was wanted.", "It is too dark or too light."),
    fault=NoFault("it is a hint, and no fault"),
    cost=200,
)
