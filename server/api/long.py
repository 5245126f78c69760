"""The process that answers long questions: a question a line, its answer a line. It knows no database."""

from __future__ import annotations

from collections.abc import Callable

from emvar_core.plan import Plan, parse_plan
from emvar_core.ways.mend import Version, mend, mended_and_undoable
from sittings.child import listened

LONGEST_S = 20.0  # for which a question may go on; what is left over is told
QUESTIONS: dict[str, Callable[[Plan, float], Version]] = {"mended": mend, "undoable": mended_and_undoable}
NICE = 5


def answered(kind: str, plan: Plan) -> str:
    """A mended or undoable version of a plan, as JSON."""
    return QUESTIONS[kind](plan, LONGEST_S).model_dump_json()


def main() -> None:
    for question in listened(NICE):
        print(answered(question["kind"], parse_plan(question["plan"])), flush=True)


if __name__ == "__main__":
    main()
