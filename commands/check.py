"""`./emvar check PLAN.json`: a plan's verdicts in the terminal. Needs neither server nor database.

Exit status: 0 nothing clashes, 1 something clashes or a window is missed, 2 the file is no plan.
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path

from emvar_core.assess import assess
from emvar_core.errors import PlanError
from emvar_core.plan import Plan, parse_plan
from emvar_core.reading.report import report

MAX_BYTES = 20_000_000


def read_plan(path: Path) -> Plan:
    """A plan from a file. Raises PlanError or OSError; whatever is in the file."""
    from emvar_core.errors import Problem

    if path.stat().st_size > MAX_BYTES:
        raise PlanError([Problem(where="plan", what=f"the file is over {MAX_BYTES // 1_000_000} MB")])
    try:
        data = json.loads(path.read_bytes())
    except (ValueError, RecursionError) as error:
        raise PlanError([Problem(where="plan", what=f"this is not JSON: {error}")]) from None
    return parse_plan(data)


def plan_or_words(path: Path) -> Plan | None:
    """A plan from a file; where it is none, says why."""
    try:
        return read_plan(path)
    except OSError as error:
        print(f"{path}: {error.strerror}", file=sys.stderr)
    except PlanError as error:
        print(f"{path} is not a valid plan; nothing was changed.", file=sys.stderr)
        for problem in error.problems:
            print(f"  {problem.where}: {problem.what}", file=sys.stderr)
    return None


def main(argv: list[str] | None = None) -> int:
    parser = argparse.ArgumentParser(prog="emvar check", description="Judges a plan file.")
    parser.add_argument("plan", type=Path)
    parser.add_argument("--json", action="store_true", help="print the whole assessment as JSON")
    args = parser.parse_args(argv)
    plan = plan_or_words(args.plan)
    if plan is None:
        return 2
    assessment = assess(plan)
    print(assessment.model_dump_json(indent=1) if args.json else report(plan, assessment))
    return 1 if assessment.score.clashes or assessment.score.missed else 0


if __name__ == "__main__":
    sys.exit(main())
