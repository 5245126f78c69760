"""The plain values that every document is made of: names, ids, minutes, and how a wrong one is refused."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field, StringConstraints

MAX_MINUTES = 366 * 24 * 60.0


class PlanError(ValueError):
    """A plan, or a change to one, that cannot be taken. Each problem names the place and what would do."""

    def __init__(self, problems: list[Problem]) -> None:
        self.problems = problems
        super().__init__("; ".join(f"{p.where}: {p.what}" for p in problems))


class Model(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class Problem(Model):
    where: str
    what: str


def _printable(text: str) -> str:
    if any(ord(c) < 32 and c not in "\n\t" for c in text):
        raise ValueError("control characters are not allowed")
    return text


Id = Annotated[str, StringConstraints(pattern=r"^[A-Za-z0-9_-]{1,40}$")]
Name = Annotated[
    str,
    StringConstraints(strip_whitespace=True, min_length=1, max_length=120),
    AfterValidator(_printable),
]
Text = Annotated[str, StringConstraints(max_length=4000), AfterValidator(_printable)]
Srgb = Annotated[str, StringConstraints(pattern=r"^#[0-9A-Fa-f]{6}$")]
Share = Annotated[float, Field(ge=0, le=1)]
Minutes = Annotated[float, Field(ge=0, le=MAX_MINUTES)]
Film = Annotated[float, Field(gt=0, le=1000)]
Clock = Annotated[str, StringConstraints(pattern=r"^([01]\d|2[0-3]):[0-5]\d$")]


def when_words(at: datetime) -> str:
    """An instant as it is told everywhere: Thu 3 Dec 20:45, by the wall of its own time zone."""
    return f"{at:%a} {at.day} {at:%b %H:%M}"


def day_words(at: datetime) -> str:
    """A day as it is told: Thursday 3 Dec."""
    return f"{at:%A} {at.day} {at:%b}"
