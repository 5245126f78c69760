"""A process beside the server for long questions about long plans, so that short ones are answered meanwhile.

It is started when it is first needed, takes one question at a time, and ends with the server (`long.py`).
"""

from __future__ import annotations

import subprocess
import threading

from builds.store import plan_json
from emvar_core.plan import Plan
from sittings.child import started, tell

from .answers import Busy
from .long import answered

LONG_STEPS = 100  # from which on a plan's long questions are answered beside the server
WAITS_S = 0.2


class Helper:
    """The process, and the way to ask it. `asking` is held while it is at a question."""

    def __init__(self) -> None:
        self.asking = threading.Lock()
        self._child: subprocess.Popen[str] | None = None

    def ask(self, kind: str, plan: Plan) -> str:
        """The answer as JSON. Raises Busy while another question is answered; one asks again then."""
        if not self.asking.acquire(timeout=WAITS_S):
            raise Busy
        try:
            if self._child is None or self._child.poll() is not None:
                self._child = started("api.long")
            assert self._child.stdout is not None
            try:
                tell(self._child, {"kind": kind, "plan": plan_json(plan)})
                answer = self._child.stdout.readline()
            except BrokenPipeError:
                answer = ""
            if not answer:
                self.end()
                raise RuntimeError("the helper ended in the middle of a question")
            return answer
        finally:
            self.asking.release()

    def end(self) -> None:
        """Ends the process; the next question starts another."""
        if self._child is not None:
            self._child.kill()
            self._child.wait()
            self._child = None


HELPER = Helper()


def version_of(kind: str, plan: Plan) -> str:
    """A mended or undoable version of a plan as JSON: a long plan's is worked out beside the server."""
    return HELPER.ask(kind, plan) if len(plan.steps) >= LONG_STEPS else answered(kind, plan)
