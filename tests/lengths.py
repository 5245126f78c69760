"""How long the tests go on: `./emvar test` looks at enough, `./emvar test --long` at all that there is."""

import os
from typing import TypeVar

LONG = bool(os.environ.get("EMVAR_LONG"))
T = TypeVar("T")


def at_length(short: T, long: T) -> T:
    """The one or the other, by how the tests were called."""
    return long if LONG else short
