"""A process beside the server for long questions about long plans, so that short ones are answered meanwhile.

It is started when it is first needed, takes one question at a time as a line of JSON, and ends with the server: its
questions are read by a thread that ends the process when nobody is there any more.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import threading
from collections.abc import Callable

from emvar_core.plan import Plan, parse_plan
from emvar_core.ways.mend import Version, mend, mended_and_undoable

from .answers import Busy

LONG_STEPS = 100  # from which on a plan's long questions are answered beside the server
LONGEST_S = 20.0  # for which a question may go on; what is left over is told
WAITS_S = 0.2
QUESTIONS: dict[str, Callable[[Plan, float], Version]] = {"mended": mend, "undoable": mended_and_undoable}
NICE = 5


class Helper:
    """The process, and the way to ask it."""

    def __init__(self) -> None:
        self._asking = threading.Lock()
        self._child: subprocess.Popen[str] | None = None

    def ask(self, kind: str, plan: Plan) -> bytes:
        """The answer as JSON. Raises Busy while another question is answered; one asks again then."""
        if not self._asking.acquire(timeout=WAITS_S):
            raise Busy
        try:
            child = self._alive()
            assert child.stdin is not None and child.stdout is not None
            try:
                child.stdin.write(json.dumps({"kind": kind, "plan": plan.model_dump(mode="json", exclude_unset=True)}))
                child.stdin.write("\n")
                child.stdin.flush()
                answer = child.stdout.readline()
            except BrokenPipeError:
                answer = ""
            if not answer:
                self.end()
                raise RuntimeError("the helper ended in the middle of a question")
            return answer.encode()
        finally:
            self._asking.release()

    def _alive(self) -> subprocess.Popen[str]:
        if self._child is None or self._child.poll() is not None:
            env = os.environ | {"PYTHONPATH": os.pathsep.join(p for p in sys.path if p)}
            self._child = subprocess.Popen(
                [sys.executable, "-m", "api.helper"], stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True,
                encoding="utf-8", env=env,
            )  # fmt: skip
        return self._child

    def end(self) -> None:
        """Ends the process; the next question starts another."""
        if self._child is not None:
            self._child.kill()
            self._child.wait()
            self._child = None


HELPER = Helper()


def version_of(kind: str, plan: Plan) -> bytes:
    """A mended or undoable version of a plan as JSON: a long plan's is worked out beside the server."""
    if len(plan.steps) >= LONG_STEPS:
        return HELPER.ask(kind, plan)
    return QUESTIONS[kind](plan, LONGEST_S).model_dump_json().encode()


def main() -> None:
    from sittings.worker import listened

    if hasattr(os, "nice"):
        os.nice(NICE)
    for question in listened():
        plan = parse_plan({"format": "emvar-plan", "version": 1, **question["plan"]})
        sys.stdout.write(QUESTIONS[question["kind"]](plan, LONGEST_S).model_dump_json() + "\n")
        sys.stdout.flush()


if __name__ == "__main__":
    main()
