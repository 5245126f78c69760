"""`./emvar plan PLAN.json`: which sitting does what, in the terminal. Needs neither server nor database.

Exit status: 0 it fits, 1 something does not fit, 2 the file is no plan or has no sitting.
"""

from __future__ import annotations

import argparse
import sys
from datetime import UTC, datetime
from pathlib import Path

from emvar_core.plan import at
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.calendar_out import calendar, table, words
from emvar_core.schedule.schedule import make
from emvar_core.vocabulary import when_words

from .check import plan_or_words


def main(argv: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="emvar plan", description="Schedules a plan file.")
    parser.add_argument("plan", type=Path)
    parser.add_argument("--seconds", type=float, default=20.0, help="how long to search at most")
    parser.add_argument("--ics", type=Path, help="write an iCalendar file")
    parser.add_argument("--csv", type=Path, help="write a CSV file")
    args = parser.parse_args(argv)
    plan = plan_or_words(args.plan)
    if plan is None:
        return 2
    agenda = Agenda(plan)
    try:
        proposed = make(agenda, seconds=args.seconds)
    except ValueError as error:
        print(f"{args.plan}: {error}; add sittings to 'hours'", file=sys.stderr)
        return 2
    print(words(agenda, proposed.schedule))
    for goal in proposed.schedule.reached:
        value = when_words(at(plan, goal.value)) if goal.goal == "finish" else f"{goal.value:g}"
        proof = "proven best" if goal.proven else f"best so far, at most {goal.gap_pct:g} % from the best"
        print(f"{goal.goal}: {value} ({proof})")
    for fit in proposed.unfit:
        print(f"does not fit: {fit.words}")
    for hopeless in proposed.hopeless:
        step = plan.step(hopeless.step)
        print(f"no waiting mends: “{step.name if step else hopeless.step}” {hopeless.word}; see ./emvar check")
    if args.ics:
        args.ics.write_bytes(calendar(args.plan.stem, agenda, proposed.schedule, datetime.now(UTC)))
    if args.csv:
        args.csv.write_text(table(agenda, proposed.schedule), encoding="utf-8", newline="")
    return 0 if proposed.fits else 1


if __name__ == "__main__":
    sys.exit(main())
