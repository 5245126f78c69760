"""The child process that searches: jobs come in as lines of JSON, what is found goes out the same way.

It runs at low priority and holds no state but the core's memory; stopping a search is ending the process.
"""

from __future__ import annotations

import json
import sys
import traceback
from datetime import datetime
from typing import Any

from emvar_core.errors import EmvarError
from emvar_core.memory import MEMORY
from emvar_core.plan import Record, Schedule, parse, parse_plan
from emvar_core.schedule.agenda import Agenda
from emvar_core.schedule.changes import changes
from emvar_core.schedule.drag import unfit_out
from emvar_core.schedule.dry_run import dry_run
from emvar_core.schedule.problem import Progress
from emvar_core.schedule.schedule import make
from emvar_core.schedule.what_if import what_if
from pydantic import TypeAdapter

from .child import listened

NICE = 10
LIMIT_BYTES = 250_000_000  # the child remembers too, beside its solver


def say(**words: Any) -> None:
    sys.stdout.write(json.dumps(words) + "\n")
    sys.stdout.flush()


def run(job: dict[str, Any]) -> None:
    """Does one job and says what came of it."""
    plan = parse_plan(job["plan"])
    record = parse(Record, job["record"])
    taken = [(datetime.fromisoformat(a), datetime.fromisoformat(b)) for a, b in job.get("taken", [])]
    agenda = Agenda(plan, record, dict(job["pins"]), taken)
    seconds = float(job["seconds"])

    def progress(p: Progress, s: Schedule | None) -> None:
        best = s.model_dump(mode="json") if s is not None else None
        say(job=job["job"], goal=p.goal, value=p.value, bound=p.bound, seconds=p.seconds, schedule=best)

    if job["kind"] == "dry_run":
        result: Any = dry_run(agenda, parse(Schedule, job["schedule"]))
    elif job["kind"] == "what_if":
        result = what_if(plan, record, dict(job["pins"]), taken, seconds=seconds, tell=lambda i, n, _: _step(job, i, n))
    else:
        planned = make(agenda, seconds=seconds, report=progress)
        if job["kind"] == "changes":
            result = changes(agenda, planned, tell=lambda i, n: _step(job, i, n))
        else:
            result = {
                "schedule": planned.schedule,
                "unfit": [unfit_out(f) for f in planned.unfit],
                "seconds": planned.seconds,
            }
    say(job=job["job"], done=True, result=json.loads(TypeAdapter(Any).dump_json(result)))


def _step(job: dict[str, Any], i: int, n: int) -> None:
    say(job=job["job"], goal=job["kind"], value=i, bound=n, seconds=0.0, schedule=None)


def main() -> None:
    MEMORY.limit_bytes = LIMIT_BYTES
    for job in listened(NICE):
        try:
            run(job)
        except EmvarError as error:
            say(job=job["job"], done=True, error=str(error))
        except Exception:
            traceback.print_exc()
            say(job=job["job"], done=True, error="the search failed; the schedule is as it was")


if __name__ == "__main__":
    main()
