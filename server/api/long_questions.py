"""The process that answers long questions: a question a line, how far it is and at last its answer a line each.

It knows no database. A question has a number; told to stop at that number, what was found so far is its answer.
"""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from typing import Any

from emvar_core.plan import Plan, parse_plan
from emvar_core.ways.mend import GoOn, Version, mend, mended_and_undoable, to_the_end
from sittings.child import listened

LONGEST_S = 20.0  # for which a question may go on; the answer names what is left over
QUESTIONS: dict[str, Callable[[Plan, GoOn], Version]] = {"mended": mend, "undoable": mended_and_undoable}
NICE = 5


def answered(kind: str, plan: Plan, go_on: GoOn = to_the_end) -> str:
    """A mended or undoable version of a plan, as JSON."""
    return QUESTIONS[kind](plan, go_on).model_dump_json()


class Stops:
    """Up to which question it was said to stop."""

    def __init__(self) -> None:
        self.number = 0

    def take(self, words: dict[str, Any]) -> bool:
        """Whether these words are a stop; then it holds from now on."""
        self.number = max(self.number, words.get("stop", 0))
        return "stop" in words

    def go_on(self, number: int, within_s: float = LONGEST_S) -> GoOn:
        """Says how far it is, and goes on until stopped or out of time."""
        until = time.monotonic() + within_s

        def asked(looked_at: int) -> bool:
            print(json.dumps({"looked_at": looked_at}), flush=True)
            return self.number < number and time.monotonic() < until

        return asked


def main() -> None:
    stops = Stops()
    for question in listened(NICE, stops.take):
        number = question["number"]
        print(answered(question["kind"], parse_plan(question["plan"]), stops.go_on(number)), flush=True)


if __name__ == "__main__":
    main()
